"""Clean flat values into few, big shapes: smooth outlines, merging of small shapes, removal of grey rims."""

import heapq

import numpy as np
import numpy.typing as npt

from ochre_stone.core.later import later

cv2 = later("cv2")

Labels = npt.NDArray[np.uint8]
Regions = npt.NDArray[np.int32]


_KEPT = 0.875
"""How much smaller a shape may be in a focus area."""


def smooth_edges(labels: Labels, count: int, sigma: float) -> Labels:
    """Each pixel takes the commonest class around it, weighted by a Gaussian of ``sigma`` pixels: outlines get simple,
    specks go. Ties go to the darker class."""
    if sigma <= 0:
        return labels
    best = None
    out = np.zeros_like(labels)
    for c in range(count):
        votes = cv2.GaussianBlur((labels == c).astype(np.float32), (0, 0), sigma, borderType=cv2.BORDER_REFLECT)
        if best is None:
            best = votes
        else:
            more = votes > best + 1e-6
            out[more] = c
            best = np.maximum(best, votes)
    return out


def regions(labels: Labels, count: int) -> tuple[Regions, list[int]]:
    """4-connected regions (h, w) of equal class, numbered from 0, and the class of each."""
    out = np.zeros(labels.shape, np.int32)
    own: list[int] = []
    for c in range(count):
        mask = (labels == c).view(np.uint8)
        n, numbered = cv2.connectedComponents(mask, connectivity=4, ltype=cv2.CV_32S)
        if n > 1:
            np.add(numbered, len(own) - 1, out=out, where=mask.view(bool))
            own += [c] * (n - 1)
    return out, own


def borders(region: Regions, total: int) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.int64], npt.NDArray[np.int64]]:
    """Adjacent region pairs: lower number, higher number, length of their border in pixels."""
    codes = []
    for a, b in ((region[:, :-1], region[:, 1:]), (region[:-1], region[1:])):
        differ = a != b
        x, y = a[differ].astype(np.int64), b[differ].astype(np.int64)
        codes.append(np.minimum(x, y) * total + np.maximum(x, y))
    pair, length = np.unique(np.concatenate(codes), return_counts=True)
    return pair // total, pair % total, length


def merge_small(
    labels: Labels,
    value: npt.NDArray[np.float32],
    levels: npt.ArrayLike,
    least: float,
    kept: npt.NDArray[np.float32] | None = None,
) -> Labels:
    """Merge regions below ``least`` pixels, smallest first, into the larger neighbour whose class is nearest in value.

    ``value`` (h, w) is the value picture, ``levels`` (k,) the value of each class. ``kept`` (h, w) 0..1: where smaller
    regions stay, down to an eighth of ``least`` where all of a region lies at 1.
    """
    level = np.asarray(levels, dtype=float)
    region, own = regions(labels, len(level))
    total = len(own)
    if total <= 1:
        return labels
    area = np.bincount(region.ravel(), minlength=total).astype(float)
    weight = np.bincount(region.ravel(), value.ravel(), minlength=total)
    limit = np.full(total, float(least))
    if kept is not None:
        limit *= 1 - _KEPT * np.bincount(region.ravel(), kept.ravel(), minlength=total) / area
    small = np.flatnonzero(area < limit)
    if not len(small):
        return labels
    a, b, _ = borders(region, total)
    around: list[set[int]] = [set() for _ in range(total)]
    for i, j in zip(a.tolist(), b.tolist(), strict=True):
        around[i].add(j)
        around[j].add(i)
    parent = list(range(total))
    areas, weights = area.tolist(), weight.tolist()

    def join(gone: int, into: int) -> None:
        parent[gone] = into
        areas[into] += areas[gone]
        weights[into] += weights[gone]
        for other in around[gone]:
            around[other].discard(gone)
            if other != into:
                around[other].add(into)
                around[into].add(other)
        around[gone] = set()

    queue = [(areas[i], i) for i in small.tolist()]
    heapq.heapify(queue)
    while queue:
        size, i = heapq.heappop(queue)
        if parent[i] != i or size != areas[i] or not around[i]:
            continue
        mean = weights[i] / areas[i]
        larger = [j for j in around[i] if areas[j] >= size] or list(around[i])
        into = min(larger, key=lambda j: (abs(mean - level[own[j]]), -areas[j]))
        join(i, into)
        for other in [j for j in around[into] if own[j] == own[into]]:  # two shapes of one class now touch
            join(other, into)
        if areas[into] < limit[into]:
            heapq.heappush(queue, (areas[into], into))

    def root(i: int) -> int:
        while parent[i] != i:
            parent[i] = parent[parent[i]]
            i = parent[i]
        return i

    table = np.array([own[root(i)] for i in range(total)], np.uint8)
    return np.asarray(table[region])


def remove_rims(labels: Labels, count: int, radius: int) -> Labels:
    """Take away thin bands of a middle class between a darker and a lighter shape: blur of the lens, not a shape.

    A pixel lost by opening its class with a disc of ``radius`` that has a darker and a lighter solid shape near joins
    the nearest solid shape. Thin real lines, with the same class on both sides, stay.
    """
    if count < 3 or radius < 1:
        return labels
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * radius + 1, 2 * radius + 1))
    reach = np.ones((4 * radius + 1, 4 * radius + 1), np.uint8)
    solid = np.full(labels.shape, 255, np.uint8)
    for c in range(count):
        opened = cv2.morphologyEx((labels == c).astype(np.uint8), cv2.MORPH_OPEN, disc)
        solid[opened > 0] = c
    lost = np.zeros(labels.shape, bool)
    for c in range(1, count - 1):
        loose = (labels == c) & (solid == 255)
        if loose.any():
            darker = cv2.dilate((solid < c).astype(np.uint8), reach)
            lighter = cv2.dilate(((solid > c) & (solid != 255)).astype(np.uint8), reach)
            lost |= loose & (darker > 0) & (lighter > 0)
    if not lost.any():
        return labels
    _, index = cv2.distanceTransformWithLabels(
        (solid == 255).astype(np.uint8), cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL
    )
    table = np.zeros(int(index.max()) + 1, np.uint8)
    known = solid != 255
    table[index[known]] = solid[known]
    out = labels.copy()
    out[lost] = table[index[lost]]
    return out


def enlarge(labels: Labels, count: int, width: int, height: int) -> Labels:
    """Class map at another size with smooth borders: each class is scaled as a picture, the strongest wins."""
    if labels.shape == (height, width):
        return labels
    best = np.full((height, width), -1.0, np.float32)
    out = np.zeros((height, width), np.uint8)
    soft = max(0.6, 0.4 * width / labels.shape[1])
    for c in range(count):
        plane = cv2.resize((labels == c).astype(np.float32), (width, height), interpolation=cv2.INTER_LINEAR)
        plane = cv2.GaussianBlur(plane, (0, 0), soft)
        more = plane > best
        out[more] = c
        best = np.maximum(best, plane)
    return out
