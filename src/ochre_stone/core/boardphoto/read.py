"""From a photo of the palette to every pile's colour, noise and name."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ochre_stone.core.boardphoto.body import Doubt, body_of
from ochre_stone.core.boardphoto.camera import camera_corrected, from_tubes, unlike_data
from ochre_stone.core.boardphoto.card import BURNT, CARD_Y, Card, card_at, contrast_of, find_card, without_contrast
from ochre_stone.core.boardphoto.layout import Layout, SeenRegion
from ochre_stone.core.boardphoto.light import fit_light
from ochre_stone.core.boardphoto.naming import cost_of, name_all
from ochre_stone.core.boardphoto.regions import (
    BoardGround,
    RegionLabels,
    find_regions,
    join_regions,
    region_borders,
    split,
)
from ochre_stone.core.boardphoto.square import PER_CM, Code8, Squared, brightest, table
from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import (
    SRGB_TO_XYZ,
    XYZ_TO_SRGB,
    Array,
    adaptation,
    as_lab,
    decode_srgb,
    encode_srgb,
    lab_to_xyz,
)
from ochre_stone.core.errors import OchreError
from ochre_stone.core.later import later
from ochre_stone.core.picture.picture import Floats, Mask, linear_to_lab

cv2 = later("cv2")
ndimage = later("scipy.ndimage")

WHITE_Y = 0.87
"""Luminous reflectance of a white palette, where it has to stand for a card (common practice, no source)."""
FIND = "find"
"""A card is looked for."""
CardAt = tuple[float, float] | str
_EDGE_CM, _CARD_RIM_CM = 0.4, 0.95
_CORE, _CORE_LEAST = 0.35, 3.0
_STANDS_ALONE = 0.88
_ROUND, _BETTER, _MOST_PARTED = 0.86, 4.0, 8
"""Below this roundness a region may be two piles; by how much cheaper the names have to be for it to be parted;
how many are tried."""


@dataclass(frozen=True, eq=False)
class Balanced:
    """How the camera's linear light on the palette becomes colour."""

    gain: Floats
    """(h, w, 3): over the light of a white at each place."""
    white: Array
    """The camera's linear RGB (3,) of a white where the card lies."""
    matrix: Array
    """To D65, (3, 3)."""
    surface: Array
    """What the palette's surface reflects (3,), in the camera's RGB."""
    log_light: Floats
    contrast: float
    contrast_sd: float
    curve: Floats
    """Linear light of each code value (256,)."""

    def rgb(self, linear: Floats, gain: Floats) -> Floats:
        """Linear sRGB D65 (..., 3)."""
        return np.asarray((linear * gain * self.white.astype(np.float32)) @ self.matrix.T.astype(np.float32))


@dataclass(frozen=True, eq=False)
class BoardPhoto:
    """A photo of the palette, squared up, its light taken out, its piles found."""

    squared: Squared
    layout: Layout
    card: Card | None
    light: Balanced
    ground: BoardGround
    marks: RegionLabels
    """Labels (h, w) of the piles, 0 for none."""

    @classmethod
    def of(cls, half: Code8, layout: Layout, corners: Array, card: CardAt | None = FIND) -> "BoardPhoto":
        """Look at a photo, given at half its size (:func:`square.plain_code`), by its four ``corners`` (4, 2) in pixels
        of the whole photo. ``card``: where one lies in it (pixels of the photo), None for none, ``FIND`` to look.

        Raises OchreError for corners that make no quadrangle, and for a card far outside of the palette.
        """
        if cv2.contourArea(np.asarray(corners, dtype=np.float32)) < 1e4 or not cv2.isContourConvex(
            np.asarray(corners, dtype=np.float32).round().astype(np.int32)
        ):
            raise OchreError("The four corners make no palette: drag each to its corner.")
        squared = Squared.of(half, np.asarray(corners, dtype=float), layout.width, layout.height)
        if isinstance(card, str):
            found = find_card(squared)
        else:
            found = card_at(squared, *squared.to_board(np.array([card]))[0]) if card is not None else None
        light, ground = _balanced(squared, layout, found)
        return cls(squared, layout, found, light, ground, find_regions(ground))

    def piles(self) -> list[SeenRegion]:
        """All piles that are thick enough, read and named.

        Parts that nobody planned join the neighbour they look like; a region that is no disc is parted where two
        planned piles explain it much better than one. ``marks`` follow.
        """
        raw = self._read(_labels(self.marks))
        joined = _leftovers(name_all(raw, self.layout), self.marks)
        for gone, kept in joined:
            join_regions(self.marks, gone, kept)
        if joined:
            touched = {i for pair in joined for i in pair}
            raw = [p for p in raw if p.number not in touched] + self._read([kept for _, kept in joined])
        once = self._parted(raw, frozenset())
        return self._named(self._parted(once, frozenset(p.number for p in raw)))

    def _read(self, numbers: Sequence[int]) -> list[SeenRegion]:
        boxes = ndimage.find_objects(self.marks)
        return [p for p in (self._seen(i, boxes[i - 1]) for i in numbers) if p is not None]

    def _parted(self, raw: list[SeenRegion], tried: frozenset[int]) -> list[SeenRegion]:
        """Regions that are no discs in two, where that explains them much better; all but those ``tried``."""
        cost = cost_of(raw, self.layout)
        odd = [p for p in raw if p.roundness < _ROUND and p.number not in tried]
        odd = sorted(odd, key=lambda p: p.roundness)[:_MOST_PARTED]
        for p in odd:
            trial = self.with_split(p.number)
            new = trial._read([p.number, int(trial.marks.max())])
            if len(new) < 2:
                continue
            rest = [q for q in raw if q.number != p.number] + new
            lower = cost_of(rest, self.layout)
            if lower < cost - _BETTER:
                self.marks[...] = trial.marks
                raw, cost = rest, lower
        return raw

    def _named(self, raw: list[SeenRegion]) -> list[SeenRegion]:
        """With names, and colours as the tubes' dabs correct them."""
        named = name_all(raw, self.layout)
        matrix = from_tubes(named, self.layout)
        if matrix is not None:
            named = [replace(p, lab=as_lab(camera_corrected(np.array(p.lab), matrix))) for p in named]
        more = unlike_data(named, self.layout)
        return name_all([replace(p, noise=float(np.sqrt(p.noise**2 + more))) for p in named], self.layout)

    def named_as_found(self) -> list[SeenRegion]:
        """The piles of ``marks`` as they are: nothing is joined or parted."""
        return self._named(self._read(_labels(self.marks)))

    def number_at(self, x: float, y: float) -> int:
        """The region at a place in the photo (pixels), 0 for none."""
        column, row = (int(v) for v in self.squared.to_board(np.array([(x, y)]))[0] * PER_CM)
        h, w = self.marks.shape
        return int(self.marks[row, column]) if 0 <= row < h and 0 <= column < w else 0

    def with_split(self, number: int) -> "BoardPhoto":
        """With one region parted in two."""
        marks = self.marks.copy()
        split(marks, number, self.ground.lab)
        return replace(self, marks=marks)

    def with_joined(self, one: int, other: int) -> "BoardPhoto":
        """With two regions taken for one pile."""
        marks = self.marks.copy()
        join_regions(marks, other, one)
        return replace(self, marks=marks)

    def _seen(self, number: int, s: tuple[slice, slice] | None) -> SeenRegion | None:
        """A region, in its box, as a pile; None for a smear."""
        if s is None:
            return None
        own = self.marks[s] == number
        area = float(own.sum()) / PER_CM**2
        least = min((e.radius for e in self.layout.expected if not e.is_tube), default=0.6)
        if area < 0.3 * np.pi * least**2:
            return None
        deep = cv2.distanceTransform(np.pad(own, 1).astype(np.uint8), cv2.DIST_L2, 5)[1:-1, 1:-1]
        most = float(deep.max())
        if most < max(0.36 * PER_CM, 0.52 * np.sqrt(area / np.pi) * PER_CM):
            return None
        top, left = s[0].start, s[1].start
        body = body_of(*self._pixels(deep > max(_CORE_LEAST, _CORE * most), top, left))
        y, x = np.nonzero(deep > 0.5 * most)
        at = (float(x.mean() + left) / PER_CM, float(y.mean() + top) / PER_CM)
        cast = float(np.ptp(np.log(self.light.white)))
        chroma, contrast = float(np.hypot(body.lab[1], body.lab[2])), self._by_contrast(body.lab, *at)
        doubt = Doubt(body.spread, chroma, body.burnt, contrast, cast, self.card is not None)
        return SeenRegion(
            number,
            *at,
            float(np.sqrt(area / np.pi)),
            as_lab(body.lab),
            doubt.noise(),
            body.burnt,
            body.spread,
            most / PER_CM / float(np.sqrt(area / np.pi)),
        )

    def _pixels(self, core: Mask, top: int, left: int) -> tuple[Floats, Floats, Mask]:
        """Lab (n, 3), luminance (n,) and what is burnt (n,) of a pile's core, at twice the scale."""
        high, wide = core.shape
        near = self.squared.fine(top, left, high, wide)
        inside = cv2.resize(core.astype(np.uint8), (2 * wide, 2 * high), interpolation=cv2.INTER_NEAREST) > 0
        gain = cv2.resize(self.light.gain[top : top + high, left : left + wide], (2 * wide, 2 * high))[inside]
        linear = np.maximum(table(self.light.curve, near)[inside], 2e-4)
        rgb = self.light.rgb(linear, gain)
        hot = cv2.dilate((brightest(near) >= BURNT).astype(np.uint8), np.ones((3, 3), np.uint8))[inside] > 0
        return _lab(rgb), np.asarray(rgb @ SRGB_TO_XYZ[1].astype(np.float32)), np.asarray(hot)

    def _by_contrast(self, lab: Array, x: float, y: float) -> float:
        """CIEDE2000 by which a reading may be off for what is not known of the camera's contrast."""
        h, w = self.light.log_light.shape[:2]
        row, column = int(np.clip(y * PER_CM, 0, h - 1)), int(np.clip(x * PER_CM, 0, w - 1))
        return (
            slope_of_contrast(lab, self.light, np.exp(self.light.log_light[row, column]), self.card)
            * self.light.contrast_sd
        )


def _labels(marks: RegionLabels) -> list[int]:
    return [i for i, s in enumerate(ndimage.find_objects(marks), 1) if s is not None]


def _lab(rgb: Floats) -> Floats:
    return np.asarray(linear_to_lab(np.maximum(rgb, 1e-5).astype(np.float32)), dtype=np.float32)


def _balanced(squared: Squared, layout: Layout, card: Card | None) -> tuple[Balanced, BoardGround]:
    """The light over the palette and the palette without it."""
    contrast, contrast_sd = contrast_of(card)
    curve = decode_srgb(without_contrast(np.arange(256) / 255.0, contrast)).astype(np.float32)
    box = squared.box
    code = squared.code[box]
    board = np.maximum(table(curve, code), 2e-4)
    h, w = code.shape[:2]
    burnt = brightest(code) >= BURNT
    edge = int(_EDGE_CM * PER_CM)
    inside = np.zeros((h, w), bool)
    inside[edge:-edge, edge:-edge] = True
    if card is not None:
        rim = int(2 * _CARD_RIM_CM * PER_CM)
        inside &= ~(cv2.dilate(card.mask.astype(np.uint8), np.ones((rim, rim), np.uint8)) > 0)[box]
    free = np.ones((h, w), np.uint8)
    for e in layout.expected:
        cv2.circle(free, (int(e.x * PER_CM), int(e.y * PER_CM)), int((e.radius + 0.6) * PER_CM), 0, -1)
    log_light = fit_light(np.log(board), inside & ~burnt, free > 0).log
    if card is not None:
        row, column = int(np.clip(card.y * PER_CM, 0, h - 1)), int(np.clip(card.x * PER_CM, 0, w - 1))
        white = np.median(table(curve, squared.code)[card.mask], axis=0) / CARD_Y
        surface = np.exp(log_light[row, column]) / white
    else:
        surface = np.full(3, WHITE_Y)
        white = np.exp(np.median(log_light.reshape(-1, 3), axis=0)) / WHITE_Y
    matrix = XYZ_TO_SRGB @ adaptation(SRGB_TO_XYZ @ white) @ SRGB_TO_XYZ
    matrix = matrix / float((SRGB_TO_XYZ @ (matrix @ white))[1])
    gain = (np.exp(-log_light) * surface).astype(np.float32)
    light = Balanced(gain, white.astype(float), matrix, surface, log_light, contrast, contrast_sd, curve)
    even = light.rgb(board, gain)
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (5, 5))
    rgb = cv2.GaussianBlur(cv2.morphologyEx(even, cv2.MORPH_OPEN, disc), (0, 0), 1.6)  # thin gloss goes first
    plain = (matrix @ (surface * white)).astype(np.float32)
    washed = burnt & (np.exp(log_light).max(axis=2) > _STANDS_ALONE)  # the palette itself is burnt out there
    lab = _lab(rgb.reshape(-1, 3)).reshape(h, w, 3)
    return light, BoardGround(lab, np.asarray(rgb), _lab(plain[None])[0], plain, inside & ~washed)


def slope_of_contrast(lab: Array, light: Balanced, there: Array, card: Card | None) -> float:
    """CIEDE2000 by which a reading moves per unit of the camera's contrast; ``there``: light (3,) at its place."""
    pile = np.linalg.inv(light.matrix) @ (XYZ_TO_SRGB @ lab_to_xyz(lab))  # as lit at the card
    own = light.surface * light.white
    seen, anchor = np.clip(pile / own * there, 1e-4, 0.98), np.clip(there, 1e-4, 0.98)

    def again(step: float) -> Array:
        def moved(v: Array) -> Array:
            c = encode_srgb(v)
            x, y = c**light.contrast, (1 - c) ** light.contrast
            return np.asarray(decode_srgb(without_contrast(x / (x + y), light.contrast + step)))

        k = np.ones(3)
        if card is not None:
            grey, surface = np.clip(light.white * CARD_Y, 1e-4, 0.98), np.clip(own, 1e-4, 0.98)
            k = (moved(surface) / moved(grey)) / (surface / grey)
        return np.asarray(_lab((light.matrix @ (moved(seen) / moved(anchor) * own * k))[None].astype(np.float32))[0])

    return float(ciede2000(again(0.05), again(-0.05))) / 0.1 / float(np.sqrt(2))


def _leftovers(piles: Sequence[SeenRegion], marks: RegionLabels) -> list[tuple[int, int]]:
    """Regions that nobody planned, or too many, with the neighbour that each belongs to: (gone, kept)."""
    by = {p.number: p for p in piles}
    out: list[tuple[int, int]] = []
    done: set[int] = set()
    for (i, j), border in sorted(region_borders(marks).items(), key=lambda kv: -kv[1]):
        if i not in by or j not in by or i in done or j in done:
            continue
        p, q = by[i], by[j]
        if p.id and q.id:
            continue
        neck = border / (2 * min(p.radius, q.radius) * PER_CM)
        if float(ciede2000(np.array(p.lab), np.array(q.lab))) < 6 and neck > 0.45:
            out.append((j, i) if p.id else (i, j))
            done |= {i, j}
    return out
