"""Bring the pile in hand home: see it, ask what it needs, put that in. The page Correct and the view at the easel are
two views of this."""

from PyQt6.QtCore import QObject, pyqtSignal

from ochre_stone.core.document.document import Document
from ochre_stone.core.errors import OchreError
from ochre_stone.core.mixing.correcting.words import Saying
from ochre_stone.core.mixing.strings.targets import Pile
from ochre_stone.core.planning.mending import (
    Advice,
    advice_or_why,
    forget,
    held,
    last_reading,
    put_since,
    with_advice,
    with_reading,
    with_words,
)
from ochre_stone.core.planning.planning import batch_key
from ochre_stone.desktop.session.logkeeper import LogKeeper
from ochre_stone.desktop.session.piles import Piles
from ochre_stone.desktop.session.question import Question
from ochre_stone.desktop.session.reader import ReaderLink
from ochre_stone.devices.madeup import painted_patch
from ochre_stone.devices.protocol import Measurement
from ochre_stone.devices.reader import lab_of


class MendWork(QObject):
    """What is said of the pile in hand, and what it needs."""

    seen = pyqtSignal()
    """It was read, or described."""
    advised = pyqtSignal()
    """What it needs is known."""

    def __init__(self, piles: Piles, link: ReaderLink, log: LogKeeper) -> None:
        super().__init__(piles)
        self.piles, self.studio, self.link, self.log = piles, piles.studio, link, log
        self.saying = Saying()
        self._question: Question[Advice | str] = Question(
            self.studio.jobs, "advice", self._about, lambda _: self.advised.emit(), self.studio.failed.emit
        )

    def pile(self) -> Pile | None:
        """The pile in hand."""
        found = self.piles.found()
        return found[1] if found is not None else None

    def _about(self) -> object:
        d, p = self.studio.document, self.pile()
        return d.readings, d.put_in, d.mix, p.id if p is not None else ""

    # Seen

    def say(self) -> bool:
        """What was pressed is how the pile is off. Whether anything was."""
        p, said = self.pile(), self.saying.pairs()
        if p is None or not said:
            return False
        self._was_seen("Say how a pile is off", with_words(self.studio.document, p.id, said))
        return True

    def take_reading(self, lab: tuple[float, float, float], how: str, noise: float | None = None) -> None:
        """The pile as it was read."""
        p = self.pile()
        if p is None:
            return
        try:
            new = with_reading(self.studio.document, p.id, lab, how, noise=noise)
        except ValueError as error:
            self.studio.failed.emit(f"{str(error)[0].upper()}{str(error)[1:]}.")
            return
        self._was_seen("Read a pile", new)

    def read_it(self) -> None:
        """With the spot reader. The simulated one finds a pile of made-up tubes, dosed by a made-up hand, under it."""
        p, document = self.pile(), self.studio.document
        if p is None:
            return
        if not self.link.connected:
            self.studio.told.emit("No reader is connected: connect one at Look, on its Scene page.")
            return
        now = held(document, p)
        try:
            tubes = [document.mixed.tube(i) for i, _ in now.amounts]
        except OchreError:
            self.studio.failed.emit("This pile holds tubes that are not on the palette any more: forget its readings.")
            return
        patch = painted_patch(tubes, now.doses, batch_key(now), document.mix.chosen().surface)

        def arrived(reading: Measurement) -> None:
            here = self.pile()
            if here is not None and here.id == p.id:
                self.take_reading(lab_of(reading), "reader")

        self.link.read_pile(patch.tolist(), arrived)

    def _was_seen(self, text: str, new: Document) -> None:
        self.saying.clear()
        self.studio.change(text, new)
        self.seen.emit()

    # Asked

    @property
    def answer(self) -> Advice | str | None:
        """What the pile in hand needs, or why that cannot be told; None where it was not worked out."""
        return self._question.answer

    def ask(self) -> bool:
        """What the pile needs as it was seen last, off the main thread. Whether that is known already."""
        p, document = self.pile(), self.studio.document
        if p is None or last_reading(document, p.id) is None or put_since(document, p.id) is not None:
            return False
        pile_id = p.id
        return self._question.ask(lambda _: advice_or_why(document, pile_id))

    # Done

    def put_in(self, advice: Advice, share: float | None = None) -> None:
        """What was advised went in, or so much of it; by default half where half goes first."""
        p = self.pile()
        if p is not None:
            much = share if share is not None else 0.5 if advice.correction.half_first else 1.0
            self.studio.change("Put into a pile", with_advice(self.studio.document, p.id, advice, much))

    def go(self, way: int) -> bool:
        """Another pile in the order of mixing. Whether there is one."""
        order, p = [q.id for q in self.piles.order()], self.pile()
        at = order.index(p.id) + way if p is not None else -1
        if not 0 <= at < len(order):
            return False
        self.saying.clear()
        self.piles.choose(order[at])
        return True

    def finish(self) -> bool:
        """It is what it should be, as the painter sees it: on to the next one. Whether there is one."""
        p = self.pile()
        if p is not None:
            self.saying.clear()
            self.log.finish(p.id)
        return self.go(1)

    def forget(self) -> None:
        """Take the readings of this pile back."""
        p = self.pile()
        if p is not None:
            self.studio.change("Forget a pile's readings", forget(self.studio.document, p.id))
