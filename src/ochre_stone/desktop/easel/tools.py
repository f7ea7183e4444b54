"""What one can have in hand at the easel: all tools in one list, and how each is drawn."""

from dataclasses import dataclass, replace
from typing import Literal


@dataclass(frozen=True)
class Tool:
    """What clicks and drags on the picture do."""

    name: str
    draws: Literal["spot", "line", "area", "corners"]
    """One spot by a click; two ends or an outline, by clicks or by dragging; corners, each by a click."""
    aperture: int = 0
    """Diameter of the aperture at the pointer in picture pixels."""

    @property
    def points(self) -> int:
        """How many points make a whole; 0 for an area that is closed by hand."""
        return {"spot": 1, "line": 2, "area": 0, "corners": 4}[self.draws]

    @property
    def by_dragging(self) -> bool:
        """Whether it can be drawn in one go."""
        return self.draws in ("line", "area")


TOOLS = {
    t.name: t
    for t in (
        Tool("spot", "spot"),
        Tool("line", "line"),
        Tool("area", "area"),
        Tool("here", "area"),
        Tool("reader", "spot"),
        Tool("light", "spot"),
        Tool("chart", "corners"),
        Tool("level", "line"),
        Tool("corners", "corners"),
        Tool("pile", "spot"),
        Tool("card", "spot"),
        Tool("white", "spot"),
        Tool("crosses", "corners"),
        Tool("colours", "corners"),
    )
}


def tool_named(name: str, aperture: int = 0) -> Tool:
    """A tool with its aperture; an area has none."""
    found = TOOLS[name]
    return replace(found, aperture=0 if found.draws == "area" else aperture)
