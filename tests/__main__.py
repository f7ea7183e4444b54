"""Run all tests, or those of the modules named, and end with the line ``N passed, N failed, N skipped``.

python -m tests [tests.core.colour.test_spaces ...]
"""

import logging
import os
import sys
import tempfile
import time
import unittest
import warnings
from pathlib import Path

HERE = Path(__file__).parent


def main() -> int:
    # Nothing of the person who runs the tests is read or written.
    with tempfile.TemporaryDirectory(prefix="ochre-stone-tests-") as home:
        for name in ("HOME", "XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME", "XDG_CACHE_HOME"):
            os.environ[name] = home
        warnings.simplefilter("ignore")
        logging.disable(logging.CRITICAL)
        loader = unittest.defaultTestLoader
        if sys.argv[1:]:
            suite = loader.loadTestsFromNames(sys.argv[1:])
        else:
            suite = loader.discover(str(HERE), top_level_dir=str(HERE.parent))
        start = time.monotonic()
        result = unittest.TextTestRunner(verbosity=1, buffer=True).run(suite)
        failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        skipped = len(result.skipped)
        passed = result.testsRun - failed - skipped
        print(f"took {time.monotonic() - start:.0f} s", file=sys.stderr)
        sys.stderr.flush()
        print(f"{passed} passed, {failed} failed, {skipped} skipped")
        return 1 if failed or not result.testsRun else 0


if __name__ == "__main__":
    sys.exit(main())
