"""Mix: a palette, strings of piles, and the recipe of the pile in hand."""

from typing import Any

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QGridLayout,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QProgressBar,
    QSpinBox,
    QWidget,
)

from ochre_stone.core.mixing.ranking import KINDS
from ochre_stone.core.mixing.recipe import Recipe, ingredient_words, parts_words, recipes
from ochre_stone.core.mixing.strings import MixString, Pile, choose_alternative
from ochre_stone.core.paint.cautions import instead, tube_cautions
from ochre_stone.core.paint.palettes import PALETTES
from ochre_stone.core.paint.predict import Prediction
from ochre_stone.core.project.document import MixChoice
from ochre_stone.core.project.planning import groups, means_of, string_title
from ochre_stone.desktop import numbers
from ochre_stone.desktop.stations.base import Station, button, clear, narrow, quietly
from ochre_stone.desktop.widgets.swatch import PileSwatch, RibbonSwatch

ORDER_WORDS = {
    "value": "value first, then hue, then chroma",
    "hue": "hue first, then value, then chroma",
    "even": "value, hue and chroma alike",
}


class Mix(Station):
    title = "Mix"
    side = "score"
    needs_strings = True
    shows_marks = False

    def build(self) -> None:
        self.label("Mix", "title")
        self.palette_box = narrow(QComboBox())
        self.palette_box.setAccessibleName("Palette")
        self.palette_box.activated.connect(lambda _: self._choose_palette(self.palette_box.currentData()))
        self.rows.addWidget(self.palette_box)
        self.renew = button("Take my tubes as they are now", "They have changed in the box since", "main")
        self.renew.clicked.connect(lambda: self.window_.paint_box.use_palette(self.document.mix.palette))
        self.rows.addWidget(self.renew)
        self.reach = button("", "What this palette reaches, in the Paint box", "small")
        self.reach.clicked.connect(self.show_reach)
        self.row(self.reach, None)
        self.progress = QProgressBar()
        self.progress.setRange(0, 1000)
        self.progress.setFormat("mixing %p %")
        self.cancel = button("Stop", "Stop working out the strings")
        self.cancel.clicked.connect(self.studio.cancel_mixing)
        line = self.row(self.progress, self.cancel)
        line.setStretch(0, 1)
        self.again = button("Work out the strings", "", "main")
        self.again.clicked.connect(self.studio.refresh_strings)
        self.rows.addWidget(self.again)
        self.head = self.label("", "head")
        self.swatch = PileSwatch()
        self.rows.addWidget(self.swatch)
        self.recipe_box = QWidget()
        self.recipe = QGridLayout(self.recipe_box)
        self.recipe.setContentsMargins(0, 0, 0, 0)
        self.recipe.setColumnStretch(2, 1)
        self.recipe.setVerticalSpacing(3)
        self.rows.addWidget(self.recipe_box)
        self.result = self.label("")
        self.why = self.label("")
        self.trust = self.label("", "quiet")
        self.others_head = self.label("Other ways", "head")
        self.others = QListWidget()
        self.others.setAccessibleName("Other recipes for this pile")
        self.others.setWordWrap(True)
        self.others.setMinimumHeight(120)
        self.others.itemActivated.connect(lambda item: self._take(item.data(Qt.ItemDataRole.UserRole)))
        self.ways: dict[object, list[Recipe]] = {}
        self.rows.addWidget(self.others)
        self.take = button("Take this one", "Use the other way that is marked")
        self.take.clicked.connect(self._take_marked)
        self.rows.addWidget(self.take)
        self.caution = self.label("", "warning")
        self.label("Strings", "head")
        self.tubes = self.label("", "quiet")
        self.steps, self.most = QSpinBox(), QSpinBox()
        self.steps.setRange(3, 9)
        self.steps.setSuffix(" piles")
        self.steps.setToolTip("Piles in each string")
        self.steps.setAccessibleName("Piles per string")
        self.steps.valueChanged.connect(lambda v: self._set("Piles per string", "steps", steps=v))
        self.most.setRange(2, 5)
        self.most.setSuffix(" tubes")
        self.most.setToolTip("At most so many tubes in a pile")
        self.most.setAccessibleName("Tubes per pile at most")
        self.most.valueChanged.connect(lambda v: self._set("Tubes per pile", "most", most_tubes=v))
        self.row(self.steps, self.most)
        self.order = narrow(QComboBox())
        self.order.setAccessibleName("What an error of a mixture weighs")
        for key, words in ORDER_WORDS.items():
            self.order.addItem(words, key)
        self.order.activated.connect(lambda _: self._set("What an error weighs", order=self.order.currentData()))
        self.rows.addWidget(self.order)
        self.wanted = QGridLayout()
        self.rows.addLayout(self.wanted)
        self.boxes: dict[str, QCheckBox] = {}
        self.pile_id: str | None = None
        self.studio.mixing_progress.connect(self._progress)
        self.studio.mixed_changed.connect(self._busy)  # what is in the strings comes with the document
        self.studio.jobs.busy_changed.connect(self._busy)

    def _set(self, text: str, kind: str = "", **fields: object) -> None:
        choice = MixChoice.model_validate(self.document.mix.model_dump() | fields)
        self.studio.change(text, self.document.model_copy(update={"mix": choice}), kind)

    def _choose_palette(self, palette_id: str) -> None:
        self.window_.paint_box.use_palette(palette_id)
        self.refresh()

    def show_reach(self) -> None:
        """To the Paint box: what this palette reaches."""
        self.window_.paint_box.palette_id = self.document.mix.palette
        self.window_.go_to("Paint box")
        self.window_.paint_box.pages_.show("Reach")

    def _palettes(self) -> None:
        """Own palettes, then those that ship; and what this one does not reach."""
        mix, box = self.document.mix, self.window_.keeper.box
        with quietly(self.palette_box):
            self.palette_box.clear()
            for own in box.palettes:
                self.palette_box.addItem(f"{own.name} (mine)", own.id)
            for p in PALETTES.values():
                self.palette_box.addItem(p.name, p.id)
                self.palette_box.setItemData(self.palette_box.count() - 1, p.about, Qt.ItemDataRole.ToolTipRole)
            if self.palette_box.findData(mix.palette) < 0:
                self.palette_box.addItem(f"{mix.chosen().name} (this picture's)", mix.palette)
            self.palette_box.setCurrentIndex(self.palette_box.findData(mix.palette))
        self.renew.setVisible(self.window_.paint_box.changed_since())
        piles = [p for s in self.document.mixed.strings for p in s.piles]
        out = sum(not p.reachable for p in piles)
        reach = f"{len(piles) - out} of {len(piles)} piles in reach" if piles else "What it reaches"
        self.reach.setText(f"{reach}…")

    def _want(self, string_id: str, on: bool) -> None:
        left_out = tuple(s for s in self.document.mix.left_out if s != string_id) + (() if on else (string_id,))
        self._set(f"{'With' if on else 'Without'} the string {string_title(string_id)}", left_out=left_out)

    def choose(self, pile_id: str) -> None:
        """Take a pile in hand."""
        self.pile_id = pile_id
        self.refresh()

    def _found(self) -> tuple[MixString, Pile] | None:
        strings = self.document.mixed.strings
        for s in strings:
            for p in s.piles:
                if p.id == self.pile_id:
                    return s, p
        return (strings[0], strings[0].piles[len(strings[0].piles) // 2]) if strings else None

    def _take(self, which: int) -> None:
        found = self._found()
        if found is None:
            return
        try:
            new = choose_alternative(found[0], found[1].id, self._other_ways(found[1])[which])
        except ValueError as error:
            self.studio.failed.emit(f"{str(error)[0].upper()}{str(error)[1:]}.")
            return
        strings = tuple(new if s.id == new.id else s for s in self.document.mixed.strings)
        mixed = self.document.mixed.model_copy(update={"strings": strings})
        self.studio.change("Take another recipe", self.document.model_copy(update={"mixed": mixed}))

    def _key(self, p: Pile) -> tuple[object, ...]:
        means = means_of(self.window_.keeper.box)
        owned = tuple(means.stock.items()), tuple(means.price.items())
        return self.document.mixed.fingerprint, p.id, p.recipe.ingredients, owned

    def _other_ways(self, p: Pile) -> list[Recipe]:
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
        mix, means, target = self.document.mix, means_of(self.window_.keeper.box), np.array(p.target.lab)
        chosen = mix.chosen()

        def work(_: Any) -> list[Recipe]:
            found = recipes(target, chosen.tubes, mix.most_tubes, 1, None, None, chosen.name, 40, chosen.surface,
                            mix.order, means)[1]  # fmt: skip
            return [r for r in found if r.kind]

        def arrived(found: list[Recipe]) -> None:
            self.ways[key] = found
            while len(self.ways) > 60:
                self.ways.pop(next(iter(self.ways)))
            now = self._found()
            if self.active and now is not None and self._key(now[1]) == key:
                self._fill_others(now[1])

        self.studio.jobs.start("ways", work, arrived, self.studio.failed.emit)

    def _take_marked(self) -> None:
        marked = self.others.currentItem()
        if marked is not None:
            self._take(marked.data(Qt.ItemDataRole.UserRole))

    def _progress(self, share: float) -> None:
        self.progress.setValue(round(share * 1000))
        self._busy()

    def _busy(self) -> None:
        busy = self.studio.jobs.busy("mix")
        self.progress.setVisible(busy)
        self.cancel.setVisible(busy)
        stale = (
            not self.studio.strings_ready()
            and bool(self.document.notes)
            and not busy
            and not self.studio._later.isActive()
        )
        self.again.setVisible(stale)

    def refresh(self) -> None:
        m = self.document.mix
        self._palettes()
        with quietly(self.order), quietly(self.steps), quietly(self.most):
            self.order.setCurrentIndex(self.order.findData(m.order))
            self.steps.setValue(m.steps)
            self.most.setValue(m.most_tubes)
        self.tubes.setText(", ".join(t.short for t in m.chosen().tubes))
        self._strings_wanted()
        found = self._found()
        if found is not None:
            self.pile_id = found[1].id
        ready = self.studio.strings_ready()
        self.window_.score.hint = (
            "Take notes first: strings are built from them."
            if not self.document.notes
            else "The strings are being worked out."
        )
        self.window_.score.show_strings(self.document.mixed, self.pile_id, not ready)
        self._busy()
        self._pile(found)

    def _strings_wanted(self) -> None:
        there = list(groups(self.document))
        if list(self.boxes) != there:
            for box in self.boxes.values():
                self.wanted.removeWidget(box)
                box.deleteLater()
            self.boxes = {}
            for k, string_id in enumerate(there):
                box = QCheckBox(string_title(string_id))
                box.clicked.connect(lambda on, s=string_id: self._want(s, on))
                self.wanted.addWidget(box, k // 3, k % 3)
                self.boxes[string_id] = box
        for string_id, box in self.boxes.items():
            box.setChecked(string_id not in self.document.mix.left_out)

    def _pile(self, found: tuple[MixString, Pile] | None) -> None:
        shown = found is not None
        for w in (
            self.head,
            self.swatch,
            self.recipe_box,
            self.result,
            self.why,
            self.trust,
            self.others_head,
            self.others,
            self.take,
        ):
            w.setVisible(shown)
        self.caution.hide()
        clear(self.recipe)
        if found is None:
            return
        s, p = found
        r = p.recipe
        self.head.setText(
            f"{s.name}, pile {p.id.rsplit('-', 1)[1]} of {len(s.piles)}, value {numbers.short(p.target.value)}"
        )
        self.swatch.show_pile(p.id, p.target.lab, r.lab)
        names = {q.id: q.recipe.lab for q in s.piles}
        for row, item in enumerate(r.ingredients):
            parts = QLabel(parts_words(item.parts))
            parts.setProperty("kind", "head")
            self.recipe.addWidget(parts, row, 0, Qt.AlignmentFlag.AlignRight)
            lab = names.get(item.id) or self.document.mixed.tube(item.id.removeprefix("tint-")).lab
            self.recipe.addWidget(RibbonSwatch(lab), row, 1)
            self.recipe.addWidget(
                QLabel(f"{item.name}{', first made 1:10 with white' if item.id.startswith('tint-') else ''}"),
                row,
                2,
            )
        self.result.setText(self._result_words(p))
        self.why.setText(r.why)
        origin = {
            "note": "Measured in the picture.",
            "between": "Between two notes.",
            "rule": "Beyond the notes: by rule.",
        }[p.target.origin]
        tubes = [self.document.mixed.tube(i) for i, _ in r.shares]
        mine = all(t.confidence == "own" for t in tubes if not t.is_white)
        figures = "your own calibrated tubes" if mine else "generic figures from memory, not measured"
        self.trust.setText(f"{origin} {Prediction(r.lab, r.uncertainty).trust.capitalize()}: {figures}.")
        self._fill_others(p)
        self._ask_ways(p)
        warn = [f"{t.name}: {text}" for t in tubes for text in tube_cautions(t)]
        other = instead(tubes)
        self.caution.setText("\n".join([*warn, *([other] if other else [])]))
        self.caution.setVisible(bool(warn))

    def _fill_others(self, p: Pile) -> None:
        others = self._other_ways(p)
        self.others.clear()
        for k, a in enumerate(others):
            row_item = QListWidgetItem(self._alternative_words(a))
            row_item.setData(Qt.ItemDataRole.UserRole, k)
            self.others.addItem(row_item)
        for w in (self.others_head, self.others, self.take):
            w.setVisible(bool(others))

    @staticmethod
    def _result_words(p: Pile) -> str:
        v = p.recipe.value_error
        words = "Value right" if abs(v) < 0.05 else f"Value {abs(v):.1f} too {'light' if v > 0 else 'dark'}"
        turn, chroma = p.recipe.hue_error, p.recipe.chroma_error
        hue = "hue right" if abs(turn) < 4 else f"hue off by {abs(turn):.0f}°"
        strength = "chroma right" if abs(chroma) < 1.5 else "a little too bright" if chroma > 0 else "a little too dull"
        if abs(chroma) > 5:
            strength = strength.replace("a little too", "too")
        return f"<b>{words}</b>, {hue}, {strength}; {'in reach' if p.reachable else 'out of reach'}."

    @staticmethod
    def _alternative_words(a: Recipe) -> str:
        chroma = "chroma kept" if abs(a.chroma_error) < 1.5 else "brighter" if a.chroma_error > 0 else "duller"
        recipe = ", ".join(ingredient_words(i) for i in a.ingredients)
        kind = f"{KINDS[a.kind].capitalize()}: " if a.kind else ""
        return f"{kind}{recipe}\nvalue {a.value_error:+.1f}, {chroma}, difference {a.de00:.1f}"

    def done_words(self) -> str:
        strings = self.document.mixed.strings
        piles = sum(len(s.piles) for s in strings)
        if not strings:
            return "no strings yet"
        return f"{len(strings)} strings, {piles} piles" if self.studio.strings_ready() else "strings out of date"
