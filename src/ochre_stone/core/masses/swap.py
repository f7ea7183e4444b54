"""Value swap: give a mass another hue and chroma and keep every value (common practice, no source)."""

from collections.abc import Mapping

import numpy as np

from ochre_stone.core.colour.gamut import within_srgb
from ochre_stone.core.later import later
from ochre_stone.core.masses.shapes import Labels
from ochre_stone.core.picture.picture import Floats

cv2 = later("cv2")

ColourPair = tuple[float, float]
"""CIELAB hue in degrees and C*ab."""


def swapped(lab: Floats, labels: Labels, colours: Mapping[int, ColourPair]) -> Floats:
    """Picture Lab (h, w, 3) with some masses in another hue, L* unchanged to the last bit.

    ``labels`` (h, w): mass of each pixel; ``colours``: hue and chroma per mass, chroma held inside sRGB at each pixel's
    own lightness. Borders between a swapped mass and its neighbours blend over about three pixels.
    """
    out = lab.copy()
    for mass, (hue, chroma) in colours.items():
        there = (labels == mass).astype(np.float32)
        if not there.any():
            continue
        soft = cv2.GaussianBlur(there, (0, 0), 1.2)
        rows, columns = np.nonzero(soft > 0.004)
        L = lab[rows, columns, 0].astype(float)
        new = within_srgb(L, np.full(len(L), chroma), np.full(len(L), hue))
        share = soft[rows, columns][:, None]
        out[rows, columns, 1:] = (1 - share) * out[rows, columns, 1:] + share * new[:, 1:]
    return out
