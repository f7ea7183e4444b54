"""How the value scale looks: ramp and numbers of the painter's school, and beside them what the station stands at its
value."""

import functools
from collections.abc import Sequence
from dataclasses import replace
from enum import Enum

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen

from ochre_stone.core.colour.munsell import luminance_of_value
from ochre_stone.core.masses.plan import MassPlan
from ochre_stone.core.picture.screen import Screen
from ochre_stone.desktop.scale import bands, dabs, ribbons
from ochre_stone.desktop.scale.axis import ramp, y_of
from ochre_stone.desktop.scale.cuts import Cuts
from ochre_stone.desktop.scale.dabs import Column, Dabs
from ochre_stone.desktop.scale.ribbons import OnScale
from ochre_stone.desktop.session import display, numbers
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.items import Items

WIDE, LEAST = 210, 92
_RAMP_WIDE = 12.0


@functools.lru_cache(maxsize=4)
def _greys(screen: Screen) -> list[QColor]:
    """A grey for every tenth of a value, in its middle."""
    light = luminance_of_value(np.arange(100) / 10 + 0.05)
    code = screen.encode(np.repeat(light[:, None, None], 3, axis=2).astype(np.float32))
    return [QColor(*rgb) for rgb in code[:, 0].tolist()]


class Shows(Enum):
    """What stands beside the ramp."""

    CURVE = "the picture's values as a curve, and what was lost at the ends"
    NOTES = "the notes with their names"
    MASSES = "bands, curve, cuts and division; the notes small at the edge"
    DABS = "the notes without their names"
    ORDER = "bands with the order of laying in"
    TUBES = "the palette's tubes"
    COVERED = "nothing beside the ramp, which may be covered"


class ScaleFace(Items):
    """Everything stands at its value."""

    def __init__(self) -> None:
        super().__init__("Value scale")
        self.setMinimumWidth(LEAST)
        self.shows = Shows.NOTES
        self.hint = ""
        self.covered = False
        """Whether the ramp is covered too: a value is to be named without it."""
        self.cuts = Cuts()
        self._dragged: int | None = None
        """The cut that is being moved, and whether it is the division of light and shadow."""
        self._moves_division = False
        self._dabs = Dabs()
        self._shown: object = None
        self._selected: str | None = None
        self._tubes: tuple[OnScale, ...] = ()
        self._counts: np.ndarray | None = None
        self._lost = (0.0, 0.0)
        self._order: Sequence[int] = ()
        self._kept: tuple[object, Column] | None = None

    def sizeHint(self) -> QSize:
        return QSize(WIDE, 400)

    # What stands on it

    def show_as(self, shows: Shows) -> None:
        """What stands beside the ramp from now on."""
        self.shows = shows
        self._tell()

    def show_notes(self, shown: Dabs, selected: str | None) -> None:
        """The notes and the one in hand."""
        if (shown, selected, numbers.school()) != self._shown:
            self._shown = shown, selected, numbers.school()
            self._dabs, self._selected = shown, selected
            self._tell()

    @property
    def by_subject(self) -> bool:
        return self._dabs.by_subject

    def show_curve(self, counts: np.ndarray | None, burnt: float = 0.0, crushed: float = 0.0) -> None:
        """Histogram (256,) over value 0..10, and the shares of the picture that the photo lost."""
        self._counts, self._lost = counts, (burnt, crushed)
        self._tell()

    def show_plan(self, counts: np.ndarray | None, plan: MassPlan | None, locked: tuple[float, ...] = ()) -> None:
        """Histogram (256,) over value 0..10, the plan made from it, both None for none, and the locked thresholds."""
        self._counts = counts
        self.cuts.take_over(plan, locked, self._dragged is not None)
        self._tell()

    def show_order(self, plan: MassPlan | None, order: Sequence[int]) -> None:
        """The plan, None for none, and its masses by index in the order of laying in."""
        self._order = order
        self.cuts.take_over(plan, self.cuts.locked, False)
        self._tell()

    def show_tubes(self, tubes: Sequence[OnScale], selected: str | None = None) -> None:
        """The tubes of the palette in hand."""
        self._tubes = tuple(sorted(tubes, key=lambda t: -t.lab[0]))
        self._tell()
        if self.shows is Shows.TUBES:
            self.hold(selected)

    def _tell(self) -> None:
        """The items that stand here now."""
        self._kept = None
        shows = self.shows
        if shows is Shows.TUBES:
            self.set_items(ribbons.items(self._tubes))
        elif shows is Shows.MASSES:
            self.set_items([*self._dabs.items(), *self.cuts.items()])
            self.hold(self.cuts.in_hand)
        elif shows in (Shows.NOTES, Shows.DABS):
            self.set_items(self._dabs.items())
            self.hold(self._selected)
        else:
            self.set_items([])
        said = "; ".join(f"{i.name}, {i.state}" for i in self.items) or self.hint
        self.setAccessibleDescription(said)

    def showEvent(self, event: object) -> None:
        self.update()

    # Where it stands

    def _y(self, value: float) -> float:
        return y_of(value, self.height())

    @property
    def _right(self) -> float:
        return bands.right_of(self.width())

    def handle(self, index: int) -> QPointF:
        """Where a threshold's handle is."""
        return QPointF(self._right + bands.grip() / 2, self._y(self.cuts.values[index]))

    def division_handle(self) -> QPointF:
        """Where the handle of the division is."""
        return QPointF(bands.left(), self._y(self.cuts.division))

    def places(self) -> list[tuple[str, QRectF]]:
        """Id and dab of each note that stands here, from the top."""
        return [(n.id, p.dab) for n, p in zip(self._dabs.ordered(), self._column().places, strict=True)]

    @property
    def named(self) -> bool:
        """Whether the notes' names are beside them."""
        return any(p.named for p in self._column().places)

    def _shown_dabs(self) -> Dabs:
        return replace(self._dabs, names=self.shows is Shows.NOTES, small=self.shows is Shows.MASSES)

    def _column(self) -> Column:
        shown = self._shown_dabs()
        edge = self._right + bands.grip() + 5
        key = (shown, self.width(), self.height(), numbers.school(), theme.text_scale())
        if self._kept is None or self._kept[0] != key:
            self._kept = key, dabs.column(shown, self.width(), self.height(), edge)
        return self._kept[1]

    def boxes(self) -> list[QRectF]:
        if self.shows is Shows.TUBES:
            return [box.adjusted(0, -2, 0, 2) for box in self._ribbons()]
        if self.shows not in (Shows.NOTES, Shows.DABS, Shows.MASSES):
            return []
        notes = [p.row for p in self._column().places]
        if self.shows is not Shows.MASSES or self.cuts.plan is None:
            return notes
        width = self._right + bands.grip() - bands.left()
        cuts = [QRectF(bands.left(), self._y(v) - 8, width, 16) for v in [*self.cuts.values, self.cuts.division]]
        return [*notes, *cuts]

    def _ribbons(self) -> list[QRectF]:
        return ribbons.boxes(self._tubes, self.width(), self.height())

    # Hands

    def paintEvent(self, e: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport_())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        if self.covered:
            return
        self._paint_ramp(painter)
        if self.shows is Shows.CURVE and self._counts is not None:
            end = self.width() - 16.0
            bands.paint_curve(painter, self._counts, self._y, end, theme.colour("on_surround"))
            bands.paint_losses(painter, *self._lost, self._y)
        elif self.shows is Shows.MASSES and self.cuts.plan is not None:
            self._paint_masses(painter, self.cuts.plan)
        elif self.shows is Shows.ORDER and self.cuts.plan is not None:
            self._paint_order(painter, self.cuts.plan)
        elif self.shows is Shows.TUBES:
            ribbons.paint_ribbons(painter, self._tubes, self._ribbons(), self.height(), self.held)
        elif self.shows in (Shows.NOTES, Shows.DABS, Shows.MASSES):
            self._paint_notes(painter)
        if self.hasFocus():
            painter.setPen(QPen(theme.colour("accent"), 2))
            painter.drawLine(QPointF(1, 0), QPointF(1, self.height()))

    def _paint_ramp(self, painter: QPainter) -> None:
        """A grey scale in tenths of a value, true to the number beside it."""
        last = self._y(0)
        for v, grey in enumerate(_greys(display.screen())):
            y = self._y((v + 1) / 10)
            painter.fillRect(QRectF(ramp(), y, _RAMP_WIDE, last - y + 0.6), grey)
            last = y
        painter.setFont(theme.face(9.5, bold=True))
        painter.setPen(theme.colour("on_surround"))
        for value, word in numbers.ticks():
            box = QRectF(0, self._y(value) - 9, ramp() - 5, 18)
            painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, word)

    def _paint_notes(self, painter: QPainter) -> None:
        if self._dabs.notes:
            size = (float(self.width()), float(self.height()))
            dabs.paint_dabs(painter, self._shown_dabs(), self._column(), size, self._selected)
        elif self.hint and self.width() > 150:
            painter.setPen(theme.colour("on_surround"))
            painter.setFont(theme.face(10.5))
            painter.drawText(
                QRectF(60, 0, self.width() - 68, self.height()),
                Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap,
                self.hint,
            )

    def _paint_masses(self, painter: QPainter, plan: MassPlan) -> None:
        bands.paint_bands(painter, plan, self.cuts.values, self._y, self._right)
        if self._counts is not None:
            end = bands.left() + 0.62 * (self._right - bands.left())
            bands.paint_curve(painter, self._counts, self._y, end, theme.colour("on_surround"))
        shares = bands.shares(plan, len(self.cuts.values) + 1)
        bands.paint_words(painter, plan, self.cuts.values, self._y, self._right, shares)
        ready = self.hasFocus() or self._dragged is not None
        for i, cut in enumerate(self.cuts.values):
            held = i == self.cuts.chosen and not self.cuts.divides and ready
            bands.paint_cut(painter, cut, self._y(cut), self._right, held, self.cuts.is_locked(cut))
        if self.cuts.divides:
            bands.paint_division(painter, self._y(self.cuts.division), self._right, self.hasFocus())
        size = (float(self.width()), float(self.height()))
        dabs.paint_dabs(painter, self._shown_dabs(), self._column(), size, self._selected)

    def _paint_order(self, painter: QPainter, plan: MassPlan) -> None:
        """Each band says when its masses are laid in."""
        right = self.width() - 16.0
        bands.paint_bands(painter, plan, self.cuts.values, self._y, right)
        when: list[list[str]] = [[] for _ in range(len(self.cuts.values) + 1)]
        steps = {m.index: m.step for m in plan.masses}
        for turn, index in enumerate(self._order, 1):
            when[steps[index]].append(str(turn))
        words = [f"laid in {', '.join(w)}" if w else "" for w in when]
        bands.paint_words(painter, plan, self.cuts.values, self._y, right, words)
