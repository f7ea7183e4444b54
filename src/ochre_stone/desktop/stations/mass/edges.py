"""The Edges page of Mass: how masses meet, borders that only hue holds, and planes that are a gradual turn."""

import numpy as np
from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QIcon, QPainter, QPixmap
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QListWidgetItem, QVBoxLayout, QWidget

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.masses.edges import EDGE_KINDS
from ochre_stone.core.masses.gradations import Turn, toward
from ochre_stone.core.masses.plan import Border
from ochre_stone.core.planning.massing import blend_of
from ochre_stone.core.planning.planning import blend_words
from ochre_stone.desktop.easel import masscover
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.stations.mass.choice import Masses
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.image import untinted
from ochre_stone.desktop.widgets.parts import ListBox, Words, button, clear, enable
from ochre_stone.desktop.widgets.tray import Tray

_STROKE = QSize(46, 16)
_SAME_PLACE = 0.04


def _icon(kind: str) -> QIcon:
    """The stroke of a kind on the surround."""
    pixmap = QPixmap(_STROKE)
    pixmap.fill(theme.colour("surround"))
    painter = QPainter(pixmap)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    masscover.key_swatch(kind, QRectF(pixmap.rect()), painter)
    painter.end()
    return untinted(pixmap)


class EdgesPage:
    """Borders and turns."""

    def __init__(self, tray: Tray, masses: Masses) -> None:
        self.masses, self.studio = masses, masses.studio
        tray.label("Where masses meet", "head")
        self.list = ListBox("Borders between masses, longest first", 150)
        self.list.setIconSize(_STROKE)
        self.list.currentItemChanged.connect(lambda now, _: self._show_kind(now))
        tray.list(self.list)
        self.kinds = {}
        group = QButtonGroup(tray.widget)
        for kind in EDGE_KINDS:
            b = button(kind.capitalize(), f"Paint this border {kind}", "small", checkable=True)
            b.clicked.connect(lambda _, k=kind: self._say(k))
            group.addButton(b)
            self.kinds[kind] = b
        self.found = button("As found", "What the picture itself says", "small")
        self.found.clicked.connect(lambda: self._say(""))
        tray.row(*self.kinds.values(), self.found)
        tray.label(
            "Click a border on the picture to find it here. Beads mark where two hues meet at one value: lost in "
            "value, and glowing.",
            "quiet",
        )
        tray.label("Turns, not flats", "head")
        self.turns = QVBoxLayout()
        self.turns.setSpacing(4)
        tray.rows.addLayout(self.turns)
        self.turn_words = tray.label("", "quiet")

    def _border(self) -> Border | None:
        item = self.list.currentItem()
        return item.data(Qt.ItemDataRole.UserRole) if item is not None else None

    def _say(self, kind: str) -> None:
        b = self._border()
        if b is None:
            self.studio.told.emit("Choose a border in the list, or click one on the picture.")
            return
        rest = tuple(e for e in self.masses.choice.edges if (e[0], e[1]) != (b.a, b.b))
        said = ((b.a, b.b, kind),) if kind and kind != b.found else ()
        self.masses.set(f"Edge {b.a + 1} to {b.b + 1}: {kind or 'as found'}", edges=(*rest, *said))

    def _show_kind(self, item: QListWidgetItem | None) -> None:
        border = item.data(Qt.ItemDataRole.UserRole) if item is not None else None
        for kind, b in self.kinds.items():
            enable(b, "" if border is not None else "Choose a border first: in the list, or on the picture.")
            b.setChecked(border is not None and border.kind == kind)
        changed = border is not None and border.kind != border.found
        enable(self.found, "" if changed else "This border is as it was found.")

    def clicked(self, x: float, y: float) -> None:
        """The picture was clicked: choose the border of the two masses that meet nearest."""
        plan = self.masses.plan
        if plan is None:
            return
        labels = plan.labels
        h, w = labels.shape
        row, column = int(y * h), int(x * w)
        for reach in (4, 10, 24):
            near = labels[max(row - reach, 0) : row + reach + 1, max(column - reach, 0) : column + reach + 1]
            here = int(labels[min(max(row, 0), h - 1), min(max(column, 0), w - 1)])
            counts = np.bincount(near.ravel(), minlength=len(plan.masses))
            counts[here] = 0
            if counts.any():
                pair = tuple(sorted((here, int(counts.argmax()))))
                self._choose((pair[0], pair[1]))
                return

    def _choose(self, pair: tuple[int, int]) -> None:
        for i in range(self.list.count()):
            item = self.list.item(i)
            b = item.data(Qt.ItemDataRole.UserRole) if item is not None else None
            if b is not None and (b.a, b.b) == pair:
                self.list.setCurrentRow(i)
                return

    def refresh(self) -> None:
        plan = self.masses.plan
        old = self._border()
        self.list.clear()
        for b in plan.borders if plan is not None else ():
            words = f"{b.a + 1} to {b.b + 1}:  {b.kind}, {numbers.school().difference(b.step)} steps"
            if b.kind != b.found:
                words += f"  (found {b.found})"
            if b.glows:
                words += "  held by hue: glows"
            item = QListWidgetItem(_icon(b.kind), words)
            item.setData(Qt.ItemDataRole.UserRole, b)
            self.list.addItem(item)
        if old is not None:
            self._choose((old.a, old.b))
        self._show_kind(self.list.currentItem())
        self._list_turns()

    def _list_turns(self) -> None:
        clear(self.turns)
        found = self.masses.turns
        for t in found:
            line = QWidget()
            box = QHBoxLayout(line)
            box.setContentsMargins(0, 0, 0, 0)
            ends = [numbers.value(v) for v in (_value(t.dark), _value(t.light))]
            where = " and ".join(str(m + 1) for m in sorted(t.masses))
            words = Words()
            words.mark_up(
                f"Mass {where}: <b>{ends[0]}</b> to <b>{ends[1]}</b>, lighter toward the {toward(t.direction)}"
            )
            words.setWordWrap(True)
            box.addWidget(words, 1)
            planned = self._planned(t)
            b = button("Blend", "Plan it as a blend between two piles", "small", checkable=True)
            b.setAccessibleName(f"Plan mass {where} as a blend")
            b.setChecked(planned is not None)
            b.clicked.connect(lambda on, t=t: self._blend(t, on))
            box.addWidget(b)
            self.turns.addWidget(line)
        self.turn_words.setText(self._blend_words() if found else "No plane of this picture turns gradually enough.")

    def _blend_words(self) -> str:
        """Between which piles the planned blends go, once there are any."""
        said = "; ".join(blend_words(self.studio.document))
        return f"Blended {said}." if said else "A blend is drawn as one, and the sheet says between which piles."

    def _planned(self, t: Turn) -> int | None:
        """Index of the blend that was planned for a turn."""
        seen = self.studio.seen
        if seen is None:
            return None
        for i, b in enumerate(self.masses.choice.blends):
            x, y = seen.from_original(b.x, b.y)
            if abs(x / seen.width - t.x) < _SAME_PLACE and abs(y / seen.height - t.y) < _SAME_PLACE:
                return i
        return None

    def _blend(self, t: Turn, on: bool) -> None:
        picture, blends = self.studio.picture, self.masses.choice.blends
        at = self._planned(t)
        if on and at is None and picture is not None:
            self.masses.set("Plan a blend", blends=(*blends, blend_of(t, picture, self.studio.document)))
        elif not on and at is not None:
            self.masses.set("Plan flats, no blend", blends=(*blends[:at], *blends[at + 1 :]))


def _value(lab: Lab) -> float:
    return float(value_of_lightness(min(lab[0], 100.0)))
