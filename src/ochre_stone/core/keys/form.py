"""The parts of a form in the light: light, halftone, core shadow, cast shadow, reflected light, accent.

What is dark lies in shadow; a cast shadow has a hard edge to the light, a form shadow a soft one; reflected light is
what grows lighter again away from the light. Common practice, no source; measured on the demo in benchmarks/keys.
"""

import numpy as np
import numpy.typing as npt

from ochre_stone.core.later import later
from ochre_stone.core.masses.thresholds import histogram, optimal_cuts
from ochre_stone.core.picture.picture import Floats, Mask

cv2 = later("cv2")

PARTS = {
    "light": "light", "halftone": "halftone", "core shadow": "core shadow", "cast shadow": "cast shadow",
    "reflected light": "reflected light", "dark accent": "accent",
}  # fmt: skip
"""Parts by the role of their note, lightest side first, in words."""
_HARD = 0.16
"""Share of the step from light to shadow that a hard edge makes in one pixel."""
_STEP, _LEAST_DARK, _LEAST_PART = 1.0, 0.04, 0.004


def form_parts(value: npt.NDArray[np.floating], area: Mask) -> dict[str, Mask]:
    """Where each part of a form is (h, w), by role; parts that are not there are left out.

    ``value`` (h, w): Munsell values of the melted picture; ``area`` (h, w): where the form is.
    """
    even = np.asarray(cv2.medianBlur(value.astype(np.float32), 5))
    cut = float(optimal_cuts(histogram(even[area]), 2)[2][0])
    lit, dark = area & (even >= cut), area & (even < cut)
    out: dict[str, Mask] = {}
    if int(lit.sum()) > 20:
        low, turn, middle, high = np.percentile(even[lit], (8, 35, 50, 97))
        out["light"] = lit & (even >= middle) & (even <= high)
        out["halftone"] = lit & (even >= low) & (even <= turn)
    if lit.any() and dark.sum() > _LEAST_DARK * area.sum():
        step = float(even[lit].mean() - even[dark].mean())
        if step > _STEP:
            out |= _shadows(value, even, lit, dark, step, cut)
            accent = float(np.percentile(even[area], 2.5))
            if accent < float(even[dark].mean()) - 0.5:
                out["dark accent"] = dark & (even <= accent)
    least = max(12.0, _LEAST_PART * float(area.sum()))
    return {k: m for k, m in out.items() if m.sum() >= least}


def _shadows(
    value: npt.NDArray[np.floating], even: Floats, lit: Mask, dark: Mask, step: float, cut: float
) -> dict[str, Mask]:
    border = dark & cv2.dilate(lit.astype(np.uint8), np.ones((3, 3), np.uint8)).astype(bool)
    if not border.any():
        return {"core shadow": dark}
    single = np.ascontiguousarray(value, dtype=np.float32)
    x, y = cv2.Sobel(single, cv2.CV_32F, 1, 0), cv2.Sobel(single, cv2.CV_32F, 0, 1)
    slope = cv2.dilate(cv2.magnitude(x, y) / 8, np.ones((3, 3), np.uint8))
    away, near = cv2.distanceTransformWithLabels(
        (~border).astype(np.uint8), cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL
    )
    at_border = np.zeros(int(near.max()) + 1, np.float32)
    at_border[near[border]] = slope[border] / step
    hard = np.where(dark, at_border[near], 0).astype(np.float32)
    hard = cv2.blur(hard, (9, 9)) / np.maximum(cv2.blur(dark.astype(np.float32), (9, 9)), 1e-3)
    wide = float(np.percentile(away[dark], 90))
    least, middle, upper = np.percentile(even[dark], (3, 50, 75))
    lifted = (even >= middle + 0.25) & (even < cut - 0.15)
    return {
        "core shadow": dark & (hard < _HARD) & (even <= middle) & (even > least),
        "cast shadow": dark & (hard >= _HARD) & (even <= upper) & (even > least),
        "reflected light": dark & (away > 0.45 * wide) & lifted,
    }
