"""The painter's own settings: monitor profile, value school, warm and cool, palette surface, order of the ledge."""

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.colour.schools import School, key_of, school
from ochre_stone.core.picture.screen import Screen
from ochre_stone.desktop import display, numbers
from ochre_stone.desktop import settings as memory

if TYPE_CHECKING:
    from ochre_stone.desktop.window import Window


class Preferences(QObject):
    """Changes a setting, remembers it, and shows it everywhere."""

    def __init__(self, window: "Window") -> None:
        super().__init__(window)
        self.window_ = window
        numbers.use(school(window.settings.school))

    def find_display(self) -> None:
        """See which profile the monitor has, off the main thread."""
        chosen = self.window_.settings.monitor_profile
        screen = self.window_.screen()
        output = screen.name() if screen is not None else ""

        def failed(message: str) -> None:
            self._show_display((Screen(), ""))
            self.window_.complain(message)

        self.window_.studio.jobs.start("display", lambda _: display.find(chosen, output), self._show_display, failed)

    def _show_display(self, found: tuple[Screen, str]) -> None:
        changed = found[0].profile != display.screen().profile
        display.use(*found)
        self.window_.display_words.setText(display.words())
        self.window_.display_words.setToolTip(display.details())
        if changed:
            self.window_.showing.repaint()
            for w in self.window_.findChildren(QWidget):
                w.update()

    def choose_profile(self, path: str) -> None:
        """Use this profile for the monitor; "" for what the desktop knows."""
        self.window_.settings.monitor_profile = path
        memory.store(self.window_.settings)
        self.find_display()

    def use_school(self, new: School) -> None:
        """Number values in this school everywhere."""
        self.window_.settings.school = key_of(new)
        numbers.use(new)
        self._settings_changed()

    def use_setting(self, name: str, value: str) -> None:
        """Change one of the painter's settings and show it everywhere."""
        setattr(self.window_.settings, name, value)
        self._settings_changed()

    def order_ledge(self, order: str) -> None:
        """Stand the notes by value or by subject."""
        self.window_.ledge.by_subject = order == "subject"
        self.use_setting("ledge_order", order)

    def _settings_changed(self) -> None:
        memory.store(self.window_.settings)
        self.window_.show_notes()
        self.window_.station.refresh()
        self.window_._words()
        for w in self.window_.findChildren(QWidget):
            w.update()
