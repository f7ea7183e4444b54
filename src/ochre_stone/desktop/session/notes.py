"""The notes as the painter handles them: the one in hand, those that a filter leaves, and what is done to them."""

import numpy as np
from PyQt6.QtCore import QObject, pyqtSignal

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.document.document import Note
from ochre_stone.core.errors import OchreError
from ochre_stone.desktop.session.studio import Studio

FILTERS = ("all notes", "light", "shadow", "locked", "unreliable", "from the reader")
_NAME = 80
MOVED_SEEN = 3.0
"""CIEDE2000 from which a pile is not the note's own: a touch of another paint (common practice, no source)."""


def passes(note: Note, wanted: str) -> bool:
    """Whether a note is shown under a filter: one of ``FILTERS`` or a subject."""
    return {
        "all notes": True,
        "light": note.lit,
        "shadow": not note.lit,
        "locked": note.locked,
        "unreliable": bool(note.unreliable),
        "from the reader": note.source == "reader",
    }.get(wanted, note.subject == wanted)


class Notes(QObject):
    """Every change is one undoable step; what cannot be done is told in one sentence."""

    filtered = pyqtSignal()
    """Other notes stand on the scale."""
    name_wanted = pyqtSignal(str)
    """The painter is to be asked for another name of a note."""

    def __init__(self, studio: Studio) -> None:
        super().__init__(studio)
        self.studio = studio
        self.filter = FILTERS[0]
        self.aperture = 15
        """Diameter in pixels of the photo of the spot that the next note averages."""

    # What there is

    def in_hand(self) -> Note | None:
        """The note that is chosen, if any."""
        return next((n for n in self.studio.document.notes if n.id == self.studio.selected), None)

    def shown(self) -> tuple[Note, ...]:
        """The notes that pass the filter."""
        return tuple(n for n in self.studio.document.notes if passes(n, self.filter))

    def targets(self) -> dict[str, Lab]:
        """For each note what is to be mixed for it."""
        from ochre_stone.core.planning.rows import target_by_note

        return target_by_note(self.studio.document)

    def mixtures(self) -> dict[str, Lab]:
        """For each note the pile of its string that stands nearest in value; empty while strings are out of date."""
        from ochre_stone.core.planning.rows import mixture_by_note

        return mixture_by_note(self.studio.document) if self.studio.strings.ready() else {}

    def without_pile(self, mixtures: dict[str, Lab]) -> frozenset[str]:
        """The notes that no pile stands for: none of their subject, or none nearer than a touch of paint is seen."""
        if not mixtures:
            return frozenset()
        goal = self.targets()
        ids = [n.id for n in self.studio.document.notes]
        near = [i for i in ids if i in mixtures]
        apart = ciede2000(np.array([goal[i] for i in near]), np.array([mixtures[i] for i in near]))
        far = {i for i, d in zip(near, apart.tolist(), strict=True) if d > MOVED_SEEN}
        return frozenset(far | (set(ids) - set(near)))

    # What is done

    def show_only(self, wanted: str) -> None:
        """Show the notes that pass another filter."""
        self.filter = wanted
        self.filtered.emit()

    def edit(self, text: str, **fields: object) -> None:
        """Change fields of the note in hand as one step."""
        note = self.in_hand()
        if note is None or all(getattr(note, k) == v for k, v in fields.items()) or fields.get("name") == "":
            return
        try:
            changed = Note.model_validate(note.model_dump() | fields)
        except ValueError as error:
            raise OchreError(str(error)) from None
        self.studio.change(text, self.studio.document.with_note(changed))

    def note_colour(self, lab: Lab, given: str) -> Note:
        """Note a colour from elsewhere and take the note in hand. Raises OchreError for what is none."""
        from ochre_stone.core.planning.noting import note_of_colour

        note = note_of_colour(self.studio.document, lab, given)
        self.studio.change("Note a colour", self.studio.document.with_note(note))
        self.studio.select(note.id)
        return note

    def rename(self, note_id: str, name: str) -> None:
        """Give a note another name; an empty one changes nothing."""
        note = self.studio.document.note(note_id)
        if name.strip():
            renamed = note.model_copy(update={"name": name.strip()[:_NAME]})
            self.studio.change("Rename note", self.studio.document.with_note(renamed))

    def remove(self, note_id: str) -> None:
        """Take a note away, unless it is locked."""
        note = next((n for n in self.studio.document.notes if n.id == note_id), None)
        if note is not None and note.locked:
            self.studio.told.emit(f"“{note.name}” is locked: unlock it (Ctrl+L) before you remove it.")
        elif note is not None:
            self.studio.change("Remove note", self.studio.document.without_note(note_id))

    def remove_in_hand(self) -> None:
        """Take the note in hand away."""
        if self.studio.selected is not None:
            self.remove(self.studio.selected)

    def toggle_lock(self) -> None:
        """Lock or unlock the note in hand."""
        note = self.in_hand()
        if note is not None:
            words = "Unlock note" if note.locked else "Lock note"
            changed = note.model_copy(update={"locked": not note.locked})
            self.studio.change(words, self.studio.document.with_note(changed))

    def merge_alike(self) -> None:
        """Merge near-duplicates as one step."""
        from ochre_stone.core.planning.noting import merged, near_duplicates

        pairs = near_duplicates(self.studio.document)
        if not pairs:
            self.studio.told.emit("No two notes are alike enough to be merged.")
            return
        self.studio.change("Merge near-duplicates", merged(self.studio.document))
        self.studio.told.emit(f"{len(pairs)} near-duplicate{'s' if len(pairs) > 1 else ''} merged.")
