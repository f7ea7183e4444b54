"""All drills, in the order in which they build on each other."""

from ochre_stone.core.practice.drill import Drill
from ochre_stone.core.practice.drills import hues, paint, pictures, values

_ALL = {d.id: d for of in (values, hues, paint, pictures) for d in of.DRILLS}
_ORDER = (
    "value-scale", "value", "lighter", "darker-spot", "value-hue", "grey-scale", "equal-value", "cuts", "contrast",
    "hue", "warmer", "chroma", "which-way", "chart-row", "tube-does", "parents", "match",
)  # fmt: skip
DRILLS: dict[str, Drill] = {i: _ALL[i] for i in _ORDER}
