"""What is expected on the palette, and what was found there."""

from dataclasses import dataclass

from ochre_stone.core.colour.spaces import Lab

SURE = 0.90
"""A name that is less sure than this is asked for."""
BURNT_SHARE = 0.5
"""A pile of which more than this is burnt out cannot be read."""


@dataclass(frozen=True)
class Expected:
    """A pile that is planned, or a tube's dab; centimetres from the palette's left and upper edge."""

    id: str
    lab: Lab
    x: float
    y: float
    radius: float
    is_tube: bool = False


@dataclass(frozen=True)
class Layout:
    """A palette of ``width`` x ``height`` cm and all that is expected on it."""

    width: float
    height: float
    expected: tuple[Expected, ...]


@dataclass(frozen=True)
class SeenRegion:
    """A pile in the photo; centimetres from the palette's left and upper edge."""

    number: int
    """Its label in the picture of regions."""
    x: float
    y: float
    radius: float
    lab: Lab
    noise: float
    """Standard deviation of its colour in each direction of CIEDE2000."""
    burnt: float
    """Share of its core that is burnt out, 0..1."""
    spread: float
    """How the colour varies inside, CIELAB."""
    roundness: float = 1.0
    """Its deepest place over the radius of its area: 1 for a disc, .71 for two that touch."""
    id: str = ""
    """What it is taken for, "" for none of what is expected."""
    is_tube: bool = False
    sure: float = 0.0
    """How sure that is, 0..1."""
    other: str = ""
    """The next best name."""

    @property
    def unreadable(self) -> bool:
        """Burnt out: what is left of it says how light it is at least, and no more."""
        return self.burnt > BURNT_SHARE

    @property
    def asks(self) -> bool:
        """Whether the painter has to say what it is."""
        return not self.is_tube and not self.unreadable and bool(self.id) and self.sure < SURE
