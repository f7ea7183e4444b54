"""The things of a picture: a face, a shirt, a wall in sun and shade; what each looks like and how much it counts."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass, field

import numpy as np

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import Array, Lab, encode_srgb
from ochre_stone.core.keys.faces import Face, find_faces, skin_of
from ochre_stone.core.keys.merging import Labels64, merge
from ochre_stone.core.keys.pieces import Numbers, pieces_of, steepness
from ochre_stone.core.later import later
from ochre_stone.core.masses.thresholds import histogram, optimal_cuts
from ochre_stone.core.picture.picture import Floats, Mask

cv2 = later("cv2")

_FACE_COUNTS = 3.0
FOCUS_COUNTS = 6.0
"""How much more a pixel counts where the painter looks."""
_DISC = np.ones((3, 3), np.uint8)


@dataclass(frozen=True)
class ThingLook:
    """What a thing looks like and where it lies; places as shares of the picture, 0 left or top .. 1."""

    lab: Lab
    share: float
    skin: bool
    """Found as the skin of a face."""
    top: float
    """Share of the upper edge that it holds; likewise the lower edge, and the fuller of the two sides."""
    bottom: float
    side: float
    wide: float
    """Share of the picture's width over which it reaches."""
    x: float
    y: float
    high: float
    """Where its highest twentieth ends; likewise where its lowest begins."""
    low: float
    rough: float
    """Fine contrast in it, L*."""
    round: float
    """1 for a disc: 4 pi area / perimeter^2 of its largest piece."""
    brighter_down: float
    """L* by which its lowest fifth is lighter than its highest."""
    contrast: float
    spread: float
    by_face: float = 0.0
    """Share of it that lies about the head of the largest face."""
    below_face: float = 0.0
    """Share of the place below that face that it fills."""
    face_away: float = 0.0
    """How far its middle stands from the face's, in sides of the face: across."""


@dataclass
class Thing:
    """A connected part of the picture that is of one stuff."""

    number: int
    look: ThingLook
    values: Array = field(repr=False)
    """Munsell values of its pixels (or a fair part of them)."""
    weight: float = 0.0
    """How much it counts among all, sum 1."""
    division: float = 5.0
    """The value that parts its light from its shadow."""
    parted: bool = False
    """Whether it has a light and a shadow of its own."""
    subject: str = "other"
    sure: float = 0.0
    """0..1; below a half the subject is 'other'."""


@dataclass(frozen=True)
class Things:
    """All of them: the number of the thing of each pixel, and the faces that were found."""

    number: Numbers
    all: tuple[Thing, ...]
    faces: tuple[Face, ...]
    whole: float
    """The value that parts the picture's light from its dark."""

    def at(self, row: int, column: int) -> Thing:
        """The thing of a pixel."""
        return self.all[int(self.number[row, column])]

    def beside(self, thing: Thing, others: Collection[int]) -> float:
        """Share of a thing's outline that others, by number, hold."""
        small = self.number[::2, ::2]
        own = small == thing.number
        ring = cv2.dilate(own.astype(np.uint8), np.ones((5, 5), np.uint8)).astype(bool) & ~own
        return float(np.isin(small[ring], [n for n in others if n != thing.number]).mean()) if ring.any() else 0.0


def things_of(linear: Floats, lab: Floats, melted: Floats) -> Things:
    """The things of a picture (h, w, 3), linear light and Lab, and as it is when detail is melted; neither weighed nor
    named."""
    code = (np.clip(encode_srgb(np.clip(linear, 0, 1)), 0, 1) * 255).astype(np.uint8)
    faces = find_faces(code, lab)
    steep = steepness(melted)
    pieces = pieces_of(melted, steep)
    count = int(pieces.max()) + 1
    size = np.bincount(pieces.ravel(), minlength=count)
    fixed = np.zeros(count, np.int64)
    for i, face in enumerate(faces, 1):
        skin = skin_of(face, melted)
        share = np.bincount(pieces.ravel(), skin.ravel().astype(float), minlength=count) / np.maximum(size, 1)
        fixed[(share > 0.55) & (fixed == 0)] = i
    number, group = merge(pieces, melted, steep, fixed)
    found, whole = _looked_at(number, group, lab, melted, faces)
    return Things(number, tuple(found), tuple(faces), whole)


def _looked_at(
    number: Numbers, group: Labels64, lab: Floats, melted: Floats, faces: Sequence[Face]
) -> tuple[list[Thing], float]:
    """At half the size: what each thing looks like is no matter of single pixels."""
    h, w = (number.shape[0] + 1) // 2, (number.shape[1] + 1) // 2
    small = np.ascontiguousarray(number[::2, ::2])
    fine = np.abs(lab[..., 0] - cv2.GaussianBlur(np.ascontiguousarray(lab[..., 0]), (0, 0), 2.0))[::2, ::2]
    soft = np.asarray(cv2.resize(melted, (w, h), interpolation=cv2.INTER_AREA))
    contrast = np.zeros((h, w), np.float32)
    for sigma in (3, 10):
        contrast += np.linalg.norm(soft - cv2.GaussianBlur(soft, (0, 0), sigma), axis=2) / 2
    value = value_of_lightness(np.clip(soft[..., 0], 0, 100))
    whole = float(optimal_cuts(histogram(value), 2)[2][0])
    rows, columns = (v.astype(np.float32) for v in np.mgrid[:h, :w])
    out = []
    for i, found in enumerate(group.tolist()):
        own = small == i
        if not own.any():  # too thin to be met at half the size
            own = np.zeros((h, w), bool)
            r, c = (int(v[0]) // 2 for v in np.nonzero(number == i))
            own[r, c] = True
        y = rows[own]
        high, low = np.percentile(y, (20, 80))
        lightness, mean = soft[..., 0], soft[own].mean(axis=0)
        look = ThingLook(
            lab=(float(mean[0]), float(mean[1]), float(mean[2])),
            share=float(own.mean()),
            skin=bool(found),
            top=float(own[:3].any(axis=0).mean()),
            bottom=float(own[-3:].any(axis=0).mean()),
            side=float(max(own[:, :3].any(axis=1).mean(), own[:, -3:].any(axis=1).mean())),
            wide=float(own.any(axis=0).mean()),
            x=float(columns[own].mean()) / w,
            y=float(y.mean()) / h,
            high=float(np.percentile(y, 5)) / h,
            low=float(np.percentile(y, 95)) / h,
            rough=float(fine[own].mean()),
            round=_roundness(own),
            brighter_down=float(lightness[own & (rows >= low)].mean() - lightness[own & (rows <= high)].mean()),
            contrast=float(contrast[own].mean()),
            spread=float(np.linalg.norm(soft[own].std(axis=0))),
            **(_by_face(own, faces[0]) if faces else {}),
        )
        division, parted = division_of(value[own], whole)
        out.append(Thing(i, look, value[own], division=division, parted=parted))
    return out, whole


def _roundness(own: Mask) -> float:
    solid = cv2.morphologyEx(own.astype(np.uint8), cv2.MORPH_OPEN, _DISC)
    outlines, _ = cv2.findContours(solid, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    if not outlines:
        return 0.0
    largest = max(outlines, key=cv2.contourArea)
    around = cv2.arcLength(cv2.approxPolyDP(largest, 1.0, True), True)
    return float(4 * np.pi * cv2.contourArea(largest) / max(around * around, 1.0))


def _by_face(own: Mask, face: Face) -> dict[str, float]:
    x, y, s = face.left / 2, face.top / 2, face.side / 2
    h = own.shape[0]
    head = own[max(int(y - 0.75 * s), 0) : min(int(y + 0.6 * s), h), max(int(x - 0.45 * s), 0) : int(x + 1.45 * s)]
    below = own[min(h - 1, int(y + 1.15 * s)) :, max(int(x - s), 0) : int(x + 2 * s)]
    columns = np.nonzero(own)[1]
    return {
        "by_face": float(head.sum() / own.sum()),
        "below_face": float(below.mean()),
        "face_away": float(columns.mean() - x - s / 2) / s,
    }


def division_of(value: Array, whole: float) -> tuple[float, bool]:
    """The value that parts a thing's light from its shadow, and whether it has both.

    It has where its values span 1.5, the best cut in two explains 55 % of their variance and neither part is a speck;
    else it is taken as the ``whole`` picture is. A judgement, measured in benchmarks/keys.
    """
    low, high = np.percentile(value, (4, 96))
    if high - low < 1.5:
        return whole, False
    cut = float(optimal_cuts(histogram(value), 2)[2][0])
    up = value >= cut
    share = float(up.mean())
    if min(share, 1 - share) < 0.04:
        return whole, False
    between = share * (1 - share) * (float(value[up].mean()) - float(value[~up].mean())) ** 2
    if between < 0.55 * float(value.var()):
        return whole, False
    return cut, True


def weigh(things: Things, focus: Floats | None = None) -> None:
    """Give each thing its weight: by share, contrast, place, spread and ``focus`` (h, w) 0..1, where the painter looks;
    a face counts three times. Judgements, measured in benchmarks/keys."""
    for t in things.all:
        look = t.look
        central = 1 - min(1.0, float(np.hypot(look.x - 0.5, look.y - 0.47)) / 0.6)
        t.weight = (look.share * (0.45 + look.contrast / 8) * (0.5 + min(look.spread / 12, 2.0))) ** 0.5
        t.weight *= 0.5 + central
        if look.skin:
            t.weight *= _FACE_COUNTS
        if focus is not None:
            t.weight *= (1 + FOCUS_COUNTS * float(focus[things.number == t.number].mean())) ** 0.5
    total = sum(t.weight for t in things.all)
    for t in things.all:
        t.weight /= total
