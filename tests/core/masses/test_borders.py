"""How masses meet: lengths that are counted, steps and hues across, and a picture without a border."""

import unittest

import numpy as np

from ochre_stone.core.colour.munsell import lightness_of_value, value_of_lightness
from ochre_stone.core.masses import edges
from ochre_stone.core.masses.plan import MassSettings, plan, prepare
from ochre_stone.core.picture.picture import lab_to_linear


def of_lab(lab: np.ndarray) -> np.ndarray:
    """Linear light of a made picture Lab."""
    return lab_to_linear(np.asarray(lab, np.float32))


def values_picture(value: np.ndarray) -> np.ndarray:
    """Linear light of a grey picture of these Munsell values."""
    lab = np.zeros((*value.shape, 3), np.float32)
    lab[..., 0] = lightness_of_value(value)
    return of_lab(lab)


class Meetings(unittest.TestCase):
    def test_lengths_are_shares_that_add_up(self):
        """Four stripes, the second border half as long: 2/5, 1/5, 2/5 of all borders."""
        value = np.repeat([[2.0, 4.0, 6.0, 8.0]], 160, axis=0).repeat(40, axis=1)
        value[:80, 80:120] = 4.0  # the third stripe begins half way down
        found = plan(prepare(values_picture(value), 0.0), MassSettings(values=4, smallest=0, outline=0))
        lengths = {(b.a, b.b): b.length for b in found.borders}
        self.assertAlmostEqual(sum(lengths.values()), 1.0)
        self.assertEqual(set(lengths), {(0, 1), (1, 2), (1, 3), (2, 3)})
        # 160 down at 40; 80 down and 40 across of the second; 80 each of the two at 120.
        for pair, pixels in (((0, 1), 160), ((1, 2), 120), ((1, 3), 80), ((2, 3), 80)):
            self.assertAlmostEqual(lengths[pair], pixels / 440, delta=0.02, msg=pair)
        self.assertEqual([b.length for b in found.borders], sorted(lengths.values(), reverse=True))

    def test_a_picture_of_one_mass_has_none(self):
        labels, lab = np.zeros((60, 80), np.uint8), np.full((60, 80, 3), 50, np.float32)
        self.assertEqual(edges.classify(labels, lab), {})
        self.assertTrue((edges.kind_map(labels, lab) == edges.NO_EDGE).all())
        found = plan(prepare(values_picture(np.full((60, 80), 5.0)), 0.0), MassSettings(values=2))
        self.assertEqual(found.borders, ())
        self.assertAlmostEqual(max(m.share for m in found.masses), 1.0)

    def test_steps_and_hues_across_are_those_of_the_two_sides(self):
        lab = np.full((360, 480, 3), 0, np.float32)
        lab[..., 0] = 30
        lab[:, 240:] = (70, 12, -16)
        found = plan(prepare(of_lab(lab), 0.0), MassSettings(values=2, smallest=0, outline=0))
        (border,) = found.borders
        low, high = (float(v) for v in value_of_lightness(np.array([30.0, 70.0])))
        self.assertAlmostEqual(border.step, high - low, delta=0.05)
        self.assertAlmostEqual(border.hue_step, 20.0, delta=1.5)
        self.assertEqual((border.kind, border.found, border.length, border.glows), ("hard", "hard", 1.0, False))
