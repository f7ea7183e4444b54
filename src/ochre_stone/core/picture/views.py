"""Look as painters look: as it is, in values only, or squinting. Views never change what is sampled."""

from typing import Literal

import cv2
import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import SRGB_TO_XYZ
from ochre_stone.core.picture.load import Floats, linear_to_code

View = Literal["as-is", "value", "squint"]


def squint(linear: Floats, strength: float = 0.5) -> Floats:
    """Blur in linear light, as lashes do: details melt, few shapes remain. ``strength`` 0..1; 1 is 4 % of the
    picture."""
    if not 0 <= strength <= 1:
        raise ValueError(f"squint strength {strength} is not between 0 and 1")
    sigma = 0.04 * strength * float(np.sqrt(linear.shape[0] * linear.shape[1]))
    if sigma < 0.3:
        return linear
    # Three box blurs come within a few percent of a Gaussian and cost the same at any width.
    size = max(3, int(np.sqrt(4 * sigma * sigma + 1)) | 1)
    out = linear
    for _ in range(3):
        out = cv2.blur(out, (size, size), borderType=cv2.BORDER_REFLECT)
    return np.asarray(out, dtype=np.float32)


def render(linear: Floats, view: View = "as-is", strength: float = 0.5, grey: bool = False) -> npt.NDArray[np.uint8]:
    """sRGB bytes (h, w, 3) of linear light as seen in a view; ``grey`` shows a squint in values only."""
    shown = squint(linear, strength) if view == "squint" else linear
    if view == "value" or grey:
        y = shown @ SRGB_TO_XYZ[1].astype(np.float32)
        return np.repeat(linear_to_code(y)[..., None], 3, axis=2)
    return linear_to_code(shown)
