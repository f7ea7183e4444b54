"""Neutral greys around colours, one ochre for what is active, and the face."""

import functools
import re
import weakref
from dataclasses import dataclass

from PyQt6 import sip
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PyQt6.QtWidgets import QApplication, QToolTip, QWidget

from ochre_stone.resources import resource

FACE = "Atkinson Hyperlegible Next"


@dataclass(frozen=True)
class Theme:
    """Greys are true neutrals (a* = b* = 0). Text meets 4.5:1 on panel, deep and surround, the accent 3:1."""

    name: str
    surround: str
    panel: str
    deep: str
    line: str
    """What parts things, and need not be seen to be used."""
    edge: str
    """The outline of what can be worked: 3:1 against panel and deep."""
    off: str
    """Words of what cannot be worked now: to be read, 3:1."""
    text: str
    quiet: str
    accent: str
    accent_text: str
    on_surround: str
    """Text on the surround."""


THEMES = {
    "middle": Theme(
        "middle",
        "#757575",
        "#424242",
        "#303030",
        "#5c5c5c",
        "#949494",
        "#a4a4a4",
        "#e6e6e6",
        "#bdbdbd",
        "#ffce6b",
        "#1a1a1a",
        "#ffffff",
    ),
    "dark": Theme(
        "dark",
        "#3b3b3b",
        "#2a2a2a",
        "#1c1c1c",
        "#484848",
        "#7c7c7c",
        "#8f8f8f",
        "#dedede",
        "#ababab",
        "#cf9a3a",
        "#141414",
        "#e8e8e8",
    ),
    "light": Theme(
        "light",
        "#acacac",
        "#d6d6d6",
        "#c4c4c4",
        "#9a9a9a",
        "#666666",
        "#5a5a5a",
        "#222222",
        "#454545",
        "#7a4d00",
        "#ffffff",
        "#1a1a1a",
    ),
}

_current = THEMES["middle"]
LEAST_POINTS = 9.0
"""Nothing is drawn smaller."""
_text_scale = 1.0
_sheet = ""
_dressed: "weakref.WeakSet[QWidget]" = weakref.WeakSet()
_stale: "list[weakref.ref[QWidget]]" = []


def current() -> Theme:
    """The theme in use."""
    return _current


def colour(name: str) -> QColor:
    """A theme colour by field name."""
    return QColor(getattr(_current, name))


def load_fonts() -> None:
    """Make the shipped face known to Qt."""
    for file in sorted(resource("fonts").glob("*.ttf")):
        QFontDatabase.addApplicationFont(str(file))


def face(points: float, bold: bool = False) -> QFont:
    """The interface's face with tabular figures."""
    return QFont(_face(points, bold))


@functools.lru_cache(maxsize=64)
def _face(points: float, bold: bool) -> QFont:
    font = QFont(FACE)
    font.setPointSizeF(max(points * _text_scale, LEAST_POINTS))
    if bold:
        font.setWeight(QFont.Weight.Bold)
    font.setFeature(QFont.Tag("tnum"), 1)
    return font


def text_scale() -> float:
    """How large text is, 1 as drawn."""
    return _text_scale


def scale_text(factor: float) -> None:
    """Draw all text larger or smaller from now on; what is shown is to be styled anew by :func:`apply`."""
    global _text_scale
    _text_scale = min(max(factor, 0.8), 2.0)
    _face.cache_clear()


_desktop_points = 0.0
_USUAL_POINTS = 11.0
"""The desktop's text where nobody made it larger."""


def learn_desktop(points: float) -> None:
    """Remember how large the desktop writes, before the program's own face is set."""
    global _desktop_points
    _desktop_points = points


def of_the_desktop() -> float:
    """How much larger than usual the desktop writes; never smaller."""
    return max(_desktop_points / _USUAL_POINTS, 1.0) if _desktop_points > 0 else 1.0


def sized(pixels: float) -> int:
    """Room for text that is ``pixels`` high as drawn, at the text's present size."""
    return round(pixels * max(_text_scale, 1.0))


def apply(app: QApplication, name: str) -> None:
    """Put a theme on the whole application."""
    global _current, _sheet
    _current = THEMES.get(name, THEMES["middle"])
    t = _current
    if app.property("dressed") is None:
        app.setProperty("dressed", True)
        app.setStyle("Fusion")
        app.setEffectEnabled(Qt.UIEffect.UI_AnimateMenu, False)
    if app.font() != face(10.5):
        app.setFont(face(10.5))
    p = QPalette()
    roles = QPalette.ColorRole
    for role, value in {
        roles.Window: t.panel,
        roles.Base: t.deep,
        roles.AlternateBase: t.panel,
        roles.Button: t.panel,
        roles.WindowText: t.text,
        roles.Text: t.text,
        roles.ButtonText: t.text,
        roles.ToolTipBase: t.deep,
        roles.ToolTipText: t.text,
        roles.PlaceholderText: t.quiet,
        roles.Highlight: t.accent,
        roles.HighlightedText: t.accent_text,
        roles.Accent: t.accent,
        roles.Light: t.line,
        roles.Dark: t.deep,
    }.items():
        p.setColor(role, QColor(value))
    for role in (QPalette.ColorRole.WindowText, QPalette.ColorRole.Text, QPalette.ColorRole.ButtonText):
        p.setColor(QPalette.ColorGroup.Disabled, role, QColor(t.off))
    app.setPalette(p)
    QToolTip.setPalette(p)
    _sheet = _style(t)
    there = [w for w in _dressed if not sip.isdeleted(w)]
    _stale[:] = [weakref.ref(w) for w in sorted(there, key=lambda w: not w.isVisible())]
    QTimer.singleShot(0, _dress_next)


def style(widget: QWidget) -> None:
    """Style a widget and all in it, now and whenever greys or text size change.

    Styles are set part by part: set on the whole application, a change of the surround would block for most of a
    second. One part is dressed to a turn of the event loop, those in sight first, or by :func:`fresh` when it is shown.
    """
    _dressed.add(widget)
    widget.setStyleSheet(_sheet)


def fresh(widget: QWidget) -> None:
    """Dress what is about to be shown, where that is still to be done."""
    if widget in _dressed and widget.styleSheet() != _sheet:
        widget.setStyleSheet(_sheet)


def _dress_next() -> None:
    while _stale:
        widget = _stale.pop(0)()
        if widget is not None and not sip.isdeleted(widget) and widget.styleSheet() != _sheet:
            widget.setStyleSheet(_sheet)
            QTimer.singleShot(0, _dress_next)
            return


def _style(t: Theme) -> str:
    text = resource("style", "window.qss").read_text(encoding="utf-8")
    for field in (
        "surround",
        "panel",
        "deep",
        "line",
        "edge",
        "off",
        "accent_text",
        "accent",
        "on_surround",
        "quiet",
        "text",
    ):
        text = text.replace(f"@{field};", f"{getattr(t, field)};").replace(f"@{field} ", f"{getattr(t, field)} ")
    text = re.sub(r"(\d+(?:\.\d+)?)pt\b", lambda m: f"{max(float(m[1]) * _text_scale, LEAST_POINTS):g}pt", text)
    text = text.replace("@ink", "dark" if t.name == "light" else "light")
    return text.replace("@icons", resource("icons").as_posix())
