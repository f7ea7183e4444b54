"""What is looked at when key colours are looked for: the picture at working size, its detail melted; its things."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ochre_stone.core.keys.naming import name_things
from ochre_stone.core.keys.things import Things, things_of, weigh
from ochre_stone.core.picture.balance import Balance
from ochre_stone.core.picture.frame import Framed
from ochre_stone.core.picture.picture import Floats, linear_to_lab
from ochre_stone.core.picture.sampling import Sample, sample
from ochre_stone.core.picture.simplify import smooth_lab

WORKING_PIXELS = 250_000


@dataclass(frozen=True)
class KeyColour:
    """A suggested note: where (pixels of the full picture), how wide, what it saw, and what it most likely is."""

    x: float
    y: float
    aperture: int
    seen: Sample
    share: float
    subject: str
    role: str
    sure: float
    """0..1 of the subject; below a half the subject is 'other'."""
    thing: int
    """Number of the thing that it lies on."""


@dataclass(frozen=True)
class Known:
    """What the painter has said a spot (pixels of the full picture) is."""

    x: float
    y: float
    subject: str


@dataclass(frozen=True)
class Melt:
    """What the frame shows at working size, as it is and with its detail melted."""

    seen: Framed
    balance: Balance
    linear: Floats
    lab: Floats
    melted: Floats

    @property
    def scale(self) -> float:
        """Pixels of the frame for one of these."""
        return float(self.seen.width / self.lab.shape[1])

    def at(self, x: float, y: float) -> tuple[int, int] | None:
        """Row and column of a spot of the full picture; None outside the frame."""
        a, b = self.seen.from_original(x, y)
        row, column = int(b / self.scale), int(a / self.scale)
        h, w = self.lab.shape[:2]
        return (row, column) if 0 <= row < h and 0 <= column < w else None

    def spot(self, row: int, column: int, free: float) -> tuple[float, float, int, Sample]:
        """Place and aperture in the full picture of a clean spot, and what is seen there."""
        picture, scale = self.seen.picture, self.scale
        x, y = self.seen.to_original((column + 0.5) * scale, (row + 0.5) * scale)
        x, y = min(max(x, 0.0), picture.width - 0.5), min(max(y, 0.0), picture.height - 0.5)
        aperture = int(np.clip(1.2 * free * scale * self.seen.scale_at(x, y), 3, 41)) | 1
        return x, y, aperture, sample(picture, x, y, aperture, self.balance)


def melt(seen: Framed, balance: Balance | None = None) -> Melt:
    """What the frame shows, at about a quarter of a megapixel; the last one is kept."""
    balance = balance or Balance()

    def make() -> Melt:
        linear = balance.apply(seen.reduced(WORKING_PIXELS))
        lab = linear_to_lab(linear)
        return Melt(seen, balance, linear, lab, smooth_lab(lab))

    return seen.picture.remembered.recent("melts", (seen.frame, balance), make, 1)


def things_in(melted: Melt, known: Sequence[Known] = (), focus: Floats | None = None) -> Things:
    """The things of what is looked at, weighed and named; what the painter has said last of a thing stands.

    ``focus`` (h, w) 0..1 at working size: where the painter looks.
    """
    seen = melted.seen
    found = seen.picture.remembered.recent(
        "things", (seen.frame, melted.balance), lambda: things_of(melted.linear, melted.lab, melted.melted), 1
    )
    out = replace(found, all=tuple(replace(t) for t in found.all))
    weigh(out, focus)
    said = {}
    for k in known:
        at = melted.at(k.x, k.y)
        if at is not None:
            said[int(out.number[at])] = k.subject
    name_things(out, said)
    return out
