"""Say what a mass plan is: its key, its range, how the shares divide, and where the strongest contrast falls.

The words are common practice, no source; the limits between them are judgements.
"""

from dataclasses import dataclass

import numpy as np

from ochre_stone.core.later import later
from ochre_stone.core.masses.plan import MassPlan
from ochre_stone.core.picture.picture import Floats

cv2 = later("cv2")

_HIGH, _LOW = 6.5, 3.8
_FULL, _NARROW = 6.0, 4.0
_COUNTS = 0.01  # masses below this share do not make the range
_ALIKE = 0.05


@dataclass(frozen=True)
class Statement:
    """A mass plan in figures and words; shares are 0..1, values Munsell's."""

    key: str
    range: str
    contrast: float
    """Value steps between the darkest and the lightest mass that counts."""
    shares: tuple[tuple[int, float], ...]
    """Mass and share, largest first."""
    strongest: tuple[float, float] | None
    """Where the strongest contrast falls, as shares of width and height."""
    meets: tuple[int, int] | None
    """The two masses that make it, the darker first."""
    in_focus: bool | None
    """Whether it lies in a focus area; None without any."""

    @property
    def size_words(self) -> str:
        """Large, middle and small: whether one mass leads."""
        first, second = (self.shares[0], self.shares[1]) if len(self.shares) > 1 else (self.shares[0], (0, 0.0))
        words = "large, middle and small"
        if abs(first[1] - second[1]) < _ALIKE:
            return f"Masses {first[0] + 1} and {second[0] + 1} are of one size: let one of them lead."
        if len(self.shares) > 2 and self.shares[2][1] > 0 and abs(second[1] - self.shares[2][1]) < _ALIKE:
            return f"Mass {first[0] + 1} leads with {first[1]:.0%}; the others are much alike in size."
        return f"Mass {first[0] + 1} leads with {first[1]:.0%}; the shares are {words}."

    @property
    def share_words(self) -> str:
        """All shares, largest first."""
        return "Shares: " + ", ".join(f"{index + 1} {share:.0%}" for index, share in self.shares) + "."

    @property
    def place_words(self) -> str:
        """Where the strongest contrast falls."""
        if self.strongest is None or self.meets is None:
            return "No two masses meet: there is no contrast."
        x, y = self.strongest
        across = "left" if x < 0.36 else "right" if x > 0.64 else "middle"
        down = "top" if y < 0.36 else "bottom" if y > 0.64 else "middle"
        where = "in the middle" if across == down == "middle" else f"at the {down if down != 'middle' else across}"
        if across != "middle" and down != "middle":
            where = f"at the {down} {across}"
        words = f"The strongest contrast falls {where}, where {self.meets[0] + 1} meets {self.meets[1] + 1}"
        if self.in_focus is None:
            return words + "."
        return f"{words}: {'inside' if self.in_focus else 'outside'} the focus."


def state(plan: MassPlan, focus: Floats | None = None) -> Statement:
    """What the plan is. ``focus`` (h, w) 0..1, at the size of the plan's labels."""
    masses = plan.masses
    mean = sum(m.value * m.share for m in masses)
    key = "high key" if mean > _HIGH else "low key" if mean < _LOW else "middle key"
    counted = [m.value for m in masses if m.share > _COUNTS] or [m.value for m in masses]
    span = max(counted) - min(counted)
    words = "full range" if span >= _FULL else "narrow range" if span < _NARROW else "middle range"
    shares = tuple(sorted(((m.index, m.share) for m in masses), key=lambda s: -s[1]))
    place = strongest_contrast(plan)
    meets = _meets(plan, place) if place is not None else None
    inside = None
    if focus is not None and place is not None:
        h, w = focus.shape
        inside = bool(focus[min(int(place[1] * h), h - 1), min(int(place[0] * w), w - 1)] > 0.5)
    return Statement(key, words, span, shares, place, meets, inside)


def strongest_contrast(plan: MassPlan) -> tuple[float, float] | None:
    """Where most of the value contrast between masses lies, as shares of width and height; None for one mass.

    The step of planned value along every border, gathered over about a twelfth of the picture as the eye takes it in.
    """
    value = np.array([m.value for m in plan.masses], dtype=np.float32)[plan.labels]
    step = np.zeros_like(value)
    step[:, :-1] += np.abs(np.diff(value, axis=1))
    step[:-1] += np.abs(np.diff(value, axis=0))
    if not step.any():
        return None
    side = float(np.sqrt(value.size))
    # Long borders of a small step should not outweigh a strong one: the step counts by its square.
    gathered = cv2.GaussianBlur(step * step, (0, 0), 0.04 * side, borderType=cv2.BORDER_CONSTANT)
    row, column = np.unravel_index(int(gathered.argmax()), gathered.shape)
    return (float(column) + 0.5) / value.shape[1], (float(row) + 0.5) / value.shape[0]


def _meets(plan: MassPlan, place: tuple[float, float]) -> tuple[int, int]:
    """The darkest and the lightest mass that meet near a place."""
    h, w = plan.labels.shape
    reach = max(2, round(0.05 * float(np.sqrt(plan.labels.size))))
    row, column = int(place[1] * h), int(place[0] * w)
    near = plan.labels[max(row - reach, 0) : row + reach, max(column - reach, 0) : column + reach]
    best, out = -1.0, (0, 0)
    for a, b in ((near[:, :-1], near[:, 1:]), (near[:-1], near[1:])):
        pairs, counts = np.unique(np.stack([a[a != b], b[a != b]]), axis=1, return_counts=True)
        for (i, j), n in zip(pairs.T.tolist(), counts.tolist(), strict=True):
            step = abs(plan.masses[i].value - plan.masses[j].value)
            if step * step * n > best:
                first, second = sorted((i, j), key=lambda m: plan.masses[m].value)
                best, out = step * step * n, (first, second)
    return out
