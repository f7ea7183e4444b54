"""The mass plan: from a picture to a few flat values in big shapes, each in the light or in the shadow."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import cv2
import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.munsell import lightness_of_value, value_of_lightness
from ochre_stone.core.errors import OchreError
from ochre_stone.core.masses import edges, shapes
from ochre_stone.core.masses.thresholds import classes, histogram, optimal_cuts
from ochre_stone.core.picture.picture import Floats, linear_to_lab
from ochre_stone.core.picture.simplify import smooth_lightness

PREVIEW_PIXELS = 250_000
FINE_PIXELS = 1_000_000
LEAST_VALUES, MOST_VALUES = 2, 9

Family = Literal["light", "shadow"]


@dataclass(frozen=True)
class Settings:
    """What the painter chose."""

    values: int = 4
    smallest: float = 0.2
    """Smallest shape in percent of the picture, 0 to 10."""
    simplify: float = 0.5
    """How much detail melts, 0 to 1."""
    cuts: tuple[float, ...] = ()
    """Cuts by hand in Munsell value, rising, one fewer than values; empty for the optimal ones."""
    families: tuple[tuple[int, Family], ...] = ()
    """Families by hand, per mass from the darkest (0)."""

    def __post_init__(self) -> None:
        if not LEAST_VALUES <= self.values <= MOST_VALUES:
            raise OchreError(f"{self.values} values are not possible: choose {LEAST_VALUES} to {MOST_VALUES}.")
        if not 0 <= self.smallest <= 10:
            raise OchreError(f"A smallest shape of {self.smallest} % is not possible: choose 0 to 10.")
        if not 0 <= self.simplify <= 1:
            raise OchreError(f"Simplify {self.simplify} is not possible: choose 0 to 1.")
        if self.cuts and (len(self.cuts) != self.values - 1 or list(self.cuts) != sorted(self.cuts)):
            raise OchreError(f"{self.values} values need {self.values - 1} thresholds in rising order.")


@dataclass(frozen=True)
class Mass:
    """One flat value."""

    index: int
    """From the darkest, 0."""
    value: float
    """Mean Munsell value of the original picture in it."""
    lab: tuple[float, float, float]
    share: float
    family: Family


@dataclass(frozen=True)
class Border:
    """How two masses meet; ``a`` is the darker."""

    a: int
    b: int
    step: float
    """Munsell value steps between them."""
    kind: str
    """lost, soft, firm or hard: what most of the border is."""
    length: float
    """Share of all borders, 0..1."""


@dataclass(frozen=True, eq=False)
class MassPlan:
    """Flat values and their shapes."""

    labels: shapes.Labels
    """Mass index (h, w) at the working size, 0 is the darkest."""
    thresholds: tuple[float, ...]
    masses: tuple[Mass, ...]
    regions: int
    borders: tuple[Border, ...]
    division: float
    """Suggested value that divides light from shadow."""

    def greys(self) -> npt.NDArray[np.uint8]:
        """sRGB grey (k,) of each mass."""
        L = lightness_of_value([m.value for m in self.masses])
        y = np.where(L > 8, ((L + 16) / 116) ** 3, L * 27 / 24389)
        code = np.where(y <= 0.0031308, 12.92 * y, 1.055 * np.maximum(y, 1e-9) ** (1 / 2.4) - 0.055)
        return np.round(code * 255).astype(np.uint8)

    @property
    def key(self) -> str:
        """High, middle or low key, from the mean value."""
        mean = sum(m.value * m.share for m in self.masses)
        return "high key" if mean > 6.5 else "low key" if mean < 3.8 else "middle key"


@dataclass(frozen=True, eq=False)
class Ground:
    """A working copy prepared once per picture, balance and simplification."""

    lab: Floats
    value: Floats
    """Munsell value (h, w) of the picture."""
    melted: Floats
    """Munsell value of the smoothed picture."""
    counts: npt.NDArray[np.float64]
    """Histogram of ``melted``."""
    cuts: dict[int, npt.NDArray[np.float64]]
    """Optimal cuts for every number of values."""


def prepare(linear: Floats, simplify: float) -> Ground:
    """Smooth a working copy (linear light, at most a megapixel or so) for :func:`plan`; the slow part."""
    lab = linear_to_lab(linear)
    lightness = np.ascontiguousarray(lab[..., 0])
    melted = smooth_lightness(lightness, simplify)
    value = value_of_lightness(lightness).astype(np.float32)
    flat = value_of_lightness(np.clip(melted, 0, 100)).astype(np.float32)
    counts = histogram(flat)
    return Ground(lab, value, flat, counts, optimal_cuts(counts, MOST_VALUES))


def plan(ground: Ground, settings: Settings) -> MassPlan:
    """Flat values in big shapes.

    Cuts the smoothed values (optimally, or as set by hand), takes one majority vote, merges shapes below the
    smallest, takes grey rims away, merges again. Each mass then has the mean of the *original* picture.
    """
    cuts = np.array(settings.cuts) if settings.cuts else ground.cuts[settings.values]
    k = settings.values
    size = ground.melted.size
    side = float(np.sqrt(size))
    labels = classes(ground.melted, cuts)
    level: npt.NDArray[np.float64] = np.array([*cuts, 10.0]) - np.diff([0.0, *cuts, 10.0]) / 2
    weight = np.bincount(labels.ravel(), minlength=k)
    mean: npt.NDArray[np.float64] = np.bincount(labels.ravel(), ground.melted.ravel(), minlength=k) / np.maximum(
        weight, 1
    )
    level = np.where(weight > 0, mean, level)
    labels = shapes.majority(labels, k, max(1, round(0.004 * side)))
    least = settings.smallest / 100 * size
    labels = shapes.merge_small(labels, ground.melted, level, least)
    labels = shapes.remove_rims(labels, k, max(1, round(0.005 * side)))
    labels = shapes.merge_small(labels, ground.melted, level, least)
    return describe(ground, labels, cuts, level, float(ground.cuts[2][0]), dict(settings.families))


def refined(preview: Floats, fine: Floats, settings: Settings) -> MassPlan:
    """The plan at a finer size with the cuts of the preview: what was shown is what is printed.

    Cuts found anew on the finer copy could move whole shapes; frozen ones agree to about nine pixels in ten.
    """
    cuts = settings.cuts or tuple(float(c) for c in prepare(preview, settings.simplify).cuts[settings.values])
    return plan(prepare(fine, settings.simplify), replace(settings, cuts=cuts))


def describe(
    ground: Ground,
    labels: shapes.Labels,
    cuts: Sequence[float] | npt.NDArray[np.float64],
    level: npt.NDArray[np.float64],
    division: float,
    families: Mapping[int, Family],
) -> MassPlan:
    """Measure the masses of a class map: value, colour, share, family, borders."""
    k = len(level)
    flat = labels.ravel()
    weight = np.bincount(flat, minlength=k)
    sums = np.stack([np.bincount(flat, ground.lab[..., i].ravel(), minlength=k) for i in range(3)], axis=1)
    lab = sums / np.maximum(weight, 1)[:, None]
    mean = np.bincount(flat, ground.value.ravel(), minlength=k) / np.maximum(weight, 1)
    value = np.where(weight > 0, mean, level)
    masses = tuple(
        Mass(
            i, float(value[i]), (float(lab[i, 0]), float(lab[i, 1]), float(lab[i, 2])), float(weight[i] / flat.size),
            families.get(i, "light" if value[i] >= division else "shadow"),
        )
        for i in range(k)
    )  # fmt: skip
    meets = edges.classify(labels, k, np.ascontiguousarray(ground.lab[..., 0]))
    whole = sum(sum(e.values()) for e in meets.values()) or 1
    found = [
        Border(a, b, float(value[b] - value[a]), max(e, key=lambda kind: e[kind]), sum(e.values()) / whole)
        for (a, b), e in meets.items()
    ]
    return MassPlan(
        labels, tuple(float(c) for c in cuts), masses, len(shapes.regions(labels, k)[1]),
        tuple(sorted(found, key=lambda b: -b.length)), division,
    )  # fmt: skip


def at_size(plan: MassPlan, width: int, height: int, smallest: float) -> tuple[shapes.Labels, int]:
    """The class map at the size of the photo, borders smooth, and its number of shapes.

    Scaling can pinch off slivers: shapes below ``smallest`` percent join their neighbours once more.
    """
    level = np.array([m.value for m in plan.masses])
    labels = shapes.enlarge(plan.labels, len(level), width, height)
    value = level.astype(np.float32)[labels]
    labels = shapes.merge_small(labels, value, level, smallest / 100 * labels.size)
    return labels, len(shapes.regions(labels, len(level))[1])


def label_places(plan: MassPlan, least: float = 0.012) -> list[tuple[float, float, int]]:
    """Where to write the number of a mass: the middle of each shape above ``least`` of the picture, and at least once
    per mass.

    Returns x and y as shares of width and height, and the mass index.
    """
    region, own = shapes.regions(plan.labels, len(plan.masses))
    area = np.bincount(region.ravel(), minlength=len(own))
    h, w = plan.labels.shape
    out = []
    for mass in plan.masses:
        mine = [i for i, c in enumerate(own) if c == mass.index]
        mine.sort(key=lambda i: -area[i])
        for turn, i in enumerate(mine):
            if turn and area[i] < least * plan.labels.size:
                break
            inner = cv2.distanceTransform(np.pad((region == i).astype(np.uint8), 1), cv2.DIST_L2, 3)[1:-1, 1:-1]
            row, column = np.unravel_index(int(inner.argmax()), inner.shape)
            out.append(((float(column) + 0.5) / w, (float(row) + 0.5) / h, mass.index))
    return out
