"""Each worker gets a home of its own, so that nothing of the person who runs the tests is read or written; its display
comes from pytest-xvfb."""

import atexit
import logging
import os
import tempfile

import pytest
from hypothesis import HealthCheck, settings

if "OCHRE_STONE_TESTS_SHARED" not in os.environ:  # of the process that starts the workers: they inherit it
    _shared = tempfile.TemporaryDirectory(prefix="ochre-stone-shared-")
    atexit.register(_shared.cleanup)
    os.environ["OCHRE_STONE_TESTS_SHARED"] = _shared.name
_home = tempfile.TemporaryDirectory(prefix="ochre-stone-tests-")
atexit.register(_home.cleanup)
for _name in ("HOME", "XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME", "XDG_CACHE_HOME"):
    os.environ[_name] = _home.name
logging.disable(logging.CRITICAL)
# A machine that others share may take a second over what takes a moment: no reason to fail.
settings.register_profile("shared", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("shared")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """The longest first: no core waits at the end for a long test on another."""
    items.sort(key=lambda item: "external" not in item.path.parts)
