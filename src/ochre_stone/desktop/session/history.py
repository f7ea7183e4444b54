"""The one document in the window with its undo history, its picture and its place on disk."""

import time
import uuid
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QUndoCommand, QUndoStack

from ochre_stone.core.document.document import Document, Mixed
from ochre_stone.core.picture.frame import Framed, framed
from ochre_stone.core.picture.picture import Picture
from ochre_stone.core.planning.naming import named
from ochre_stone.core.store.safecopy import Stamp
from ochre_stone.desktop.session.jobs import Jobs

_MERGE_SECONDS = 1.2


class _Change(QUndoCommand):
    """From one document to another. Changes of one kind in quick succession become one step."""

    def __init__(self, project: "OpenProject", text: str, before: Document, after: Document, kind: str) -> None:
        super().__init__(text)
        self.project, self.before, self.after, self.kind = project, before, after, kind
        self.time = time.monotonic()

    def id(self) -> int:
        return hash(self.kind) % 2_000_000_000 if self.kind else -1

    def mergeWith(self, other: QUndoCommand | None) -> bool:
        if not isinstance(other, _Change) or other.kind != self.kind or other.time - self.time > _MERGE_SECONDS:
            return False
        self.after, self.time = other.after, other.time
        return True

    def undo(self) -> None:
        self.project.show_document(self.before)

    def redo(self) -> None:
        self.project.show_document(self.after)


class OpenProject(QObject):
    """Holds the document; every action of the painter goes through :meth:`change` and can be undone."""

    changed = pyqtSignal(object, object)
    """Old and new document; listeners compare the parts that they show."""
    benched = pyqtSignal(object, object)
    """The same where nothing but the bench is another: paint is pushed about many times a second, and nothing else
    follows from it."""
    picture_changed = pyqtSignal()
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
        self.undo = QUndoStack(self)
        self.jobs = Jobs(self)
        self.selected: str | None = None
        """Id of the note in hand."""

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
        self.show_document(document)

    def show_document(self, document: Document) -> None:
        """Another document of the same project is the one in the window."""
        old, self.document = self.document, document
        self.changed.emit(old, document)

    def select(self, note_id: str | None) -> None:
        """Take a note in hand."""
        if note_id != self.selected:
            self.selected = note_id
            self.selected_changed.emit()

    def show_strings(self, mixed: Mixed) -> None:
        """Put strings that were worked out into the document."""
        old = self.document
        self.document = named(old.model_copy(update={"mixed": mixed}))
        self.changed.emit(old, self.document)

    @property
    def ahead(self) -> Document | None:
        """The furthest state that was undone and can be done again; None where there is none."""
        if self.undo.index() == self.undo.count():
            return None
        last = self.undo.command(self.undo.count() - 1)
        return last.after if isinstance(last, _Change) else None

    def begin_history(self, ahead: Document | None) -> None:
        """The project is unsaved work; ``ahead``: what had been undone of it can be done again."""
        if ahead is not None:
            self.undo.push(_Change(self, "what was undone", self.document, ahead, ""))
            self.undo.undo()
        self.undo.resetClean()

    @property
    def title(self) -> str:
        return self.path.stem if self.path is not None else self.document.title or "Untitled"

    @property
    def seen(self) -> Framed | None:
        """The picture through the frame."""
        return framed(self.picture, self.document.frame) if self.picture is not None else None
