"""The Correct page of Mix: the pile as it is, in words or read, and the smallest addition that brings it home."""

from collections.abc import Callable

from PyQt6.QtWidgets import QDoubleSpinBox

from ochre_stone.core.picture.picture import Picture
from ochre_stone.core.planning.advising import advice_lines, goal_words, other_words, verdict_words
from ochre_stone.core.planning.mending import Advice, expected_of, goal_of, last_reading, put_since
from ochre_stone.desktop.session.mendwork import MendWork
from ochre_stone.desktop.session.photos import opened
from ochre_stone.desktop.session.settings import Settings
from ochre_stone.desktop.stations.mix.allpiles import AllPilesDialog
from ochre_stone.desktop.stations.mix.photo import PilePhoto
from ochre_stone.desktop.widgets.asking import PHOTOS, ask_open
from ochre_stone.desktop.widgets.parts import Aside, button, look_main, signals_blocked
from ochre_stone.desktop.widgets.sayings import SayingsView
from ochre_stone.desktop.widgets.swatch import HalvesSwatch
from ochre_stone.desktop.widgets.tray import Tray


class CorrectPage:
    """What the pile in hand needs."""

    def __init__(self, tray: Tray, work: MendWork, settings: Settings, to_bench: Callable[[str], None]) -> None:
        self.tray, self.work, self.piles, self.studio, self.settings = tray, work, work.piles, work.studio, settings
        self.learnt = Aside("What was learnt of the tubes")
        self.head = tray.head("", self.learnt)
        self.swatch, self.half = HalvesSwatch(62), HalvesSwatch(62)
        tray.row(self.swatch, self.half).setSpacing(6)
        self.words = SayingsView(self.work.saying)
        tray.rows.addWidget(self.words)
        self.say = button("Say so", "Work out what to add", "main")
        self.say.clicked.connect(self.say_it)
        self.reader = button("Read it", "With the spot reader", "small")
        self.reader.clicked.connect(self.work.read_it)
        self.fits = button("It matches", "Nothing is off: go on to the next pile", "small")
        self.fits.clicked.connect(self.it_matches)
        self.words.add(self.say)
        self.all = button("All from a photo…", "Every pile from one photo of the palette", "small")
        self.all.clicked.connect(self.all_from_photo)
        tray.row(self.reader, self.all, self.fits, None).setSpacing(5)
        self.verdict = tray.label("")
        self.advice = tray.label("")
        self.done = button("I put this in", "The pile now holds it: read it again", "main")
        self.done.clicked.connect(lambda: self.put_in(1.0))
        self.half_done = button("Half of it", "You put in half: look first, then go on")
        self.half_done.clicked.connect(lambda: self.put_in(0.5))
        self.off = button("All off…", "What each pile that was read needs, most important first", "small")
        self.off.clicked.connect(self.all_that_are_off)
        tray.row(self.done, self.half_done, self.off, None)
        self.other = tray.label("", "quiet")
        self.forget = button("Forget", "Its readings: it counts as mixed as planned again", "small")
        self.forget.clicked.connect(self.forget_it)
        self.spot = button("From a photo…", "One pile, in a photo with a grey card in it", "small")
        self.spot.clicked.connect(self.from_photo)
        self.figures = button("Figures…", "Type what an instrument of your own reads", "small", checkable=True)
        self.figures.toggled.connect(self._show_figures)
        self.bench = button("Bench", "Try it on the bench first: the pile as it is by now", "small")
        self.bench.clicked.connect(lambda: self._to_bench(to_bench))
        tray.row(self.spot, self.figures, self.forget, self.bench, None).setSpacing(5)
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
        self.work.seen.connect(self.refresh)
        self.work.advised.connect(self._advised)
        self.dialog: PilePhoto | None = None
        self.photo_of_all: AllPilesDialog | None = None

    def _to_bench(self, to_bench: Callable[[str], None]) -> None:
        found = self.piles.found()
        if found is not None:
            to_bench(found[1].id)

    def _show_figures(self, on: bool) -> None:
        for w in (*self.typed, self.type):
            w.setVisible(on)

    def say_it(self) -> None:
        """The pile in words."""
        if self.work.pile() is not None and not self.work.say():
            self.studio.told.emit("Press one or more of the words first: again for more of it.")

    def it_matches(self) -> None:
        """It is what it should be, as the painter sees it: on to the next pile in the order of mixing."""
        if self.work.pile() is not None and not self.work.finish():
            self.studio.told.emit("That was the last pile.")
        self.words.refresh()

    def _typed(self) -> None:
        L, a, b = (box.value() for box in self.typed)
        self.work.take_reading((L, a, b), "typed")

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
        read = self.dialog.found if self.dialog is not None else None
        if read is not None and found is not None and found[1].id == pile_id:
            self.work.take_reading(read.lab, "photo", read.noise)

    def all_from_photo(self) -> None:
        """All piles at once."""
        self._all().stack.setCurrentWidget(self._all().how)
        self._all().open()

    def all_that_are_off(self) -> None:
        """What all piles that were read need."""
        self._all().show_what_is_off()
        self._all().open()

    def _all(self) -> AllPilesDialog:
        if self.photo_of_all is None:
            self.photo_of_all = AllPilesDialog(self.tray.widget, self.piles, self.settings)
            self.photo_of_all.finished.connect(lambda _: self.refresh())
        return self.photo_of_all

    def put_in(self, share: float) -> None:
        """The addition went in, all of it or half: it counts from here on."""
        now = self.work.answer
        if not isinstance(now, Advice):
            return
        what = "Begun anew" if now.correction.verdict == "again" else "Noted what is in the pile now"
        self.studio.told.emit(f"{what}: read it, or say how it is off.")
        self.work.put_in(now, share)
        self.refresh()

    def forget_it(self) -> None:
        """Take the readings of this pile back."""
        self.work.forget()
        self.refresh()

    def refresh(self) -> None:
        """Show the pile in hand as it was seen, and what to do."""
        found = self.piles.found()
        self.words.refresh()
        buttons = (self.say, self.reader, self.fits, self.all, self.spot, self.figures)
        for w in (self.head, self.swatch, self.words, *buttons):
            w.setVisible(found is not None)
        for hidden in (
            self.verdict,
            self.advice,
            self.half,
            self.done,
            self.half_done,
            self.other,
            self.learnt,
            self.forget,
            self.off,
        ):
            hidden.hide()
        if found is None:
            return
        _, p = found
        document = self.studio.document
        last = last_reading(document, p.id)
        self.head.setText(f"{p.name[:1].upper()}{p.name[1:]}, on the palette, is too …")
        seen = last.lab if last is not None else p.recipe.lab
        name = {"words": "as you said", "photo": "in the photo"}.get(last.how, "as read") if last else "as planned"
        self.swatch.show_pair(goal_of(document, p), seen, goal_words(p), name)
        for box, v in zip(self.typed, seen, strict=True):
            with signals_blocked(box):
                box.setValue(v)
        self.forget.setVisible(last is not None)
        self.off.setVisible(bool(document.readings))
        if put_since(document, p.id) is not None:
            self.verdict.mark_up("<b>Mixed in: now look.</b> Read it or say how it is off; if it matches, go on.")
            self.verdict.show()
        elif last is not None and self.work.ask():
            self._advised()

    def _advised(self) -> None:
        answer = self.work.answer
        if isinstance(answer, str):
            self.verdict.setText(answer)
            self.verdict.show()
        elif answer is not None:
            self._show(answer)

    def _show(self, now: Advice) -> None:
        c = now.correction
        found = self.piles.found()
        assert found is not None
        document, pile = self.studio.document, found[1]
        adds = c.verdict in ("add", "cut")
        self.verdict.mark_up(f"<b>{verdict_words(now)}</b>")
        self.advice.setText(" ".join(advice_lines(document, pile, now)))
        self.verdict.show()
        self.advice.show()
        if adds or now.again is not None:
            after = c.halfway if c.half_first else expected_of(now)
            name = "after half" if c.half_first else "then"
            self.half.show_pair(goal_of(document, pile), after, goal_words(pile), name)
        self.half.setVisible(adds or now.again is not None)
        self.done.setVisible(adds or now.again is not None)
        self.done.setText("I began anew" if now.again is not None else "I put this in")
        self.half_done.setVisible(adds)
        for b, kind in ((self.done, not c.half_first), (self.half_done, c.half_first)):
            look_main(b, kind)
        other = other_words(now) if adds else ""
        self.other.setText(other)
        self.other.setVisible(bool(other))
        self.learnt.setText(f"Learnt: {'; '.join(now.learnt)}." if now.learnt else "")
