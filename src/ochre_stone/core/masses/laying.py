"""The order of laying in: which masses go on first, by school.

Dark to light sets the shadow family and lets the light sit on it; light to dark keeps the lights clean; middle first
shows the local colours; the largest first covers the canvas (all common practice, no source).
"""

from collections.abc import Sequence

from ochre_stone.core.masses.plan import Mass

LAYINGS: dict[str, tuple[str, str]] = {
    "dark": ("dark to light", "The shadows hold together first; the lights then sit on them."),
    "light": ("light to dark", "The lights stay clean; nothing dark is dragged into them."),
    "middle": ("middle first", "The middle shows the colour of things; darks and lights are judged against it."),
    "large": ("largest first", "The big shapes cover the canvas: it is judged as a whole the soonest."),
}


def order(masses: Sequence[Mass], laying: str) -> list[int]:
    """Indices of the masses in the order of laying in. Raises ValueError for an unknown school."""
    if laying not in LAYINGS:
        raise ValueError(f"'{laying}' is no order of laying in: choose {', '.join(LAYINGS)}")
    if not masses:
        return []
    values = sorted(m.value for m in masses)
    middle = values[(len(values) - 1) // 2]
    keys = {
        "dark": lambda m: (m.value, m.family == "light", m.index),
        "light": lambda m: (-m.value, m.family == "shadow", m.index),
        "middle": lambda m: (abs(m.value - middle), m.value, m.index),
        "large": lambda m: (-m.share, m.index),
    }
    return [m.index for m in sorted(masses, key=keys[laying])]
