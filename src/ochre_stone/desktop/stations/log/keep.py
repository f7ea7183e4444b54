"""The Keep page of Log: whether it is kept, out and in, and what is deleted."""

from datetime import date
from pathlib import Path

from PyQt6.QtWidgets import QCheckBox, QComboBox

from ochre_stone.desktop.session.logkeeper import LogKeeper
from ochre_stone.desktop.session.settings import Settings
from ochre_stone.desktop.widgets.asking import ask, ask_open, ask_save
from ochre_stone.desktop.widgets.parts import button, enable, narrow, set_tip, signals_blocked
from ochre_stone.desktop.widgets.tray import Tray
from ochre_stone.logbook import exchange
from ochre_stone.logbook.book import Book, Day, log_file


class KeepPage:
    """The log as a whole."""

    def __init__(self, tray: Tray, log: LogKeeper, settings: Settings) -> None:
        self.tray, self.log, self.settings, self.studio = tray, log, settings, log.studio
        tray.label("The log", "head")
        self.on = QCheckBox("Write down what I really mix")
        set_tip(self.on, "Piles begun, what goes in, readings and times; nothing leaves this computer")
        self.on.clicked.connect(self.log.switch)
        tray.rows.addWidget(self.on)
        self.where = tray.label("", "quiet")
        tray.label("Out and in", "head")
        self.save = button("Save it…", "As JSON with everything, or as a CSV table of the piles")
        self.save.clicked.connect(self.ask_save)
        self.open = button("Take in…", "A JSON log: piles that are there already are replaced")
        self.open.clicked.connect(self.ask_open)
        tray.row(self.save, self.open, None)
        tray.label("Delete", "head")
        self.days, self.projects = narrow(QComboBox()), narrow(QComboBox())
        self.days.setAccessibleName("Day to delete")
        self.projects.setAccessibleName("Project to delete")
        self.day = button("Delete the day…", "", "small")
        self.day.clicked.connect(self.delete_day)
        tray.row(self.days, self.day).setStretch(0, 1)
        self.project = button("Delete the project…", "", "small")
        self.project.clicked.connect(self.delete_project)
        tray.row(self.projects, self.project).setStretch(0, 1)
        self.all = button("Delete all…", "Every pile, every tube and all practice", "small")
        self.all.clicked.connect(self.delete_all)
        tray.row(self.all, None)

    # What is done

    def ask_save(self) -> None:
        """Ask where the log goes."""
        kinds = "JSON (*.json);;CSV (*.csv)"
        path = ask_save(self.tray.widget, "Save the log", self.settings.folder, "log.json", kinds)
        if path is not None:
            self.save_to(path)

    def save_to(self, path: Path) -> None:
        """Write the log."""

        def written(n: int) -> None:
            waits = "; without what still waits to be written into the log" if self.log.file.waiting else ""
            self.studio.told.emit(f"Wrote {n} pile{'s' * (n != 1)} to {path.name}{waits}.")

        self.log.ask(lambda book: exchange.save_log(book, path), written)

    def ask_open(self) -> None:
        """Ask for a log to take in."""
        path = ask_open(self.tray.widget, "Take a log in", self.settings.folder, "JSON (*.json);;All files (*)")
        if path is not None:
            self.take_in(path)

    def take_in(self, path: Path) -> None:
        """Take a log in."""

        def arrived(n: int) -> None:
            self.studio.told.emit(f"Took {n} pile{'s' * (n != 1)} in from {path.name}.")

        self.log.write_now(lambda book: exchange.load_log(book, path), arrived)

    def delete_day(self) -> None:
        """Delete what was mixed on the day that is chosen; Undo brings it back."""
        day = self.days.currentData()
        if day:
            self._delete(f"Delete all piles of {self.days.currentText()}?", day=date.fromisoformat(day))

    def delete_project(self) -> None:
        """Delete what was mixed for the project that is chosen; Undo brings it back."""
        if self.projects.currentData() is not None:
            words = f"Delete all piles of {self.projects.currentText()}?"
            self._delete(words, project=str(self.projects.currentData()))

    def _delete(self, words: str, day: date | None = None, project: str | None = None) -> None:
        if ask(self.tray.widget, words, ("Delete", "Keep")) != "Delete":
            return
        self.log.ask(
            lambda book: book.entries([p.uid for p in book.listed(day, project, 100_000)]),
            lambda found: self.log.edit("Delete from the log", found, []),
        )

    def delete_all(self) -> None:
        """Delete everything; this cannot be undone."""
        words = "Delete the whole log, every pile and all practice? This cannot be undone: save it first if in doubt."
        if ask(self.tray.widget, words, ("Delete all", "Keep")) == "Delete all":
            self.log.undo.clear()
            self.log.write_now(Book.clear, lambda _: self.studio.told.emit("The log is empty."))

    # Showing

    def refresh(self) -> None:
        """Show what there is."""
        with signals_blocked(self.on):
            self.on.setChecked(self.log.on)
        made_up = "This is the demo's made-up log; what you do here is gone with the window."
        self.where.setText(made_up if self.log.is_demo else f"It lies in {log_file()}.")

        def arrived(found: tuple[list[Day], list[tuple[str, str, int]]]) -> None:
            with signals_blocked(self.days), signals_blocked(self.projects):
                self.days.clear()
                for d in found[0]:
                    self.days.addItem(f"{d.day.day} {d.day.strftime('%b %Y')} ({d.piles})", d.day.isoformat())
                self.projects.clear()
                for uid, title, n in found[1]:
                    self.projects.addItem(f"{title or 'without a title'} ({n})", uid)
            for b in (self.day, self.project):
                enable(b, "" if found[0] else "There is nothing in the log yet.")

        self.log.ask(lambda book: (book.days(), book.projects()), arrived)
