"""How painters number values: Munsell 0 to 10 as the base, or a scale of 5, 6, 9 or 10 steps, counted either way.

The steps of a scale stand evenly between black and white, like the chips of a painted value card: step k of n at
Munsell value 10 k / (n + 1). Nine steps are thus Munsell's own chips 1 to 9, and black paint and white paint (not
perfect black and white) are the ends of every scale. Common practice, no source; product rules of thumb are checked in
``tests/external``.
"""

from dataclasses import dataclass

STEPS = (5, 6, 9, 10)


@dataclass(frozen=True)
class School:
    """A way to number values; ``steps`` 0 is Munsell's scale itself."""

    steps: int = 0
    white_first: bool = False
    """Step 1 is white and the last step black."""

    def __post_init__(self) -> None:
        if self.steps not in (0, *STEPS):
            raise ValueError(f"steps {self.steps}: choose 0 for Munsell, or one of {STEPS}")

    @property
    def title(self) -> str:
        """Name for a list of choices."""
        if self.steps == 0:
            return "Munsell, 0 black to 10 white"
        first, last = ("white", "black") if self.white_first else ("black", "white")
        return f"{self.steps} steps, 1 {first} to {self.steps} {last}"

    def place(self, value: float) -> float:
        """A Munsell value as a place on this scale, not rounded; may pass the ends by up to one step."""
        if self.steps == 0:
            return value
        place = value * (self.steps + 1) / 10
        return self.steps + 1 - place if self.white_first else place

    def munsell(self, place: float) -> float:
        """The Munsell value of a place on this scale."""
        if self.steps == 0:
            return place
        dark_first = self.steps + 1 - place if self.white_first else place
        return dark_first * 10 / (self.steps + 1)

    def step(self, value: float) -> int:
        """The nearest whole step."""
        place = round(self.place(value))
        return place if self.steps == 0 else min(max(place, 1), self.steps)

    def number(self, value: float) -> str:
        """A value as it is written: one decimal on Munsell's scale, else a step with + (lighter) or - (darker)."""
        if self.steps == 0:
            return f"{value:.1f}"
        step = self.step(value)
        off = (value - self.munsell(step)) * (self.steps + 1) / 10
        return f"{step}{'+' if off > 0.25 else '−' if off < -0.25 else ''}"

    def difference(self, steps: float) -> str:
        """A difference in Munsell value in this school's steps, without sign."""
        size = abs(steps) * ((self.steps + 1) / 10 if self.steps else 1.0)
        return f"{size:.1f}"


SCHOOLS: tuple[School, ...] = (School(), *(School(n, w) for n in STEPS for w in (False, True)))
"""All schools, in the order in which they are offered."""


def school_of(key: str) -> School:
    """The school of a key as :func:`key_of` writes it; Munsell's for any other word."""
    return next((s for s in SCHOOLS if key_of(s) == key), SCHOOLS[0])


def key_of(s: School) -> str:
    """A short word for settings: "munsell", "9-black-first", "9-white-first"."""
    if s.steps == 0:
        return "munsell"
    return f"{s.steps}-{'white' if s.white_first else 'black'}-first"
