"""The menus and the keys."""

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtGui import QAction, QActionGroup, QKeySequence
from PyQt6.QtWidgets import QFileDialog, QMenu, QMessageBox

from ochre_stone import __version__
from ochre_stone.core.colour.relations import WARMTHS
from ochre_stone.core.colour.schools import SCHOOLS, key_of, school
from ochre_stone.core.paint.cautions import NO_AUTHORITY
from ochre_stone.core.paint.tubes import data_note
from ochre_stone.desktop import display, theme
from ochre_stone.desktop.testcard import TestCard
from ochre_stone.desktop.widgets.swatch import SURFACES

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
    _action(window, menu, "Save the shee&t…", ["Ctrl+P"], filing.export_pdf)
    _action(window, menu, "Save the palette's &layout…", [], filing.export_board)
    _action(window, menu, "Outlines of the masses as S&VG…", ["Ctrl+E"], filing.export_outlines)
    _action(window, menu, "Print a &transfer at canvas size…", ["Ctrl+T"], filing.export_transfer)
    menu.addSeparator()
    _action(window, menu, "&Quit", ["Ctrl+Q"], window.close)


def _fill_recent(window: "Window", menu: QMenu) -> None:
    menu.clear()
    for name in window.settings.recent:
        _action(window, menu, name.replace("&", "&&"), [], lambda p=name: window.filing.open(Path(p)))  # type: ignore[misc]
    if not window.settings.recent:
        _action(window, menu, "nothing yet", [], lambda: None).setEnabled(False)


def _edit(window: "Window", menu: QMenu) -> None:
    stack = window.undo_group
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
    _action(window, menu, "&Lock or unlock note", ["Ctrl+L"], window.note_station.toggle_lock)
    _action(window, menu, "Mer&ge near-duplicates", ["Ctrl+M"], window.note_station.merge_alike)
    hold = window.harmonise.scheme_page.toggle_hold
    _action(window, menu, "Leave note out of the &harmony, or take it in", ["X"], hold)


def _view(window: "Window", menu: QMenu) -> None:
    _action(window, menu, "&As it is", ["A"], lambda: window.showing.set_view(plain=True))
    for words, key, part in (
        ("&Values", "V", "value"), ("&Squint", "S", "squint"), ("&Isolate", "I", "isolate"),
        ("&Chroma up", "C", "chroma"), ("Mirror (&hand mirror)", "H", "mirror"), ("What is &lost", "L", "lost"),
    ):  # fmt: skip
        _action(window, menu, words, [key], lambda p=part: window.showing.toggle(p))  # type: ignore[misc]
    _action(window, menu, "&Transfer grid", ["T"], window.showing.next_grid)
    before = _action(window, menu, "&Before, while held", ["B"], window.showing.hold_before)
    before.setAutoRepeat(False)
    _action(window, menu, "&Masses or picture", ["M"], window.toggle_masses)
    _action(window, menu, "Picture, pulled, masses (Harmonise)", ["K"], window.next_harmony_sight)
    menu.addSeparator()
    _action(window, menu, "Zoom &in", ["+", "="], lambda: window.easel.zoom_by(1.25))
    _action(window, menu, "Zoom &out", ["-"], lambda: window.easel.zoom_by(0.8))
    _action(window, menu, "&Fit", ["F"], window.easel.fit)
    _action(window, menu, "At the &easel, full screen", ["F11"], window.to_easel_view)
    menu.addSeparator()
    _choices(window, menu, "S&urround", [(f"{n.capitalize()} grey", n) for n in theme.THEMES],
             window.settings.surround, window.set_surround)  # fmt: skip
    mine = window.preferences
    _choices(window, menu, "Values &numbered", [(s.title, key_of(s)) for s in SCHOOLS], window.settings.school,
             lambda key: mine.use_school(school(key)))  # fmt: skip
    _choices(window, menu, "&Warm and cool blues", [(words, key) for key, words in WARMTHS.items()],
             window.settings.warmth, lambda key: mine.use_setting("warmth", key))  # fmt: skip
    _choices(window, menu, "&Palette surface", [(k.capitalize(), k) for k in SURFACES],
             window.settings.palette_surface, lambda key: mine.use_setting("palette_surface", key))  # fmt: skip
    monitor = _menu(menu, "M&onitor")
    _action(window, monitor, "&Choose a profile…", [], lambda: _choose_profile(window))
    _action(window, monitor, "As the &desktop knows it", [], lambda: mine.choose_profile(""))
    _action(window, monitor, "What is &set?", [], lambda: QMessageBox.information(window, "Monitor", display.details()))
    _action(window, menu, "Test card of &greys…", ["Ctrl+G"], lambda: TestCard(window).open())


def _choices(
    window: "Window", menu: QMenu, words: str, options: list[tuple[str, str]], now: str, call: Callable[[str], Any]
) -> None:
    """A menu of which one thing is chosen."""
    inner = _menu(menu, words)
    group = QActionGroup(window)
    for title, key in options:
        action = _action(window, inner, title, [], lambda k=key: call(k))  # type: ignore[misc]
        action.setCheckable(True)
        action.setChecked(key == now)
        group.addAction(action)


def _choose_profile(window: "Window") -> None:
    name, _ = QFileDialog.getOpenFileName(
        window, "The monitor's colour profile", "/usr/share/color/icc", "Profiles (*.icc *.icm *.ICC *.ICM)"
    )
    if name:
        window.preferences.choose_profile(name)


def _go(window: "Window", menu: QMenu) -> None:
    for i, s in enumerate(window.stations, 1):
        _action(window, menu, f"&{i} {s.title}", [f"Ctrl+{i}"], lambda t=s.title: window.go_to(t))  # type: ignore[misc]
    _action(window, menu, "Next pa&ge of the tray", ["Ctrl+PgDown"], lambda: window.turn_page(1))
    _action(window, menu, "Page before", ["Ctrl+PgUp"], lambda: window.turn_page(-1))
    menu.addSeparator()
    _action(window, menu, "Set the light by a &grey", ["G"], lambda: window.arm_light("grey"))
    _action(window, menu, "Set the light by a &white", ["W"], lambda: window.arm_light("white"))
    menu.addSeparator()
    for key, (tool, shortcut) in {
        "spot": ("Note a s&pot", "P"), "area": ("Note an area (&outline)", "O"), "line": ("&Note a gradation", "N"),
    }.items():  # fmt: skip
        _action(window, menu, tool, [shortcut], lambda k=key: window.take_tool(k))  # type: ignore[misc]
    _action(window, menu, "&Read with the spot reader", ["R"], window.showing.read_with_reader)
    _action(window, menu, "Draw a f&ocus area", ["U"], lambda: window.draw_on_masses("Values", "focus"))
    _action(window, menu, "Paint into the lig&ht", ["Y"], lambda: window.draw_on_masses("Light", "light"))
    _action(window, menu, "Paint into the sha&dow", ["J"], lambda: window.draw_on_masses("Light", "shadow"))
    _action(window, menu, "To the val&ue scale", ["Q"], lambda: window.to_panel("Mass", window.scale))
    _action(window, menu, "To the &wheel", ["Z"], lambda: window.to_panel("Harmonise", window.wheel))
    _action(window, menu, "Find the note in the &chart", ["/"], window.find_in_chart)
    _action(window, menu, "To the &easel", ["E"], lambda: window.easel.setFocus())
    _action(window, menu, "To the &ledge", ["D"], lambda: window.ledge.setFocus())
    menu.addSeparator()
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
