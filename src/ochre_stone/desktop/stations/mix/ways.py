"""The Ways page of Mix: other recipes for the pile in hand, and how it would go lighter or darker."""

from collections.abc import Sequence
from typing import Any

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QListWidgetItem

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.relations import shift
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.mixing.recipe.finding import FARTHEST, Wishes, is_a_way, recipes
from ochre_stone.core.mixing.recipe.ranking import WAY_KINDS
from ochre_stone.core.mixing.recipe.recipe import Recipe, Source
from ochre_stone.core.mixing.strings.targets import MixString, Pile
from ochre_stone.core.mixing.technique.lighter import VALUE_STEP, Move, moves
from ochre_stone.core.planning.mending import last_reading
from ochre_stone.core.planning.pinning import choose_recipe, let_go
from ochre_stone.core.planning.planning import means_of, session_terms
from ochre_stone.core.planning.stepping import stepped
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.session.box import BoxKeeper
from ochre_stone.desktop.session.piles import Piles
from ochre_stone.desktop.session.question import Question
from ochre_stone.desktop.widgets.movesview import MovesView
from ochre_stone.desktop.widgets.parts import ListBox, button, narrow, signals_blocked
from ochre_stone.desktop.widgets.tray import Tray

_KEPT = 60


class WaysPage:
    """Other ways with the pile in hand."""

    def __init__(self, tray: Tray, piles: Piles, keeper: BoxKeeper) -> None:
        self.piles, self.studio, self.keeper = piles, piles.studio, keeper
        self.head = tray.label("", "head")
        self.take = button("Take this one", "Use the other way that is marked", "small")
        self.take.clicked.connect(self._take_marked)
        self.loose = button("Let the plan choose", "Give up the recipe that you chose for this pile", "small")
        self.loose.clicked.connect(self._let_go)
        tray.head("Other recipes", self.loose, self.take)
        self.none = tray.label("", "quiet")
        self.others = ListBox("Other recipes for this pile", 90)
        self.others.itemActivated.connect(lambda item: self._take(item.data(Qt.ItemDataRole.UserRole)))
        tray.list(self.others)
        self.where = narrow(QComboBox())
        self.where.setAccessibleName("Lighter or darker, and how far")
        self.where.activated.connect(lambda _: self._show_moves())
        tray.head("Lighter, darker", self.where)
        self.moves = MovesView()
        tray.rows.addWidget(self.moves)
        self.step = tray.label("", "quiet")
        self.ways: dict[object, list[Recipe]] = {}
        self.moved: Question[list[Move]] = Question(
            self.studio.jobs, "moves", self._move_key, self._draw_moves, self.studio.failed.emit
        )

    # Other recipes

    def _take(self, which: int) -> None:
        found = self.piles.found()
        if found is None:
            return
        try:
            new = choose_recipe(self.studio.document, found[1].id, self.other_ways(found[1])[which])
        except ValueError as error:
            self.studio.failed.emit(f"{str(error)[0].upper()}{str(error)[1:]}.")
            return
        self.studio.change("Take another recipe", new)

    def _take_marked(self) -> None:
        marked = self.others.currentItem()
        if marked is not None:
            self._take(marked.data(Qt.ItemDataRole.UserRole))
        else:
            self.studio.told.emit("Mark one of the other ways first.")

    def _let_go(self) -> None:
        found = self.piles.found()
        if found is not None:
            self.studio.change("Let the plan choose", let_go(self.studio.document, found[1].id))

    def _key(self, p: Pile) -> tuple[object, ...]:
        means = means_of(self.keeper.box)
        owned = tuple(means.stock.items()), tuple(means.price.items())
        return self.studio.document.mixed.fingerprint, p.id, p.recipe.ingredients, owned

    def other_ways(self, p: Pile) -> list[Recipe]:
        """The best of each kind, as far as they are worked out, then what else comes near; each mixture once, and
        nothing that is another colour."""
        out: list[Recipe] = []
        for r in (*self.ways.get(self._key(p), ()), *p.alternatives):
            if all(r.ingredients != o.ingredients for o in (p.recipe, *out)) and is_a_way(r, p.recipe):
                out.append(r)
        return out

    def _ask_ways(self, p: Pile) -> None:
        """Work out the best of each kind for the pile in hand."""
        key = self._key(p)
        if key in self.ways or not self.studio.strings.ready():
            return
        document = self.studio.document
        means, target = means_of(self.keeper.box), np.array(p.target.lab)

        def work(_: Any) -> list[Recipe]:
            found = recipes(target, session_terms(document), Wishes(count=1, effort=40, means=means))[1]
            return [r for r in found if r.kind]

        def arrived(found: list[Recipe]) -> None:
            self.ways[key] = found
            while len(self.ways) > _KEPT:
                self.ways.pop(next(iter(self.ways)))
            now = self.piles.found()
            if now is not None and self._key(now[1]) == key:
                self._fill_others(now[1])

        self.studio.jobs.start("ways", work, arrived, self.studio.failed.emit)

    def _fill_others(self, p: Pile) -> None:
        others = self.other_ways(p)
        self.others.clear()
        for k, a in enumerate(others):
            row = QListWidgetItem(alternative_words(a))
            row.setData(Qt.ItemDataRole.UserRole, k)
            self.others.addItem(row)
        busy = self.studio.jobs.busy("ways")
        none = "Other recipes are being worked out." if busy else "Nothing else comes near: this recipe is the way."
        self.none.setText(f"None farther than {FARTHEST:g} beyond the one in use." if others else none)
        for w in (self.others, self.take):
            w.setVisible(bool(others))

    # Lighter, darker

    def _goals(self, s: MixString, p: Pile) -> list[tuple[str, Lab]]:
        """Where the pile may go: a value step either way, and to its neighbours in the string."""
        L, a, b = p.recipe.lab
        out: list[tuple[str, Lab]] = []
        if L + VALUE_STEP < 97:
            out.append(("one value lighter", (L + VALUE_STEP, a, b)))
        if L - VALUE_STEP > 12:
            out.append(("one value darker", (L - VALUE_STEP, a, b)))
        names = self.piles.names()
        for q in s.piles:
            if abs(s.piles.index(q) - s.piles.index(p)) == 1 and abs(q.target.lab[0] - L) > 2:
                out.append((f"to {names[q.id]}, value {numbers.short(q.target.value)}", q.target.lab))
        return out

    def _show_moves(self) -> None:
        """Work the ways out for the pile in hand, off the main thread."""
        found = self.piles.found()
        goal: Lab | None = self.where.currentData()
        if found is None or goal is None:
            self.moves.show_moves((50.0, 0.0, 0.0), [], [])
            return
        s, p = found
        document = self.studio.document

        def work(_: Any) -> list[Move]:
            here = Source(p.id, p.name, p.recipe.shares)
            beside = [Source(q.id, q.name, q.recipe.shares) for q in s.piles]
            return moves(here, goal, session_terms(document), beside)

        if self.moved.ask(work):
            self._draw_moves(self.moved.answer or [])

    def _move_key(self) -> object:
        found = self.piles.found()
        pile = (found[1].id, found[1].recipe.ingredients) if found is not None else None
        return self.studio.document.mixed.fingerprint, pile, self.where.currentData()

    def _draw_moves(self, found: Sequence[Move]) -> None:
        in_hand = self.piles.found()
        assert in_hand is not None
        p = in_hand[1]
        self.moves.show_moves(p.recipe.lab, found, [does_words(m, p.recipe.lab) for m in found])

    def refresh(self) -> None:
        """Show the pile in hand."""
        found = self.piles.found()
        for w in (self.others, self.take, self.loose, self.where, self.moves, self.step, self.none):
            w.setVisible(found is not None)
        if found is None:
            self.head.setText("No pile yet")
            return
        s, p = found
        document = self.studio.document
        self.head.setText(f"{self.piles.names()[p.id]}, value {numbers.short(p.target.value)}")
        self.loose.setVisible(p.pinned and last_reading(document, p.id) is None)
        self._ask_ways(p)
        self._fill_others(p)
        goals = self._goals(s, p)
        held = self.where.currentText()
        with signals_blocked(self.where):
            self.where.clear()
            for words, goal in goals:
                self.where.addItem(words, goal)
            self.where.setCurrentIndex(max(self.where.findText(held), 0))
        self._show_moves()
        down = stepped(document, p.id)
        self.step.setText("" if down is None else f"Step down: {down.words}.")
        self.step.setVisible(down is not None)


def alternative_words(a: Recipe) -> str:
    """Another recipe in two lines."""
    chroma = "chroma kept" if abs(a.chroma_error) < 1.5 else "stronger" if a.chroma_error > 0 else "greyer"
    recipe = ", ".join(i.said for i in a.ingredients)
    kind = f"{WAY_KINDS[a.kind].capitalize()}: " if a.kind else ""
    value = "value right" if abs(a.value_error) < 0.05 else f"value {a.value_error:+.1f}"
    return f"{kind}{recipe}\n{value}, {chroma}, off by {a.de00:.1f}, by eye {a.by_eye:.1f}"


def does_words(m: Move, before: Lab) -> str:
    """What a way does to chroma and warmth; first of all, where what comes of it is another colour."""
    chroma = "chroma kept" if abs(m.chroma) < 1.5 else f"chroma {m.chroma:+.0f}"
    warm = shift(m.lab, before) if abs(m.warmer) >= 0.03 else "as warm"
    short = "" if m.there else f"; only to value {numbers.short(float(value_of_lightness(m.lab[0])))}"
    far = "" if m.is_near else f"goes {m.off:.0f} off, "
    return f"{far}{chroma}, {warm}{short}"
