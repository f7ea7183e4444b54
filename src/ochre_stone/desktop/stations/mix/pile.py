"""The Pile page of Mix: the pile in hand, its recipe, the order of adding, and other ways."""

from typing import Any

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QListWidgetItem

from ochre_stone.core.mixing.recipe.finding import Wishes, recipes
from ochre_stone.core.mixing.recipe.ranking import KINDS
from ochre_stone.core.mixing.recipe.recipe import Recipe, ingredient_words
from ochre_stone.core.mixing.strings.subjects import BY_ID
from ochre_stone.core.mixing.strings.targets import Pile
from ochre_stone.core.paint.cautions import instead, tube_cautions
from ochre_stone.core.paint.predict import Prediction
from ochre_stone.core.project.drying import drying
from ochre_stone.core.project.mending import last_reading
from ochre_stone.core.project.pinning import choose_recipe, let_go
from ochre_stone.core.project.planning import means_of, session_terms
from ochre_stone.core.project.steps import steps_of
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.session.box import BoxKeeper
from ochre_stone.desktop.session.piles import Piles
from ochre_stone.desktop.widgets.addingview import AddingView
from ochre_stone.desktop.widgets.parts import Aside, ListBox, Words, button
from ochre_stone.desktop.widgets.swatch import PileSwatch
from ochre_stone.desktop.widgets.tray import Tray

ORIGINS = {"note": "Measured in the picture", "between": "Between two notes", "rule": "Beyond the notes, by rule"}


class PilePage:
    """The recipe of the pile in hand."""

    def __init__(self, tray: Tray, piles: Piles, keeper: BoxKeeper) -> None:
        self.piles, self.studio, self.keeper = piles, piles.studio, keeper
        self.trust = Aside("How far the figures can be trusted")
        self.head = tray.head("", self.trust)
        self.swatch = PileSwatch()
        tray.rows.addWidget(self.swatch)
        self.result = tray.label("")
        self.adding = AddingView()
        tray.rows.addWidget(self.adding)
        self.why = tray.label("")
        self.wet = tray.label("", "quiet")
        self.take = button("Take this one", "Use the other way that is marked", "small")
        self.take.clicked.connect(self._take_marked)
        self.loose = button("Let the plan choose", "Give up the recipe that you chose for this pile", "small")
        self.loose.clicked.connect(self._let_go)
        self.others_head = tray.head("Other ways", self.loose, self.take)
        self.others = ListBox("Other recipes for this pile", 34)
        self.others.itemActivated.connect(lambda item: self._take(item.data(Qt.ItemDataRole.UserRole)))
        tray.list(self.others)
        self.care = Aside("Cautions for the paints of this pile, in full")
        self.caution = Words("")
        self.caution.setProperty("kind", "warning")
        self.caution.setWordWrap(True)
        tray.row(self.caution, self.care).setStretch(0, 1)
        self.ways: dict[object, list[Recipe]] = {}

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
        """The best of each kind, as far as they are worked out, then what else comes near; each mixture once."""
        out: list[Recipe] = []
        for r in (*self.ways.get(self._key(p), ()), *p.alternatives):
            if all(r.ingredients != o.ingredients for o in (p.recipe, *out)):
                out.append(r)
        return out

    def _ask_ways(self, p: Pile) -> None:
        """Work out the best of each kind for the pile in hand."""
        key = self._key(p)
        if key in self.ways or not self.studio.strings_ready():
            return
        document = self.studio.document
        means, target = means_of(self.keeper.box), np.array(p.target.lab)

        def work(_: Any) -> list[Recipe]:
            found = recipes(target, session_terms(document), Wishes(count=1, effort=40, means=means))[1]
            return [r for r in found if r.kind]

        def arrived(found: list[Recipe]) -> None:
            self.ways[key] = found
            while len(self.ways) > 60:
                self.ways.pop(next(iter(self.ways)))
            now = self.piles.found()
            if now is not None and self._key(now[1]) == key:
                self._fill_others(now[1])

        self.studio.jobs.start("ways", work, arrived, self.studio.failed.emit)

    def refresh(self) -> None:
        """Show the pile in hand."""
        found = self.piles.found()
        shown = found is not None
        for w in (self.head, self.swatch, self.result, self.adding, self.why, self.wet, self.trust, self.others_head,
                  self.others, self.take, self.loose):  # fmt: skip
            w.setVisible(shown)
        self.caution.hide()
        self.care.setText("")
        if found is None:
            return
        s, p = found
        r, document = p.recipe, self.studio.document
        on = any(i.id in self.piles.names() for i in r.ingredients)
        chosen = "as you mixed it" if last_reading(document, p.id) is not None else "your choice"
        kind = chosen if p.pinned else "a tweak of a pile" if on else "from tubes"
        number = p.id.rsplit("-", 1)[1]
        self.head.setText(f"{s.name} {number} of {len(s.piles)}, value {numbers.short(p.target.value)}: {kind}")
        self.result.mark_up(result_words(p))
        self.adding.show_steps(steps_of(self.studio.document, p), p.target.lab)
        self.why.setText(r.why)
        tubes = [document.mixed.tube(i) for i, _ in r.shares]
        dried = drying(document, r)
        self.swatch.show_pile(p.id, p.target.lab, r.lab, dried.wet if dried.differs else None)
        self.wet.setText(dried.words)
        self.wet.setVisible(bool(self.wet.text()))
        mine = all(t.confidence == "own" for t in tubes if not t.is_white)
        figures = "your own calibrated tubes" if mine else "generic figures from memory, not measured"
        if document.readings and document.mix.learn:
            figures = f"{figures}, corrected by {len(document.readings)} reading{'s' * (len(document.readings) > 1)}"
        rules = "; ".join(BY_ID[i].title.lower() for i in p.target.rules if i in BY_ID)
        origin = f"{ORIGINS[p.target.origin]}{f' ({rules})' if rules else ''}."
        self.trust.setText(f"{origin} {Prediction(r.lab, r.uncertainty).trust.capitalize()}: {figures}.")
        self.loose.setVisible(p.pinned and last_reading(document, p.id) is None)
        self._fill_others(p)
        self._ask_ways(p)
        warn = [f"{t.name}: {text}" for t in tubes for text in tube_cautions(t)]
        other = instead(tubes)
        risky = ", ".join(t.short for t in tubes if tube_cautions(t))
        self.caution.setText(f"Can hurt: {risky}")
        self.caution.setVisible(bool(warn))
        self.care.setText("\n".join([*warn, *([other] if other else [])]) if warn else "")

    def _fill_others(self, p: Pile) -> None:
        others = self.other_ways(p)
        self.others.clear()
        for k, a in enumerate(others):
            row_item = QListWidgetItem(alternative_words(a))
            row_item.setData(Qt.ItemDataRole.UserRole, k)
            self.others.addItem(row_item)
        for w in (self.others_head, self.others, self.take):
            w.setVisible(bool(others))


def result_words(p: Pile) -> str:
    """How near a pile comes, value first."""
    v = p.recipe.value_error
    words = "Value right" if abs(v) < 0.05 else f"Value {abs(v):.1f} too {'light' if v > 0 else 'dark'}"
    turn, chroma = p.recipe.hue_error, p.recipe.chroma_error
    hue = "hue right" if abs(turn) < 4 else f"hue off by {abs(turn):.0f}°"
    strength = "chroma right" if abs(chroma) < 1.5 else "a little too strong" if chroma > 0 else "a little too grey"
    if abs(chroma) > 5:
        strength = strength.replace("a little too", "too")
    return f"<b>{words}</b>, {hue}, {strength}; {'in reach' if p.reachable else 'out of reach'}."


def alternative_words(a: Recipe) -> str:
    """Another recipe in two lines."""
    chroma = "chroma kept" if abs(a.chroma_error) < 1.5 else "stronger" if a.chroma_error > 0 else "greyer"
    recipe = ", ".join(ingredient_words(i) for i in a.ingredients)
    kind = f"{KINDS[a.kind].capitalize()}: " if a.kind else ""
    return f"{kind}{recipe}\nvalue {a.value_error:+.1f}, {chroma}, difference {a.de00:.1f}"
