"""All drills, in the order in which they build on each other."""

from ochre_stone.core.practice.drill import Drill
from ochre_stone.core.practice.drills.hues import HUE_DRILLS
from ochre_stone.core.practice.drills.paint import PAINT_DRILLS
from ochre_stone.core.practice.drills.pictures import PICTURE_DRILLS
from ochre_stone.core.practice.drills.values import VALUE_DRILLS

_ALL = {d.id: d for d in (*VALUE_DRILLS, *HUE_DRILLS, *PAINT_DRILLS, *PICTURE_DRILLS)}
_ORDER = (
    "value-scale", "value", "lighter", "darker-spot", "value-hue", "grey-scale", "equal-value", "cuts", "contrast",
    "hue", "warmer", "chroma", "which-way", "chart-row", "tube-does", "parents", "match",
)  # fmt: skip
DRILLS: dict[str, Drill] = {i: _ALL[i] for i in _ORDER}
