"""Suggest key colours that cover the picture, and guess what they are.

Method: Lab histogram of the smoothed picture in cells of 4 units, weights to the power .4 so that small accents
count, seeded by weighted farthest point (Gonzalez 1985, Theor. Comput. Sci. 38), then Lloyd's iteration (Lloyd 1982,
IEEE Trans. Inf. Theory 28).
"""

from dataclasses import dataclass

import cv2
import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.picture.balance import Balance
from ochre_stone.core.picture.frame import Framed
from ochre_stone.core.picture.picture import Floats, linear_to_lab
from ochre_stone.core.picture.sampling import Sample, sample
from ochre_stone.core.picture.simplify import smooth_lab

WORKING_PIXELS = 250_000
_CELL = 4.0


@dataclass(frozen=True)
class KeyColour:
    """A suggested note: where (pixels of the full picture), how wide, what it saw, and a guess of what it is."""

    x: float
    y: float
    aperture: int
    seen: Sample
    share: float
    subject: str


@dataclass(frozen=True)
class LeftOver:
    """How far the picture's colours lie from the nearest note, CIEDE2000."""

    mean: float
    p95: float

    def words(self, notes: int) -> str:
        """What is covered and what is not, as a painter would say it."""
        said = (
            "cover the picture closely"
            if self.mean < 4
            else "cover the picture well"
            if self.mean < 6
            else "cover most of the picture"
            if self.mean < 9
            else "leave much of the picture uncovered"
        )
        typical = (
            "a touch of paint away"
            if self.mean < 4
            else "a small correction away"
            if self.mean < 6
            else "a clear correction away"
            if self.mean < 9
            else "another pile away"
        )
        far = (
            "even the least covered twentieth is near one"
            if self.p95 < 9
            else "one spot in twenty needs a correction of its pile"
            if self.p95 < 14
            else "one spot in twenty has no note near it: look for small accents"
        )
        plural = f"{notes} notes" if notes != 1 else "1 note"
        return f"{plural} {said}: a typical spot lies {typical} ({self.mean:.0f}), {far} ({self.p95:.0f})."


def _histogram(lab: Floats) -> tuple[Array, Array]:
    """Mean Lab (m, 3) and weight (m,) of the occupied cells."""
    flat = lab.reshape(-1, 3)
    cell = np.round(flat / _CELL).astype(np.int64) + 64
    code = (cell[:, 0] * 256 + cell[:, 1]) * 256 + cell[:, 2]
    _, inverse, count = np.unique(code, return_inverse=True, return_counts=True)
    mean = np.stack([np.bincount(inverse, flat[:, i]) / count for i in range(3)], axis=1)
    weight = count / count.sum()
    keep = weight > min(2e-4, float(weight.max()) / 2)
    return mean[keep], weight[keep]


def centres(lab: Floats, count: int) -> Array:
    """At most ``count`` colours (k, 3) that cover a smoothed Lab picture (h, w, 3)."""
    mean, weight = _histogram(lab)
    pull = weight**0.4
    chosen = [mean[weight.argmax()]]
    distance = ((mean - chosen[0]) ** 2).sum(axis=1)
    while len(chosen) < min(count, len(mean)):
        chosen.append(mean[(pull * distance).argmax()])
        distance = np.minimum(distance, ((mean - chosen[-1]) ** 2).sum(axis=1))
    out = np.array(chosen)
    for _ in range(12):
        owner = ((mean[:, None] - out[None]) ** 2).sum(axis=-1).argmin(axis=1)
        for j in range(len(out)):
            own = owner == j
            if own.any():
                out[j] = np.average(mean[own], axis=0, weights=pull[own])
    return out


def nearest(lab: Floats, colours: Array) -> Array:
    """Index (h, w) of the nearest of ``colours`` (k, 3) for every pixel, by Euclidean Lab distance."""
    goal = np.asarray(colours, dtype=np.float32)
    flat = lab.reshape(-1, 3)
    score = flat @ goal.T * -2 + (goal**2).sum(axis=1)
    return np.asarray(score.argmin(axis=1).reshape(lab.shape[:2]))


def left_over(lab: Floats, colours: Array) -> LeftOver:
    """What notes of these colours leave uncovered, on at most 20,000 pixels of a Lab picture."""
    flat = lab.reshape(-1, 3)
    flat = flat[:: max(1, len(flat) // 20_000)].astype(float)
    gap = np.min([ciede2000(flat, c) for c in colours], axis=0)
    return LeftOver(float(gap.mean()), float(np.percentile(gap, 95)))


def suggest(seen: Framed, count: int = 12, balance: Balance | None = None) -> tuple[list[KeyColour], LeftOver]:
    """About ``count`` key colours (2 to 40) of what the frame shows, dark to light, and what they leave uncovered.

    Each is a real spot of the full picture: the middle of the largest clean area of its colour.
    """
    if not 2 <= count <= 40:
        raise ValueError(f"{count} notes: choose 2 to 40")
    balance = balance or Balance()
    picture = seen.picture
    working = balance.apply(seen.reduced(WORKING_PIXELS))
    lab = linear_to_lab(working)
    melted = smooth_lab(lab)
    colours = centres(melted, count)
    owner = nearest(melted, colours)
    scale = seen.width / lab.shape[1]
    out = []
    for j, colour in enumerate(colours):
        own = owner == j
        if not own.any():
            continue
        gap = np.linalg.norm(melted - colour.astype(np.float32), axis=2)
        clean = own & (gap <= max(6.0, float(np.percentile(gap[own], 30))))
        inner = cv2.distanceTransform(np.pad(clean, 1).astype(np.uint8), cv2.DIST_L2, 3)[1:-1, 1:-1]
        row, column = np.unravel_index(int(inner.argmax()), inner.shape)
        x, y = seen.to_original((column + 0.5) * scale, (row + 0.5) * scale)
        x, y = min(max(x, 0.0), picture.width - 0.5), min(max(y, 0.0), picture.height - 0.5)
        aperture = int(np.clip(1.2 * float(inner[row, column]) * scale * seen.scale_at(x, y), 3, 41)) | 1
        read_here = sample(picture, x, y, aperture, balance)
        subject = guess_subject(read_here.lab, (row + 0.5) / lab.shape[0])
        out.append(KeyColour(x, y, aperture, read_here, float(own.mean()), subject))
    out.sort(key=lambda k: k.seen.lab[0])
    return out, left_over(lab, np.array([k.seen.lab for k in out]))


def guess_subject(lab: tuple[float, float, float], height: float) -> str:
    """A guess, always editable, from colour and place alone; ``height`` 0 top .. 1 bottom. Common practice, no
    source."""
    r = read(lab)
    hue, chroma, value = r.hue_angle, r.chroma, r.value
    if chroma < 1.2:
        return "wall" if value > 6 else "other"
    if 205 <= hue < 300:
        return "sky" if value > 4.2 and height < 0.55 and hue < 290 else "cloth"
    if 128 < hue < 205 or (100 < hue <= 128 and value < 5 and chroma < 7):
        return "foliage"
    if (hue < 78 or hue > 350) and 2 <= chroma <= 9 and 2.5 < value < 8.5 and 0.1 < height < 0.92:
        return "skin"
    if hue <= 128 and chroma > 7 and value > 5:
        return "fruit"
    if 30 < hue <= 128 and value < 7:
        return "ground"
    return "wall" if value >= 7 and chroma < 4 else "other"
