"""The log in the window: it follows what is mixed, off the main thread and in order, and answers what stations ask."""

import time
from collections.abc import Callable, Sequence
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QUndoCommand, QUndoStack

from ochre_stone.core.colour.difference import apart
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.document.document import Document
from ochre_stone.core.mixing.bench.bench import BenchPile, Supply
from ochre_stone.core.planning.mending import SAME, begun, put
from ochre_stone.core.planning.pinning import pile_of
from ochre_stone.desktop.session.benchkeeping import BenchKeeping
from ochre_stone.desktop.session.logthread import LogAnswer, LogThread
from ochre_stone.desktop.session.piles import Piles
from ochre_stone.desktop.session.settings import Settings, store
from ochre_stone.desktop.session.studio import Studio
from ochre_stone.logbook.again import Leftover, as_supplies, leftovers
from ochre_stone.logbook.book import Book, log_file
from ochre_stone.logbook.demo import DEMO
from ochre_stone.logbook.entry import Answer, Entry
from ochre_stone.logbook.following import bench_entry, numbers_of, planned_entry, tubes_in
from ochre_stone.logbook.waiting import LogDraft

_FRESH_S = 1800.0
"""A pile counts as begun when it was taken in hand, where that is not longer ago than this."""


def _now() -> float:
    """The time; a clock before 1970 is wrong, and what is mixed is written down all the same."""
    return max(time.time(), 0.0)


class _Edit(QUndoCommand):
    """Entries before and after; those that are not there any more are taken out."""

    def __init__(self, keeper: "LogKeeper", text: str, before: Sequence[Entry], after: Sequence[Entry]) -> None:
        super().__init__(text)
        self.keeper, self.before, self.after = keeper, tuple(before), tuple(after)

    def undo(self) -> None:
        self.keeper.exchange(self.after, self.before)

    def redo(self) -> None:
        self.keeper.exchange(self.before, self.after)


class LogKeeper(QObject):
    """Writes down what is really mixed. The demo has a made-up log of its own, which is gone with the window."""

    changed = pyqtSignal()
    """Something was written, or another log is shown."""

    def __init__(self, studio: Studio, piles: Piles, keeping: BenchKeeping, settings: Settings) -> None:
        super().__init__(studio)
        bench, self.keeping = keeping.work, keeping
        self.studio, self.piles, self.bench, self.settings = studio, piles, bench, settings
        self.undo = QUndoStack(self)
        self.left: list[Leftover] = []
        """What is left and not dried out, as far as it is known."""
        self._supplies: list[Supply] = []
        self.file = LogThread(self, lambda: None if self.is_demo else log_file(), lambda: studio.era)
        self.file.failed.connect(studio.failed)
        self.file.told.connect(studio.told)
        self.file.caught_up.connect(self._caught_up)
        self._era = studio.era
        self._taken: dict[str, float] = {}
        self._started: set[tuple[str, int]] = set()
        self._own: dict[tuple[str, int], tuple[str, bool]] = {}
        """Of piles that were worked on while this project is shown: the entry's uid, and whether it was begun since; on
        the log's own thread alone."""
        studio.changed.connect(self._follow)
        studio.replaced.connect(self._replaced)
        piles.chosen.connect(self._was_taken)
        bench.paints.leftovers = lambda: tuple(self._supplies)
        keeping.left_over.connect(self.keep_leftover)
        keeping.really_mixed.connect(lambda pile_id: self.keep_bench(bench.bench.pile(pile_id), None))
        self.read_left()  # a project may be shown already

    # The file

    @property
    def is_demo(self) -> bool:
        """Whether the demo is shown, whose made-up log is looked at and written to."""
        return self.studio.document.uid == DEMO and self.studio.path is None

    @property
    def on(self) -> bool:
        """Whether anything is written down."""
        return self.settings.log

    def switch(self, on: bool) -> None:
        """Write down from now on, or not."""
        self.settings.log = on
        store(self.settings)
        self.changed.emit()

    @property
    def idle(self) -> bool:
        """Whether nothing is being written or asked."""
        return self.file.idle

    def ask(self, work: Callable[[Book], LogAnswer], done: Callable[[LogAnswer], None] = lambda _: None) -> None:
        """Look something up in the log, as :meth:`LogThread.ask`."""
        self.file.ask(work, done)

    def stop(self) -> None:
        """Before the window goes: what is to be written is written before the program ends."""
        self.file.stop()

    def write(self, work: Callable[[LogDraft], Any], done: Callable[[Any], None] = lambda _: None) -> None:
        """The same for work that changes the log; it waits where the log cannot be written now."""
        self.file.change(work, lambda answer: self._was_written(answer, done))

    def write_now(self, work: Callable[[Book], Any], done: Callable[[Any], None] = lambda _: None) -> None:
        """The same for what is done now or not at all."""
        self.file.write_now(work, lambda answer: self._was_written(answer, done))

    def _was_written(self, answer: Any, done: Callable[[Any], None]) -> None:
        self._caught_up()
        done(answer)

    def _caught_up(self) -> None:
        self.read_left()
        self.changed.emit()

    # Following the project

    def _was_taken(self) -> None:
        if self.piles.in_hand is not None:
            self._taken.setdefault(self.piles.in_hand, _now())

    def _replaced(self) -> None:
        self._era = self.studio.era
        self._taken.clear()
        self._started.clear()
        self.undo.clear()
        self.left, self._supplies = [], []
        self.ask(lambda _: self._own.clear())
        self.read_left()
        self.changed.emit()

    def _follow(self, old: Document, new: Document) -> None:
        if not self.on or self.studio.era != self._era or old.uid != new.uid:
            return
        if old.readings is new.readings and old.put_in is new.put_in:
            return
        touched = {x.pile for x in {*old.readings} ^ {*new.readings}} | {x.pile for x in {*old.put_in} ^ {*new.put_in}}
        for pile_id in sorted(touched):
            for number in sorted({*numbers_of(old, pile_id), *numbers_of(new, pile_id)}):
                self._sync(new, pile_id, number)

    def _sync(self, document: Document, pile_id: str, number: int, finish: bool = False) -> None:
        """Bring the entry of a pile to what the document tells of it."""
        try:
            target = pile_of(document, pile_id).target.lab
        except KeyError:
            return
        now, started = _now(), (pile_id, number) in self._started
        since = self._taken.get(pile_id, now)
        begun_at = since if now - since < _FRESH_S else now

        def work(book: LogDraft) -> None:
            key = pile_id, number
            old = self._known(book, document, key, target)
            new = planned_entry(document, pile_id, number, now, old, started)
            if new is None:
                if old is not None and self._own[key][1]:  # undone; what was mixed on another day stays
                    book.remove([old.uid])
                self._own.pop(key, None)
                return
            if old is None:
                new = new.model_copy(update={"begun": begun_at})
                self._own[key] = new.uid, True
            if finish:
                new = new.model_copy(update={"finished": new.ended(now)})
            if new != old:
                book.know(tubes_in(new, document.mixed.tube))
                book.put(new)

        self.write(work)

    def _known(self, book: LogDraft, document: Document, key: tuple[str, int], target: Lab) -> Entry | None:
        """The entry that goes on: of this session, or, of a project that was opened again, the one that begins with the
        same reading."""
        if key in self._own:
            return next(iter(book.entries([self._own[key][0]])), None)
        first = next((r.lab for r in document.readings if (r.pile, r.batch) == key), None)
        for e in book.entries(book.of_pile(document.uid, *key)):
            same_pile = e.target is not None and apart(e.target, target) <= SAME
            if first is not None and same_pile and e.seen and apart(e.seen[0].lab, first) < 1e-3:
                self._own[key] = e.uid, False
                return e
        return None

    # What the painter says

    def begin(self, pile_id: str) -> None:
        """A pile is being mixed now, as planned; one that was read before is begun anew."""
        document = self.studio.document
        told = numbers_of(document, pile_id)
        number = told[-1] + 1 if told else 0
        self._taken[pile_id] = _now()
        self._started.add((pile_id, number))
        if number:
            anew = put(document, pile_id, begun(document, pile_of(document, pile_id)), number)
            self.studio.change("Begin a pile anew", anew)
        elif self.on:
            self._sync(document, pile_id, 0)

    def is_begun(self, pile_id: str) -> bool:
        """Whether the painter has said in this session that a pile is being mixed, and not that it is done."""
        return any(p == pile_id for p, _ in self._started)

    def finish(self, pile_id: str) -> None:
        """A pile is done."""
        document = self.studio.document
        told = numbers_of(document, pile_id)
        begun_now = [n for p, n in self._started if p == pile_id]
        number = max([*told, *begun_now], default=0)
        if not told and not begun_now:
            self._started.add((pile_id, 0))
        if self.on:
            self._sync(document, pile_id, number, finish=True)
        self._started = {(p, n) for p, n in self._started if p != pile_id}
        self._taken.pop(pile_id, None)

    def keep_bench(self, pile: BenchPile, left_ml: float | None) -> None:
        """A pile of the bench was really mixed; ``left_ml``: of one that is kept as a leftover."""
        seen = self.bench.paints.look_at(pile)
        if seen is None:
            return
        if not self.on:
            self.studio.told.emit("The log is switched off: switch it on at Log to keep a pile.")
            return
        document, palette, find = self.studio.document, self.bench.palette, self.bench.paints.find_tube
        entry = bench_entry(document, pile, seen.lab, find, palette, _now(), left_ml)
        tubes = tubes_in(entry, find)

        def work(book: LogDraft) -> None:
            book.know(tubes)
            book.put(entry)

        what = f"among the leftovers, {pile.ml:.1f} ml" if left_ml is not None else "in the log"

        def written(_: None) -> None:
            if self.file.waiting:
                self.studio.told.emit(f"{pile.name} waits for the log, which cannot be written now.")
            else:
                self.studio.told.emit(f"{pile.name} is {what}.")

        self.write(work, written)

    def keep_leftover(self, pile_id: str) -> None:
        """A pile of the bench among the leftovers."""
        pile = self.bench.bench.pile(pile_id)
        self.keep_bench(pile, round(pile.ml, 3))

    # Edits

    def edit(self, text: str, before: Sequence[Entry], after: Sequence[Entry]) -> None:
        """Put entries in place of others, as a step that can be undone; none in their place takes them out."""
        self.undo.push(_Edit(self, text, before, after))

    def exchange(self, before: Sequence[Entry], after: Sequence[Entry]) -> None:
        """The same without a step. What was mixed since stays: of an entry that is there before and after, only the
        fields that differ are changed; one that another window removed stays away."""
        was = {e.uid: e for e in before}
        gone = [uid for uid in was if uid not in {a.uid for a in after}]

        def work(book: LogDraft) -> list[str]:
            lost = []
            for e in after:
                now = next(iter(book.entries([e.uid])), None)
                if book.lacking(e) or (now is None and e.uid in was):
                    lost.append(e.name)
                else:
                    book.put(_onto(now, was.get(e.uid), e))
            if gone:
                book.remove(gone)
            return lost

        def arrived(lost: list[str]) -> None:
            if lost:
                which = f"“{lost[0]}” was" if len(lost) == 1 else f"“{lost[0]}” and {len(lost) - 1} more were"
                self.studio.told.emit(f"{which} deleted from the log in another window: nothing is brought back.")

        self.write(work, arrived)

    def change(self, entry: Entry, text: str, **fields: object) -> None:
        """Change fields of an entry. Raises ValueError (pydantic's) for what does not hold."""
        after = Entry.model_validate(entry.model_dump() | fields)
        if after != entry:
            self.edit(text, [entry], [after])

    def set_left(self, entry: Entry, ml: float | None) -> None:
        """So much is left of a pile now; None or 0 for nothing."""
        left = ml if ml else None
        self.change(entry, "What is left", left_ml=left, left_at=_now() if left else None)

    def set_dried(self, entry: Entry, lab: Lab) -> None:
        """How a pile dried."""
        self.change(entry, "How it dried", dried=lab, dried_at=_now())

    def answer(self, answer: Answer) -> None:
        """Keep an answer of practice."""
        self.file.change(lambda book: book.answer(answer))

    # What is left

    def read_left(self) -> None:
        """See what is left and not dried out."""

        def work(book: Book) -> tuple[list[Leftover], list[Supply]]:
            found = leftovers(book, _now())
            return found, as_supplies(found, book.tubes()) if found else []

        def arrived(answer: tuple[list[Leftover], list[Supply]]) -> None:
            same = [(x.id, x.ml) for x in answer[0]] == [(x.id, x.ml) for x in self.left]
            self.left, self._supplies = answer
            if not same:
                self.bench.paints.supplied.emit()
                self.changed.emit()

        self.ask(work, arrived)


def _onto(now: Entry | None, before: Entry | None, after: Entry) -> Entry:
    """What the log holds once a change from ``before`` to ``after`` is made in an entry as it is by now."""
    if now is None or before is None:
        return after
    changed = {f: getattr(after, f) for f in Entry.model_fields if getattr(after, f) != getattr(before, f)}
    return now.model_copy(update=changed)
