"""The painter's own settings: monitor profile, value school, warm and cool, palette surface, order of the notes."""

from PyQt6.QtCore import QObject, pyqtSignal

from ochre_stone.core.colour.schools import School, key_of, school_of
from ochre_stone.core.picture.screen import Screen
from ochre_stone.desktop.session import display, numbers
from ochre_stone.desktop.session.settings import Settings, store, take_over
from ochre_stone.desktop.session.studio import Studio


class Preferences(QObject):
    """Changes a setting, remembers it, and says so."""

    changed = pyqtSignal()
    """Something is to be worded or ordered another way."""
    surround_changed = pyqtSignal()
    """Another grey is to be around the colours."""
    text_changed = pyqtSignal()
    """Text is to be larger or smaller."""
    display_changed = pyqtSignal(bool)
    """What is known of the monitor; True where colours are to be drawn anew."""

    def __init__(self, settings: Settings, studio: Studio) -> None:
        super().__init__(studio)
        self.settings, self.studio = settings, studio
        self.output = ""
        """Name of the screen that the window is on, as the desktop calls it."""
        numbers.use_school(school_of(settings.school))

    def find_display(self) -> None:
        """See which profile the monitor has, off the main thread."""
        chosen, output = self.settings.monitor_profile, self.output

        def failed(message: str) -> None:
            self._use((Screen(), ""))
            self.studio.failed.emit(message)

        self.studio.jobs.start(
            "display", lambda _: display.find_screen(chosen, output), self._use, failed, outlives=True
        )

    def _use(self, found: tuple[Screen, str]) -> None:
        changed = found[0].profile != display.screen().profile
        display.use_screen(*found)
        self.display_changed.emit(changed)

    def choose_profile(self, path: str) -> None:
        """Use this profile for the monitor; "" for what the desktop knows."""
        self.settings.monitor_profile = path
        store(self.settings)
        self.find_display()

    def use_school(self, new: School) -> None:
        """Number values in this school everywhere."""
        numbers.use_school(new)
        self.use_setting("school", key_of(new))

    def use_setting(self, name: str, value: str) -> None:
        """Change one of the painter's settings and show it everywhere."""
        setattr(self.settings, name, value)
        store(self.settings)
        self.changed.emit()

    def size_text(self, percent: str) -> None:
        """Draw text at this size."""
        self.settings.text_size = int(percent)
        store(self.settings)
        self.text_changed.emit()

    def read_anew(self) -> None:
        """Another window changed the settings, perhaps: take that over and show it."""
        before = self.settings.model_copy()
        if not take_over(self.settings):
            return
        numbers.use_school(school_of(self.settings.school))
        if self.settings.monitor_profile != before.monitor_profile:
            self.find_display()
        if self.settings.text_size != before.text_size:
            self.text_changed.emit()
        if self.settings.surround != before.surround:
            self.surround_changed.emit()
        self.changed.emit()
