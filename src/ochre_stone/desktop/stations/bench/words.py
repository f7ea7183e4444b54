"""What is said of piles and rows on the bench; and buttons that offer a list."""

from collections.abc import Callable

from PyQt6.QtWidgets import QMenu, QPushButton

from ochre_stone.core.mixing.bench.bench import BenchPile
from ochre_stone.core.mixing.bench.rows import BenchRow
from ochre_stone.core.mixing.correcting.words import addition_words, volume_words
from ochre_stone.core.mixing.recipe.recipe import parts_words
from ochre_stone.desktop.stations.bench.view import ShownRung
from ochre_stone.desktop.widgets.parts import button

TAKE_ONE = "Take a pile in hand first: click it."


def contents_words(pile: BenchPile, part_ml: float) -> str:
    """What is in a pile, in parts: "2 white, 1 ochre, a touch of red"."""
    once: dict[str, float] = {}
    for d in pile.doses:
        once[d.name] = once.get(d.name, 0.0) + d.volume / part_ml
    return ", ".join(addition_words(v, name) for name, v in once.items() if v >= 0.05) or volume_words(0.1)


def rungs_of(row: BenchRow) -> list[ShownRung]:
    """A row as it is drawn: parts in the order of its sources."""
    out = []
    for r in row.rungs:
        used = [(s.name, p) for s, p in zip(row.sources, r.parts, strict=True) if p > 0]
        alone = "all" if len(row.sources) < 3 else used[0][0][:6]
        short = " : ".join(_short(p) for p in r.parts) if len(used) > 1 else alone
        out.append(ShownRung(r.lab, short, ", ".join(f"{parts_words(p)} {name}" for name, p in used)))
    return out


def _short(parts: float) -> str:
    words = parts_words(parts) if parts else "0"
    return "t" if words == "touch" else words


def with_menu(words: str, tip: str, fill: Callable[[], None]) -> tuple[QPushButton, QMenu]:
    """A button that offers what ``fill`` puts on its list."""
    b = button(words, tip, "small")
    menu = QMenu(b)
    menu.aboutToShow.connect(fill)
    b.setMenu(menu)
    return b, menu
