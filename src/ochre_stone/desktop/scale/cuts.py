"""The cuts of the masses and the division of light and shadow, as the scale holds them."""

from ochre_stone.core.masses.plan import MassPlan
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.widgets.items import Item

DIVISION = "division"
_LEAST_GAP = 0.15


class Cuts:
    """Thresholds from dark to light: which is in hand, which are locked, how far each may move."""

    def __init__(self) -> None:
        self.plan: MassPlan | None = None
        self.values: list[float] = []
        self.locked: tuple[float, ...] = ()
        self.chosen = 0
        """The threshold in hand."""
        self.divides = False
        """Whether the division is in hand instead of a threshold."""

    def take_over(self, plan: MassPlan | None, locked: tuple[float, ...], keep: bool) -> None:
        """The plan as it is now, None for none; ``keep`` the places of the thresholds, for one is being dragged."""
        self.plan, self.locked = plan, locked
        if plan is None or not keep:
            self.values = list(plan.thresholds) if plan is not None else []
        self.chosen = min(self.chosen, max(len(self.values) - 1, 0))

    @property
    def division(self) -> float:
        """Value that parts light from shadow."""
        return self.plan.division if self.plan is not None else 5.0

    def is_locked(self, cut: float) -> bool:
        return any(abs(cut - c) < 0.03 for c in self.locked)

    def moved(self, index: int, value: float) -> bool:
        """Move a threshold as far as its neighbours allow; False where it stays."""
        cuts = self.values
        low = cuts[index - 1] + _LEAST_GAP if index else _LEAST_GAP
        high = cuts[index + 1] - _LEAST_GAP if index + 1 < len(cuts) else 10 - _LEAST_GAP
        new = round(min(max(value, low), high), 3)
        if low > high or new == cuts[index]:
            return False
        cuts[index] = new
        return True

    def choose(self, index: int) -> bool:
        """Take a threshold in hand; False where it was so already."""
        index = min(max(index, 0), max(len(self.values) - 1, 0))
        changed, self.chosen = index != self.chosen, index
        return changed

    @staticmethod
    def name(index: int) -> str:
        """Id of a threshold among the things on the scale."""
        return f"cut {index}"

    @staticmethod
    def index(name: str) -> int | None:
        """Which threshold an id means; None for none."""
        return int(name.removeprefix("cut ")) if name.startswith("cut ") else None

    @property
    def in_hand(self) -> str:
        """Id of what is in hand."""
        return DIVISION if self.divides else self.name(self.chosen)

    def items(self) -> list[Item]:
        """What is said of each; nothing before there is a plan."""
        if self.plan is None:
            return []
        said = [
            Item(
                self.name(k),
                f"cut {k + 1} of {len(self.values)}",
                f"at value {numbers.value(c)}{', locked' if self.is_locked(c) else ''}",
            )
            for k, c in enumerate(self.values)
        ]
        return [*said, Item(DIVISION, "division of light and shadow", f"at value {numbers.value(self.division)}")]
