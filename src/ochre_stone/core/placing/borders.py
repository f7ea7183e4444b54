"""Borders between shapes, each traced once: between the corners where three shapes or more meet, or the frame is met.

Neighbours share the very same line, so that nothing gapes and nothing is drawn twice, whatever is done to it. Steps of
pixels are smoothed away along each line with its ends held; through its nodes runs a Catmull-Rom spline (Catmull and
Rom 1974), given as cubic Bezier curves.
"""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.later import later
from ochre_stone.core.masses.outlines import Bend, bezier
from ochre_stone.core.masses.shapes import Labels

ndimage = later("scipy.ndimage")

OUTSIDE = -1
"""What lies beyond the frame."""
_SPACING, _SMOOTH = 3.0, 1.6
"""Pixels between nodes, and over which steps are smoothed."""
_FEWEST = 4
_STEPS = ((0, 1), (1, 0), (0, -1), (-1, 0))
"""Rows and columns to the next corner: east, south, west, north."""


@dataclass(frozen=True, eq=False)
class SharedBorder:
    """One line between two shapes."""

    left: int
    """What lies at its left, looking along it; ``OUTSIDE`` beyond the frame."""
    right: int
    points: Array
    """Nodes (n, 2), x and y as shares of width and height, in the frame."""
    closed: bool
    """Whether it goes round and meets nothing."""

    @property
    def frame(self) -> bool:
        """Whether it is a part of the picture's edge."""
        return OUTSIDE in (self.left, self.right)


def shared_borders(labels: Labels) -> list[SharedBorder]:
    """All borders of ``labels`` (h, w), each once, the picture's edge in pieces among them."""
    h, w = labels.shape
    padded = np.pad(labels.astype(int), 1, constant_values=OUTSIDE)
    nw, ne, sw, se = padded[:-1, :-1], padded[:-1, 1:], padded[1:, :-1], padded[1:, 1:]
    ways = np.stack([ne != se, sw != se, nw != sw, nw != ne])  # east, south, west, north of each corner
    degree = ways.sum(axis=0)
    left_of = np.stack([ne, se, sw, nw])
    right_of = np.stack([se, sw, nw, ne])
    todo = ways.copy()
    out: list[SharedBorder] = []

    def walk(i: int, j: int, way: int) -> None:
        left, right = int(left_of[way, i, j]), int(right_of[way, i, j])
        start, trace = (i, j), [(i, j)]
        while True:
            todo[way, i, j] = False
            i, j = i + _STEPS[way][0], j + _STEPS[way][1]
            todo[(way + 2) % 4, i, j] = False
            trace.append((i, j))
            if degree[i, j] != 2 or (i, j) == start:
                break
            way = next(k for k in range(4) if ways[k, i, j] and k != (way + 2) % 4)
        closed = (i, j) == start and degree[i, j] == 2
        out.append(_border(np.array(trace, dtype=float)[:, ::-1], left, right, closed, w, h))

    for i, j in np.argwhere(degree > 2).tolist():
        for way in range(4):
            if todo[way, i, j]:
                walk(i, j, way)
    for way, i, j in np.argwhere(todo).tolist():  # what goes round without meeting anything
        if todo[way, i, j]:
            walk(i, j, way)
    return out


def _border(trace: Array, left: int, right: int, closed: bool, w: int, h: int) -> SharedBorder:
    """``trace``: corners of pixels (n, 2), x and y; the last is the first where it is closed."""
    if OUTSIDE in (left, right):
        turns = np.any(np.diff(trace, 2, axis=0) != 0, axis=1)
        nodes = trace[np.concatenate([[True], turns, [True]])]
    else:
        nodes = _smoothed(trace, closed)
    if closed and len(nodes) > 1 and np.array_equal(nodes[0], nodes[-1]):
        nodes = nodes[:-1]
    return SharedBorder(left, right, nodes / (w, h), closed)


def _smoothed(trace: Array, closed: bool) -> Array:
    """Nodes at even distances along a trace, its steps smoothed away, its ends where they were."""
    length = len(trace) - 1
    count = max(1, round(length / _SPACING))
    if closed and count < _FEWEST:
        return trace[:-1]
    if closed:
        soft = ndimage.gaussian_filter1d(trace[:-1], _SMOOTH, axis=0, mode="wrap")
        soft = np.vstack([soft, soft[:1]])
    else:
        reach = min(length, round(4 * _SMOOTH))
        before, after = 2 * trace[0] - trace[reach:0:-1], 2 * trace[-1] - trace[-2 : -2 - reach : -1]
        soft = ndimage.gaussian_filter1d(np.vstack([before, trace, after]), _SMOOTH, axis=0)[reach : reach + length + 1]
    at = np.linspace(0, length, count + 1)
    nodes = np.stack([np.interp(at, np.arange(length + 1), soft[:, k]) for k in (0, 1)], axis=1)
    if closed:
        return np.asarray(nodes[:-1])
    nodes[0], nodes[-1] = trace[0], trace[-1]
    return np.asarray(nodes)


@dataclass(frozen=True, eq=False)
class Ring:
    """A closed way along borders, with one shape at its left all along."""

    parts: tuple[tuple[SharedBorder, bool], ...]
    """Borders in their order, and whether each is gone along the other way round."""


def rings(borders: Sequence[SharedBorder]) -> dict[int, list[Ring]]:
    """For each label the rings that enclose its shapes and the holes in them: filled by the rule of even and odd they
    are its places."""
    out: dict[int, list[Ring]] = defaultdict(list)
    starts: dict[tuple[int, tuple[float, float]], list[tuple[SharedBorder, bool]]] = defaultdict(list)
    for b in borders:
        for label, turned in ((b.left, False), (b.right, True)):
            if label == OUTSIDE:
                continue
            if b.closed:
                out[label].append(Ring(((b, turned),)))
            else:
                starts[label, _end(b, turned)].append((b, turned))
    for key in list(starts):
        while starts[key]:
            label, first = key
            part = starts[key].pop()
            parts, at = [part], _end(part[0], not part[1])
            while at != first:
                part = starts[label, at].pop()
                parts.append(part)
                at = _end(part[0], not part[1])
            out[label].append(Ring(tuple(parts)))
    return dict(out)


def _end(border: SharedBorder, last: bool) -> tuple[float, float]:
    x, y = border.points[-1 if last else 0].tolist()
    return x, y


def ring_bends(ring: Ring) -> tuple[tuple[float, float], list[Bend]]:
    """Where a ring begins, and its Bezier pieces; straight along the frame."""
    found: list[Bend] = []
    for border, turned in ring.parts:
        points = border.points[::-1] if turned else border.points
        if border.frame:
            round_ = np.vstack([points, points[:1]]) if border.closed else points
            straight = [(x, y) for x, y in round_.tolist()]
            found += [(a, b, b) for a, b in pairwise(straight)]
        else:
            found += bezier(points, border.closed)
    border, turned = ring.parts[0]
    return _end(border, turned), found
