"""The way from a photo to recipes on real photographs, which scikit-image and scikit-learn carry for testing (none is
shipped here).

Source: Arthur and Vassilvitskii 2007, "k-means++" (through scikit-learn), as the measure for key colours.
"""

import functools
import io
import unittest

import numpy as np
from pypdf import PdfReader
from sklearn.cluster import KMeans

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.document.document import Document
from ochre_stone.core.keys.cover import LeftOver, left_over
from ochre_stone.core.keys.whole import suggest
from ochre_stone.core.masses.plan import MassSettings, plan, prepare
from ochre_stone.core.picture.frame import Frame, framed
from ochre_stone.core.picture.picture import Picture, linear_to_lab
from ochre_stone.core.picture.simplify import smooth_lab
from ochre_stone.core.planning.coverage import coverage
from ochre_stone.core.planning.massing import fine_masses
from ochre_stone.core.planning.noting import with_shares
from ochre_stone.core.planning.planning import make_sheet
from ochre_stone.core.planning.rows import note_targets
from ochre_stone.export.pdf import sheet_pdf
from tests.support.cases import cases, with_strings


def photos() -> dict[str, Picture]:
    return {name: picture for name, picture, _ in cases() if name != "demo"}


@functools.cache
def planned(name: str) -> tuple[Document, LeftOver]:
    """A photograph with twelve notes and its strings, and what the notes leave over."""
    _, picture, document = next(c for c in cases() if c[0] == name)
    return with_strings(name), with_shares(picture, document)[1]


class RealPhotographs(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.photos = photos()
        assert len(cls.photos) >= 4, "the packages' sample photos are missing"

    def test_every_note_in_reach_has_its_pile_and_strings_end_on_their_extreme_notes(self):
        """Within CIEDE2000 2 and a quarter of a value step (common practice, no source: seen only side by side)."""
        for name in self.photos:
            document, _ = planned(name)
            found = coverage(document)
            goal = dict(zip([n.id for n in document.notes], note_targets(document), strict=True))
            piles = {p.id: p for s in document.mixed.strings for p in s.piles}
            self.assertEqual(set(found), set(goal), name)
            for i, c in found.items():
                self.assertTrue(c.own, (name, c))
                if c.reach:
                    value = [float(value_of_lightness(lab[0])) for lab in (piles[c.pile].recipe.lab, goal[i])]
                    self.assertLessEqual(c.de00, 2.0, (name, c))
                    self.assertLessEqual(abs(value[0] - value[1]), 0.25, (name, c))
            for s in document.mixed.strings:
                self.assertTrue(s.piles[0].target.notes and s.piles[-1].target.notes, (name, s.id))

    def test_notes_cover_the_extremes_about_as_well_as_the_means_of_k_means(self):
        ratios = []
        for picture in self.photos.values():
            lab = linear_to_lab(picture.reduced(60_000))
            pixels = smooth_lab(lab).reshape(-1, 3)
            reference = KMeans(12, n_init=1, init="k-means++", random_state=0).fit(pixels).cluster_centers_
            ours = np.array([k.seen.lab for k in suggest(framed(picture, Frame()), 12)[0]])
            ratios.append(left_over(lab, ours).p95 / left_over(lab, reference).p95)
        self.assertLessEqual(np.median(ratios), 1.05)

    def test_masses_are_few_and_large(self):
        regions = []
        for name, picture in self.photos.items():
            found = plan(prepare(picture.reduced(250_000), 0.5), MassSettings(values=4))
            self.assertAlmostEqual(sum(m.share for m in found.masses), 1.0, places=6, msg=name)
            regions.append(found.regions)
        self.assertLess(np.median(regions), 60)

    def test_what_is_in_reach_is_matched(self):
        """On each photograph: all piles in reach within CIEDE2000 of 2 and a quarter of a value step, else said."""
        for name in self.photos:
            mixed = planned(name)[0].mixed
            for p in (p for s in mixed.strings for p in s.piles):
                with self.subTest(photo=name, pile=p.id):
                    if p.reachable:
                        self.assertLessEqual(p.recipe.de00, 2.0)
                        self.assertLessEqual(abs(p.recipe.value_error), 0.25)
                    else:
                        self.assertIn(p.nearness.grade, p.recipe.why.lower())
            self.assertLessEqual(mixed.branching.cost, mixed.branching.from_tubes)

    def test_all_the_way_to_the_sheet(self):
        for name in ("portrait", "building"):
            picture = self.photos[name]
            document, rest = planned(name)
            self.assertLess(rest.mean, 9, name)
            piles = [p for s in document.mixed.strings for p in s.piles]
            reached = [p.recipe for p in piles if p.reachable]
            self.assertGreaterEqual(len(reached), len(piles) / 2, name)  # blacks of a photo are darker than paint
            self.assertLess(np.median([r.de00 for r in reached]), 1.5, name)
            self.assertLess(np.median([abs(r.value_error) for r in reached]), 0.05, name)
            made = PdfReader(io.BytesIO(sheet_pdf(make_sheet(picture, document, fine_masses(picture, document)))))
            self.assertGreaterEqual(len(made.pages), 2, name)
