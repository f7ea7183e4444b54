"""The painter's habits, in numbers: how first mixes miss, how doses run, what a pile takes in time and paint."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime

import numpy as np

from ochre_stone.core.colour.difference import apart
from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.relations import warmth
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.mixing.correcting.belief import Belief, batch_of
from ochre_stone.logbook.entry import Entry

VALUE_BANDS = (("darks", 0.0, 3.5), ("middles", 3.5, 6.5), ("lights", 6.5, 10.1))
"""Of Munsell value."""
_FEWEST, _SURE = 4, 2.0
"""Piles from which a habit is told, and standard errors by which it must differ from none."""
_LEAST_VALUE, _LEAST_WARM, _LEAST_DOSE = 0.15, 0.05, 0.12


@dataclass(frozen=True)
class First:
    """How a first mix came out."""

    at: float
    off: float
    """CIEDE2000 from its target."""
    value: float
    """Munsell value too light (above 0)."""
    warm: float
    """Warmth too warm (above 0), as relations.warmth."""
    target: float
    """Munsell value of the target."""


@dataclass(frozen=True)
class DosingHabit:
    """Something that comes again."""

    words: str
    size: float
    error: float
    """Standard error of ``size``."""
    piles: int
    tube: str = ""
    """Of a habit of dosing: id of the tube."""
    factor: float = 1.0
    """What is taken over what is meant."""


@dataclass(frozen=True)
class Course:
    """A pile's errors, look by look."""

    name: str
    at: float
    off: tuple[float, ...]
    """CIEDE2000 at each reading."""


def firsts(entries: Sequence[Entry]) -> list[First]:
    """First readings of piles that had a target, in the order of time."""
    out = []
    for e in sorted(entries, key=lambda e: e.begun):
        read = [s for s in e.seen if s.how != "words"]
        if e.target is None or not read or any(not p.first for p in e.puts[: read[0].place]):
            continue
        lab = read[0].lab
        out.append(
            First(
                read[0].at,
                apart(lab, e.target),
                _value(lab) - _value(e.target),
                warmth(lab) - warmth(e.target),
                _value(e.target),
            )
        )
    return out


def _value(lab: Lab) -> float:
    return float(value_of_lightness(min(max(lab[0], 0.0), 100.0)))


def courses(entries: Sequence[Entry]) -> list[Course]:
    """Error over corrections of each pile that was read against a target, in the order of time."""
    out = []
    for e in sorted(entries, key=lambda e: e.begun):
        read = [s for s in e.seen if s.how != "words"]
        if e.target is not None and read:
            out.append(Course(e.name, e.begun, tuple(apart(s.lab, e.target) for s in read)))
    return out


def by_week(found: Sequence[First]) -> list[tuple[date, float, int]]:
    """Monday of a week, the median error of its first mixes, and how many there were."""
    weeks: dict[date, list[float]] = {}
    for f in found:
        day = datetime.fromtimestamp(f.at).date()
        weeks.setdefault(date.fromordinal(day.toordinal() - day.weekday()), []).append(f.off)
    return [(week, float(np.median(offs)), len(offs)) for week, offs in sorted(weeks.items())]


def habits(entries: Sequence[Entry], belief: Belief | None, names: dict[str, str]) -> list[DosingHabit]:
    """What comes again, surest first. ``belief``: of the readings of these entries, for the doses; ``names``: of the
    tubes by their keys."""
    out = [*_value_habits(firsts(entries)), *_dose_habits(entries, belief, names), *_time_habits(entries)]
    return sorted(out, key=lambda h: -abs(h.size) / max(h.error, 1e-9))


def _value_habits(found: Sequence[First]) -> list[DosingHabit]:
    out = []
    for band, low, high in VALUE_BANDS:
        of = [f for f in found if low <= f.target < high]
        told = _told(np.array([f.value for f in of]), _LEAST_VALUE)
        if told is not None:
            mean, error = told
            words = f"First mixes are {abs(mean):.1f} of a step too {'light' if mean > 0 else 'dark'} in the {band}"
            out.append(DosingHabit(words, mean, error, len(of)))
    told = _told(np.array([f.warm for f in found]), _LEAST_WARM)
    if told is not None:
        out.append(DosingHabit(f"First mixes are too {'warm' if told[0] > 0 else 'cool'}", *told, len(found)))
    return out


def _told(values: np.ndarray, least: float) -> tuple[float, float] | None:
    """Mean and standard error where it is told."""
    if len(values) < _FEWEST:
        return None
    mean, error = float(values.mean()), float(values.std(ddof=1) / np.sqrt(len(values)))
    return (mean, error) if abs(mean) >= least and abs(mean) >= _SURE * error else None


def _dose_habits(entries: Sequence[Entry], belief: Belief | None, names: dict[str, str]) -> list[DosingHabit]:
    """Tubes of which more or less goes in than is meant.

    A tube that counts for more than its data is stronger, or more of it is taken: readings of colour alone cannot tell
    the two apart, so the factor holds both, and either may be corrected, not both.
    """
    if belief is None or not belief.readings:
        return []
    unknowns = belief.unknowns
    slips: dict[str, dict[str, list[float]]] = {}
    for row, r in enumerate(belief.readings):
        start, count = unknowns.batches[batch_of(row, r)]
        for k, d in enumerate(r.doses[:count]):
            if len(d.shares) == 1:
                slips.setdefault(d.shares[0][0], {}).setdefault(r.pile, []).append(
                    d.error * float(belief.values[start + k])
                )
    sd = np.sqrt(np.diag(belief.cov)).reshape(len(belief.tubes), -1)[:, 0]
    out = []
    for i, t in enumerate(belief.tubes):
        piles = slips.get(t.id, {})
        if len(piles) < _FEWEST:
            continue
        own = np.array([np.mean(v) for v in piles.values()])
        size = float(belief.figures[i, 0] + own.mean())
        error = float(np.hypot(sd[i], own.std(ddof=1) / np.sqrt(len(own))))
        factor = float(np.exp(size))
        if abs(size) >= _LEAST_DOSE and abs(size) >= _SURE * error:
            name = names.get(t.id, t.short)
            if t.is_white:
                words = f"White goes in {abs(factor - 1):.0%} {'too fast' if factor > 1 else 'too slowly'}"
            else:
                words = f"Doses of {name} count for {factor:.2g} of what is meant"
            out.append(DosingHabit(words, size, error, len(piles), t.id.partition("@")[0], factor))
    return out


def pace(entries: Sequence[Entry]) -> float | None:
    """How many times the expected minutes a pile takes, at the median; None before a few were timed."""
    timed = _timed(entries)
    return float(np.median([real / planned for real, planned in timed])) if len(timed) >= _FEWEST else None


def _timed(entries: Sequence[Entry]) -> list[tuple[float, float]]:
    return [(e.minutes, e.planned_minutes) for e in entries if e.minutes and e.planned_minutes > 0]


def _time_habits(entries: Sequence[Entry]) -> list[DosingHabit]:
    out = []
    timed = _timed(entries)
    if len(timed) >= _FEWEST:
        ratio = np.log([real / planned for real, planned in timed])
        told = _told(ratio, 0.15)
        if told is not None:
            words = f"A pile takes you {np.exp(told[0]):.1f} times the minutes that are expected"
            out.append(DosingHabit(words, *told, len(timed)))
    amounts = [(e.used_ml, e.planned_ml) for e in entries if e.planned_ml > 0]
    if len(amounts) >= _FEWEST:
        told = _told(np.log([real / planned for real, planned in amounts]), 0.1)
        if told is not None:
            words = f"{np.exp(told[0]):.1f} times the paint that is planned goes in"
            out.append(DosingHabit(words, *told, len(amounts)))
    return out
