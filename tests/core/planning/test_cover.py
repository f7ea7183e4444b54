"""How much of the picture each pile covers, and the paint that follows from it: flat blocks whose shares are known."""

import functools
import unittest
from dataclasses import replace

import numpy as np

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.document.choices import Blend
from ochre_stone.core.document.document import Canvas, Document, MassChoice, MixChoice, Mixed, Note
from ochre_stone.core.masses.plan import MassSettings, plan, prepare
from ochre_stone.core.mixing.recipe.sources import Terms
from ochre_stone.core.mixing.session.amounts import amounts, ribbon_cm, shopping
from ochre_stone.core.mixing.session.drafting import StringRow
from ochre_stone.core.mixing.session.plan import MixOn, plan_session
from ochre_stone.core.mixing.strings.targets import PileTarget
from ochre_stone.core.paint.box import OwnTube, PaintBox, PigmentPart
from ochre_stone.core.paint.palettes import palette
from ochre_stone.core.picture.picture import linear_to_lab
from ochre_stone.core.planning.naming import named
from ochre_stone.core.planning.planning import (
    blend_words,
    make_sheet,
    means_of,
    note_shares,
    paint_needed,
    palette_reach,
    pile_cover,
    pile_for,
    rough_need,
)
from ochre_stone.core.planning.rows import notes_without_pile, wanted_rows
from tests.support.made import picture

EARTHS = palette("portrait-ten")
SHARES = (0.5, 0.3, 0.2)
CODES = ((60, 48, 40), (150, 120, 100), (225, 205, 190))
"""A dark, a middle and a light, as sRGB."""
STRIPES = [np.full((100, int(200 * s), 3), c, np.uint8) for s, c in zip(SHARES, CODES, strict=True)]
MADE = picture(np.concatenate(STRIPES, axis=1))
"""Stripes of 50, 30 and 20 per cent, dark to light."""
LAB = [tuple(float(x) for x in linear_to_lab(MADE.linear())[20, c]) for c in (50, 130, 180)]


@functools.cache
def document() -> Document:
    """A note on each block, and a string whose piles stand at their colours."""
    notes = tuple(
        Note(id=f"n{i}", name=f"note {i}", lab=c, subject="skin", share=s, role="light" if i else "core shadow")
        for i, (c, s) in enumerate(zip(LAB, SHARES, strict=True))
    )
    goals = tuple(PileTarget(c, float(value_of_lightness(c[0])), "note") for c in LAB)
    session = plan_session([StringRow("skin", "Skin", goals)], Terms(EARTHS.tubes, EARTHS.name), mix_on=MixOn(False))
    made = Document(
        notes=notes,
        canvas=Canvas(width=30, height=20, thickness=0.3, spare=0.1),
        mix=MixChoice(palette=EARTHS.id, most_tubes=3, left_out=("shadows",)),
        mixed=Mixed(strings=session.strings),
    )
    return named(made)


def masses(of: Document):
    return plan(prepare(of.seen(MADE, 20_000), 0.0), MassSettings(values=3, smallest=0, outline=0))


class Cover(unittest.TestCase):
    def test_each_block_goes_to_the_pile_at_its_value(self):
        shares, thick = pile_cover(MADE, document())
        self.assertEqual(list(shares), ["skin-1", "skin-2", "skin-3"])
        for got, want in zip(shares.values(), SHARES, strict=True):
            self.assertAlmostEqual(got, want, delta=0.002)
        self.assertEqual(thick, {})

    def test_millilitres_are_area_by_thickness_and_spare(self):
        """600 cm2 at .3 mm are 18 ml, a tenth more 19.8; common practice, no source."""
        d = document()
        need = make_sheet(MADE, d, masses(d)).amounts
        for got, want in zip(need.piles.values(), SHARES, strict=True):
            self.assertAlmostEqual(got, 19.8 * want, delta=0.05)
        used = sum(
            need.piles[p.id] * i.parts / sum(x.parts for x in p.recipe.ingredients)
            for s in d.mixed.strings
            for p in s.piles
            for i in p.recipe.ingredients
            if i.is_base
        )
        left = sum(need.bases.values()) - used  # of tint piles, which are as large as their dose of paint asks
        self.assertAlmostEqual(need.total, 19.8 + left, delta=0.05)
        self.assertAlmostEqual(sum(ribbon_cm(v) for v in need.tubes.values()), 2 * need.total, places=2)

    def test_two_strings_share_the_picture(self):
        """Notes of another subject take their own blocks: what one string covers the other does not."""
        d = document()
        sky = d.notes[2].model_copy(update={"subject": "sky"})
        goals = (PileTarget(LAB[2], float(value_of_lightness(LAB[2][0])), "note"),)
        strings = plan_session([StringRow("sky", "Sky", goals)], Terms(EARTHS.tubes, EARTHS.name)).strings
        d = d.model_copy(
            update={
                "notes": (*d.notes[:2], sky),
                "mixed": d.mixed.model_copy(update={"strings": d.mixed.strings + strings}),
            }
        )
        shares, _ = pile_cover(MADE, d)
        for name, want in {"skin-1": 0.5, "skin-2": 0.3, "skin-3": 0.0, "sky-1": 0.2}.items():
            self.assertAlmostEqual(shares[name], want, delta=0.002, msg=name)

    def test_what_has_no_pile_is_told_and_not_shared_out(self):
        """The light block's pile falls away: its fifth of the picture is nobody's, and no paint is bought for it."""
        d = document()
        (string,) = d.mixed.strings
        owned = [replace(p, target=replace(p.target, notes=(f"n{k}",))) for k, p in enumerate(string.piles)][:2]
        d = d.model_copy(update={"mixed": Mixed(strings=(replace(string, piles=tuple(owned)),))})
        self.assertEqual(notes_without_pile(d), {"n2"})
        shares, thick = pile_cover(MADE, d)
        for got, want in zip(shares.values(), SHARES, strict=False):
            self.assertAlmostEqual(got, want, delta=0.002)
        need = paint_needed(d, shares, thick)
        self.assertAlmostEqual(need.uncovered, 0.2, delta=0.002)
        self.assertEqual(need.uncovered_words, "20% of the picture has no pile: no paint is counted for it.")
        self.assertAlmostEqual(sum(note_shares(d).values()), 0.8, places=6)

    def test_what_is_far_from_all_piles_of_its_string_is_nobodys(self):
        """A blue coat under notes of a face alone."""
        coat = picture(np.concatenate([STRIPES[2], np.full((100, 60, 3), (10, 20, 90), np.uint8)], axis=1))
        shares, _ = pile_cover(coat, document())
        self.assertAlmostEqual(sum(shares.values()), 0.4, delta=0.005)

    def test_masses_with_a_thickness_of_their_own(self):
        d = document()
        found = masses(d)
        thick = d.model_copy(update={"canvas": d.canvas.model_copy(update={"thick": ((2, 0.9),)})})
        shares, mm = pile_cover(MADE, thick, found)
        self.assertAlmostEqual(shares["skin-3"], 0.2, delta=0.002)
        self.assertAlmostEqual(mm["skin-3"], 0.9, delta=0.02)
        self.assertAlmostEqual(mm["skin-1"], 0.3, delta=0.02)
        need = make_sheet(MADE, thick, found).amounts
        self.assertAlmostEqual(need.piles["skin-3"], 600 * 0.9 / 10 * 0.2 * 1.1, delta=0.3)
        self.assertAlmostEqual(need.piles["skin-1"], 600 * 0.3 / 10 * 0.5 * 1.1, delta=0.3)

    def test_by_the_notes_alone_where_there_is_no_photo(self):
        got = note_shares(document())
        for name, want in zip(("skin-1", "skin-2", "skin-3"), SHARES, strict=True):
            self.assertAlmostEqual(got[name], want)
        rows = wanted_rows(document())
        need = rough_need(document(), rows)
        self.assertAlmostEqual(sum(need.values()), 19.8, places=6)
        dark, light = f"{rows[0].id}-1", f"{rows[0].id}-{len(rows[0].goals)}"
        self.assertAlmostEqual(need[dark], 9.9, places=6)
        self.assertAlmostEqual(need[light], 3.96, places=6)

    def test_used_tubes_most_first(self):
        d = document()
        sheet = make_sheet(MADE, d, masses(d))
        ml = [sheet.amounts.tubes[t.id] for t in sheet.tubes]
        self.assertEqual(ml, sorted(ml, reverse=True))
        self.assertEqual({t.id for t in sheet.tubes}, {i for p in d.mixed.strings[0].piles for i, _ in p.recipe.shares})


class Words(unittest.TestCase):
    def test_the_pile_that_comes_nearest(self):
        for n, lab in enumerate(LAB, 1):
            found = pile_for(document(), lab)
            assert found is not None
            self.assertEqual(found.id, f"skin-{n}")
        self.assertIsNone(pile_for(Document(), LAB[0]))

    def test_a_blend_is_told_by_its_piles_and_the_way_it_goes(self):
        ways = ((0, False, "right"), (0, True, "left"), (45, True, "bottom left"), (300, False, "top right"),
                (300, True, "top left"))  # fmt: skip
        for direction, mirror, way in ways:
            blend = Blend(x=1, y=1, dark=LAB[0], light=LAB[2], direction=direction)
            d = document()
            d = d.model_copy(update={"masses": MassChoice(blends=(blend,)), "frame": replace(d.frame, mirror=mirror)})
            dark, light = (p.name for p in (d.mixed.strings[0].piles[0], d.mixed.strings[0].piles[2]))
            self.assertEqual(blend_words(d), [f"from {dark} to {light}, lighter toward the {way}"])


class Means(unittest.TestCase):
    def test_stock_and_prices_by_tube_and_by_pigment(self):
        box = PaintBox(
            tubes=(
                OwnTube(
                    id="own-blue",
                    name="My blue",
                    parts=(PigmentPart(pigment="ultramarine-blue", parts=1),),
                    stock_ml=10,
                    size_ml=40,
                    price=20,
                ),
                OwnTube(
                    id="own-big-blue",
                    name="Big blue",
                    parts=(PigmentPart(pigment="ultramarine-blue", parts=1),),
                    stock_ml=30,
                    size_ml=200,
                    price=40,
                ),
            )
        )
        got = means_of(box)
        self.assertEqual(got.stock["own-blue"], 10)
        self.assertEqual(got.stock["ultramarine-blue"], 40)
        self.assertAlmostEqual(got.price["own-blue"], 0.5)
        self.assertAlmostEqual(got.price["ultramarine-blue"], 0.2)

    def test_what_is_short_is_bought(self):
        strings = document().mixed.strings
        need = amounts(strings, dict(zip(("skin-1", "skin-2", "skin-3"), SHARES, strict=True)), 6000, 0.5, 0.0)
        self.assertAlmostEqual(sum(s.needed for s in shopping(need, {})), need.total, places=2)
        first = shopping(need, {})[0]
        self.assertEqual(first.to_buy(), int(np.ceil(first.needed / 40)))
        half = shopping(need, {first.tube: first.needed / 2})
        self.assertAlmostEqual(next(s for s in half if s.tube == first.tube).short, first.needed / 2)

    def test_reach_of_a_palette_is_that_of_its_black_and_white(self):
        low, high = palette_reach(document())
        values = [float(value_of_lightness(t.lab[0])) for t in EARTHS.tubes]
        self.assertLessEqual(low, min(values) + 1e-6)
        self.assertAlmostEqual(high, max(values), delta=0.05)
