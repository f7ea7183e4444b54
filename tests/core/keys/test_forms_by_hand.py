"""Parts of a form and small strong spots, on pictures that are drawn for it."""

import unittest
from io import BytesIO

import numpy as np
from PIL import Image

from ochre_stone.core.keys.form import form_parts
from ochre_stone.core.keys.melt import Melt, melt
from ochre_stone.core.keys.whole import accents
from ochre_stone.core.picture.frame import Frame, framed
from ochre_stone.core.picture.load import load_bytes


class Forms(unittest.TestCase):
    """A plane of light from 6 to 8 beside a shadow of 3 with a dark accent in it."""

    def drawn(self, accent: float = 1.5, shadow: float = 3.0, edge: int = 0) -> tuple[np.ndarray, np.ndarray]:
        value = np.full((120, 160), 9.5, np.float32)
        area = np.zeros(value.shape, bool)
        area[10:110, 10:150] = True
        value[10:110, 10:90] = np.linspace(6.0, 8.0, 80)[::-1]
        value[10:110, 90:150] = shadow
        if edge:
            value[10:110, 90 : 90 + edge] = np.linspace(6.0, shadow, edge)
        value[60:90, 120:140] = accent
        return value, area

    def test_a_hard_edge_casts_and_a_soft_one_turns(self) -> None:
        hard = form_parts(*self.drawn())
        self.assertIn("cast shadow", hard)
        self.assertNotIn("core shadow", hard)
        soft = form_parts(*self.drawn(edge=40))
        self.assertIn("core shadow", soft)

    def test_lights_and_halftones_are_the_ends_of_the_light(self) -> None:
        value, area = self.drawn()
        parts = form_parts(value, area)
        lit = value[area & (value > 5)]
        for part, low, high in (("light", 50, 97), ("halftone", 8, 35)):
            own = value[parts[part]]
            a, b = np.percentile(lit, (low, high))
            self.assertTrue(a - 0.15 <= own.min() and own.max() <= b + 0.15, part)
            self.assertTrue((~area & parts[part]).sum() == 0)

    def test_an_accent_is_half_a_value_below_its_shadow(self) -> None:
        self.assertIn("dark accent", form_parts(*self.drawn(accent=1.5)))
        self.assertNotIn("dark accent", form_parts(*self.drawn(accent=2.45)))
        value, area = self.drawn(accent=1.5)
        where = np.argwhere(form_parts(value, area)["dark accent"])
        self.assertTrue((where.min(axis=0) >= (58, 118)).all() and (where.max(axis=0) <= (92, 142)).all())

    def test_without_a_step_there_is_no_shadow(self) -> None:
        value, area = self.drawn(accent=6.4, shadow=6.4)
        shadows = {"core shadow", "cast shadow", "dark accent"}
        for spread, step in ((0.6, False), (1.6, True)):
            value[10:110, 10:150] = np.linspace(6.0, 6.0 + 2 * spread, 140)  # halves this far apart on the mean
            self.assertEqual(bool(shadows & set(form_parts(value, area))), step, spread)


class Accents(unittest.TestCase):
    def melted(self, *spots: tuple[int, int, int, tuple[int, int, int]]) -> Melt:
        """Spots (row, column, half a side, colour) on an even grey."""
        image = np.full((300, 400, 3), 128, np.uint8)
        for row, column, half, colour in spots:
            image[row - half : row + half, column - half : column + half] = colour
        out = BytesIO()
        Image.fromarray(image).save(out, "PNG")
        return melt(framed(load_bytes(out.getvalue(), "spots.png"), Frame()))

    GREY = np.array([[53.6, 0.0, 0.0]])

    def found(self, *spots: tuple[int, int, int, tuple[int, int, int]], most: int = 4) -> list[tuple[float, float]]:
        m = self.melted(*spots)
        h, w = m.lab.shape[:2]
        return [(round(r / h, 1), round(c / w, 1)) for r, c, _ in accents(m, self.GREY, most)]

    def test_small_strong_spots_and_no_others(self) -> None:
        self.assertEqual(self.found((150, 200, 8, (230, 20, 20))), [(0.5, 0.5)])
        self.assertEqual(self.found((150, 200, 20, (230, 20, 20))), [])  # too large for an accent
        self.assertEqual(self.found((150, 200, 8, (140, 120, 120))), [])  # hardly another colour
        self.assertEqual(self.found(), [])

    def test_the_stronger_and_the_nearer_to_the_middle_come_first(self) -> None:
        red = (230, 20, 20)
        two = self.found((60, 80, 8, red), (150, 200, 8, (20, 160, 60)))
        self.assertEqual(len(two), 2)
        self.assertEqual(two[0], (0.5, 0.5))
        self.assertEqual(len(self.found((60, 80, 8, red), (150, 200, 8, (20, 160, 60)), most=1)), 1)
        self.assertEqual(len(self.found((60, 80, 8, red), (150, 200, 8, red))), 1)  # of one colour once


if __name__ == "__main__":
    unittest.main()
