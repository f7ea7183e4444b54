"""Fit colour schemes to hues on a wheel and rank them honestly.

Method: each scheme is a mixture of arms (wrapped normal densities of 10 degrees at fixed offsets) over a uniform
floor. Weights of arms and floor are found by expectation maximisation (Dempster, Laird and Rubin 1977, J. R. Stat.
Soc. B 39) for 72 turns of the wheel; the score is the mean log likelihood over that of a uniform wheel, less a
penalty per arm (Schwarz 1978, Ann. Stat. 6), so that wide schemes do not win for being wide. Scheme offsets are the
traditional ones (common practice, no source).
"""

import functools
from collections.abc import Collection
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.gamut import most_chroma
from ochre_stone.core.colour.spaces import Array, lch
from ochre_stone.core.colour.wheel import WheelName, turn, wheel

BINS = 72
ARM_SD = 10.0
CLEAR = 0.65
"""Explained share below which no scheme is clear (a judgement; docs/harmony.md tells of what)."""
NONE_SCORE = 0.05
"""Score below which the hues are as good as even."""
_CHROMA_FLOOR = 4.0  # CIELAB chroma under which a colour has no say about hue
_SAMPLES = 60.0  # effective number of independent hues in a picture
_LEAST_ARM = 0.03
_ROUNDS = 15

OFFSETS: dict[str, tuple[float, ...]] = {
    "monochrome": (0.0,),
    "analogous": (-30.0, 0.0, 30.0),
    "complementary": (0.0, 180.0),
    "split-complementary": (0.0, 150.0, 210.0),
    "triad": (0.0, 120.0, 240.0),
    "tetrad-rectangle": (0.0, 60.0, 180.0, 240.0),
    "tetrad-square": (0.0, 90.0, 180.0, 270.0),
    "accented-analogous": (-30.0, 0.0, 30.0, 180.0),
}
TITLES = {
    "monochrome": "Monochrome", "analogous": "Analogous", "complementary": "Complementary",
    "split-complementary": "Split complementary", "triad": "Triad", "tetrad-rectangle": "Tetrad, rectangle",
    "tetrad-square": "Tetrad, square", "accented-analogous": "Accented analogous", "none": "No scheme",
}  # fmt: skip


@dataclass(frozen=True)
class SchemeFit:
    """How well one scheme fits."""

    name: str
    rotation: float
    """Degrees on the wheel of the scheme's first place."""
    score: float
    explained: float
    """Share of the hue weight that stands on the arms, 0..1."""
    arms: tuple[float, ...]
    """Angle of each arm on the wheel."""
    weights: tuple[float, ...]

    @property
    def title(self) -> str:
        return TITLES[self.name]

    @property
    def clear(self) -> bool:
        return self.name != "none" and self.explained >= CLEAR and self.score > NONE_SCORE


def hue_weights(lab: npt.ArrayLike, area: npt.ArrayLike, wheel_name: WheelName) -> Array:
    """Share of hue (72,) on a wheel: colours Lab (n, 3) count by area (n,) times chroma beyond near-neutral."""
    _, C, h = lch(np.asarray(lab, dtype=float).reshape(-1, 3))
    weight = np.asarray(area, dtype=float).ravel() * np.maximum(C - _CHROMA_FLOOR, 0)
    bins = (wheel(wheel_name).angle(h) * BINS / 360).astype(int) % BINS
    out = np.bincount(bins, weight, minlength=BINS)
    total = out.sum()
    return out / total if total > 0 else np.zeros(BINS)


@functools.cache
def _densities(name: str) -> Array:
    """(turns, arms + 1, bins): density of each arm at each turn, and the uniform floor."""
    centre = (np.arange(BINS) + 0.5) * 360 / BINS
    rotation = np.arange(BINS) * 360 / BINS
    place = rotation[:, None] + np.array(OFFSETS[name])[None]
    off = turn(place[..., None], centre[None, None])
    arm = np.exp(-0.5 * (off / ARM_SD) ** 2) / (ARM_SD * np.sqrt(2 * np.pi)) * 360 / BINS
    floor = np.full((BINS, 1, BINS), 1 / BINS)
    return np.concatenate([arm, floor], axis=1)


def dominant(hues: npt.ArrayLike) -> float | None:
    """Angle of the hue that weighs most: the peak of the hue shares softened by an arm's width; None for neutrals.

    ``hues`` (72,) as from :func:`hue_weights`.
    """
    h = np.asarray(hues, dtype=float)
    if h.sum() <= 0:
        return None
    centre = (np.arange(BINS) + 0.5) * 360 / BINS
    near = np.exp(-0.5 * (turn(centre[:, None], centre[None]) / ARM_SD) ** 2)
    peak = int((near @ h).argmax())
    # The mean of what lies about the peak, on the circle.
    weight = h * near[peak]
    angle = np.radians(centre)
    return float(np.degrees(np.arctan2(weight @ np.sin(angle), weight @ np.cos(angle))) % 360)


def fit(hues: npt.ArrayLike, anchor: float | None = None) -> list[SchemeFit]:
    """All schemes, best first, "none" among them at its score; ``hues`` as from :func:`hue_weights`.

    ``anchor``: an angle on which one arm must stand, for a painter who keeps the dominant hue. For hues that are all
    neutral, only "none" is returned.
    """
    h = np.asarray(hues, dtype=float)
    if h.shape != (BINS,) or not np.isfinite(h).all() or (h < 0).any():
        raise ValueError(f"hues need {BINS} shares of 0 or more")
    none = SchemeFit("none", 0.0, NONE_SCORE, 0.0, (), ())
    if h.sum() <= 0:
        return [none]
    h = h / h.sum()
    out = [none]
    for name, offsets in OFFSETS.items():
        density = _densities(name)
        arms = len(offsets)
        w = np.full(density.shape[:2], 0.9 / arms)
        w[:, -1] = 0.1
        for _ in range(_ROUNDS):
            f = np.matmul(w[:, None, :], density)[:, 0]
            w = w * np.matmul(density, (h / f)[..., None])[..., 0]
        f = np.matmul(w[:, None, :], density)[:, 0]
        gain = (h * np.log(f * BINS)).sum(axis=1)
        gain = np.where(w[:, :-1].min(axis=1) >= _LEAST_ARM, gain, -1.0)  # an arm stands empty
        turns = np.arange(BINS) * 360 / BINS
        if anchor is not None:
            turns = np.array([(anchor - o) % 360 for o in offsets])
            gain, w = (np.stack([x[round(t * BINS / 360) % BINS] for t in turns]) for x in (gain, w))
        best = int(gain.argmax())
        rotation = float(turns[best])
        score = float(gain[best] - (arms + 1) / 2 * np.log(_SAMPLES) / _SAMPLES)
        out.append(
            SchemeFit(
                name,
                rotation,
                score,
                float(1 - w[best, -1]),
                places(name, rotation),
                tuple(float(x) for x in w[best, :-1]),
            )
        )
    return sorted(out, key=lambda s: -s.score)


def places(name: str, rotation: float) -> tuple[float, ...]:
    """Angles of a scheme's arms turned by ``rotation``; empty for "none"."""
    return tuple((rotation + o) % 360 for o in OFFSETS.get(name, ()))


ACCENT_SHARE = 0.1
"""Share of the picture up to which a note may be drawn to an arm that is kept for accents."""


def pull(
    lab: npt.ArrayLike,
    arms: tuple[float, ...],
    amount: float,
    wheel_name: WheelName,
    accents: Collection[int] = (),
    share: npt.ArrayLike | None = None,
    held: npt.ArrayLike | None = None,
) -> Array:
    """Colours Lab (n, 3) turned toward the nearest arm along the shorter way, by ``amount`` 0..1 of the way.

    Value is kept exactly. Chroma is kept too, but where the new hue cannot be so strong inside sRGB it is held there.
    ``accents``: indices of arms that only notes of at most ``ACCENT_SHARE`` of the picture (``share``, (n,)) go to;
    ``held`` (n,): colours that stay. Without arms nothing moves.
    """
    if not 0 <= amount <= 1:
        raise ValueError(f"pull {amount} is not between 0 and 1")
    colours = np.asarray(lab, dtype=float).reshape(-1, 3).copy()
    if not arms or amount == 0 or not len(colours):
        return colours
    w = wheel(wheel_name)
    L, C, h = lch(colours)
    angle = w.angle(h)
    way = turn(angle[:, None], np.array(arms)[None])
    far = np.abs(way)
    large = np.asarray(share, dtype=float) > ACCENT_SHARE if share is not None else np.zeros(len(colours), bool)
    kept_for_small = [i for i in accents if 0 <= i < len(arms)]
    if len(kept_for_small) < len(arms):
        for arm in kept_for_small:
            far[large, arm] = np.inf
    nearest = way[np.arange(len(angle)), far.argmin(axis=1)]
    if held is not None:
        nearest = np.where(np.asarray(held, dtype=bool), 0.0, nearest)
    moved = nearest != 0
    new = np.where(moved, w.lab_hue(angle + amount * nearest), h)
    outside = np.maximum(1.0, C / np.maximum(most_chroma(L, h), 1e-6))  # a colour beyond sRGB stays as far beyond
    C = np.minimum(C, most_chroma(L, new) * outside)
    turned = np.stack([C * np.cos(np.radians(new)), C * np.sin(np.radians(new))], axis=1)
    colours[moved, 1:] = turned[moved]
    return colours
