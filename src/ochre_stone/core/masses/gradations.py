"""Planes that turn gradually, not flats: areas without an edge inside whose value changes along one direction.

The picture is parted at its edges, whatever its thresholds, for a cut through a sky is no border in it. In each area a
plane is fitted to value by least squares, once more without its outliers (clouds, twigs). It counts as a turn where
the plane spans at least half a step and explains most of what is there. The limits are judgements, checked on the
demo scene and on made pictures.
"""

from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import Lab, as_lab
from ochre_stone.core.later import later
from ochre_stone.core.masses.plan import MassPlan
from ochre_stone.core.masses.shapes import Regions
from ochre_stone.core.picture.picture import Floats

cv2 = later("cv2")

LEAST_SPAN, LEAST_FIT = 0.5, 0.6
_LEAST_SHARE = 0.01
_EDGE = 350.0  # change of L*, a* and b* over one side of the picture that counts as an edge


@dataclass(frozen=True)
class Turn:
    """An area that turns from a darker to a lighter end."""

    masses: tuple[int, ...]
    """Masses that lie in it, the largest first."""
    x: float
    y: float
    """A place inside the area, as shares of width and height."""
    direction: float
    """Degrees toward the light end, clockwise from the right."""
    dark: Lab
    light: Lab
    """Colours of its two ends."""
    fit: float
    """Share of the variance of value that the plane explains."""
    share: float

    @property
    def span(self) -> float:
        """Value steps from end to end."""
        dark, light = value_of_lightness(np.array([self.dark[0], self.light[0]])).tolist()
        return float(light - dark)


def toward(direction: float) -> str:
    """A direction in words: degrees clockwise from the right."""
    words = ("right", "bottom right", "bottom", "bottom left", "left", "top left", "top", "top right")
    return words[round(direction / 45) % 8]


def areas(lab: Floats) -> Regions:
    """Areas (h, w) of a picture Lab without an edge inside, numbered from 1; 0 where edges and crumbs lie."""
    side = float(np.sqrt(lab[..., 0].size))
    soft = cv2.GaussianBlur(np.ascontiguousarray(lab, dtype=np.float32), (0, 0), max(1.0, 0.003 * side))
    slope = np.zeros(lab.shape[:2], np.float32)
    for i in range(3):
        plane = np.ascontiguousarray(soft[..., i])
        slope += (
            cv2.Sobel(plane, cv2.CV_32F, 1, 0, scale=0.125) ** 2 + cv2.Sobel(plane, cv2.CV_32F, 0, 1, scale=0.125) ** 2
        )
    calm = (np.sqrt(slope) * side < _EDGE).astype(np.uint8)
    reach = max(1, round(0.004 * side))
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * reach + 1, 2 * reach + 1))
    apart = cv2.erode(calm, disc)  # no leaking through a gap in an edge
    count, numbered, stats, _ = cv2.connectedComponentsWithStats(apart, connectivity=4, ltype=cv2.CV_32S)
    kept = stats[:, cv2.CC_STAT_AREA] >= _LEAST_SHARE * 0.7 * numbered.size
    kept[0] = False
    table = np.zeros(count, np.int32)
    table[kept] = np.arange(1, int(kept.sum()) + 1)
    core = table[numbered]
    # Grown back to the edges.
    _, index = cv2.distanceTransformWithLabels(
        (core == 0).astype(np.uint8), cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL
    )
    of = np.zeros(int(index.max()) + 1, np.int32)
    of[index[core > 0]] = core[core > 0]
    near = cv2.dilate((core > 0).astype(np.uint8), disc, iterations=2).astype(bool)
    return np.asarray(np.where(near, of[index], 0), dtype=np.int32)


def turns(lab: Floats, plan: MassPlan) -> list[Turn]:
    """Areas of a picture Lab (h, w, 3) that are a gradual turn, the largest first.

    ``plan``: masses at the same size.
    """
    number = areas(lab)
    size = number.size
    value = np.asarray(value_of_lightness(np.clip(lab[..., 0], 0, 100)))
    found = []
    for i in range(1, int(number.max()) + 1):
        mask = number == i
        if mask.sum() >= _LEAST_SHARE * size:
            turn = _turn(lab, value, mask, plan)
            if turn is not None:
                found.append(turn)
    return sorted(found, key=lambda t: -t.share)


def _turn(lab: Floats, value: npt.NDArray[Any], mask: npt.NDArray[np.bool_], plan: MassPlan) -> Turn | None:
    h, w = mask.shape
    rows, columns = np.nonzero(mask)
    here = value[rows, columns]
    design = np.stack([np.ones(len(rows)), columns.astype(float), rows.astype(float)], axis=1)
    weights, *_ = np.linalg.lstsq(design, here, rcond=None)
    left = here - design @ weights
    good = np.abs(left) <= 2.0 * left.std() + 1e-9
    weights, *_ = np.linalg.lstsq(design[good], here[good], rcond=None)
    left = (here - design @ weights)[good]
    spread = float(here[good].var())
    fit = 1 - float(left.var()) / spread if spread > 0 else 0.0
    along = design[:, 1:] @ weights[1:]
    low, high = np.percentile(along, [5, 95])
    if float(high - low) < LEAST_SPAN or fit < LEAST_FIT:
        return None
    colours = lab[rows[good], columns[good]].astype(float)
    line = np.polynomial.polynomial.polyfit(along[good], colours, 1)
    dark, light = (as_lab(e) for e in (line[0] + line[1] * low, line[0] + line[1] * high))
    inner = cv2.distanceTransform(np.pad(mask.astype(np.uint8), 1), cv2.DIST_L2, 3)[1:-1, 1:-1]
    row, column = np.unravel_index(int(inner.argmax()), inner.shape)
    lies = np.bincount(plan.labels[mask], minlength=len(plan.masses)) / len(rows)
    masses = [int(m) for m in np.argsort(-lies) if lies[m] > 0.1]
    direction = float(np.degrees(np.arctan2(weights[2], weights[1])) % 360)
    place = ((float(column) + 0.5) / w, (float(row) + 0.5) / h)
    return Turn(tuple(masses), *place, direction, dark, light, fit, len(rows) / mask.size)
