"""Neutral greys around colours, one ochre for what is active, and the face."""

import functools
from dataclasses import dataclass

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PyQt6.QtWidgets import QApplication

from ochre_stone.resources import resource

FACE = "Atkinson Hyperlegible Next"


@dataclass(frozen=True)
class Theme:
    """Greys are true neutrals (a* = b* = 0). Text meets 4.5:1 on panel, deep and surround."""

    name: str
    surround: str
    panel: str
    deep: str
    line: str
    text: str
    quiet: str
    accent: str
    accent_text: str
    on_surround: str
    """Text on the surround."""


THEMES = {
    "middle": Theme(
        "middle",
        "#777777",
        "#424242",
        "#303030",
        "#5c5c5c",
        "#e6e6e6",
        "#bdbdbd",
        "#d9a441",
        "#1a1a1a",
        "#ffffff",
    ),
    "dark": Theme(
        "dark",
        "#3b3b3b",
        "#2a2a2a",
        "#1c1c1c",
        "#484848",
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
        "#222222",
        "#454545",
        "#7a4d00",
        "#ffffff",
        "#1a1a1a",
    ),
}

_current = THEMES["middle"]


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
    font.setPointSizeF(points)
    if bold:
        font.setWeight(QFont.Weight.Bold)
    font.setFeature(QFont.Tag("tnum"), 1)
    return font


def apply(app: QApplication, name: str) -> None:
    """Put a theme on the whole application."""
    global _current
    _current = THEMES.get(name, THEMES["middle"])
    t = _current
    app.setStyle("Fusion")
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
        p.setColor(QPalette.ColorGroup.Disabled, role, QColor(t.line).lighter(115))
    app.setPalette(p)
    app.setStyleSheet(_style(t))
    app.setEffectEnabled(Qt.UIEffect.UI_AnimateMenu, False)


def _style(t: Theme) -> str:
    text = resource("style", "window.qss").read_text(encoding="utf-8")
    for field in (
        "surround",
        "panel",
        "deep",
        "line",
        "accent_text",
        "accent",
        "on_surround",
        "quiet",
        "text",
    ):
        text = text.replace(f"@{field};", f"{getattr(t, field)};").replace(f"@{field} ", f"{getattr(t, field)} ")
    return text.replace("@icons", resource("icons").as_posix())
