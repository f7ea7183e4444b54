"""Paint in a pile: what was put in at once, on the bench, from the plan, or in the past."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

MOST_VOLUME, MOST_ERROR, MOST_TUBES, MOST_NAME = 1e6, 10.0, 48, 200
_SUM = 1e-3


@dataclass(frozen=True)
class Dose:
    """What was put into a pile at once: as much as was meant, give or take.

    Raises ValueError for figures that no dose can have.
    """

    shares: tuple[tuple[str, float], ...]
    """Tube id and share of volume; sums to 1."""
    volume: float
    """As meant, in the unit of the pile: parts of the recipe by which it was begun, or millilitres."""
    error: float = 0.0
    """Standard deviation of its logarithm; 0 for a dose that is weighed."""
    source: str = ""
    """Id of the tube or pile that it was taken from: what is off in a base pile is off wherever it goes."""
    within: float = 0.0
    """Error of a base pile's own doses, as ``error``; 0 for tubes, and for piles that are looked at."""
    name: str = ""
    """What it is called, where that was kept."""

    def __post_init__(self) -> None:
        if not (math.isfinite(self.volume) and 0 <= self.volume <= MOST_VOLUME):
            raise ValueError(f"a dose has a volume of 0 to {MOST_VOLUME:.0f} ml or parts")
        if not 1 <= len(self.shares) <= MOST_TUBES or any(not 0 <= c <= 1 + _SUM for _, c in self.shares):
            raise ValueError(f"a dose holds 1 to {MOST_TUBES} tubes, each with a share of 0 to 1")
        if abs(math.fsum(c for _, c in self.shares) - 1) > _SUM:
            raise ValueError("the shares of a dose sum to 1")
        if not (0 <= self.error <= MOST_ERROR and 0 <= self.within <= MOST_ERROR):
            raise ValueError(f"the errors of a dose are 0 to {MOST_ERROR:g}")
        if len(self.source) > MOST_NAME or len(self.name) > MOST_NAME:
            raise ValueError(f"a dose has names of at most {MOST_NAME} characters")

    @classmethod
    def of_tube(cls, tube_id: str, volume: float, error: float = 0.0, name: str = "") -> "Dose":
        """So much of a tube."""
        return cls(((tube_id, 1.0),), float(volume), error, tube_id, 0.0, name)

    @property
    def sole(self) -> str:
        """Id of the tube that it is of, "" where it is of several."""
        return self.shares[0][0] if len(self.shares) == 1 else ""


def weighed(amounts: Iterable[tuple[str, float]], error: float = 0.0) -> tuple[Dose, ...]:
    """Tubes and their volumes as doses that are off by ``error``."""
    return tuple(Dose.of_tube(i, v, error) for i, v in amounts if v != 0)


def contents(doses: Iterable[Dose]) -> dict[str, float]:
    """Tube id to volume, as meant."""
    out: dict[str, float] = {}
    for d in doses:
        for tube_id, share in d.shares:
            out[tube_id] = out.get(tube_id, 0.0) + share * d.volume
    return out


def shrunk(doses: Iterable[Dose], keep: float) -> tuple[Dose, ...]:
    """The doses of a pile of which ``keep`` is left."""
    return tuple(replace(d, volume=d.volume * keep) for d in doses)


def whole_of(doses: Sequence[Dose]) -> float:
    """Volume of all doses together."""
    return sum(d.volume for d in doses)
