"""The picture's medium and finish, and each pile wet beside dry."""

import unittest

from pydantic import ValidationError

from ochre_stone.core.colour.reading import read
from ochre_stone.core.document.document import Document, MixChoice
from ochre_stone.core.masses.tone import DARKEST as BLACKS
from ochre_stone.core.paint.box import OwnPalette, OwnTube, PaintBox, PigmentPart
from ochre_stone.core.paint.media import FINISHES, MEDIA
from ochre_stone.core.planning.drying import drying, medium_words, with_paint
from ochre_stone.core.store.files import open_project
from ochre_stone.resources import resource

DEMO = open_project(resource("demo", "orchard-keeper.ochre")).document


def piles(document: Document) -> list:
    return [p for s in document.mixed.strings for p in s.piles]


class Medium(unittest.TestCase):
    def test_it_is_the_pictures(self):
        self.assertEqual((DEMO.mix.chosen().medium, medium_words(DEMO.mix)), ("oil", "oil"))
        matt = with_paint(DEMO, "acrylic", "matt")
        self.assertEqual(matt.mix.chosen().surface.g, FINISHES["matt"])
        self.assertEqual(medium_words(matt.mix), "acrylic, matt")
        with self.assertRaises(ValidationError):
            with_paint(DEMO, "egg")

    def test_without_a_choice_the_palettes_own_tubes_say_it(self):
        pigment = (PigmentPart(pigment="ultramarine-blue"),)
        tube = OwnTube(id="own-a", name="Acrylic blue", parts=pigment, medium="acrylic")
        laid = OwnPalette(id="own-p", name="P", paints=("own-a", "yellow-ochre"))
        box = PaintBox().with_tube(tube).with_palette(laid)
        mix = MixChoice(palette="own-p", laid=box.laid("own-p"))
        self.assertEqual((mix.chosen().medium, mix.strangers), ("acrylic", ""))
        oil = mix.model_copy(update={"medium": "oil"})
        self.assertEqual(oil.strangers, "Acrylic blue is acrylic, the picture is oil: these do not mix in one pile.")
        self.assertEqual(oil.chosen().surface, MEDIA["oil"].dry)

    def test_black_of_the_range_goes_along_unless_it_was_set_by_hand(self):
        at = DEMO.model_copy(
            update={
                "masses": DEMO.masses.model_copy(
                    update={"range": DEMO.masses.range.model_copy(update={"black": BLACKS["glossy"]})}
                )
            }
        )
        self.assertAlmostEqual(with_paint(at, finish="sunk").masses.range.black, BLACKS["sunk"], delta=0.01)
        own = at.masses.range.model_copy(update={"black": at.masses.range.black + 0.025})
        chosen = at.model_copy(update={"masses": at.masses.model_copy(update={"range": own})})
        self.assertEqual(with_paint(chosen, finish="sunk").masses.range.black, own.black, "the painter's own stays")
        self.assertAlmostEqual(with_paint(at, "gouache").masses.range.black, BLACKS["matt"], delta=0.01)
        own = at.model_copy(
            update={"masses": at.masses.model_copy(update={"range": at.masses.range.model_copy(update={"black": 2.2})})}
        )
        self.assertEqual(with_paint(own, "gouache", "matt").masses.range.black, 2.2)


class WetAndDry(unittest.TestCase):
    def test_dry_is_the_recipes_colour(self):
        for p in piles(DEMO):
            self.assertEqual(drying(DEMO, p.recipe).dry, p.recipe.lab)

    def test_which_way_each_medium_goes(self):
        """Acrylic is lighter wet, darks of gouache and watercolour darker (common practice, no source)."""
        found = sorted(piles(DEMO), key=lambda p: p.recipe.lab[0])
        dark, middle = found[0].recipe, found[len(found) // 2].recipe
        for medium, recipe in (("acrylic", middle), ("gouache", dark), ("watercolour", dark)):
            lighter, found = medium == "acrylic", drying(with_paint(DEMO, medium), recipe)
            self.assertTrue(found.differs, medium)
            self.assertEqual(found.wet[0] > found.dry[0], lighter, medium)
            self.assertIn("lighter" if lighter else "darker", found.words)

    def test_in_oil_only_darks_change(self):
        lights = [p for p in piles(DEMO) if read(p.recipe.lab).value > 6]
        self.assertTrue(lights)
        for p in lights:
            found = drying(DEMO, p.recipe)
            self.assertEqual((found.differs, found.words), (False, ""))

    def test_a_matt_picture_dries_farther_from_wet(self):
        dark = min(piles(DEMO), key=lambda p: p.recipe.lab[0])
        gaps = [drying(with_paint(DEMO, "oil", f), dark.recipe) for f in ("glossy", "satin", "matt")]
        steps = [abs(d.wet[0] - d.dry[0]) for d in gaps]
        self.assertTrue(steps[0] < steps[1] + 3 and steps[1] < steps[2], steps)
