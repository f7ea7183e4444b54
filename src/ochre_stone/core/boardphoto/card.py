"""The grey card with its white border: where it lies, and what it says of the light and of the camera's contrast.

A camera bends what it sees: x^a / (x^a + (1 - x)^a) on code values, a above 1. Border over grey is known, so one figure
a is solved for; without a border that can be read, common figures of phone pictures are taken (a judgement).
"""

from dataclasses import dataclass

import numpy as np

from ochre_stone.core.boardphoto.square import MARGIN_CM, PER_CM, Code8, Squared
from ochre_stone.core.colour.spaces import Array, decode_srgb, encode_srgb
from ochre_stone.core.errors import OchreError
from ochre_stone.core.later import later
from ochre_stone.core.picture.picture import Mask

cv2 = later("cv2")

CARD_Y, BORDER_Y = 0.184, 0.90
"""Luminous reflectance of a photographer's grey card and of its white border (common practice, no source)."""
BURNT = 249
"""Code from which a channel may hold no more light."""
CONTRAST, CONTRAST_SD, CONTRAST_SEEN_SD = 1.09, 0.055, 0.02
"""Contrast where no border shows it, how sure that is, and how sure where one does."""
# What a card looks like: judgements, set by hand on the simulated photos of benchmarks/boards; no source.
_AREA_CM2 = (4.0, 150.0)
"""How large its grey can be."""
_EVEN = 36
"""Slope of the code, in 8 bits, below which a place is even."""
_FILLS, _LONG = 0.88, 3.2
"""How much of the rectangle about it its grey fills at least, and how many times as long as wide it may be."""
_PAD_CM, _RING_CM = 0.6, (0.25, 0.48)
"""How far about its grey is looked at, and where its border lies."""
_LEAST_RING = 50
"""Pixels of border that tell anything."""
_WHOLE = 0.95
"""Share of a channel's border that holds detail where it is not burnt."""
_MOST_SPREAD, _MOST_OFF, _MOST_HUE = 0.08, 0.5, 0.22
"""Natural logarithms by which a border may be uneven, its step to the grey be another than a card's, and its channels
differ."""
_STEPS = (0.7, 2.1)
"""Least step of any channel, and the most of one that is burnt."""
_PER_HUE, _PER_SPREAD = 2.0, 3.0
"""What another hue and unevenness weigh against a step that is off, where two things look like a card."""
_UNKNOWN_HUE, _UNKNOWN_OFF = 0.1, 0.3
"""The same of a border of which one channel, or none, can be read."""
_POINTED_CM = 0.7
"""About where the painter points it is grey so far."""


@dataclass(frozen=True, eq=False)
class Card:
    """A grey card."""

    x: float
    y: float
    """Its middle, cm on the palette."""
    grey: Array
    border: Array | None
    """Linear RGB (3,) of its grey and its border, as the camera has them; of the border nan where burnt, None where
    there is none to be read."""
    mask: Mask
    """Its grey (h, w), over all that was squared up."""


def find_card(squared: Squared) -> Card | None:
    """The even rectangle with an even border of the same hue that is some five times lighter; None for none.

    Looked for at half the scale, by evenness, then every candidate against its own rim.
    """
    per_cm = PER_CM / 2
    code = cv2.resize(squared.code, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA)
    f = cv2.GaussianBlur(code, (0, 0), 1.0).astype(np.float32)
    dx, dy = cv2.Sobel(f, cv2.CV_32F, 1, 0), cv2.Sobel(f, cv2.CV_32F, 0, 1)
    even = ((np.abs(dx) + np.abs(dy)).max(axis=2) < _EVEN).astype(np.uint8)
    even = cv2.morphologyEx(even, cv2.MORPH_OPEN, np.ones((5, 5), np.uint8))
    count, marks, stats, middle = cv2.connectedComponentsWithStats(even, connectivity=4)
    linear = decode_srgb(code.astype(np.float32) / 255)
    best: tuple[float, int, Array, Array] | None = None
    for i in range(1, count):
        if not _AREA_CM2[0] < stats[i, 4] / per_cm**2 < _AREA_CM2[1]:
            continue
        x0, y0, w, h = (int(v) for v in stats[i, :4])
        own = (marks[y0 : y0 + h, x0 : x0 + w] == i).astype(np.uint8)
        if not _is_rectangle(own, int(stats[i, 4])):
            continue
        pad = int(_PAD_CM * per_cm)
        top, left = max(0, y0 - pad), max(0, x0 - pad)
        part = np.s_[top : y0 + h + pad, left : x0 + w + pad]
        inside = np.zeros(code[part].shape[:2], np.uint8)
        inside[y0 - top : y0 - top + h, x0 - left : x0 - left + w] = own
        found = _bordered(code[part], linear[part], inside, per_cm)
        if found is not None and (best is None or found[0] < best[0]):
            best = (found[0], i, found[1], found[2])
    if best is None:
        return None
    _, i, grey, border = best
    full = cv2.resize((marks == i).astype(np.uint8), squared.code.shape[1::-1], interpolation=cv2.INTER_NEAREST) > 0
    at = (2 * middle[i] + 0.5) / PER_CM - MARGIN_CM
    readable = border if np.isfinite(border).any() else None
    return Card(float(at[0]), float(at[1]), grey, readable, np.asarray(full))


def _is_rectangle(own: Code8, area: int) -> bool:
    contour = max(cv2.findContours(own, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)[0], key=len)
    _, (wide, high), _ = cv2.minAreaRect(contour)
    if wide < 1 or high < 1:
        return False
    return bool(area / ((wide + 1) * (high + 1)) >= _FILLS and max(wide, high) <= _LONG * min(wide, high))


def _bordered(code: Code8, linear: Array, inside: Code8, per_cm: float) -> tuple[float, Array, Array] | None:
    """How unlike a card it is, its grey and its border; None where its rim is no border."""
    away = cv2.distanceTransform(1 - inside, cv2.DIST_L2, 3)
    ring = (away > _RING_CM[0] * per_cm) & (away < _RING_CM[1] * per_cm)
    if ring.sum() < _LEAST_RING:
        return None
    grey, border = np.median(linear[inside > 0], axis=0), np.median(linear[ring], axis=0)
    logs = np.log(border / np.maximum(grey, 1e-4))
    spread = float(np.median(np.abs(np.log(np.maximum(linear[ring][:, 1], 1e-4) / border[1]))))
    whole = (code[ring] < BURNT).mean(axis=0) > _WHOLE
    hue = float(np.ptp(logs[whole])) if whole.sum() > 1 else _UNKNOWN_HUE
    off = abs(float(np.median(logs[whole])) - np.log(BORDER_Y / CARD_Y)) if whole.any() else _UNKNOWN_OFF
    unlike = spread > _MOST_SPREAD or off > _MOST_OFF or hue > _MOST_HUE
    if unlike or (~whole & (logs > _STEPS[1])).any() or logs.min() < _STEPS[0]:
        return None
    return off + _PER_HUE * hue + _PER_SPREAD * spread, grey, np.where(whole, border, np.nan)


def card_at(squared: Squared, x: float, y: float) -> Card:
    """A card that the painter pointed at, cm on the palette: its grey is what lies within .7 cm of it."""
    half = int(_POINTED_CM * PER_CM)
    cx, cy = int((x + MARGIN_CM) * PER_CM), int((y + MARGIN_CM) * PER_CM)
    mask = np.zeros(squared.code.shape[:2], bool)
    mask[max(0, cy - half) : cy + half, max(0, cx - half) : cx + half] = True
    if not mask.any():
        raise OchreError("The card lies too far from the palette: lay it on the palette, or say that there is none.")
    linear = decode_srgb(squared.code[mask].astype(np.float32) / 255)
    return Card(x, y, np.asarray(np.median(linear, axis=0)), None, mask)


def without_contrast(code: Array, contrast: float) -> Array:
    """Code values 0..1 of a camera of the contrast ``contrast`` back to the plain curve."""
    x, rest = np.clip(code, 0.002, 0.998) ** (1 / contrast), (1 - np.clip(code, 0.002, 0.998)) ** (1 / contrast)
    return np.asarray(x / (x + rest))


def contrast_of(card: Card | None) -> tuple[float, float]:
    """The camera's contrast, and how sure that is."""
    if card is None or card.border is None:
        return CONTRAST, CONTRAST_SD
    known = np.isfinite(card.border)
    grey, border = encode_srgb(card.grey)[known], encode_srgb(card.border[known])
    tries = np.linspace(0.85, 1.5, 66)
    ratio = [
        float(np.log(decode_srgb(without_contrast(border, a)) / decode_srgb(without_contrast(grey, a))).mean())
        for a in tries
    ]
    return float(tries[int(np.argmin(np.abs(np.array(ratio) - np.log(BORDER_Y / CARD_Y))))]), CONTRAST_SEEN_SD
