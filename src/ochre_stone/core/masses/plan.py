"""The mass plan: from a picture to a few flat values in big shapes, each in the light or in the shadow."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.munsell import lightness_of_value, value_of_lightness
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.errors import OchreError
from ochre_stone.core.later import later
from ochre_stone.core.masses import edges, shapes
from ochre_stone.core.masses.families import Break, Family, breaks, set_apart
from ochre_stone.core.masses.thresholds import TONE_BINS, TOP, classes, histogram, optimal_cuts
from ochre_stone.core.masses.tone import AS_IT_IS, Tone, scene_range
from ochre_stone.core.picture.picture import Floats, Mask, linear_to_lab
from ochre_stone.core.picture.simplify import smooth_lightness

cv2 = later("cv2")

PREVIEW_PIXELS = 250_000
FINE_PIXELS = 1_000_000
LEAST_VALUES, MOST_VALUES = 2, 9
_MOVED = 0.25

NOT_PAINTED, PAINTED_SHADOW, PAINTED_LIGHT = 0, 1, 2


@dataclass(frozen=True)
class MassSettings:
    """What the painter chose."""

    values: int = 4
    smallest: float = 0.2
    """Smallest shape in percent of the picture, 0 to 10."""
    simplify: float = 0.5
    """How much detail melts, 0 to 1."""
    outline: float = 0.2
    """How simple outlines are, 0 (every turn of the picture) to 1 (a few strokes of the knife)."""
    cuts: tuple[float, ...] = ()
    """Cuts by hand in Munsell value, rising, one fewer than values; empty for the optimal ones."""
    locked: tuple[float, ...] = ()
    """Cuts that stay while the others are found; among ``cuts`` where there are any."""
    families: tuple[tuple[int, Family], ...] = ()
    """Families by hand, per step of value from the darkest (0)."""
    division: float | None = None
    """Value that divides light from shadow; None for the suggested one."""
    apart: bool = False
    """Values moved so that every light is lighter than every shadow."""
    tone: Tone = AS_IT_IS
    edges: tuple[tuple[int, int, str], ...] = ()
    """Kinds of edges by hand: two masses, the darker first, and the kind."""

    def __post_init__(self) -> None:
        if not LEAST_VALUES <= self.values <= MOST_VALUES:
            raise OchreError(f"{self.values} values are not possible: choose {LEAST_VALUES} to {MOST_VALUES}.")
        if not 0 <= self.smallest <= 10:
            raise OchreError(f"A smallest shape of {self.smallest} % is not possible: choose 0 to 10.")
        if not 0 <= self.simplify <= 1:
            raise OchreError(f"Simplify {self.simplify} is not possible: choose 0 to 1.")
        if not 0 <= self.outline <= 1:
            raise OchreError(f"Simple outlines {self.outline} are not possible: choose 0 to 1.")
        if self.cuts and (len(self.cuts) != self.values - 1 or list(self.cuts) != sorted(set(self.cuts))):
            raise OchreError(f"{self.values} values need {self.values - 1} thresholds in rising order.")
        bins = {round(c * TONE_BINS / TOP) for c in self.locked}
        if len(bins) != len(self.locked) or len(bins) >= self.values or not all(0 < b < TONE_BINS for b in bins):
            raise OchreError(
                f"{self.values} values can have at most {self.values - 1} locked thresholds, all different and inside "
                "the scale."
            )
        if self.division is not None and not 0 <= self.division <= 10:
            raise OchreError(f"Light and shadow cannot be divided at value {self.division}: choose 0 to 10.")
        if any(kind not in edges.EDGE_KINDS for _, _, kind in self.edges):
            raise OchreError(f"An edge must be one of {', '.join(edges.EDGE_KINDS)}.")


@dataclass(frozen=True)
class Mass:
    """One flat value."""

    index: int
    """From the darkest, 0."""
    step: int
    """Which of the values it has, 0 is the darkest: a value that lies in the light and in the shadow is two masses."""
    measured: float
    """Mean Munsell value of the original picture in it."""
    value: float
    """Munsell value to paint it in."""
    lab: tuple[float, float, float]
    """Mean colour of the original picture in it."""
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
    """lost, soft, firm or hard: what most of the border is, or what the painter said."""
    length: float
    """Share of all borders, 0..1."""
    found: str
    """The kind that was measured."""
    hue_step: float
    """How far the colours lie apart across it, in CIELAB units of a* and b*."""

    @property
    def glows(self) -> bool:
        """Whether the border is lost in value and held by hue alone."""
        return self.kind == "lost" and self.hue_step > edges.HUE_SEEN


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
    """Value that divides light from shadow: set by hand, or suggested."""
    suggested: float
    """The suggested one."""

    def greys(self) -> npt.NDArray[np.uint8]:
        """sRGB grey (k,) of each mass."""
        return grey_of_value([m.value for m in self.masses])

    def breaks(self) -> list[Break]:
        """Lights that are not lighter than a shadow, worst first."""
        m = self.masses
        return breaks([x.value for x in m], [x.family for x in m], [x.share for x in m])

    def culprits(self) -> list[int]:
        """Masses that break the rule: those that the least repair would move by a quarter step or more."""
        m = self.masses
        value = np.array([x.value for x in m])
        if not self.breaks():
            return []
        moved = np.abs(set_apart(value, [x.family for x in m], [x.share for x in m]) - value)
        return [x.index for x in m if moved[x.index] >= min(_MOVED, float(moved.max()))]


def grey_of_value(value: npt.ArrayLike) -> npt.NDArray[np.uint8]:
    """sRGB code (...) of the grey of Munsell values (...)."""
    L = lightness_of_value(value)
    y = np.where(L > 8, ((L + 16) / 116) ** 3, L * 27 / 24389)
    code = np.where(y <= 0.0031308, 12.92 * y, 1.055 * np.maximum(y, 1e-9) ** (1 / 2.4) - 0.055)
    return np.asarray(np.round(code * 255), dtype=np.uint8)


@dataclass(frozen=True, eq=False)
class Ground:
    """A working copy prepared once per picture, light, focus and simplification."""

    lab: Floats
    value: Floats
    """Munsell value (h, w) of the picture."""
    melted: Floats
    """Munsell value of the smoothed picture."""
    counts: npt.NDArray[np.float64]
    """Histogram of ``melted``."""
    cuts: dict[int, npt.NDArray[np.float64]]
    """Optimal cuts for every number of values."""
    focus: Floats | None = None
    """Where more detail is kept (h, w), 0..1."""
    span: tuple[float, float] = (0.0, 10.0)
    """Darkest and lightest value of the picture."""

    def cuts_for(self, settings: MassSettings) -> npt.NDArray[np.float64]:
        """Cuts (k - 1,) as set by hand, or the best that the locked ones allow."""
        if settings.cuts:
            return np.array(settings.cuts)
        if not settings.locked:
            return self.cuts[settings.values]
        return optimal_cuts(self.counts, settings.values, settings.locked)[settings.values]


def prepare(linear: Floats, simplify: float, focus: Mask | None = None) -> Ground:
    """Smooth a working copy (linear light, at most a megapixel or so) for :func:`plan`; the slow part.

    ``focus`` (h, w): where more detail is to be kept.
    """
    lab = linear_to_lab(linear)
    lightness = np.ascontiguousarray(lab[..., 0])
    kept = None
    if focus is not None and focus.any():
        side = float(np.sqrt(lightness.size))
        kept = np.asarray(cv2.GaussianBlur(focus.astype(np.float32), (0, 0), 0.01 * side), dtype=np.float32)
    melted = smooth_lightness(lightness, simplify, kept)
    value = value_of_lightness(lightness).astype(np.float32)
    flat = value_of_lightness(np.clip(melted, 0, 100)).astype(np.float32)
    counts = histogram(flat)
    return Ground(lab, value, flat, counts, optimal_cuts(counts, MOST_VALUES), kept, scene_range(value))


def plan(ground: Ground, settings: MassSettings, painted: npt.NDArray[np.uint8] | None = None) -> MassPlan:
    """Flat values in big shapes.

    Cuts the smoothed values (optimally, or as set by hand), simplifies the outlines, merges shapes below the smallest,
    takes grey rims away, merges again. Each mass then has the mean of the *original* picture, eased into the range of
    paint. ``painted`` (h, w): where the painter said shadow (1) or light (2) by hand; a value that lies in both is
    parted into two masses.
    """
    cuts = ground.cuts_for(settings)
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
    labels = _outlined(labels, k, settings.outline, side, ground.focus)
    least = settings.smallest / 100 * size
    labels = shapes.merge_small(labels, ground.melted, level, least, ground.focus)
    labels = shapes.remove_rims(labels, k, max(1, round(0.005 * side)))
    labels = shapes.merge_small(labels, ground.melted, level, least, ground.focus)
    suggested = float(ground.cuts[2][0])
    division = settings.division if settings.division is not None else suggested
    parted, steps, families = _parted(labels, level, division, settings, painted, ground, least)
    return describe(ground, parted, cuts, level, steps, families, settings, division, suggested)


def _outlined(labels: shapes.Labels, k: int, outline: float, side: float, focus: Floats | None) -> shapes.Labels:
    """Simple outlines; where there is a focus, they keep more turns."""
    sigma = (0.002 + 0.012 * outline) * side
    simple = shapes.smooth_edges(labels, k, sigma)
    if focus is None:
        return simple
    return np.where(focus > 0.5, shapes.smooth_edges(labels, k, max(0.6, sigma / 3)), simple)


def _parted(
    labels: shapes.Labels,
    level: npt.NDArray[np.float64],
    division: float,
    settings: MassSettings,
    painted: npt.NDArray[np.uint8] | None,
    ground: Ground,
    least: float,
) -> tuple[shapes.Labels, list[int], list[Family]]:
    """Masses from steps of value: one each, or two where the painter's hand put parts of a value into the other family.

    Returns labels (h, w), the step and the family of each mass.
    """
    k = len(level)
    weight = np.bincount(labels.ravel(), minlength=k)
    mean = np.bincount(labels.ravel(), ground.value.ravel(), minlength=k) / np.maximum(weight, 1)
    own = np.where(weight > 0, mean, level) >= division
    for step, family in settings.families:
        if step < k:
            own[step] = family == "light"
    if painted is None or not painted.any():
        return labels, list(range(k)), ["light" if x else "shadow" for x in own]
    light = np.where(painted == NOT_PAINTED, own[labels], painted == PAINTED_LIGHT)
    # Twice as many classes; families lie far apart, so that slivers join a neighbour of their own family.
    both = (labels * 2 + light).astype(np.uint8)
    far = np.repeat(level, 2) + np.tile([0.0, 20.0], k)
    value = (ground.melted + 20 * light).astype(np.float32)
    both = shapes.merge_small(both, value, far, least, (painted != NOT_PAINTED).astype(np.float32))
    kept = np.bincount(both.ravel(), minlength=2 * k) > 0
    for empty in np.flatnonzero(~kept.reshape(k, 2).any(axis=1)).tolist():
        kept[2 * empty + int(own[empty])] = True  # a value without a pixel is still a value of the plan
    there = np.flatnonzero(kept)
    table = np.zeros(2 * k, np.uint8)
    table[there] = np.arange(len(there))
    return table[both], (there // 2).tolist(), ["light" if c % 2 else "shadow" for c in there.tolist()]


def refined(
    preview: Ground,
    fine: Floats,
    settings: MassSettings,
    focus: Mask | None = None,
    painted: npt.NDArray[np.uint8] | None = None,
) -> MassPlan:
    """The plan at a finer size with the cuts of the preview: what was shown is what is printed.

    ``focus`` and ``painted`` at the finer size. Cuts found anew on the finer copy could move whole shapes; frozen ones
    agree to about nine pixels in ten.
    """
    cuts = tuple(float(c) for c in preview.cuts_for(settings))
    division = settings.division if settings.division is not None else float(preview.cuts[2][0])
    ground = prepare(fine, settings.simplify, focus)
    found = plan(ground, replace(settings, cuts=cuts, locked=(), division=division), painted)
    return replace(found, suggested=float(preview.cuts[2][0]))


def describe(
    ground: Ground,
    labels: shapes.Labels,
    cuts: Sequence[float] | npt.NDArray[np.float64],
    level: npt.NDArray[np.float64],
    steps: Sequence[int],
    families: Sequence[Family],
    settings: MassSettings,
    division: float,
    suggested: float,
) -> MassPlan:
    """Measure the masses of a class map: value, colour, share, borders; and give each the value to paint it in."""
    k = len(steps)
    flat = labels.ravel()
    weight = np.bincount(flat, minlength=k)
    sums = np.stack([np.bincount(flat, ground.lab[..., i].ravel(), minlength=k) for i in range(3)], axis=1)
    lab = sums / np.maximum(weight, 1)[:, None]
    mean = np.bincount(flat, ground.value.ravel(), minlength=k) / np.maximum(weight, 1)
    measured = np.where(weight > 0, mean, level[list(steps)])
    share = weight / flat.size
    value: Array = settings.tone.value(measured)
    if settings.apart:
        value = set_apart(value, families, share)
    masses = tuple(
        Mass(
            i,
            steps[i],
            float(measured[i]),
            float(value[i]),
            (float(lab[i, 0]), float(lab[i, 1]), float(lab[i, 2])),
            float(share[i]),
            families[i],
        )
        for i in range(k)
    )
    meets = edges.classify(labels, ground.lab)
    whole = sum(m.length for m in meets.values()) or 1
    said = {(a, b): kind for a, b, kind in settings.edges}
    borders = [
        Border(a, b, float(value[b] - value[a]), said.get((a, b), m.kind), m.length / whole, m.kind, m.hue_step)
        for (a, b), m in meets.items()
    ]
    return MassPlan(
        labels,
        tuple(float(c) for c in cuts),
        masses,
        len(shapes.regions(labels, k)[1]),
        tuple(sorted(borders, key=lambda b: -b.length)),
        division,
        suggested,
    )


def at_size(plan: MassPlan, width: int, height: int, smallest: float) -> tuple[shapes.Labels, int]:
    """The class map at the size of the photo, borders smooth, and its number of shapes.

    Scaling can pinch off slivers: shapes below ``smallest`` percent join their neighbours once more.
    """
    level = np.array([m.measured for m in plan.masses])
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
            x, y, wide, high = cv2.boundingRect((region == i).view(np.uint8))
            shape = (region[y : y + high, x : x + wide] == i).astype(np.uint8)
            inner = cv2.distanceTransform(np.pad(shape, 1), cv2.DIST_L2, 3)[1:-1, 1:-1]
            row, column = np.unravel_index(int(inner.argmax()), inner.shape)
            out.append(((x + float(column) + 0.5) / w, (y + float(row) + 0.5) / h, mass.index))
    return out
