"""The project in the window, and what is worked out from it."""

import uuid
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from ochre_stone.core.document.document import Document
from ochre_stone.core.masses.plan import Ground, MassPlan
from ochre_stone.core.picture.picture import Floats
from ochre_stone.core.planning.naming import named
from ochre_stone.core.store.files import Project
from ochre_stone.desktop.session.history import OpenProject
from ochre_stone.desktop.session.letgo import LetGo
from ochre_stone.desktop.session.masswork import MassWork
from ochre_stone.desktop.session.measuring import Measuring
from ochre_stone.desktop.session.projectfiles import ProjectFiles
from ochre_stone.desktop.session.stringwork import StringWork

if TYPE_CHECKING:
    from ochre_stone.core.harmony.schemes import SchemeFit


class Studio(OpenProject):
    """The project with its files and all that is worked out from it."""

    masses_changed = pyqtSignal()
    masses_refined = pyqtSignal()
    """The masses at the size of print are new."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._fits: tuple[object, list[SchemeFit]] | None = None
        self._let_go = LetGo(self.jobs)
        self.measuring, self.strings = Measuring(self), StringWork(self)
        self.files = ProjectFiles(self, self.replace, lambda mixed: self.strings.prepare(mixed))
        self.files.stays.connect(self.measuring.light_changed)
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

    def show_document(self, document: Document) -> None:
        """Another document of the same project: what follows from it is worked out anew where it has to be."""
        if document.notes is not self.document.notes:  # piles are called by them
            document = named(document)
        old, self.document = self.document, document
        if old.bench != document.bench and old.model_copy(update={"bench": document.bench}) == document:
            self.strings.same(old, document)
            self.benched.emit(old, document)
            return
        if self.selected is not None and all(n.id != self.selected for n in document.notes):
            self.select(None)
        new_look = old.light_key != document.light_key
        if new_look:
            self.measuring.make_screen()
        if old.frame != document.frame:
            self.measuring.look_for_losses()
        if new_look or old.masses != document.masses:
            self.mass_work.make()
        if new_look or [(n.lab) for n in old.notes] != [(n.lab) for n in document.notes]:
            self.measuring.measure_notes()
        self.changed.emit(old, document)
        if old.bench != document.bench:
            self.benched.emit(old, document)
        self.strings.refresh()

    # What is shown

    def replace(self, project: Project, path: Path | None, screen: Floats | None = None) -> None:
        """Show another project; the history starts anew. ``screen``: its screen copy, where it is made already."""
        self.jobs.drop_project()
        self.strings.stop()
        self.era += 1
        self.base = None
        old = self.document
        if not project.document.uid:
            known = project.document.model_copy(update={"uid": uuid.uuid4().hex})
            project = replace(project, document=known)
        self.undo.clear()
        self.selected = None
        self.mass_work.forget()
        if self.picture is not None and self.picture is not project.picture:
            self.picture.remembered.forget()  # what is not shown is let go, now
        self.document, self.picture, self.path = named(project.document), project.picture, path
        self.replaced.emit()
        self.strings.remember(project.document.mixed)
        self.measuring.begin(screen)
        self.path_changed.emit()
        self.picture_changed.emit()
        self.measuring.light_changed.emit()
        self.selected_changed.emit()
        self.changed.emit(old, self.document)
        self.benched.emit(old, self.document)
        if self.picture is not None:
            self.mass_work.make()
            self.measuring.measure_notes()
            self.measuring.look_for_losses()
            if self.picture.remarks:
                self.told.emit(f"{self.picture.name}: {'; '.join(self.picture.remarks)}.")
        self._tell_of_older_paint()
        self.strings.refresh()

    def _tell_of_older_paint(self) -> None:
        if self.document.mixed.strings:
            from ochre_stone.core.planning.rows import DARKS_ARE_DEEPER, of_older_paint

            if of_older_paint(self.document):
                self.told.emit(DARKS_ARE_DEEPER)

    @property
    def idle(self) -> bool:
        """Whether nothing is being worked out, and nothing about to be."""
        return not self.jobs.busy() and not self.strings.waiting and not self.files.arriving

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

    def stop(self) -> None:
        """Before the window goes."""
        self.strings.stop()
        self.mass_work.stop()
        self.jobs.stop()
