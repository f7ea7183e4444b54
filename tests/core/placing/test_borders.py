"""Borders traced once: they part the picture without gap or overlap."""

import unittest

import cv2
import numpy as np

from ochre_stone.core.masses.outlines import bezier
from ochre_stone.core.placing.borders import OUTSIDE, Ring, SharedBorder, ring_bends, rings, shared_borders

SIX = np.array([[0, 0, 0, 1, 1, 1]] * 3 + [[2, 2, 2, 2, 1, 1]] * 3, np.uint8)


def drawn(ring: Ring, pieces: int = 8) -> np.ndarray:
    """A ring's curve as points (n, 2)."""
    here, found = ring_bends(ring)
    t = np.linspace(0, 1, pieces, endpoint=False)[:, None]
    out = []
    for a, b, c in found:
        p = [np.array(v) for v in (here, a, b, c)]
        out.append((1 - t) ** 3 * p[0] + 3 * (1 - t) ** 2 * t * p[1] + 3 * (1 - t) * t**2 * p[2] + t**3 * p[3])
        here = c
    return np.vstack(out)


def area(points: np.ndarray) -> float:
    """Of a ring with its shape at the left, y downward, by the trapezoid rule."""
    x, y = points.T
    return float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y) / -2)


def blobs(seed: int, h: int = 90, w: int = 130, count: int = 5) -> np.ndarray:
    """Soft shapes of so many labels."""
    noise = np.random.default_rng(seed).normal(size=(count, h, w)).astype(np.float32)
    return np.argmax([cv2.GaussianBlur(n, (0, 0), 6.0) for n in noise], axis=0).astype(np.uint8)


class Borders(unittest.TestCase):
    def test_three_shapes_by_hand(self):
        found = shared_borders(SIX)
        inner = {frozenset((b.left, b.right)): b for b in found if not b.frame}
        self.assertEqual(set(inner), {frozenset(p) for p in ((0, 1), (0, 2), (1, 2))})
        self.assertEqual(len([b for b in found if not b.frame]), 3, "each once")
        ends = {tuple(np.round(p, 6)) for b in inner.values() for p in (b.points[0], b.points[-1])}
        self.assertEqual(ends, {(0.5, 0.0), (0.5, 0.5), (0.0, 0.5), (round(4 / 6, 6), 1.0)})
        between = inner[frozenset((0, 1))]
        down = between.points[-1, 1] > between.points[0, 1]
        self.assertEqual(between.left, 1 if down else 0, "looking down, the left hand is to the right of the picture")
        self.assertEqual(sum(b.frame for b in found), 3)
        self.assertTrue(all(OUTSIDE in (b.left, b.right) for b in found if b.frame))

    def test_areas_add_up_to_the_picture_and_are_those_of_the_labels(self):
        for seed in range(4):
            labels = blobs(seed)
            found = rings(shared_borders(labels))
            self.assertEqual(set(found), set(np.unique(labels).tolist()))
            areas = {k: sum(area(drawn(r)) for r in own) for k, own in found.items()}
            self.assertAlmostEqual(sum(areas.values()), 1.0, places=9, msg="no gap, no overlap")
            for k, size in areas.items():
                self.assertAlmostEqual(size, float((labels == k).mean()), delta=0.01)

    def test_filled_they_are_the_labels(self):
        labels = blobs(7, 200, 300, 6)
        seen = np.full(labels.shape, 255, np.uint8)
        for k, own in rings(shared_borders(labels)).items():
            fine = np.zeros((200 * 7, 300 * 7), np.uint8)  # an odd number: each pixel has a middle one
            points = [np.round((drawn(r) * (2100, 1400) - 0.5) * 16).astype(np.int32) for r in own]
            cv2.fillPoly(fine, points, 1, cv2.LINE_8, 4)
            seen[(fine[3::7, 3::7] > 0) & (seen == 255)] = k
        self.assertGreater(float((seen == labels).mean()), 0.97)

    def test_an_island_and_a_chequer(self):
        island = np.zeros((20, 20), np.uint8)
        island[5:15, 5:15] = 1
        loops = [b for b in shared_borders(island) if not b.frame]
        self.assertEqual([b.closed for b in loops], [True])
        self.assertEqual({k: len(v) for k, v in rings(loops).items()}, {0: 1, 1: 1})
        chequer = np.array([[0, 1], [1, 0]], np.uint8).repeat(6, axis=0).repeat(6, axis=1)
        inner = [b for b in shared_borders(chequer) if not b.frame]
        self.assertEqual(len(inner), 4, "four lines meet in the middle")
        one = shared_borders(np.zeros((3, 4), np.uint8))
        self.assertEqual([(b.closed, len(b.points)) for b in one], [(True, 4)], "the frame alone, by its corners")

    def test_steps_of_pixels_are_smoothed_away_and_ends_stay(self):
        rows = np.arange(100)[:, None]
        labels = (np.arange(200)[None] > rows * 0.5 + 60).astype(np.uint8)
        line = next(b for b in shared_borders(labels) if not b.frame)
        at = line.points * (200, 100)
        off = np.abs((at[:, 0] - 0.5) - (at[:, 1] * 0.5 + 60))
        self.assertLess(float(off.max()), 1.0)
        self.assertEqual(sorted({float(y) for y in line.points[[0, -1], 1]}), [0.0, 1.0])
        self.assertEqual(len(bezier(line.points, closed=False)), len(line.points) - 1)

    def test_the_same_twice(self):
        labels = blobs(3)

        def told(b: SharedBorder) -> tuple[int, int, bytes]:
            return b.left, b.right, b.points.tobytes()

        self.assertEqual([told(b) for b in shared_borders(labels)], [told(b) for b in shared_borders(labels)])


if __name__ == "__main__":
    unittest.main()
