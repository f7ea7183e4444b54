"""Projects of before the darks were mended: black follows the finish, and strings are planned anew."""

import json
import unittest

from ochre_stone.core.document.document import FORMAT_VERSION, Document
from ochre_stone.core.errors import OchreError
from ochre_stone.core.masses.tone import DARKEST
from ochre_stone.core.planning.planning import belief, mix_strings
from ochre_stone.core.planning.rows import is_current, of_older_paint, of_this_palette, palette_print
from ochre_stone.core.store.files import open_project, read_document
from ochre_stone.resources import resource

DEMO = open_project(resource("demo", "orchard-keeper.ochre")).document


def older(black: float | None = 1.5, **mix: object) -> Document:
    """The demo as an older program would have written it."""
    raw = json.loads(DEMO.model_dump_json())
    raw["version"] = FORMAT_VERSION - 1
    raw["mix"] |= mix
    if black is not None:
        raw["masses"]["range"]["black"] = black
    print_of = palette_print(DEMO.model_copy(update={"mix": DEMO.mix.model_copy(update=mix)}), 1)
    raw["mixed"]["fingerprint"] = f"{print_of}-{DEMO.mixed.fingerprint.partition('-')[2]}"
    return read_document(json.dumps(raw).encode(), "old.ochre")


class Older(unittest.TestCase):
    def test_strings_are_to_be_planned_anew(self) -> None:
        old = older()
        self.assertTrue(of_older_paint(old))
        self.assertFalse(of_this_palette(old) or is_current(old))
        new = old.model_copy(update={"mixed": mix_strings(old)})
        self.assertTrue(is_current(new) and of_this_palette(new))
        self.assertFalse(of_older_paint(new) or of_older_paint(DEMO))

    def test_another_palette_is_not_older_paint(self) -> None:
        other = DEMO.model_copy(update={"mix": DEMO.mix.model_copy(update={"palette": "four-tube-earth"})})
        self.assertFalse(of_this_palette(other) or of_older_paint(other))

    def test_black_goes_along_only_where_it_stood_at_its_finish(self) -> None:
        for black, mix, want in (
            (1.5, {}, DARKEST["glossy"]),
            (1.0, {"finish": "glossy"}, DARKEST["glossy"]),
            (1.5, {"finish": "satin"}, 1.5),
            (1.7, {}, 1.7),
            (1.5, {"medium": "gouache"}, 1.5),
        ):
            self.assertEqual(older(black, **mix).masses.range.black, want, (black, mix))

    def test_a_hostile_black_is_refused_in_a_sentence(self) -> None:
        for black in ("dark", None, [1.5], 10**400):
            raw = json.loads(DEMO.model_dump_json()) | {"version": FORMAT_VERSION - 1}
            raw["masses"]["range"]["black"] = black
            with self.assertRaisesRegex(OchreError, "old.ochre"):
                read_document(json.dumps(raw).encode(), "old.ochre")

    def test_strings_that_say_nothing_of_their_paint_are_not_called_older(self) -> None:
        bare = DEMO.mixed.model_copy(update={"fingerprint": ""})
        other = DEMO.mix.model_copy(update={"palette": "four-tube-earth"})
        self.assertFalse(of_older_paint(DEMO.model_copy(update={"mixed": bare, "mix": other})))

    def test_a_reading_of_before_keeps_its_surface(self) -> None:
        pile = DEMO.mixed.strings[0].piles[0]
        reading = {
            "pile": pile.id, "target": pile.target.lab, "lab": pile.recipe.lab, "noise": 0.3, "how": "reader",
            "doses": [{"shares": [[i, 1.0]], "volume": c} for i, c in pile.recipe.shares],
        }  # fmt: skip
        raw = json.loads(DEMO.model_dump_json()) | {"readings": [reading], "version": FORMAT_VERSION - 1}
        told = belief(read_document(json.dumps(raw).encode(), "old.ochre")).readings
        self.assertAlmostEqual(told[0].surface.g, 0.3)
