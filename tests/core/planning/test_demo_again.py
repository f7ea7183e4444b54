"""The plan that ships with the demo is the plan that the program makes of it now, dose by dose."""

import json
import unittest
from typing import Any

from ochre_stone.core.planning.planning import mix_strings
from ochre_stone.core.store.files import open_project
from ochre_stone.resources import resource


def differences(there: Any, here: Any, at: str = "") -> list[str]:
    """Where two values read from JSON differ by more than the last digits of a sum."""
    if isinstance(there, dict) and isinstance(here, dict):
        keys = sorted(there.keys() | here.keys())
        return [d for k in keys for d in differences(there.get(k), here.get(k), f"{at}/{k}")]
    if isinstance(there, list) and isinstance(here, list) and len(there) == len(here):
        return [d for n, (a, b) in enumerate(zip(there, here, strict=True)) for d in differences(a, b, f"{at}[{n}]")]
    if isinstance(there, float) and isinstance(here, float):
        return [] if abs(there - here) < 1e-6 * max(1.0, abs(there)) else [f"{at}: {there} and {here}"]
    return [] if there == here else [f"{at}: {there!r} and {here!r}"]


class Again(unittest.TestCase):
    def test_the_demo_is_planned_as_it_ships(self) -> None:
        d = open_project(resource("demo", "orchard-keeper.ochre")).document
        there, here = (json.loads(m.model_dump_json()) for m in (d.mixed, mix_strings(d)))
        self.assertEqual(differences(there, here)[:5], [], "run python -m tools.make_demo")
