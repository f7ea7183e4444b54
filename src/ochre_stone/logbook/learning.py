"""What the log teaches of the tubes: strength and hue, sitting by sitting and altogether, with how sure."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime

import numpy as np

from ochre_stone.core.errors import OchreError
from ochre_stone.core.mixing.correcting.belief import Belief, believe
from ochre_stone.core.mixing.correcting.departing import FIGURES, prior_sd
from ochre_stone.core.mixing.correcting.reading import PileSeen
from ochre_stone.core.paint.calibration import TubeCorrection
from ochre_stone.core.paint.optics import USUAL, Surface
from ochre_stone.core.paint.tubes import Tube, figures_of
from ochre_stone.core.paint.usual import EDITION
from ochre_stone.logbook.again import Find
from ochre_stone.logbook.entry import Entry, TubeThen

MOST_LEARNT_FROM = 110
"""Readings that are learnt from together: the newest; what is older hardly changes what is known by then."""
_FEWEST = 3
_SURE = 0.8
"""A figure counts as learnt where it is surer than before by this factor."""


@dataclass(frozen=True)
class StrengthPoint:
    """A tube's strength as one sitting shows it."""

    day: date
    strength: float
    """Over its data: 1.2 is a fifth stronger."""
    low: float
    high: float
    """One standard deviation to either side."""


@dataclass(frozen=True)
class Learnt:
    """What is known of one state of a tube."""

    key: str
    tube: str
    name: str
    strength: float
    low: float
    high: float
    shift: float
    """nm that its absorption lies off its data."""
    shift_sd: float
    piles: int
    """Piles that it was read in."""
    points: tuple[StrengthPoint, ...]
    figures: tuple[float, ...]
    sd: tuple[float, ...]
    edition: int = EDITION
    """Which figures of the pigments they are departures from."""

    @property
    def clear(self) -> bool:
        """Whether it differs from its data by more than it is unsure."""
        return self.low > 1.03 or self.high < 0.97 or abs(self.shift) > 1.5 * self.shift_sd

    def words(self) -> str:
        """What is known, in one line."""
        much = self.strength - 1
        give = (self.high - self.low) / 2
        if abs(much) < 0.03:
            first = "as strong as its data"
        else:
            first = f"{'stronger' if much > 0 else 'weaker'} than its data by {abs(much):.0%}"
        lean = ""
        if abs(self.shift) > 1.5 * self.shift_sd and abs(self.shift) >= 1:
            lean = f", its hue {abs(self.shift):.0f} nm toward {'red' if self.shift > 0 else 'blue'}"
        return f"{self.name}: {first}, give or take {give:.0%}{lean}; from {self.piles} pile{'s' * (self.piles != 1)}"

    def correction(self, day: str) -> TubeCorrection:
        """It as a calibration, to be offered; nothing takes it by itself."""
        f, sd = self.figures, self.sd
        return TubeCorrection(
            made=day,
            edition=self.edition,
            words=f"{self.piles} piles of the log",
            strength=round(f[0], 4),
            scatter=round(f[1], 4),
            shift=round(float(np.clip(f[2], -60, 60)), 3),
            strength_sd=min(sd[0], 4),
            scatter_sd=min(sd[1], 4),
            hue_sd=min(sd[2], 60),
        )


def entry_readings(entries: Sequence[Entry]) -> list[PileSeen]:
    """The readings of entries, by figures, as the belief takes them; tubes by their keys."""
    out = []
    for e in entries:
        for s in e.seen:
            if s.how == "words":
                continue
            doses = []
            for n, p in enumerate(e.puts[: s.place]):
                keep = float(np.prod([c.keep for c in e.cuts if n < c.place < s.place]))
                doses.append(replace(p.dose, volume=max(p.parts * keep, 1e-6)))
            if doses and sum(d.volume for d in doses) > 0:
                out.append(PileSeen(tuple(doses), s.lab, s.noise, e.uid, replace(USUAL, g=s.gloss)))
    return out


def _tube(then: TubeThen, find: Find) -> Tube | None:
    """A state of a tube, with the labels and the tolerance that it has now."""
    try:
        now = find(then.tube)
    except OchreError:
        return None
    K, S = then.spectra()
    return replace(now, id=then.key, K=K, S=S, name=then.name or now.name)


def _edition_then(then: Tube) -> int:
    """By which figures of the pigments a tube was told then: those that come nearest to its absorption."""
    parts = then.parts or ((then.id.partition("@")[0], 1.0),)

    def off(edition: int) -> float:
        K = np.sum([figures_of(i, edition)[0] * share for i, share in parts], axis=0)
        return float(np.abs(np.log(then.K / K)).sum())

    return min(range(EDITION, 0, -1), key=off)


def learn(
    entries: Sequence[Entry], tubes: dict[str, TubeThen], find: Find, surface: Surface
) -> tuple[list[Learnt], Belief | None]:
    """What the newest readings of ``entries`` teach of each state of a tube that they hold, clearest first, and the
    belief behind it; nothing where too few were read.

    ``find``: a present tube by its id, raising OchreError for an unknown one, whose piles are left out.
    """
    made: dict[str, Tube] = {}
    for key, then in tubes.items():
        t = _tube(then, find)
        if t is not None:
            made[key] = t
    usable = [e for e in entries if all(k in made for p in e.puts for k, _ in p.dose.shares)]
    readings = entry_readings(sorted(usable, key=lambda e: e.begun))[-MOST_LEARNT_FROM:]
    if len(readings) < _FEWEST:
        return [], None
    used = sorted({k for r in readings for d in r.doses for k, _ in d.shares})
    known = [made[k] for k in used]
    belief = believe(known, readings, surface)
    sd = np.sqrt(np.diag(belief.cov)).reshape(-1, FIGURES)
    before = prior_sd(known)
    points = _points(usable, readings, made, surface)
    out = []
    for i, key in enumerate(used):
        f = belief.figures[i]
        piles = len({r.pile for r in readings if any(k == key for d in r.doses for k, _ in d.shares)})
        if sd[i, 0] > _SURE * before[i, 0] and sd[i, 2] > _SURE * before[i, 2] and len(points.get(key, ())) == 0:
            continue
        s, w = float(f[0]), float(sd[i, 0])
        out.append(
            Learnt(
                key,
                key.partition("@")[0],
                known[i].short if not tubes[key].name else tubes[key].name,
                float(np.exp(s)),
                float(np.exp(s - w)),
                float(np.exp(s + w)),
                float(f[2]),
                float(sd[i, 2]),
                piles,
                tuple(points.get(key, ())),
                tuple(f.tolist()),
                tuple(sd[i].tolist()),
                _edition_then(known[i]),
            )
        )
    out.sort(key=lambda x: -abs(np.log(x.strength)) / max(np.log(x.high / x.low), 1e-6))
    return out, belief


def _points(
    entries: Sequence[Entry], readings: Sequence[PileSeen], made: dict[str, Tube], surface: Surface
) -> dict[str, list[StrengthPoint]]:
    """Each sitting by itself, as it shows the tubes that it says something of."""
    day_of = {e.uid: datetime.fromtimestamp(e.begun).date() for e in entries}
    days: dict[date, list[PileSeen]] = {}
    for r in readings:
        days.setdefault(day_of[r.pile], []).append(r)
    out: dict[str, list[StrengthPoint]] = {}
    for day, of in sorted(days.items()):
        if len(of) < _FEWEST:
            continue
        used = sorted({k for r in of for d in r.doses for k, _ in d.shares})
        known = [made[k] for k in used]
        belief = believe(known, of, surface)
        sd = np.sqrt(np.diag(belief.cov)).reshape(-1, FIGURES)
        for i, key in enumerate(used):
            if sd[i, 0] <= 0.92 * prior_sd(known)[i, 0]:
                s, w = float(belief.figures[i, 0]), float(sd[i, 0])
                out.setdefault(key, []).append(
                    StrengthPoint(day, float(np.exp(s)), float(np.exp(s - w)), float(np.exp(s + w)))
                )
    return out
