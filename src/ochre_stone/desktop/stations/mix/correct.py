"""The Correct page of Mix: the pile as it is, in words or read, and the smallest addition that brings it home."""

from PyQt6.QtWidgets import QComboBox, QDoubleSpinBox, QGridLayout, QPushButton, QWidget

from ochre_stone.core.colour.reading import read
from ochre_stone.core.errors import OchreError
from ochre_stone.core.mixing.correcting.words import HOW_MUCH, WORDS, addition_words
from ochre_stone.core.picture.picture import Picture
from ochre_stone.core.project.document import Document
from ochre_stone.core.project.mending import (
    Advice,
    advice_or_why,
    contents,
    forget,
    last_reading,
    put_since,
    readings_of,
    with_advice,
    with_reading,
    with_words,
)
from ochre_stone.desktop.session.photos import opened
from ochre_stone.desktop.session.piles import Piles
from ochre_stone.desktop.session.reader import ReaderLink
from ochre_stone.desktop.session.settings import Settings
from ochre_stone.desktop.stations.mix.photo import PilePhoto
from ochre_stone.desktop.widgets.asking import PHOTOS, ask_open
from ochre_stone.desktop.widgets.parts import Aside, button, quietly
from ochre_stone.desktop.widgets.swatch import HalvesSwatch
from ochre_stone.desktop.widgets.tray import Tray
from ochre_stone.devices.madeup import painted
from ochre_stone.devices.protocol import Reading
from ochre_stone.devices.reader import lab_of


class CorrectPage:
    """What the pile in hand needs."""

    def __init__(self, tray: Tray, piles: Piles, reader: ReaderLink, settings: Settings) -> None:
        self.tray, self.piles, self.studio, self.link, self.settings = tray, piles, piles.studio, reader, settings
        self.learnt = Aside("What was learnt of the tubes")
        self.head = tray.head("", self.learnt)
        self.swatch, self.half = HalvesSwatch(62), HalvesSwatch(62)
        tray.row(self.swatch, self.half).setSpacing(6)
        self.box = QWidget()
        grid = QGridLayout(self.box)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(4)
        self.words: dict[str, QPushButton] = {}
        for k, word in enumerate(WORDS):
            b = button(word.removeprefix("too "), word.capitalize(), checkable=True, kind="small")
            b.setAccessibleName(word)
            b.setMinimumWidth(0)
            grid.addWidget(b, k // 4, k % 4)
            b.clicked.connect(lambda _, w=word: self._one_of(w))
            self.words[word] = b
        tray.rows.addWidget(self.box)
        self.much = QComboBox()
        self.much.setAccessibleName("By how much")
        self.much.addItems(list(HOW_MUCH))
        self.say = button("Say so", "Work out what to add", "main")
        self.say.clicked.connect(self.say_it)
        self.reader = button("Read it", "With the spot reader")
        self.reader.clicked.connect(self.read_it)
        tray.row(self.much, self.say, self.reader, None)
        self.verdict = tray.label("")
        self.advice = tray.label("")
        self.done = button("I put this in", "The pile now holds it: read it again", "main")
        self.done.clicked.connect(lambda: self.put_in(1.0))
        self.half_done = button("Half of it", "You put in half: look first, then go on")
        self.half_done.clicked.connect(lambda: self.put_in(0.5))
        tray.row(self.done, self.half_done, None)
        self.other = tray.label("", "quiet")
        self.forget = button("Forget readings", "It counts as mixed as planned again", "small")
        self.forget.clicked.connect(self.forget_it)
        self.spot = button("From a photo…", "A photo of the palette with a grey card in it", "small")
        self.spot.clicked.connect(self.from_photo)
        self.figures = button("Figures…", "Type what an instrument of your own reads", "small", checkable=True)
        self.figures.toggled.connect(self._show_figures)
        tray.row(self.spot, self.figures, self.forget, None)
        self.typed = [QDoubleSpinBox() for _ in range(3)]
        for box, name, low, high in zip(self.typed, ("L*", "a*", "b*"), (0, -128, -128), (100, 127, 127), strict=True):
            box.setRange(low, high)
            box.setDecimals(1)
            box.setPrefix(f"{name} ")
            box.setAccessibleName(f"{name} of the pile")
            box.setButtonSymbols(QDoubleSpinBox.ButtonSymbols.NoButtons)
            box.setMinimumWidth(40)
        self.type = button("Take", "Take figures from an instrument of your own", "small")
        self.type.clicked.connect(self._typed)
        tray.row(*self.typed, self.type).setSpacing(4)
        self._show_figures(False)
        self.now: Advice | None = None
        self._asked: object = None
        self.dialog: PilePhoto | None = None

    def _show_figures(self, on: bool) -> None:
        for w in (*self.typed, self.type):
            w.setVisible(on)

    def _one_of(self, word: str) -> None:
        """Too light and too dark, too strong and too grey exclude each other; of hues one is said."""
        kind = WORDS[word][0]
        for other, b in self.words.items():
            if other != word and WORDS[other][0] == kind:
                b.setChecked(False)

    def _seen(self, text: str, new: Document) -> None:
        for b in self.words.values():
            b.setChecked(False)
        self.studio.change(text, new)
        self.refresh()

    def say_it(self) -> None:
        """The pile in words."""
        found = self.piles.found()
        said = [(w, self.much.currentText()) for w, b in self.words.items() if b.isChecked()]
        if found is None:
            return
        if not said:
            self.studio.told.emit("Press one or more of the words first.")
            return
        new = with_words(self.studio.document, found[1].id, said)
        self._seen("Say how a pile is off", new)

    def take_reading(self, lab: tuple[float, float, float], how: str) -> None:
        """The pile as it was read."""
        found = self.piles.found()
        if found is None:
            return
        try:
            new = with_reading(self.studio.document, found[1].id, lab, how)
        except ValueError as error:
            self.studio.failed.emit(f"{str(error)[0].upper()}{str(error)[1:]}.")
            return
        self._seen("Read a pile", new)

    def _typed(self) -> None:
        L, a, b = (box.value() for box in self.typed)
        self.take_reading((L, a, b), "typed")

    def read_it(self) -> None:
        """With the spot reader; the simulated one finds a pile of made-up tubes under it."""
        found = self.piles.found()
        link = self.link
        if found is None:
            return
        if not link.connected:
            self.studio.told.emit("No reader is connected: connect one at Look, on its Scene page.")
            return
        document, pile = self.studio.document, found[1]
        amounts = contents(document, pile)
        try:
            tubes = [document.mixed.tube(i) for i, v in amounts if v > 0]
        except OchreError:
            self.studio.failed.emit("This pile holds tubes that are not on the palette any more: forget its readings.")
            return
        patch = painted(tubes, [v for _, v in amounts if v > 0], document.mix.chosen().surface)

        def arrived(reading: Reading) -> None:
            now = self.piles.found()
            if now is not None and now[1].id == pile.id:
                self.take_reading(lab_of(reading), "reader")

        link.read_pile(patch.tolist(), arrived)

    def from_photo(self) -> None:
        """From a photo of the palette."""
        kinds = f"Photos ({PHOTOS});;All files (*)"
        path = ask_open(self.tray.widget, "A photo of the palette", self.settings.folder, kinds)
        found = self.piles.found()
        if path is None or found is None:
            return
        pile_id = found[1].id

        def arrived(picture: Picture) -> None:
            self.dialog = PilePhoto(self.tray.widget, picture)
            self.dialog.accepted.connect(lambda: self._of_photo(pile_id))
            self.dialog.open()

        self.studio.jobs.start("pile-photo", lambda _: opened(path), arrived, self.studio.failed.emit)

    def _of_photo(self, pile_id: str) -> None:
        found = self.piles.found()
        if self.dialog is not None and self.dialog.lab is not None and found is not None and found[1].id == pile_id:
            self.take_reading(self.dialog.lab, "photo")

    def put_in(self, share: float) -> None:
        """The addition went in, all of it or half: it counts from here on."""
        found = self.piles.found()
        if found is None or self.now is None:
            return
        again = self.now.correction.verdict == "again"
        what = "Begun anew" if again else "Noted what is in the pile now"
        self.studio.told.emit(f"{what}: read it, or say how it is off.")
        new = with_advice(self.studio.document, found[1].id, self.now, share)
        self.studio.change("Put into a pile", new)
        self.refresh()

    def forget_it(self) -> None:
        """Take the readings of this pile back."""
        found = self.piles.found()
        if found is not None:
            self.studio.change("Forget a pile's readings", forget(self.studio.document, found[1].id))
            self.refresh()

    def refresh(self) -> None:
        """Show the pile in hand as it was seen, and what to do."""
        found = self.piles.found()
        for w in (self.head, self.swatch, self.box, self.much, self.say, self.reader, self.spot, self.figures):
            w.setVisible(found is not None)
        for w in (
            self.verdict,
            self.advice,
            self.half,
            self.done,
            self.half_done,
            self.other,
            self.learnt,
            self.forget,
        ):
            w.hide()
        if found is None:
            return
        s, p = found
        document = self.studio.document
        last = last_reading(document, p.id)
        self.head.setText(f"{s.name} {p.id.rsplit('-', 1)[1]} of {len(s.piles)} on the palette is too …")
        seen = last.lab if last is not None else p.recipe.lab
        name = {"words": "as you said", "photo": "in the photo"}.get(last.how, "as read") if last else "as planned"
        self.swatch.show_pair(p.target.lab, seen, "target", name)
        for box, v in zip(self.typed, seen, strict=True):
            with quietly(box):
                box.setValue(v)
        self.forget.setVisible(last is not None)
        if put_since(document, p.id) is not None:
            self.verdict.mark_up("<b>Mixed in: now look.</b> Read it or say how it is off; if it matches, go on.")
            self.verdict.show()
        elif last is not None:
            self._ask(document, p.id)

    def _ask(self, document: Document, pile_id: str) -> None:
        key = (document.readings, document.mix, pile_id)
        if self._asked == key and self.now is not None:
            self._show(self.now)
            return

        def arrived(answer: Advice | str) -> None:
            found = self.piles.found()
            if found is None or found[1].id != pile_id or self.studio.document.readings != document.readings:
                return
            if isinstance(answer, str):
                self.verdict.setText(answer)
                self.verdict.show()
                return
            self._asked, self.now = key, answer
            if put_since(self.studio.document, pile_id) is None:
                self._show(answer)

        self.now = None
        self.studio.jobs.start("advice", lambda _: advice_or_why(document, pile_id), arrived, self.studio.failed.emit)

    def _show(self, now: Advice) -> None:
        c = now.correction
        found = self.piles.found()
        assert found is not None
        target = found[1].target.lab
        count = len(readings_of(self.studio.document, found[1].id))
        self.verdict.mark_up(f"<b>{verdict_words(now)}</b>")
        self.verdict.show()
        if c.verdict == "home":
            self.advice.setText(f"Seen {count} time{'s' * (count > 1)}. Nothing more to add.")
        elif c.verdict == "again":
            parts = ", ".join(f"{s:.0%} {self.studio.document.mixed.tube(i).short}" for i, s in now.again)
            self.advice.setText(f"Start with {parts}: what was learnt of the tubes is in it.")
        else:
            keep = (
                f"Set aside {1 - c.keep:.0%} of the pile for another, then add to the rest: " if c.keep < 1 else "Add "
            )
            scale = c.keep if c.verdict == "cut" else 1.0
            added = " and ".join(addition_words(v * scale, n) for (_, v), n in zip(c.additions, c.names, strict=True))
            whole = sum(v for _, v in contents(self.studio.document, found[1]))
            said = f"{keep[0].lower()}{keep[1:]}{added}"
            self.advice.setText(
                f"Counting the pile as {whole:.0f} parts: {said}. Half first, and look: it should then touch so. "
                f"The pile grows to {c.growth * scale:.1f} of its size."
            )
            self.half.show_pair(target, c.halfway, "target", "after half")
        self.advice.show()
        self.half.setVisible(c.verdict in ("add", "cut"))
        self.done.setVisible(c.verdict != "home")
        self.done.setText("I began anew" if c.verdict == "again" else "I put this in")
        self.half_done.setVisible(c.verdict in ("add", "cut"))
        if c.others and c.verdict != "home":
            ways = ["; ".join(addition_words(v, n) for (_, v), n in zip(o.additions, o.names, strict=True))
                    for o in c.others[:2] if o.additions]  # fmt: skip
            self.other.setText(f"Or: {' — or '.join(ways)}." if ways else "")
            self.other.setVisible(bool(ways))
        self.learnt.setText(f"Learnt: {'; '.join(now.learnt)}." if now.learnt else "")


def verdict_words(now: Advice) -> str:
    """The verdict in one line."""
    c = now.correction
    if c.verdict == "home":
        return "It matches."
    if c.verdict == "again":
        return "Start this one again: mending it would take more paint than a new pile."
    off = read(c.expected).name
    if c.verdict == "cut":
        return f"Cut the pile first: mended whole it would grow {c.growth:.1f} times (to {off})."
    return "One small addition brings it home." if c.de00 <= 2 else "This brings it nearer; read it again after."
