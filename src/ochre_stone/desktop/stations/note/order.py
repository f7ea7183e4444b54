"""The Order page of Note: how well the notes cover the picture, which of them are shown, near-duplicates."""

from PyQt6.QtWidgets import QComboBox

from ochre_stone.core.document.document import SUBJECTS
from ochre_stone.core.planning.noting import near_duplicates
from ochre_stone.desktop.session.notes import FILTERS, Notes
from ochre_stone.desktop.session.preferences import Preferences
from ochre_stone.desktop.widgets.parts import button, enable, set_tip, signals_blocked
from ochre_stone.desktop.widgets.tray import Tray


class OrderPage:
    """The notes in order."""

    def __init__(self, tray: Tray, notes: Notes, preferences: Preferences) -> None:
        self.notes, self.studio, self.settings = notes, notes.studio, preferences.settings
        self.covered = tray.label("")
        set_tip(
            self.covered, "Numbers are CIEDE2000 from the picture's colours to the nearest note: mean, and 95th of 100"
        )
        self.order, self.filter = QComboBox(), QComboBox()
        self.order.addItems(["by value", "by subject"])
        self.order.setAccessibleName("Order of the notes")
        self.order.activated.connect(lambda i: preferences.use_setting("note_order", "subject" if i else "value"))
        self.filter.addItems([*FILTERS, *SUBJECTS])
        self.filter.setAccessibleName("Which notes stand on the scale")
        self.filter.activated.connect(lambda _: notes.show_only(self.filter.currentText()))
        tray.label("Order and filter", "head")
        tray.row(self.order, self.filter)
        self.shown = tray.label("", "quiet")
        tray.label("Near-duplicates", "head")
        self.alike = tray.label("")
        self.merge = button("Merge them", "The locked or larger note of each pair stays; its share grows")
        self.merge.clicked.connect(notes.merge_alike)
        tray.row(self.merge, None)
        tray.label(
            "With keys on the scale: arrows choose, F2 renames, Delete removes, Ctrl+L locks. On the easel: Ctrl with "
            "arrows moves the note in hand.",
            "quiet",
        )

    def refresh(self) -> None:
        """Show how the notes stand."""
        rest, document = self.studio.measuring.rest, self.studio.document
        notes = document.notes
        self.covered.setText(rest.words(len(notes)) if rest is not None and notes else "No notes yet.")
        with signals_blocked(self.order):
            self.order.setCurrentIndex(int(self.settings.note_order == "subject"))
        shown = len(self.notes.shown())
        self.shown.setText(f"{shown} of {len(notes)} notes stand on the scale.")
        self.shown.setVisible(shown != len(notes))
        pairs = near_duplicates(document)
        enable(self.merge, "" if pairs else "No two notes share one pile.")
        names = "; ".join(f"{document.note(b).name} into {document.note(a).name}" for a, b in pairs[:4])
        more = f" and {len(pairs) - 4} more" if len(pairs) > 4 else ""
        self.alike.setText(f"{names}{more}." if pairs else "None: no two notes share one pile.")
