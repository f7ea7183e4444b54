"""A colour chart in the picture: read its patches, and find the correction that brings them to their known colours.

The correction is one 3 x 3 matrix of linear light: first by linear least squares, weighted so that dark patches count
as they are seen, then by Gauss-Newton steps on CIELAB itself (scipy.optimize.least_squares).
"""

import functools
import json
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import SRGB_TO_XYZ, XYZ_TO_SRGB, Array, lab_to_xyz, xyz_to_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.later import later
from ochre_stone.core.picture.balance import Matrix, as_rows
from ochre_stone.core.picture.frame import Point, square_corners
from ochre_stone.core.picture.picture import Picture
from ochre_stone.resources import resource

optimize = later("scipy.optimize")

ROWS, COLUMNS = 4, 6
_WORST_MEAN = 12.0


@functools.cache
def reference() -> tuple[tuple[str, ...], Array]:
    """Names and CIELAB D65 (24, 3) of the patches, row by row from the top left."""
    table = json.loads(resource("colour", "chart24.json").read_text(encoding="utf-8"))
    lab = np.array([p["lab"] for p in table["patches"]], dtype=float)
    lab.setflags(write=False)
    return tuple(p["name"] for p in table["patches"]), lab


@dataclass(frozen=True)
class ChartFit:
    """A correction found from a chart, and what it leaves."""

    matrix: Matrix
    before: float
    """Mean CIEDE2000 of the patches as photographed, exposure set by the greys."""
    mean: float
    worst: float
    """Mean and largest CIEDE2000 after the correction."""
    worst_patch: str
    lost: int
    """Patches left out, burnt out or crushed in the photo."""

    @property
    def words(self) -> str:
        """What the painter is told."""
        trust = "trust it" if self.mean < 2 else "usable" if self.mean < 4 else "be careful: glare or mixed light?"
        lost = f"; {self.lost} patches were lost in the photo" if self.lost else ""
        return (
            f"24 patches: off by {self.before:.1f} before, {self.mean:.1f} now on average, at most {self.worst:.1f} "
            f"({self.worst_patch}){lost}. Below 2 is hard to see; {trust}."
        )


def patch_places(corners: tuple[Point, ...]) -> tuple[Array, Array]:
    """Middles (24, 2) of the patches and their half sizes (24,), for the chart's outer corners, top left first."""
    from ochre_stone.core.picture.frame import Frame

    frame = Frame(corners=corners)
    w, h = frame.plane(0, 0)
    m = frame.matrix(0, 0)
    middles, reach = [], []
    for row in range(ROWS):
        for column in range(COLUMNS):
            spots = []
            for dx, dy in ((0.0, 0.0), (0.2, 0.0), (-0.2, 0.0), (0.0, 0.2), (0.0, -0.2)):
                p = m @ (w * (column + 0.5 + dx) / COLUMNS, h * (row + 0.5 + dy) / ROWS, 1.0)
                spots.append(p[:2] / p[2])
            middles.append(spots[0])
            reach.append(min(float(np.linalg.norm(s - spots[0])) for s in spots[1:]))
    return np.array(middles), np.array(reach)


def read_chart(picture: Picture, corners: npt.ArrayLike) -> tuple[Array, npt.NDArray[np.bool_]]:
    """Linear-light sRGB (24, 3) of the patches and which of them the photo lost (24,).

    ``corners``: the four outer ones, going round, from where the first row begins. Raises OchreError where they do not
    serve.
    """
    first, second, third, last = np.asarray(corners, dtype=float).reshape(4, 2).tolist()
    middles, reach = patch_places((tuple(first), tuple(second), tuple(third), tuple(last)))
    if float(reach.min()) < 1.5:
        raise OchreError("The chart is too small in the picture to be read: use a closer photo of it.")
    colours, lost = [], []
    for (x, y), r in zip(middles.tolist(), reach.tolist(), strict=True):
        rows = slice(max(0, round(y - r)), round(y + r))
        columns = slice(max(0, round(x - r)), round(x + r))
        pixels = picture.linear(rows, columns).reshape(-1, 3)
        if len(pixels) == 0:
            raise OchreError("The chart's corners lie outside the picture: click its four corners again.")
        colours.append(np.median(pixels, axis=0))
        burnt, crushed = picture.lost(rows, columns)
        lost.append(float((burnt | crushed).mean()) > 0.3)
    return np.array(colours, dtype=float), np.array(lost)


def find_chart(picture: Picture, corners: npt.ArrayLike) -> ChartFit:
    """The correction from a chart whose four outer corners were clicked in any order, whichever way it lies.

    Raises OchreError where it cannot be read, or nothing fits.
    """
    a, b, c, d = square_corners(corners)
    fits: list[ChartFit] = []
    wrong: OchreError | None = None
    for ring in ((a, b, c, d), (b, c, d, a)):  # lying, and stood on its side
        try:
            fits.append(fit_chart(*read_chart(picture, ring)))
        except OchreError as error:
            wrong = wrong or error
    if not fits:
        assert wrong is not None
        raise wrong
    return min(fits, key=lambda f: f.mean)


def fit_chart(colours: npt.ArrayLike, lost: npt.NDArray[np.bool_] | None = None) -> ChartFit:
    """The correction that brings read patches (24, 3), linear sRGB, nearest to the reference.

    The half turn or reflection that fits best is taken. Raises OchreError where nothing
    fits, so that a wrongly marked chart never spoils the light.
    """
    read = np.asarray(colours, dtype=float).reshape(ROWS, COLUMNS, 3)
    bad = np.zeros((ROWS, COLUMNS), bool) if lost is None else np.asarray(lost).reshape(ROWS, COLUMNS)
    best: tuple[float, Array, npt.NDArray[np.bool_]] | None = None
    for way in (np.s_[:, :], np.s_[::-1, ::-1], np.s_[::-1, :], np.s_[:, ::-1]):
        rgb, use = read[way].reshape(-1, 3), ~bad[way].reshape(-1)
        if use.sum() < 12:
            raise OchreError("Most patches are burnt out or crushed in this photo: expose the chart anew.")
        gap = float(_gaps(_linear_fit(rgb, use), rgb)[use].mean())
        if best is None or gap < best[0]:
            best = (gap, rgb, use)
    assert best is not None
    _, rgb, use = best
    matrix = _refine(_linear_fit(rgb, use), rgb, use)
    after = _gaps(matrix, rgb)
    names, goal = reference()
    if float(after[use].mean()) > _WORST_MEAN:
        raise OchreError(
            "These patches do not look like the chart of 24: click the outer corners of its patches, all four."
        )
    grey = float(np.median(lab_to_xyz(goal)[18:22, 1] / np.maximum(rgb[18:22] @ SRGB_TO_XYZ[1], 1e-6)))
    before = _gaps(np.eye(3) * grey, rgb)
    worst = int(np.where(use, after, -1).argmax())
    return ChartFit(
        as_rows(matrix),
        float(before[use].mean()),
        float(after[use].mean()),
        float(after[worst]),
        names[worst],
        int((~use).sum()),
    )


def _gaps(matrix: Array, rgb: Array) -> Array:
    return np.asarray(ciede2000(xyz_to_lab(rgb @ matrix.T @ SRGB_TO_XYZ.T), reference()[1]))


def _linear_fit(rgb: Array, use: npt.NDArray[np.bool_]) -> Array:
    xyz = lab_to_xyz(reference()[1])
    weight = 1 / np.maximum(xyz[:, 1:2], 0.02) ** (2 / 3)
    goal = xyz @ XYZ_TO_SRGB.T
    solved = np.linalg.lstsq((rgb * weight)[use], (goal * weight)[use], rcond=None)[0]
    return np.asarray(solved.T)


def _refine(matrix: Array, rgb: Array, use: npt.NDArray[np.bool_]) -> Array:

    goal = reference()[1][use]
    # Chroma counts for less where there is much of it, as in CIEDE2000.
    ease = 1 / (1 + 0.045 * np.hypot(goal[:, 1], goal[:, 2]))
    scale = np.stack([np.ones_like(ease), ease, ease], axis=1)

    def miss(flat: Array) -> Array:
        lab = xyz_to_lab(rgb[use] @ flat.reshape(3, 3).T @ SRGB_TO_XYZ.T)
        return np.asarray(((lab - goal) * scale).ravel())

    return np.asarray(optimize.least_squares(miss, matrix.ravel(), method="lm", max_nfev=400).x.reshape(3, 3))
