"""Two hues in one value, shapes of their own, and recolouring one shape alone."""

import unittest

import numpy as np

from ochre_stone.core.document.choices import MassChoice, Swap
from ochre_stone.core.document.document import Document
from ochre_stone.core.masses.hues import hue_borders, hue_parts, shapes_of, with_shapes
from ochre_stone.core.masses.plan import MassPlan, MassSettings, plan, prepare
from ochre_stone.core.picture.frame import Frame
from ochre_stone.core.planning.massing import (
    draw_plan,
    make_ground,
    make_plan,
    recoloured_labels,
    same_shape,
    shape_lab,
    with_hue_lines,
)
from tests.support.made import demo_picture


def scene(head: tuple[float, float, float], noise: float = 0.0) -> tuple[MassPlan, np.ndarray, object]:
    """A head (a disc) before a grey wall of about its own value, over a dark ground."""
    rng = np.random.default_rng(0)
    out = np.full((200, 300, 3), 0.30)
    out[140:] = 0.02
    y, x = np.mgrid[:200, :300]
    disc = (x - 150) ** 2 + (y - 70) ** 2 < 45**2
    out[disc] = head
    out *= rng.normal(1, noise, out.shape)
    ground = prepare(np.clip(out, 0, 1).astype(np.float32), 0.3)
    return plan(ground, MassSettings(values=2)), disc, ground


SKIN = (0.46, 0.27, 0.17)
"""Luminance .30, as the wall."""


class Parts(unittest.TestCase):
    def test_a_head_before_a_wall_of_its_value_keeps_its_shape(self):
        made, disc, ground = scene(SKIN, 0.03)
        self.assertEqual(made.labels[70, 150], made.labels[70, 20], "one value")
        parts = hue_parts(made, ground.lab)
        found = parts == parts[70, 150]
        wall = made.labels == made.labels[70, 20]
        agree = (found[wall] == disc[wall]).mean()
        self.assertGreater(float(agree), 0.98)
        self.assertFalse(parts[150:].any(), "the dark ground has one hue")
        line = hue_borders(made, parts)
        self.assertTrue(220 < line.sum() < 700, line.sum())
        self.assertFalse(line[145:].any())

    def test_one_hue_is_not_parted(self):
        for head in ((0.30, 0.30, 0.30), (0.31, 0.30, 0.28)):
            made, _, ground = scene(head, 0.05)
            self.assertFalse(hue_parts(made, ground.lab).any(), head)

    def test_shapes_are_connected_and_of_one_mass_and_hue(self):
        made, _, ground = scene(SKIN)
        parts = hue_parts(made, ground.lab)
        plain, _ = shapes_of(made)
        numbered, own = shapes_of(made, parts)
        self.assertEqual((int(plain.max()) + 1, int(numbered.max()) + 1), (2, 3))
        for i, mass in enumerate(own):
            self.assertEqual(set(made.labels[numbered == i].tolist()), {mass})
        self.assertEqual(plain[70, 20], plain[70, 150])
        self.assertNotEqual(numbered[70, 20], numbered[70, 150])

    def test_shapes_become_labels_of_their_own_at_any_size(self):
        made, disc, ground = scene(SKIN)
        parts = hue_parts(made, ground.lab)
        large = made.labels.repeat(2, axis=0).repeat(2, axis=1)
        labels, own = with_shapes(large, made, parts, [(0.5, 0.35), (0.1, 0.9)], [int(made.labels[70, 150]), 1])
        self.assertEqual(own, [2, -1], "the second place lies in another mass")
        agree = ((labels == 2) == disc.repeat(2, axis=0).repeat(2, axis=1)).mean()
        self.assertGreater(float(agree), 0.98)
        self.assertEqual(int(large.max()), 1, "what was given stays as it is")


class OfAShape(unittest.TestCase):
    def test_its_colour_is_its_own_and_not_its_mass(self):
        made, _, ground = scene(SKIN)
        document = Document(masses=MassChoice(hues=True))
        head, wall = (shape_lab(made, ground, document, p) for p in ((0.5, 0.35), (0.1, 0.35)))
        self.assertGreater(head[1], 10)
        self.assertLess(abs(wall[1]) + abs(wall[2]), 2)


class OnTheSheet(unittest.TestCase):
    def test_the_line_is_drawn_where_it_is_wanted(self):
        photo = demo_picture()
        for hues in (False, True):
            document = Document(masses=MassChoice(values=5, hues=hues))
            found = make_plan(make_ground(photo, document), photo, document)
            plain = draw_plan(found, photo, document, 800, 600)
            drawn = with_hue_lines(plain, found, photo, document)
            changed = drawn != plain
            self.assertEqual(bool(changed.any()), hues)
            self.assertLess(float(changed.mean()), 0.02)
            if hues:
                self.assertEqual(set(drawn[changed].tolist()) - {20, 235}, set())


class Recoloured(unittest.TestCase):
    """On the demo, through its project."""

    def made(self, *swaps: Swap, **more: object) -> tuple[np.ndarray, dict, object]:
        photo = demo_picture()
        document = Document(masses=MassChoice(values=4, swaps=swaps, **more))
        ground = make_ground(photo, document)
        found = make_plan(ground, photo, document)
        labels, colours = recoloured_labels(found, found, ground, photo, document)
        return labels, colours, found

    def test_a_shape_alone_and_over_its_mass(self):
        place = (1100.0, 850.0)
        _, _, found = self.made()
        h, w = found.labels.shape
        mass = int(found.labels[int(850 * h / 1200), int(1100 * w / 1600)])
        labels, colours, _ = self.made(Swap(mass=mass, hue=20, chroma=30, place=place))
        self.assertEqual(list(colours.values()), [(20, 30)])
        (own,) = colours
        self.assertEqual(int(labels[int(850 * h / 1200), int(1100 * w / 1600)]), own)
        self.assertLess(int((labels == own).sum()), int((found.labels == mass).sum()))
        both, colours, _ = self.made(
            Swap(mass=mass, hue=200, chroma=10), Swap(mass=mass, hue=20, chroma=30, place=place)
        )
        self.assertEqual(set(colours), {mass, own})
        np.testing.assert_array_equal(both, labels)

    def test_a_place_in_a_mirrored_frame_is_the_same_shape(self):
        photo = demo_picture()
        document = Document(frame=Frame(mirror=True), masses=MassChoice(values=4))
        ground = make_ground(photo, document)
        found = make_plan(ground, photo, document)
        h, w = found.labels.shape
        x, y = w - 1 - int(1100 * w / 1600), int(850 * h / 1200)
        swap = Swap(mass=int(found.labels[y, x]), hue=20, chroma=30, place=(1100.0, 850.0))
        document = document.model_copy(update={"masses": document.masses.model_copy(update={"swaps": (swap,)})})
        labels, colours = recoloured_labels(found, found, ground, photo, document)
        self.assertIn(int(labels[y, x]), colours)
        self.assertTrue(same_shape(found, ground, document, (x / w, y / h), ((x + 1) / w, y / h)))

    def test_two_of_the_same_place_are_refused(self):
        one = Swap(mass=1, hue=20, chroma=30, place=(5.0, 5.0))
        with self.assertRaises(ValueError):
            MassChoice(swaps=(one, one.model_copy(update={"hue": 40.0})))
        self.assertEqual(len(MassChoice(swaps=(one, Swap(mass=1, hue=2, chroma=3))).swaps), 2)
