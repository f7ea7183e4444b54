"""The one document in the window, its undo history, and what is worked out from it."""

import time
import uuid
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QEventLoop, QObject, QTimer, pyqtSignal
from PyQt6.QtGui import QUndoCommand, QUndoStack

from ochre_stone.core.errors import one_line
from ochre_stone.core.masses.plan import Ground, MassPlan
from ochre_stone.core.picture.frame import Framed, framed
from ochre_stone.core.picture.load import glimpse, load_bytes, read_file
from ochre_stone.core.picture.picture import Floats, Picture
from ochre_stone.core.project.document import TITLE, Document, Mixed
from ochre_stone.core.project.files import SUFFIX, Project, open_project, save
from ochre_stone.core.project.safecopy import Brought, Stamp, stamp
from ochre_stone.desktop.session.jobs import Jobs
from ochre_stone.desktop.session.masswork import MassWork

if TYPE_CHECKING:
    from ochre_stone.core.harmony.schemes import SchemeFit
    from ochre_stone.core.keys.cover import LeftOver
    from ochre_stone.core.picture.losses import Losses

SCREEN_PIXELS = 1_300_000
_MERGE_SECONDS = 1.2
REMEMBERED = 12
"""How many plans of strings are kept, to be taken again."""
_SOON_MS = 30


class _Change(QUndoCommand):
    """From one document to another. Changes of one kind in quick succession become one step."""

    def __init__(self, studio: "Studio", text: str, before: Document, after: Document, kind: str) -> None:
        super().__init__(text)
        self.studio, self.before, self.after, self.kind = studio, before, after, kind
        self.time = time.monotonic()

    def id(self) -> int:
        return hash(self.kind) % 2_000_000_000 if self.kind else -1

    def mergeWith(self, other: QUndoCommand | None) -> bool:
        if not isinstance(other, _Change) or other.kind != self.kind or other.time - self.time > _MERGE_SECONDS:
            return False
        self.after, self.time = other.after, other.time
        return True

    def undo(self) -> None:
        self.studio._show(self.before)

    def redo(self) -> None:
        self.studio._show(self.after)


class Studio(QObject):
    """Holds the document; every action of the painter goes through :meth:`change` and can be undone."""

    changed = pyqtSignal(object, object)
    """Old and new document; listeners compare the parts that they show."""
    benched = pyqtSignal(object, object)
    """The same where nothing but the bench is another: paint is pushed about many times a second, and nothing else
    follows from it."""
    picture_changed = pyqtSignal()
    light_changed = pyqtSignal()
    """The screen copy in the chosen light is new."""
    glimpsed = pyqtSignal(object)
    """A quick small copy, sRGB bytes, of a photo that is being opened."""
    opening = pyqtSignal(float)
    """How far opening a file is, 0..1; 1 when it is over, well or not."""
    lost_changed = pyqtSignal()
    """What the photo lost is measured anew."""
    masses_changed = pyqtSignal()
    masses_refined = pyqtSignal()
    """The masses at the size of print are new."""
    notes_measured = pyqtSignal()
    """Shares and what is left over are new."""
    mixing_progress = pyqtSignal(float)
    mixed_changed = pyqtSignal()
    selected_changed = pyqtSignal()
    told = pyqtSignal(str)
    """One sentence for the painter."""
    failed = pyqtSignal(str)
    path_changed = pyqtSignal()
    replaced = pyqtSignal()
    """Another project is shown; what was unsaved of the one before is saved or given up."""
    saved = pyqtSignal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.document = Document(uid=uuid.uuid4().hex)
        self.picture: Picture | None = None
        self.path: Path | None = None
        self.base: Stamp | None = None
        """The project's file as it was when it was last read or saved."""
        self.era = 0
        """Counts the projects shown: what was asked about one is not for the next."""
        self._arriving = False
        self.undo = QUndoStack(self)
        self.jobs = Jobs(self)
        self.selected: str | None = None
        """Id of the note in hand."""
        self.screen: Floats | None = None
        """Linear-light screen copy through the frame and in the chosen light."""
        self._screen_key: Any = None
        self.rest: LeftOver | None = None
        self.losses: Losses | None = None
        self.prepare: Callable[[Mixed], None] = lambda mixed: None
        """Called off the main thread with strings that will be shown."""
        self._asked: Document | None = None
        self._print: tuple[Document, str] | None = None
        """The document whose fingerprint was asked for last, and that fingerprint."""
        self._fits: tuple[object, list[SchemeFit]] | None = None
        self._remembered: OrderedDict[str, Mixed] = OrderedDict()
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(350)
        self._later.timeout.connect(self._mix_now)
        self._wants_strings = False
        self.mass_work = MassWork(self, self.jobs, self.failed.emit, self)
        self.mass_work.changed.connect(self.masses_changed)
        self.mass_work.refined.connect(self.masses_refined)

    @property
    def masses(self) -> MassPlan | None:
        """The masses as they are worked on."""
        return self.mass_work.plan

    @property
    def ground(self) -> Ground | None:
        """The smoothed copy that they are made on."""
        return self.mass_work.ground

    @property
    def fine(self) -> MassPlan | None:
        """The masses at the size of print, with the same cuts; None until they are there."""
        return self.mass_work.fine

    # The document

    def change(self, text: str, document: Document, kind: str = "") -> None:
        """Make ``document`` the document as one undoable step called ``text``; equal ``kind`` merges quick steps."""
        if document != self.document:
            self.undo.push(_Change(self, text, self.document, document, kind))

    def adjust(self, part: str, text: str, kind: str = "", **fields: Any) -> None:
        """Change fields of a part of the document ("masses", "harmony", "mix" or "canvas") as one step.

        Raises ValueError (pydantic's) for a field that does not hold what it should.
        """
        old = getattr(self.document, part)
        new = type(old).model_validate(old.model_dump() | fields)
        self.change(text, self.document.model_copy(update={part: new}), kind)

    def amend(self, document: Document) -> None:
        """Put worked-out figures into the document: no step of the painter's."""
        self._show(document)

    def _show(self, document: Document) -> None:
        old, self.document = self.document, document
        if old.bench != document.bench and old.model_copy(update={"bench": document.bench}) == document:
            if self._print is not None and self._print[0] is old:
                self._print = document, self._print[1]
            self.benched.emit(old, document)
            return
        if self.selected is not None and all(n.id != self.selected for n in document.notes):
            self.select(None)
        new_look = old.light_key != document.light_key
        if new_look:
            self._light()
        if old.frame != document.frame:
            self._measure_losses()
        if new_look or old.masses != document.masses:
            self.mass_work.make()
        if new_look or [(n.lab) for n in old.notes] != [(n.lab) for n in document.notes]:
            self._measure_notes()
        self.changed.emit(old, document)
        if old.bench != document.bench:
            self.benched.emit(old, document)
        self.refresh_strings()

    def select(self, note_id: str | None) -> None:
        """Take a note in hand."""
        if note_id != self.selected:
            self.selected = note_id
            self.selected_changed.emit()

    # Files

    def load(
        self, path: str | Path, done: Any = None, as_copy: bool = False, may_replace: Callable[[], bool] | None = None
    ) -> None:
        """Open a photo or a project off the main thread; failures are told and change nothing.

        ``as_copy``: the file is not the one to save over. ``may_replace`` is asked where work was done meanwhile.
        """
        path = Path(path)
        before, base = self.undo.index(), stamp(path)

        def work(report: Any) -> tuple[Project, Floats | None]:
            report(0.05)
            if path.suffix == SUFFIX:
                project = open_project(path)
            else:
                data = read_file(path)
                report(glimpse(data, path.name, SCREEN_PIXELS))
                report(0.25)
                picture = load_bytes(data, path.name)
                project = Project(Document(title=one_line(path.stem, TITLE), reference=picture.name), picture)
            self.prepare(project.document.mixed)
            report(0.85)
            screen = project.document.seen(project.picture, SCREEN_PIXELS) if project.picture is not None else None
            report(0.98)
            return project, screen

        def on_the_way(what: Any) -> None:
            if isinstance(what, float):
                self.opening.emit(what)
            elif what is not None:
                self.glimpsed.emit(what)

        def arrived(answer: tuple[Project, Floats | None]) -> None:
            self._arriving = self.jobs.busy("save")
            if self._arriving:  # what is being saved stays in its place until it is
                QTimer.singleShot(_SOON_MS, lambda: arrived(answer))
                return
            self.opening.emit(1.0)
            worked = self.undo.index() != before and not self.undo.isClean()
            if worked and may_replace is not None and not may_replace():
                self.light_changed.emit()
                return
            self.replace(answer[0], path if path.suffix == SUFFIX and not as_copy else None, answer[1])
            self.base = base if self.path is not None else None
            if done is not None:
                done()

        def failed(message: str) -> None:
            self.opening.emit(1.0)
            self.light_changed.emit()  # what was shown before is shown again
            self.failed.emit(message)

        self.jobs.start("load", work, arrived, failed, on_the_way, outlives=True)

    def bring(self, brought: Brought, screen: Floats | None) -> None:
        """Show unsaved work again, as it was; what had been undone can be done again."""
        left = brought.left
        self.replace(brought.project, left.path, screen)
        self.base = left.base
        if brought.ahead is not None:
            self.undo.push(_Change(self, "what was undone", self.document, brought.ahead, ""))
            self.undo.undo()
        self.undo.resetClean()

    @property
    def ahead(self) -> Document | None:
        """The furthest state that was undone and can be done again; None where there is none."""
        if self.undo.index() == self.undo.count():
            return None
        last = self.undo.command(self.undo.count() - 1)
        return last.after if isinstance(last, _Change) else None

    def cancel_opening(self) -> None:
        """Stop opening a file; what was shown before stays."""
        if self.jobs.busy("load"):
            self.jobs.cancel("load")
            self.opening.emit(1.0)
            self.light_changed.emit()

    def replace(self, project: Project, path: Path | None, screen: Floats | None = None) -> None:
        """Show another project; the history starts anew. ``screen``: its screen copy, where it is made already."""
        self.jobs.drop_project()
        self._later.stop()
        self.era += 1
        self.base = None
        old = self.document
        if not project.document.uid:
            known = project.document.model_copy(update={"uid": uuid.uuid4().hex})
            project = replace(project, document=known)
        self.undo.clear()
        self.selected, self.screen, self.rest, self.losses = None, None, None, None
        self.mass_work.forget()
        self.document, self.picture, self.path = project.document, project.picture, path
        self.replaced.emit()
        self._remember(project.document.mixed)
        if self.picture is not None:
            self.screen = screen if screen is not None else self.document.seen(self.picture, SCREEN_PIXELS)
            self._screen_key = self.document.light_key
        self.path_changed.emit()
        self.picture_changed.emit()
        self.light_changed.emit()
        self.selected_changed.emit()
        self.changed.emit(old, self.document)
        self.benched.emit(old, self.document)
        if self.picture is not None:
            self.mass_work.make()
            self._measure_notes()
            self._measure_losses()
            if self.picture.remarks:
                self.told.emit(f"{self.picture.name}: {'; '.join(self.picture.remarks)}.")
        self.refresh_strings()

    def save(self, path: Path) -> str:
        """Write the project off the main thread, and wait with the window alive; "" or what went wrong."""
        if self.jobs.busy("save"):
            return "The project is still being saved: wait a moment."
        document, picture, index, era = self.document, self.picture, self.undo.index(), self.era
        loop = QEventLoop()
        wrong: list[str] = []

        def failed(message: str) -> None:
            wrong.append(message)
            loop.quit()

        def work(_: Any) -> Stamp | None:
            save(path, document, picture)
            return stamp(path)

        def arrived(now: Stamp | None) -> None:
            if self.era == era:
                self.path, self.base = path, now
                if self.undo.index() == index:  # nothing was changed meanwhile
                    self.undo.setClean()
                    self.saved.emit()
                self.path_changed.emit()
            loop.quit()

        self.jobs.start("save", work, arrived, failed, outlives=True)
        # No clicks and keys meanwhile: a second save must not start inside the first.
        loop.exec(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)
        return wrong[0] if wrong else ""

    @property
    def strings_waiting(self) -> bool:
        """Whether strings are about to be worked out, once nothing moves."""
        return self._later.isActive()

    @property
    def idle(self) -> bool:
        """Whether nothing is being worked out, and nothing about to be."""
        return not self.jobs.busy() and not self.strings_waiting and not self._arriving

    @property
    def title(self) -> str:
        return self.path.stem if self.path is not None else self.document.title or "Untitled"

    @property
    def screen_is_coming(self) -> bool:
        """Whether the screen copy is of an older light or frame, and a new one is being made."""
        return self._screen_key != self.document.light_key and self.jobs.busy("light")

    @property
    def seen(self) -> Framed | None:
        """The picture through the frame."""
        return framed(self.picture, self.document.frame) if self.picture is not None else None

    # Worked out off the main thread

    def _measure_losses(self) -> None:
        from ochre_stone.core.picture.losses import losses

        seen = self.seen
        if seen is None:
            return

        def arrived(found: "Losses") -> None:
            self.losses = found
            self.lost_changed.emit()

        self.jobs.start("lost", lambda _: losses(seen), arrived, self.failed.emit)

    def _light(self) -> None:
        if self.picture is None:
            return
        picture, document = self.picture, self.document

        def arrived(screen: Floats) -> None:
            self.screen, self._screen_key = screen, document.light_key
            self.light_changed.emit()

        self.jobs.start("light", lambda _: document.seen(picture, SCREEN_PIXELS), arrived, self.failed.emit)

    def _measure_notes(self) -> None:
        from ochre_stone.core.project.noting import with_shares

        if self.picture is None:
            return
        picture, document = self.picture, self.document

        def arrived(answer: "tuple[Document, LeftOver]") -> None:
            measured, self.rest = answer
            if [n.lab for n in measured.notes] == [n.lab for n in self.document.notes]:
                share = {n.id: n.share for n in measured.notes}
                notes = tuple(n.model_copy(update={"share": share[n.id]}) for n in self.document.notes)
                self.amend(self.document.model_copy(update={"notes": notes}))
            self.notes_measured.emit()

        self.jobs.start("measure", lambda _: with_shares(picture, document), arrived, self.failed.emit)

    def relight(self, text: str, document: Document, kind: str = "") -> None:
        """Change the light and read every note anew, as one step; many notes are read off the main thread."""
        from ochre_stone.core.project.noting import reread

        picture = self.picture
        if picture is None or not document.notes:
            self.change(text, document, kind)
            return
        self._asked = document
        wanted = {f: getattr(document, f) for f in ("balance", "balance_from", "balance_words", "light")}

        def arrived(again: Document) -> None:
            if self.document.notes != document.notes:  # notes were changed meanwhile: read those that are there now
                self.relight(text, self.document.model_copy(update=wanted), kind)
            else:
                self.change(text, self.document.model_copy(update={**wanted, "notes": again.notes}), kind)

        self.jobs.start("reread", lambda _: reread(picture, document), arrived, self.failed.emit)

    @property
    def latest(self) -> Document:
        """The document with the light that was asked for last, while notes are still being read in it."""
        return self._asked if self._asked is not None and self.jobs.busy("reread") else self.document

    def schemes(self, keep_dominant: bool = False) -> "list[SchemeFit]":
        """Schemes ranked for the notes, on the wheel that is shown; all about the dominant hue where it is kept."""
        from ochre_stone.core.harmony.schemes import dominant, fit, hue_weights

        notes = self.document.notes
        weights = [max(n.share, 0.01) for n in notes]
        key = ([n.lab for n in notes], weights, self.document.harmony.wheel, keep_dominant)
        if self._fits is None or self._fits[0] != key:
            hues = hue_weights(key[0], weights, key[2])
            self._fits = key, fit(hues, dominant(hues) if keep_dominant else None)
        return self._fits[1]

    # Strings

    def _fingerprint(self) -> str:
        from ochre_stone.core.project.rows import fingerprint

        return fingerprint(self.document)

    def strings_ready(self) -> bool:
        """True when the strings belong to the present notes, scheme and palette."""
        if self._print is None or self._print[0] is not self.document:
            self._print = self.document, self._fingerprint()
        return self.document.mixed.fingerprint == self._print[1]

    def want_strings(self, wanted: bool) -> None:
        """Whether a station shows strings: nobody else should pay for them."""
        self._wants_strings = wanted
        if wanted:
            self.refresh_strings()

    def refresh_strings(self) -> None:
        """Work the strings out anew where they are wanted and out of date."""
        if not self.document.notes or self.strings_ready():
            if self.jobs.busy("mix") or self._later.isActive():
                self._later.stop()
                self.jobs.cancel("mix")
                self.mixed_changed.emit()
            return
        known = self._remembered.get(self._fingerprint())
        if known is not None:
            self._put(known)
        elif self._wants_strings:
            self.jobs.cancel("mix")
            self._later.start()

    def cancel_mixing(self) -> None:
        """Stop working on strings until something changes."""
        self._later.stop()
        self.jobs.cancel("mix")
        self.mixed_changed.emit()

    def _mix_now(self) -> None:
        from ochre_stone.core.project.noting import with_shares
        from ochre_stone.core.project.planning import mix_strings

        document, picture = self.document, self.picture

        def work(report: Any) -> Mixed:
            # Without a photo, notes of the scene count alike.
            measured = with_shares(picture, document)[0] if picture is not None else document
            mixed = mix_strings(measured, report)
            self.prepare(mixed)
            return mixed

        def arrived(mixed: Mixed) -> None:
            self._remember(mixed)
            if mixed.fingerprint == self._fingerprint():
                self._put(mixed)

        self.jobs.start("mix", work, arrived, self.failed.emit, self.mixing_progress.emit)
        self.mixing_progress.emit(0.0)

    def _remember(self, mixed: Mixed) -> None:
        self._remembered[mixed.fingerprint] = mixed
        while len(self._remembered) > REMEMBERED:
            self._remembered.popitem(last=False)

    def _put(self, mixed: Mixed) -> None:
        old = self.document
        self.document = old.model_copy(update={"mixed": mixed})
        self.changed.emit(old, self.document)
        self.mixed_changed.emit()

    def stop(self) -> None:
        """Before the window goes."""
        self._later.stop()
        self.mass_work.stop()
        self.jobs.stop()
