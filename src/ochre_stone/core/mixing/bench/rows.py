"""Rows that are made with one action: a ladder of tints, a drift of hue, the whole line of a pair, a triangle of three.

All are mixtures of two or three sources (tubes or piles) in amounts that can be counted or told with a knife, chosen so
that the steps look even: a ladder in value, the others in CIEDE2000 along the way. Amounts in even parts would crowd
a strong paint to one side (common practice, no source).
"""

import functools
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ochre_stone.core.advice.frame import Paint, as_paint, of_tube
from ochre_stone.core.advice.ways import StartPile, Way, besides, progress, reach_for
from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import Array, Lab, as_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.mixing.bench.bench import Supply
from ochre_stone.core.mixing.recipe.dose import Dose
from ochre_stone.core.mixing.recipe.parts import LEVELS, MOST_PARTS, reduce_parts
from ochre_stone.core.paint.optics import Surface, layer_lab
from ochre_stone.core.paint.predict import spectra
from ochre_stone.core.paint.tubes import Tube, strength_of

LADDER, DRIFT, LINE, SIDE = 6, 5, 7, 4
"""Steps of a ladder, strokes of a drift, mixtures of a line, and mixtures along a side of a triangle less one."""
NEAR_WHITE = 0.5
"""Value steps below the white at which a ladder ends."""
STROKE = 3.0
"""CIEDE2000 of one stroke of a drift."""
_FINE = 400
_COUNTED: Array = np.array([*np.arange(0.25, 2, 0.25), *np.arange(2, 6, 0.5), *range(6, 21)])
_PER_PART = 0.02
"""What a part to count weighs against a step of the row that a mixture is off its place."""
_ONWARD = 0.9
"""Share of the way to where a source stops leading the way that is wanted, at which a drift ends."""
TubeFinder = Callable[[str], Tube]


@dataclass(frozen=True)
class Rung:
    """One mixture of a row."""

    parts: tuple[float, ...]
    """Of each source; 0 for what is not in it."""
    lab: Lab

    def doses(self, sources: Sequence[Supply], ml: float) -> tuple[Dose, ...]:
        """What goes into a pile of so many millilitres."""
        whole = sum(self.parts)
        return tuple(
            Dose(s.shares, ml * p / whole, source=s.id, name=s.name)
            for s, p in zip(sources, self.parts, strict=True)
            if p > 0
        )


@dataclass(frozen=True)
class BenchRow:
    """A row of mixtures, from the first source on."""

    title: str
    sources: tuple[Supply, ...]
    rungs: tuple[Rung, ...]


@dataclass(frozen=True, eq=False)
class _Mixer:
    """Sources as spectra."""

    K: Array
    S: Array
    surface: Surface

    @classmethod
    def of(cls, sources: Sequence[Supply], known: TubeFinder, surface: Surface) -> "_Mixer":
        pairs = [spectra([known(i) for i, _ in s.shares], [c for _, c in s.shares]) for s in sources]
        return cls(np.stack([k for k, _ in pairs]), np.stack([s for _, s in pairs]), surface)

    def lab(self, parts: Array) -> Array:
        """CIELAB (m, 3) of parts (m, n)."""
        c = parts / parts.sum(axis=-1, keepdims=True)
        return np.asarray(layer_lab(c @ self.K, c @ self.S, self.surface))

    def strength(self) -> Array:
        return strength_of(self.K, self.S)


def ladder(base: Supply, white: Supply, known: TubeFinder, surface: Surface, count: int = LADDER) -> BenchRow:
    """A tint ladder: ``base`` stepped with ``white`` to nearly white, even in value.

    Raises OchreError for a base that is as light as the white already.
    """
    mixer = _Mixer.of((base, white), known, surface)
    share, lab = _line(mixer)
    value = value_of_lightness(lab[:, 0])
    top = float(value[-1]) - NEAR_WHITE
    if top - float(value[0]) < NEAR_WHITE:
        raise OchreError(f"{base.name} is nearly white already: a ladder of it has no steps.")
    rising = np.maximum.accumulate(value)
    wanted = np.linspace(float(value[0]), top, count)
    return BenchRow(f"{base.name}, stepped with {white.name}", (base, white), _rungs(mixer, share, rising, wanted))


def line(first: Supply, second: Supply, known: TubeFinder, surface: Surface, count: int = LINE) -> BenchRow:
    """The whole line of a pair, from all of the first to all of the second, even to the eye."""
    mixer = _Mixer.of((first, second), known, surface)
    share, lab = _line(mixer)
    length = _length(lab)
    wanted = np.linspace(0, float(length[-1]), count)
    return BenchRow(f"{first.name} to {second.name}", (first, second), _rungs(mixer, share, length, wanted))


def drift(
    base: Supply, to: Way, sources: Sequence[Supply], known: TubeFinder, surface: Surface, strokes: int = DRIFT
) -> BenchRow:
    """``base`` drifted one way in strokes of one size, by the source that a painter would reach for
    (:mod:`ochre_stone.core.advice.ways`). The title says what else it does.

    Raises OchreError where none of the ``sources`` leads there.
    """
    mixer = _Mixer.of((base, *sources), known, surface)
    pile = StartPile.of(mixer.K[0], mixer.S[0], [i for i, _ in base.shares], surface)
    by_id = {s.id: s for s in sources}
    paints = [_as_paint(s, k, v, known, surface) for s, k, v in zip(sources, mixer.K[1:], mixer.S[1:], strict=True)]
    found = reach_for(pile, paints, to)
    if not found:
        raise OchreError(f"Nothing at hand makes {base.name} {to}: choose another way, or another palette.")
    source = by_id[found[0].paint.id]
    pair = _Mixer.of((base, source), known, surface)
    share, lab = _line(pair)
    length = _length(lab)
    far = progress(pile.stands, to, lab)
    onward = float(length[int(far.argmax())])
    if far.argmax() < len(far) - 1:
        onward *= _ONWARD
    end = min(STROKE * strokes, onward, float(length[-1]) * 0.8)
    rungs = _rungs(pair, share, length, np.linspace(0, end, strokes + 1))
    title = f"{base.name}, {besides(to, rungs[0].lab, rungs[-1].lab)} with {source.name}"
    return BenchRow(title, (base, source), rungs)


def _as_paint(source: Supply, K: Array, S: Array, known: TubeFinder, surface: Surface) -> Paint:
    """A source as a painter knows it."""
    if len(source.shares) == 1:
        return replace(of_tube(known(source.shares[0][0]), surface), id=source.id, name=source.name)
    return as_paint(source.id, source.name, K, S, surface)


def triangle(corners: Sequence[Supply], known: TubeFinder, surface: Surface, side: int = SIDE) -> BenchRow:
    """All mixtures of three in ``side`` even steps of what each brings: row by row from the first corner.

    Each source is counted by its tinting strength, so that a strong one does not fill the triangle.
    """
    if len(corners) != 3:
        raise ValueError("a triangle has three corners")
    mixer = _Mixer.of(corners, known, surface)
    strength = mixer.strength()
    grid = [(side - i, i - j, j) for i in range(side + 1) for j in range(i + 1)]
    parts = np.stack([_counted(np.array(g) / strength) for g in grid])
    lab = mixer.lab(parts)
    rungs = tuple(Rung(tuple(float(v) for v in p), as_lab(colour)) for p, colour in zip(parts, lab, strict=True))
    return BenchRow(" – ".join(s.name for s in corners), tuple(corners), rungs)


def _pairs(share: Array) -> Array:
    return np.stack([1 - share, share], axis=1)


def _line(mixer: _Mixer) -> tuple[Array, Array]:
    """Shares (m,) of the second of two sources, closest where its paint counts most, and Lab (m, 3)."""
    a, b = mixer.strength()
    t = np.linspace(0, 1, _FINE)
    share = a * t / (a * t + b * (1 - t))
    share = np.unique(np.concatenate([share, t]))
    return share, mixer.lab(_pairs(share))


def _length(lab: Array) -> Array:
    """CIEDE2000 along a row (m, 3) from its first."""
    steps = ciede2000(lab[1:], lab[:-1])
    return np.concatenate([[0.0], np.cumsum(steps)])


def _rungs(mixer: _Mixer, share: Array, place: Array, wanted: Array) -> tuple[Rung, ...]:
    """Mixtures of two that stand nearest to the ``wanted`` places (k,), in parts that can be counted; each once.

    ``place`` (m,): where the shares (m,) of the second stand, rising. Of two that stand as near, the one with fewer
    parts.
    """
    choices = _countable_pairs()
    there = np.interp(choices[:, 1] / choices.sum(axis=1), share, place)
    if wanted[-1] < place[-1]:  # all of the second is no mixture of the row
        choices, there = choices[choices[:, 0] > 0], there[choices[:, 0] > 0]
    if wanted[-1] > there.max():  # with a strong paint a touch in twenty is as near as a hand gets
        wanted = np.linspace(wanted[0], there.max(), len(wanted))
    step = max(float(wanted[-1] - wanted[0]) / max(len(wanted) - 1, 1), 1e-9)
    off = np.abs(there[None] - wanted[:, None]) / step + _PER_PART * choices.sum(axis=1)
    parts = choices[np.unique(off.argmin(axis=1), return_index=True)[0]]
    parts = parts[np.argsort(parts[:, 1] / parts.sum(axis=1))]
    return tuple(
        Rung((float(a), float(b)), as_lab(colour)) for (a, b), colour in zip(parts, mixer.lab(parts), strict=True)
    )


@functools.cache
def _countable_pairs() -> Array:
    """Parts (m, 2) of two in which a mixture can be counted out or told by eye."""
    few = [(a, b) for a in LEVELS for b in LEVELS if 0 < a + b <= MOST_PARTS + 1 and (a > 0 or b > 0)]
    return np.asarray(np.unique(reduce_parts(np.array(few)), axis=0))


def _counted(amounts: Array) -> Array:
    """Amounts (n,) in parts that can be counted or told by eye: the least of them a part, or a touch where the most of
    it would be more than twenty."""
    used = amounts > 1e-9 * amounts.max()
    if used.sum() == 1:
        return np.asarray(used, dtype=float)
    scaled = amounts / amounts[used].min()
    most = scaled.max()
    if most > _COUNTED[-1]:
        scaled = scaled * max(0.25, _COUNTED[-1] / most)
    elif most < 3:
        scaled = scaled * 2
    near = _COUNTED[np.abs(np.log(_COUNTED[None] / np.maximum(scaled, 1e-9)[:, None])).argmin(axis=1)]
    counted: Array = reduce_parts(np.where(used, near, 0.0))
    return counted
