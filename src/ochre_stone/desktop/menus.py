"""The menus and the keys."""

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtGui import QAction, QActionGroup, QKeySequence
from PyQt6.QtWidgets import QMenu, QMessageBox

from ochre_stone import __version__
from ochre_stone.core.paint.cautions import NO_AUTHORITY
from ochre_stone.core.paint.tubes import data_note
from ochre_stone.desktop import theme

if TYPE_CHECKING:
    from ochre_stone.desktop.window import Window


def _action(window: "Window", menu: QMenu, words: str, keys: list[str], call: Callable[[], Any]) -> QAction:
    action = QAction(words, window)
    action.setShortcuts([QKeySequence(k) for k in keys])
    action.triggered.connect(lambda: call())
    menu.addAction(action)
    return action


def _menu(owner: Any, words: str) -> QMenu:
    menu = owner.addMenu(words)
    assert isinstance(menu, QMenu)
    return menu


def build(window: "Window") -> None:
    """Put the menus on the window."""
    bar = window.menuBar()
    _file(window, _menu(bar, "&File"))
    _edit(window, _menu(bar, "&Edit"))
    _view(window, _menu(bar, "&View"))
    _go(window, _menu(bar, "&Go"))
    about = _menu(bar, "&Help")
    _action(window, about, "About the &figures", [], lambda: _about_figures(window))
    _action(window, about, "&About Ochre Stone", [], lambda: _about(window))


def _file(window: "Window", menu: QMenu) -> None:
    filing = window.filing
    _action(window, menu, "&Open…", ["Ctrl+O"], filing.ask_open)
    recent = _menu(menu, "Open &recent")
    recent.aboutToShow.connect(lambda: _fill_recent(window, recent))
    _action(window, menu, "Open the &demo", [], filing.ask_demo)
    menu.addSeparator()
    _action(window, menu, "&Save", ["Ctrl+S"], filing.save)
    _action(window, menu, "Save &as…", ["Ctrl+Shift+S"], filing.save_as)
    _action(window, menu, "Save the sheet as &PDF…", ["Ctrl+P"], filing.export_pdf)
    menu.addSeparator()
    _action(window, menu, "&Quit", ["Ctrl+Q"], window.close)


def _fill_recent(window: "Window", menu: QMenu) -> None:
    menu.clear()
    for name in window.settings.recent:
        _action(window, menu, name.replace("&", "&&"), [], lambda p=name: window.filing.open(Path(p)))  # type: ignore[misc]
    if not window.settings.recent:
        _action(window, menu, "nothing yet", [], lambda: None).setEnabled(False)


def _edit(window: "Window", menu: QMenu) -> None:
    stack = window.studio.undo
    for action, keys in (
        (stack.createUndoAction(window, "&Undo"), ["Ctrl+Z"]),
        (stack.createRedoAction(window, "&Redo"), ["Ctrl+Shift+Z", "Ctrl+Y"]),
    ):
        assert action is not None
        action.setParent(window)  # the stack does not keep it
        action.setShortcuts([QKeySequence(k) for k in keys])
        menu.addAction(action)
        window.undo_actions.append(action)
    menu.addSeparator()
    _action(window, menu, "Re&name note…", ["F2"], window.rename_selected)
    _action(window, menu, "Re&move note", ["Del"], window.remove_selected)


def _view(window: "Window", menu: QMenu) -> None:
    _action(window, menu, "&As it is", ["A"], lambda: window.set_view("as-is"))
    _action(window, menu, "&Values", ["V"], lambda: window.set_view("value"))
    _action(window, menu, "&Squint", ["S"], lambda: window.set_view("squint"))
    _action(window, menu, "&Masses or picture", ["M"], window.toggle_masses)
    menu.addSeparator()
    _action(window, menu, "Zoom &in", ["+", "="], lambda: window.easel.zoom_by(1.25))
    _action(window, menu, "Zoom &out", ["-"], lambda: window.easel.zoom_by(0.8))
    _action(window, menu, "&Fit", ["F"], window.easel.fit)
    menu.addSeparator()
    surround = _menu(menu, "S&urround")
    group = QActionGroup(window)
    for name in theme.THEMES:
        action = _action(window, surround, f"{name.capitalize()} grey", [], lambda n=name: window.set_surround(n))  # type: ignore[misc]
        action.setCheckable(True)
        action.setChecked(name == window.settings.surround)
        group.addAction(action)


def _go(window: "Window", menu: QMenu) -> None:
    for i, s in enumerate(window.stations, 1):
        _action(window, menu, f"&{i} {s.title}", [f"Ctrl+{i}"], lambda t=s.title: window.go_to(t))  # type: ignore[misc]
    menu.addSeparator()
    _action(window, menu, "Set the light by a &grey", ["G"], lambda: window.arm_light("grey"))
    _action(window, menu, "Set the light by a &white", ["W"], lambda: window.arm_light("white"))
    aperture = window.note_station.aperture
    _action(window, menu, "&Smaller aperture", ["["], lambda: aperture.setValue(aperture.value() - 2))
    _action(window, menu, "&Larger aperture", ["]"], lambda: aperture.setValue(aperture.value() + 2))


def _about_figures(window: "Window") -> None:
    QMessageBox.information(
        window,
        "About the figures",
        f"{data_note()}\n\nTypically a mixture comes within 3 to 5 CIEDE2000 with generic tubes: "
        f"mix a little and compare.\n\n{NO_AUTHORITY}",
    )


def _about(window: "Window") -> None:
    QMessageBox.about(
        window,
        "About Ochre Stone",
        f"Ochre Stone {__version__}\nFrom a reference picture to a printed mixing plan.\n\nGPL-3.0-or-later. "
        "Face: Atkinson Hyperlegible Next, SIL Open Font License 1.1.",
    )
