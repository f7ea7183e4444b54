"""Mix a pile of the past again: what went in, for the amount wanted, in parts that a knife can measure, with the tubes
that are there now."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ochre_stone.core.colour.difference import apart
from ochre_stone.core.colour.spaces import Array, Lab, as_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.mixing.correcting.words import addition_words
from ochre_stone.core.mixing.recipe.dose import Dose, whole_of
from ochre_stone.core.mixing.recipe.hand import TOUCH, Hand
from ochre_stone.core.mixing.recipe.parts import MOST_PARTS, Dosing, counted_out, reduce_parts
from ochre_stone.core.mixing.recipe.recipe import TINT
from ochre_stone.core.mixing.recipe.search import Paints, nearest_mixture, paints_of
from ochre_stone.core.paint.optics import Surface, layer_lab
from ochre_stone.logbook.again import Find, with_tubes
from ochre_stone.logbook.entry import Entry, TubeThen

_SAME = 0.5
"""CIEDE2000 by which a mixture may come out another way with the tubes of now, and counts as the same."""
_TOLD = 0.05
"""CIEDE2000 below which a difference is not worth a word."""


@dataclass(frozen=True)
class Remix:
    """How a pile of the past is mixed again."""

    entry: Entry
    doses: tuple[Dose, ...]
    """In the order in which they went in; of tubes and tints by the ids of the tubes."""
    parts: tuple[float, ...]
    """Of each dose: what is counted out, to a touch."""
    comes_out: Lab
    """Of these parts, with the tubes of now."""
    corrected: bool
    """Whether the amounts are others than then, because the tubes are."""
    why: str
    lacking: tuple[str, ...] = ()
    """Names of tubes in it that are not there any more."""

    @property
    def ml(self) -> float:
        return whole_of(self.doses)

    def parts_words(self) -> str:
        """What goes in, by parts."""
        return ", ".join(addition_words(p, d.name) for d, p in zip(self.doses, self.parts, strict=True))

    def ml_words(self) -> str:
        """What goes in, by millilitres."""
        return ", ".join(f"{d.volume:.2f} ml {d.name}" for d in self.doses)

    def words(self) -> str:
        """Both."""
        return f"{self.parts_words()} ({self.ml_words()})"


@dataclass(frozen=True)
class _Inside:
    """What is in a pile at its end, by what it was put in from."""

    dose: Dose
    """In millilitres; its tubes by their keys as they were."""
    parts: float


def mix_again(
    entry: Entry,
    tubes: Mapping[str, TubeThen],
    find: Find,
    surface: Surface,
    ml: float | None = None,
    opened: Mapping[str, float] | None = None,
    hand: Hand | None = None,
) -> Remix:
    """What goes in to mix a pile of the past again, ``ml`` millilitres of it (default: as much as then).

    What went in, scaled, tubes as tubes and tints as tints: in the parts that were counted out where they can be, else
    in those from which ``hand`` gets the nearest to it. Where the tubes are others by now and it would come out another
    way, the amounts of the same paints that come nearest to how it was. ``opened``: when a tube was opened, seconds
    since 1970, where that is known: of one that was opened since and not calibrated yet it is said. Raises ValueError
    for an amount that is none.
    """
    wanted = entry.ml if ml is None else ml
    if not (math.isfinite(wanted) and 0 < wanted <= 10_000):
        raise ValueError("a pile is mixed again in more than 0 and at most 10000 ml")
    knife = hand if hand is not None else Hand()
    made = _mixed_again(entry, tubes, find, surface, wanted, knife)
    new = sorted(
        {tubes[k].name or tubes[k].tube for k in entry.inside() if (opened or {}).get(tubes[k].tube, 0.0) > entry.begun}
    )
    why = made.why
    if new and not made.corrected:
        why += f" Opened since: {', '.join(new)}; put in a little less of it first, and look."
    why += "".join(f" {words}" for words in _makings(made.doses, tubes))
    least = float(knife.measurable(np.array(made.parts)))
    if wanted < 0.99 * least:
        why += f" Mix {math.ceil(least * 10 - 1e-6) / 10:.1f} ml or more: a smaller dose cannot be told from nothing."
    return replace(made, why=why)


def _mixed_again(
    entry: Entry, tubes: Mapping[str, TubeThen], find: Find, surface: Surface, wanted: float, hand: Hand
) -> Remix:
    inside = _inside(entry, tubes)
    spectra = [_spectra(one, tubes, find) for one in inside]
    K, S = np.stack([k for k, _ in spectra]), np.stack([s for _, s in spectra])
    paints = paints_of(K, S, surface, "even")
    dosing = Dosing(hand, wanted)
    shares = np.array([one.dose.volume for one in inside])
    shares /= shares.sum()
    exact = layer_lab(shares @ K, shares @ S, surface)
    now, lacking = with_tubes(entry, tubes, find, surface)
    goal = entry.came_out or now
    off = apart(now, goal)
    # What the figures do not know of the pile stays: the goal is moved by it.
    offset = np.array(now) - exact

    def made(parts: Array, corrected: bool, why: str) -> Remix:
        part = parts / parts.sum()
        out = as_lab(layer_lab(part @ K, part @ S, surface) + offset)
        used = [(one, float(p)) for one, p in zip(inside, parts, strict=True) if p > 0]
        doses = tuple(
            replace(one.dose, shares=_by_tube(one, tubes), volume=p / float(parts.sum()) * wanted) for one, p in used
        )
        return Remix(entry, doses, tuple(p for _, p in used), out, corrected, why, lacking)

    counted = _counted(inside)
    as_then = counted if counted is not None else counted_out(paints, shares, exact, dosing)
    plain = made(as_then, False, _as_then_words(counted is not None, as_then, shares, exact, paints))
    if lacking:
        return replace(plain, why=f"{', '.join(lacking)}: not there any more; take what comes nearest, and look.")
    if off <= _SAME:
        return plain if off <= _TOLD else replace(plain, why=f"{plain.why} The tubes differ a little ({off:.1f} off).")
    differs = replace(plain, why=f"The tubes differ since: it comes out {off:.1f} another way.")
    if len(inside) == 1:
        return differs
    aim = as_lab(np.array(goal) - offset)
    _, best = nearest_mixture(K, S, aim, surface, min(len(inside), 4))
    parts = counted_out(paints, best, np.array(aim), dosing)
    mended = made(parts, True, "")
    if apart(mended.comes_out, goal) > off - 0.1:
        return differs
    changed = _changed(inside, shares, parts / parts.sum())
    why = f"The tubes differ since: as then it would come out {off:.1f} another way, so {changed}."
    return replace(mended, why=why)


def _inside(entry: Entry, tubes: Mapping[str, TubeThen]) -> list[_Inside]:
    """What is in a pile, in the order in which it first went in; other piles, which may be gone, by their tubes."""
    whole: dict[object, _Inside] = {}

    def add(dose: Dose, parts: float) -> None:
        key = (dose.source, dose.shares)
        had = whole.get(key)
        if had is not None:
            dose, parts = replace(dose, volume=dose.volume + had.dose.volume), parts + had.parts
        whole[key] = _Inside(dose, parts)

    def of_tube(key: str, ml: float) -> Dose:
        then = tubes[key]
        return Dose(((key, 1.0),), ml, source=then.tube, name=then.name or then.tube)

    for n, put in enumerate(entry.puts):
        kept = math.prod(c.keep for c in entry.cuts if n < c.place)
        if put.dose.source.startswith(TINT) and not put.dose.sole:
            tint = Dose(put.dose.shares, put.ml * kept, source=put.dose.source, name=put.dose.name or put.dose.source)
            add(tint, put.parts * kept)
            continue
        for key, c in put.dose.shares:
            add(of_tube(key, put.ml * kept * c), put.parts * kept * c)
    return [one for one in whole.values() if one.dose.volume > 0]


def _spectra(one: _Inside, tubes: Mapping[str, TubeThen], find: Find) -> tuple[Array, Array]:
    """K and S (36,) with the tubes of now; of one that is gone, as it was."""
    K, S = np.zeros(36), np.zeros(36)
    for key, c in one.dose.shares:
        try:
            t = find(tubes[key].tube)
            k, s = t.K, t.S
        except OchreError:
            k, s = tubes[key].spectra()
        K, S = K + c * k, S + c * s
    return K, S


def _by_tube(one: _Inside, tubes: Mapping[str, TubeThen]) -> tuple[tuple[str, float], ...]:
    whole = math.fsum(c for _, c in one.dose.shares)
    return tuple((tubes[key].tube, c / whole) for key, c in one.dose.shares)


def _counted(inside: Sequence[_Inside]) -> Array | None:
    """The parts that were counted out, where a hand can count them out again."""
    parts = np.array([one.parts for one in inside])
    touches = parts / TOUCH
    ml = np.array([one.dose.volume for one in inside])
    true = np.allclose(parts / parts.sum(), ml / ml.sum(), atol=1e-4) if parts.sum() > 0 else False
    if not true or np.abs(touches - np.round(touches)).max() > 0.01 or touches.min() < 0.99:
        return None
    told = reduce_parts(np.round(touches) * TOUCH)
    return told if told.sum() <= MOST_PARTS else None


def _as_then_words(counted: bool, parts: Array, shares: Array, exact: Array, paints: Paints) -> str:
    if counted or np.allclose(parts / parts.sum(), shares, atol=1e-3):
        return "Exactly what went in."
    part = parts / parts.sum()
    off = apart(as_lab(layer_lab(part @ paints.K, part @ paints.S, paints.surface)), as_lab(exact))
    told = f", {off:.1f} off what it was" if off > _TOLD else ""
    return f"What went in, in parts that a knife can measure{told}."


def _changed(inside: Sequence[_Inside], was: Array, now: Array) -> str:
    """Which amounts are others, most first."""
    said = []
    for one, before, after in zip(inside, was.tolist(), now.tolist(), strict=True):
        if abs(after - before) > 0.05 * max(before, 0.02):
            much = abs(math.log(max(after, 1e-6) / before))
            said.append((much, f"{'less' if after < before else 'more'} {one.dose.name}"))
    return " and ".join(words for _, words in sorted(said, reverse=True)[:2]) or "a little of each is changed"


def _makings(doses: Sequence[Dose], tubes: Mapping[str, TubeThen]) -> list[str]:
    """How the tints are mixed that it takes."""
    names = {t.tube: t.name or t.tube for t in tubes.values()}
    out = []
    for d in doses:
        if d.source.startswith(TINT) and len(d.shares) == 2:
            (white, much), (paint, little) = sorted(d.shares, key=lambda x: -x[1])
            out.append(f"{d.name[:1].upper()}{d.name[1:]}: {much / little:.0f} {names[white]} to 1 {names[paint]}.")
    return out
