"""The All page of Mix: which strings are wanted, and what holds for each of them."""

from contextlib import ExitStack

from PyQt6.QtWidgets import QCheckBox, QComboBox, QDoubleSpinBox, QGridLayout, QSpinBox

from ochre_stone.core.paint.media import MEDIA
from ochre_stone.core.paint.usual import FINISH_WORDS
from ochre_stone.core.planning.drying import with_paint
from ochre_stone.core.planning.rows import groups, string_title
from ochre_stone.desktop.session.piles import Piles
from ochre_stone.desktop.stations.mix.hand import HandDialog
from ochre_stone.desktop.widgets.parts import Aside, button, counts, enable, narrow, set_tip, signals_blocked
from ochre_stone.desktop.widgets.tray import Tray

ORDER_WORDS = {"value": "value before hue", "hue": "hue before value", "even": "all alike"}
ON_WORDS = {
    "family": "piles go on in a family", "across": "piles go on across families", "tubes": "each pile from tubes",
}  # fmt: skip
STAND_WORDS = {"notes": "a pile on each note", "even": "even steps of value"}


class AllPage:
    """What is wanted of all strings."""

    def __init__(self, tray: Tray, piles: Piles) -> None:
        self.piles, self.studio = piles, piles.studio
        tray.label("The picture's paint", "head")
        self.medium, self.finish = narrow(QComboBox()), narrow(QComboBox())
        for box in (self.medium, self.finish):
            box.setMinimumContentsLength(6)
        self.medium.setAccessibleName("Medium of the picture")
        set_tip(self.medium, "What the picture is painted in: how every pile looks wet and dry follows it")
        for m in MEDIA.values():
            self.medium.addItem(m.name, m.id)
        self.medium.activated.connect(lambda _: self._paint("Medium", medium=self.medium.currentData()))
        self.finish.setAccessibleName("Finish of the dry picture")
        set_tip(
            self.finish,
            "How the dry surface shines: darks are deepest wet or varnished, and lighter where they sink in",
        )
        for key, words in ({"": "usual finish"} | FINISH_WORDS).items():
            self.finish.addItem(words, key)
        self.finish.activated.connect(lambda _: self._paint("Finish", finish=self.finish.currentData()))
        tray.row(self.medium, self.finish)
        self.strangers = tray.label("")
        self.tubes = Aside("The tubes of this palette")
        tray.head("In every string", self.tubes)
        self.stand = narrow(QComboBox())
        self.stand.setMinimumContentsLength(6)
        self.stand.setAccessibleName("Where piles stand")
        for key, words in STAND_WORDS.items():
            self.stand.addItem(words, key)
        self.stand.activated.connect(lambda _: self._set("Where piles stand", stand=self.stand.currentData()))
        self.step = QDoubleSpinBox()
        self.step.setRange(0.5, 5)
        self.step.setSingleStep(0.5)
        self.step.setDecimals(1)
        self.step.setSuffix(" apart")
        set_tip(self.step, "Where two notes of a string are farther apart in value, piles are set between them")
        self.step.setAccessibleName("Widest value step between piles")
        self.step.valueChanged.connect(lambda v: self._set("Step between piles", "step", step=v))
        self.count = QSpinBox()
        self.count.setRange(0, 60)
        self.count.setSpecialValueText("every note")
        self.count.setSuffix(" in all")
        set_tip(self.count, "How many piles you want to mix: what matters least is dropped first, and told")
        self.count.setAccessibleName("Piles in all")
        self.count.valueChanged.connect(lambda v: self._set("Piles in all", "piles", piles=v))
        self.touch = QDoubleSpinBox()
        self.touch.setRange(0.5, 8)
        self.touch.setSingleStep(0.5)
        self.touch.setDecimals(1)
        self.touch.setPrefix("touch ")
        set_tip(self.touch, "Notes of a string nearer to each other than this (CIEDE2000) share a pile")
        self.touch.setAccessibleName("A touch: how near notes share a pile")
        self.touch.valueChanged.connect(lambda v: self._set("Touch", "touch", touch=v))
        self.steps, self.most = QSpinBox(), QSpinBox()
        self.steps.setRange(3, 9)
        counts(self.steps, "pile")
        set_tip(self.steps, "Piles in each string")
        self.steps.setAccessibleName("Piles per string")
        self.steps.valueChanged.connect(lambda v: self._set("Piles per string", "steps", steps=v))
        self.most.setRange(2, 5)
        counts(self.most, "tube")
        set_tip(self.most, "At most so many tubes in a pile")
        self.most.setAccessibleName("Tubes per pile at most")
        self.most.valueChanged.connect(lambda v: self._set("Tubes per pile", "most", most_tubes=v))
        self.tints = QSpinBox()
        self.tints.setRange(-1, 24)
        self.tints.setSpecialValueText("few tints")
        self.tints.setPrefix("at most ")
        counts(self.tints, "tint")
        set_tip(self.tints, "Tints that are made for all strings together: by itself three for up to twenty piles")
        self.tints.setAccessibleName("Tints at most")
        self.tints.valueChanged.connect(lambda v: self._set("Tints", "tints", tints=None if v < 0 else v))
        tray.row(self.stand, self.step, self.steps).setStretch(0, 1)
        tray.row(self.count, self.touch)
        tray.row(self.tints, None)
        self.order = narrow(QComboBox())
        self.order.setAccessibleName("What an error of a mixture weighs")
        set_tip(self.order, "What a mixture must meet first: value, hue, chroma; hue, value, chroma; or all alike")
        for key, words in ORDER_WORDS.items():
            self.order.addItem(words, key)
        self.order.activated.connect(lambda _: self._set("What an error weighs", order=self.order.currentData()))
        self.order.setMinimumContentsLength(6)
        tray.row(self.order, self.most).setStretch(0, 1)
        self.on = narrow(QComboBox())
        self.on.setAccessibleName("What piles go on from")
        set_tip(self.on, "A pile may start from another one: less paint, fewer doses, colours that belong together")
        for key, words in ON_WORDS.items():
            self.on.addItem(words, key)
        self.on.activated.connect(lambda _: self._go_on(self.on.currentData()))
        self.hand = button("Your hand…", "The smallest dose, how far a dose is off: what recipes are chosen by")
        self.hand.clicked.connect(self.ask_hand)
        self.learn = QCheckBox("Learn the tubes from readings")
        set_tip(self.learn, "What readings of piles tell of your tubes goes into all later piles")
        self.learn.clicked.connect(lambda v: self._set("Learn from readings", learn=v))
        tray.row(self.on, self.hand).setStretch(0, 1)
        tray.rows.addWidget(self.learn)
        tray.label("Strings wanted", "head")
        self.wanted = QGridLayout()
        tray.rows.addLayout(self.wanted)
        self.boxes: dict[str, QCheckBox] = {}

    def _set(self, text: str, kind: str = "", **fields: object) -> None:
        self.studio.adjust("mix", text, kind, **fields)

    def _paint(self, text: str, **fields: str) -> None:
        self.studio.change(text, with_paint(self.studio.document, **fields))

    def _go_on(self, how: str) -> None:
        self._set("What piles go on from", mix_on=how != "tubes", across=how == "across")

    def ask_hand(self) -> None:
        """What the painter can dose."""
        HandDialog(self.hand, self.studio).open()

    def _want(self, string_id: str, on: bool) -> None:
        old = self.studio.document.mix.left_out
        left_out = tuple(s for s in old if s not in (string_id, string_id.partition("-")[0])) + (
            () if on else (string_id,)
        )
        words = f"{'With' if on else 'Without'} the string {string_title(string_id)}"
        self._set(words, left_out=left_out)

    def refresh(self) -> None:
        """Show what is chosen."""
        m = self.studio.document.mix
        boxes = (
            self.order, self.steps, self.most, self.on, self.learn, self.stand, self.step, self.count, self.touch,
            self.tints,
        )  # fmt: skip
        with ExitStack() as quiet:
            for box in boxes:
                quiet.enter_context(signals_blocked(box))
            self.stand.setCurrentIndex(self.stand.findData(m.stand))
            self.step.setValue(m.step)
            self.count.setValue(m.piles)
            self.touch.setValue(m.touch)
            self.medium.setCurrentIndex(self.medium.findData(m.chosen().medium))
            self.finish.setCurrentIndex(self.finish.findData(m.finish))
            self.order.setCurrentIndex(self.order.findData(m.order))
            self.steps.setValue(m.steps)
            self.most.setValue(m.most_tubes)
            self.tints.setValue(-1 if m.tints is None else m.tints)
            how = "tubes" if not m.mix_on else "across" if m.across else "family"
            self.on.setCurrentIndex(self.on.findData(how))
            self.learn.setChecked(m.learn)
        self.tubes.setText("From " + ", ".join(t.short for t in m.chosen().tubes) + ".")
        self.step.setVisible(m.stand == "notes")
        self.steps.setVisible(m.stand == "even")
        enable(self.count, "" if m.stand == "notes" else "At even steps each string has its own number of piles.")
        self.strangers.setText(m.strangers)
        self.strangers.setVisible(bool(m.strangers))
        self._strings_wanted()

    def _strings_wanted(self) -> None:
        there = list(groups(self.studio.document))
        if list(self.boxes) != there:
            for box in self.boxes.values():
                self.wanted.removeWidget(box)
                box.hide()
                box.deleteLater()
            self.boxes = {}
            for k, string_id in enumerate(there):
                box = QCheckBox(string_title(string_id))
                box.clicked.connect(lambda on, s=string_id: self._want(s, on))
                self.wanted.addWidget(box, k // 2, k % 2)
                self.boxes[string_id] = box
        for string_id, box in self.boxes.items():
            box.setChecked(not self.studio.document.mix.leaves_out(string_id))
