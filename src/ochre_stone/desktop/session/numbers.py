"""How values are written in the window: in the painter's own school, everywhere alike."""

from ochre_stone.core.colour.schools import SCHOOLS, School

_current = SCHOOLS[0]


def use_school(school: School) -> None:
    """Write values in this school from now on."""
    global _current
    _current = school


def school() -> School:
    """The school in use."""
    return _current


def value(munsell: float) -> str:
    """A Munsell value as the painter counts it."""
    return _current.number(munsell)


def ticks() -> list[tuple[float, str]]:
    """Munsell value and number of each mark of an axis in the school."""
    if _current.steps == 0:
        return [(float(v), str(v)) for v in range(11)]
    return [(_current.munsell(k), str(k)) for k in range(1, _current.steps + 1)]


def short(munsell: float) -> str:
    """A value of the plan: without a needless decimal."""
    return f"{round(munsell, 1):g}" if _current.steps == 0 else value(munsell)
