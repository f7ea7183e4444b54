"""The menus and the keys: the window's own, and between them those of the stations."""

from collections.abc import Callable, Sequence
from typing import Any, Protocol

from PyQt6.QtGui import QAction, QActionGroup, QKeySequence, QUndoGroup
from PyQt6.QtWidgets import QFileDialog, QMainWindow, QMenu

from ochre_stone import __version__
from ochre_stone.core.colour.relations import WARMTHS
from ochre_stone.core.colour.schools import SCHOOLS, key_of, school_of
from ochre_stone.core.paint.cautions import NO_AUTHORITY
from ochre_stone.core.paint.tubes import data_note
from ochre_stone.desktop.easel.easel import Easel
from ochre_stone.desktop.scale.scale import ValueScale
from ochre_stone.desktop.session import display
from ochre_stone.desktop.session.session import Need, Session
from ochre_stone.desktop.session.settings import read_path
from ochre_stone.desktop.stations.station import Command, Station
from ochre_stone.desktop.widgets import asking, theme
from ochre_stone.desktop.widgets.swatch import SURFACES
from ochre_stone.desktop.window.files import Files
from ochre_stone.desktop.window.seen import SeenAs

TEXT_SIZES = (80, 90, 100, 115, 130, 150)


class Owner(Protocol):
    """What the menus need of the window that they stand on."""

    session: Session
    files: Files
    easel: Easel
    scale: ValueScale
    stations: list[Station]
    seen: SeenAs
    undo_group: QUndoGroup
    undo_actions: list[QAction]
    needing: list[tuple[QAction, Need]]

    def go_to(self, title: str, page: str = "") -> None: ...
    def turn_page(self, step: int) -> None: ...
    def make_ready(self, station: Station) -> None: ...
    def to_easel_view(self) -> None: ...
    def set_surround(self, name: str) -> None: ...
    def paste(self) -> None: ...
    def show_test_card(self) -> None: ...
    def show_guide(self) -> None: ...


class _Menus:
    """Puts actions on a window."""

    def __init__(self, window: QMainWindow, owner: Owner) -> None:
        self.window, self.owner = window, owner
        self.session, self.settings = owner.session, owner.session.settings
        bar = window.menuBar()
        self._file(_menu(bar, "&File"))
        self._edit(_menu(bar, "&Edit"))
        self._view(_menu(bar, "&View"))
        self._go(_menu(bar, "&Go"))
        about = _menu(bar, "&Help")
        self._action(about, "&Guide to this station", ["F1"], self.owner.show_guide)
        self._action(about, "About the &figures", [], lambda: _about_figures(window))
        self._action(about, "&About Ochre Stone", [], lambda: _about(window))

    def _action(self, menu: QMenu, words: str, keys: Sequence[str], call: Callable[[], Any]) -> QAction:
        action = QAction(words, self.window)
        action.setShortcuts([QKeySequence(k) for k in keys])
        action.triggered.connect(lambda: call())
        menu.addAction(action)
        return action

    def _needs(self, action: QAction, need: Need) -> None:
        """Disable it, with the reason as its tip, while what it needs is not there."""
        if need:
            self.owner.needing.append((action, need))

    def _commands(self, menu: QMenu, title: str) -> None:
        """What the stations have for a menu."""
        for s in self.owner.stations:
            for c in s.commands():
                if c.menu != title:
                    continue
                if c.apart:
                    menu.addSeparator()
                action = self._action(menu, c.words, c.keys, lambda s=s, c=c: self._do(s, c))  # type: ignore[misc]
                action.setAutoRepeat(c.repeats)
                self._needs(action, c.needs)

    def _do(self, station: Station, command: Command) -> None:
        """A station's command, for which the station is built where it is not yet."""
        self.owner.make_ready(station)
        command.call()

    def _file(self, menu: QMenu) -> None:
        files = self.owner.files
        self._action(menu, "&Open…", ["Ctrl+O"], files.ask_open)
        recent = _menu(menu, "Open &recent")
        recent.aboutToShow.connect(lambda: self._fill_recent(recent))
        self._action(menu, "Open the &demo", [], files.ask_demo)
        self._action(menu, "&Paste a picture", ["Ctrl+V"], self.owner.paste)
        menu.addSeparator()
        self._action(menu, "&Save", ["Ctrl+S"], files.save)
        self._action(menu, "Save &as…", ["Ctrl+Shift+S"], files.save_as)
        self._action(menu, "&Unsaved work…", [], files.show_unsaved)
        self._commands(menu, "File")
        menu.addSeparator()
        self._action(menu, "&Quit", ["Ctrl+Q"], self.window.close)

    def _fill_recent(self, menu: QMenu) -> None:
        menu.clear()
        for name in self.settings.recent:
            self._action(menu, name.replace("&", "&&"), [], lambda p=name: self.owner.files.open(read_path(p)))  # type: ignore[misc]
        if not self.settings.recent:
            self._action(menu, "nothing yet", [], lambda: None).setEnabled(False)

    def _edit(self, menu: QMenu) -> None:
        stack = self.owner.undo_group
        for action, keys in (
            (stack.createUndoAction(self.window, "&Undo"), ["Ctrl+Z"]),
            (stack.createRedoAction(self.window, "&Redo"), ["Ctrl+Shift+Z", "Ctrl+Y"]),
        ):
            assert action is not None
            action.setParent(self.window)  # the stack does not keep it
            action.setShortcuts([QKeySequence(k) for k in keys])
            menu.addAction(action)
            self.owner.undo_actions.append(action)
        menu.addSeparator()
        self._commands(menu, "Edit")

    def _view(self, menu: QMenu) -> None:
        window, mine, easel = self.window, self.session.preferences, self.owner.easel
        self._commands(menu, "View")
        owner = self.owner
        self._action(menu, "Photo, bloc&k-in or what is missing", ["K"], owner.seen.next_scene)
        self._needs(self._action(menu, "&Only the pile in hand", ["Shift+A"], owner.seen.show_alone), "piles")
        self._needs(self._action(menu, "Block-in beside the &photo", ["Shift+B"], owner.seen.show_halves), "piles")
        menu.addSeparator()
        self._action(menu, "Zoom &in", ["+", "="], lambda: easel.zoom_by(1.25))
        self._action(menu, "Zoom &out", ["-"], lambda: easel.zoom_by(0.8))
        self._action(menu, "&Fit", ["F"], easel.fit)
        self._needs(self._action(menu, "At the &easel, full screen", ["F11"], self.owner.to_easel_view), "piles")
        menu.addSeparator()
        self._choices(
            menu,
            "S&urround",
            [(f"{n.capitalize()} grey", n) for n in theme.THEMES],
            "surround",
            self.owner.set_surround,
        )
        self._choices(menu, "Te&xt size", [(f"{n} %", str(n)) for n in TEXT_SIZES], "text_size", mine.size_text)
        self._choices(
            menu,
            "Values &numbered",
            [(s.title, key_of(s)) for s in SCHOOLS],
            "school",
            lambda key: mine.use_school(school_of(key)),
        )
        self._choices(
            menu,
            "&Warm and cool blues",
            [(words, key) for key, words in WARMTHS.items()],
            "warmth",
            lambda key: mine.use_setting("warmth", key),
        )
        self._choices(
            menu,
            "&Palette surface",
            [(k.capitalize(), k) for k in SURFACES],
            "palette_surface",
            lambda key: mine.use_setting("palette_surface", key),
        )
        monitor = _menu(menu, "M&onitor")
        self._action(monitor, "&Choose a profile…", [], self._choose_profile)
        self._action(monitor, "As the &desktop knows it", [], lambda: mine.choose_profile(""))
        self._action(monitor, "What is &set?", [], lambda: asking.say(window, "Monitor", display.details()))
        self._action(menu, "Test card of &greys…", ["Ctrl+G"], self.owner.show_test_card)

    def _choices(
        self, menu: QMenu, words: str, options: list[tuple[str, str]], setting: str, call: Callable[[str], Any]
    ) -> None:
        """A menu of which one thing is chosen; what ``setting`` says, by whichever window, is ticked."""
        inner = _menu(menu, words)
        group = QActionGroup(self.window)
        for title, key in options:
            action = self._action(inner, title, [], lambda k=key: call(k))  # type: ignore[misc]
            action.setCheckable(True)
            action.setChecked(key == str(getattr(self.settings, setting)))
            action.setData(key)
            group.addAction(action)

        def tick() -> None:
            for action in group.actions():
                action.setChecked(action.data() == str(getattr(self.settings, setting)))

        inner.aboutToShow.connect(tick)

    def _choose_profile(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self.window, "The monitor's colour profile", "/usr/share/color/icc", "Profiles (*.icc *.icm *.ICC *.ICM)"
        )
        if name:
            self.session.preferences.choose_profile(name)

    def _go(self, menu: QMenu) -> None:
        owner = self.owner
        for i, s in enumerate(owner.stations, 1):
            self._action(menu, f"&{i} {s.title}", [f"Ctrl+{i}"], lambda t=s.title: owner.go_to(t))  # type: ignore[misc]
        self._action(menu, "Next pa&ge of the tray", ["Ctrl+PgDown"], lambda: owner.turn_page(1))
        self._action(menu, "Page before", ["Ctrl+PgUp"], lambda: owner.turn_page(-1))
        self._commands(menu, "Go")
        menu.addSeparator()
        self._action(menu, "To the &easel", ["E"], lambda: owner.easel.setFocus())
        self._action(menu, "To the notes on the &scale", ["D"], lambda: owner.scale.setFocus())


def build(window: "QMainWindow", owner: Owner) -> None:
    """Put the menus on a window."""
    _Menus(window, owner)


def _menu(owner: Any, words: str) -> QMenu:
    menu = owner.addMenu(words)
    assert isinstance(menu, QMenu)
    menu.setToolTipsVisible(True)
    return menu


def _about_figures(window: QMainWindow) -> None:
    asking.say(
        window,
        "About the figures",
        f"{data_note()}\n\nTypically a mixture comes within 3 to 5 CIEDE2000 with generic tubes: "
        f"mix a little and compare.\n\n{NO_AUTHORITY}",
    )


def _about(window: QMainWindow) -> None:
    asking.say(
        window,
        "About Ochre Stone",
        f"Ochre Stone {__version__}\nFrom a reference picture to a printed mixing plan.\n\nGPL-3.0-or-later. "
        "Face: Atkinson Hyperlegible Next, SIL Open Font License 1.1.",
    )
