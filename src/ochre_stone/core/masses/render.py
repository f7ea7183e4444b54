"""Draw a mass plan: flat greys, with the areas that are planned as a blend drawn as one."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.later import later
from ochre_stone.core.masses.plan import MassPlan, grey_of_value
from ochre_stone.core.masses.shapes import Regions, enlarge

cv2 = later("cv2")


@dataclass(frozen=True)
class Ramp:
    """An area planned as a blend between two values."""

    x: float
    y: float
    """A place inside the area, as shares of width and height."""
    direction: float
    """Degrees toward the light end, clockwise from the right."""
    dark: float
    light: float
    """Values of its ends."""


def painted(
    plan: MassPlan, width: int, height: int, ramps: Sequence[Ramp] = (), areas: Regions | None = None
) -> npt.NDArray[np.uint8]:
    """The plan as sRGB greys (height, width), borders smooth.

    ``areas``: as of ``gradations.areas``, any size; needed where there are ramps.
    """
    out = plan.greys()[enlarge(plan.labels, len(plan.masses), width, height)]
    if areas is None:
        return out
    rows, columns = np.mgrid[0:height, 0:width].astype(np.float32)
    for r in ramps:
        h, w = areas.shape
        here = areas[min(int(r.y * h), h - 1), min(int(r.x * w), w - 1)]
        if not here:
            continue  # the light was changed since, and there is an edge now
        mask = cv2.resize((areas == here).astype(np.float32), (width, height), interpolation=cv2.INTER_LINEAR) > 0.5
        angle = np.radians(r.direction)
        along = (columns * np.float32(np.cos(angle)) + rows * np.float32(np.sin(angle)))[mask]
        low, high = np.percentile(along, [5, 95])
        share = np.clip((along - low) / max(float(high - low), 1e-6), 0, 1)
        steps = grey_of_value(np.linspace(r.dark, r.light, 256))
        out[mask] = steps[np.round(share * 255).astype(int)]
    return out
