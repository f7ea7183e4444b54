"""Choose by looking: the picture laid in with each palette, or with so many piles, and one of them large."""

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen

from ochre_stone.core.picture.picture import lab_to_linear
from ochre_stone.core.planning.blockin import LaidIn
from ochre_stone.desktop.session import display
from ochre_stone.desktop.session.trying import Option, Trying, large_size
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.image import to_image
from ochre_stone.desktop.widgets.items import Item, Items

_LARGE, _CAPTION, _EDGE, _GAP = 0.5, 50, 12.0, 10.0


class ByLooking(Items):
    """Small block-ins with what they are; the one under the pointer, or held by keys, is large above them."""

    def __init__(self, trying: Trying) -> None:
        super().__init__("Choose by looking")
        self.trying = trying
        self._options: list[Option] = []
        self._images: dict[int, tuple[LaidIn, QImage]] = {}
        self._share = 0.0
        self.taken.connect(trying.look_at)
        self.opened.connect(trying.take)
        trying.changed.connect(self.refresh)
        trying.progress.connect(self._progress)

    def refresh(self) -> None:
        """Show what is known of each option."""
        if self.trying.choosing is None or not self.isVisible():
            return
        self._options = self.trying.options()
        self.set_items([Item(o.key, o.name, self._words(o)) for o in self._options])
        self.hold(self._looked_at().key)
        self.setAccessibleDescription(self.foot_words())
        self.update()

    def _progress(self, share: float) -> None:
        self._share = share
        self.update()

    def _looked_at(self) -> Option:
        keys = [o.key for o in self._options]
        key = self.trying.looked_at if self.trying.looked_at in keys else self.trying.chosen()
        return self._options[keys.index(key)]

    def _words(self, option: Option) -> str:
        found = self.trying.found(option)
        if found is not None:
            return found.words
        if self.trying.failed(option):
            return self.trying.failed(option)
        return "being mixed" if option.key == self.trying.now else "waits"

    def foot_words(self) -> str:
        """What is said of all of them: what is being tried, then what looks alike."""
        known = [o for o in self._options if self.trying.found(o) is not None or self.trying.failed(o)]
        if len(known) < len(self._options):
            now = next((o.name for o in self._options if o.key == self.trying.now), "")
            at = f": {now}, {self._share:.0%}" if now else ""
            return f"{len(known)} of {len(self._options)} tried{at}."
        return self.trying.alike_words() if self.trying.choosing == "palettes" else ""

    # Where they stand

    def _aspect(self) -> float:
        """Width over height of the picture."""
        laid = next((t.laid for o in self._options if (t := self.trying.found(o)) and t.laid is not None), None)
        if laid is not None:
            h, w = laid.labels.shape
            return float(w / h)
        seen = self.trying.studio.seen
        return seen.width / seen.height if seen is not None else 4 / 3

    @property
    def _large(self) -> float:
        """Share of the height that the large picture has: more where the small ones stand in one row."""
        return _LARGE if len(self._options) > 5 else 0.62

    def _columns(self) -> int:
        """So many small pictures in a row that they are as large as can be."""
        room = self.height() * (1 - self._large) - 30
        best = (0.0, 1)
        for n in range(1, len(self._options) + 1):
            rows = -(-len(self._options) // n)
            wide = (self.width() - 2 * _EDGE - (n - 1) * _GAP) / n
            high = room / rows - _CAPTION - _GAP
            best = max(best, (min(wide, high * self._aspect()), n))
        return best[1]

    def boxes(self) -> Sequence[QRectF]:
        """Each small picture with its words."""
        if not self._options:
            return []
        n = self._columns()
        rows = -(-len(self._options) // n)
        wide = (self.width() - 2 * _EDGE - (n - 1) * _GAP) / n
        high = (self.height() * (1 - self._large) - 30) / rows
        top = self.height() * self._large
        return [
            QRectF(_EDGE + (k % n) * (wide + _GAP), top + (k // n) * high, wide, high - _GAP)
            for k in range(len(self._options))
        ]

    def mouseMoveEvent(self, e: QMouseEvent | None) -> None:
        """What is pointed at is looked at."""
        found = self.at(e.position().toPoint()) if e is not None else None
        if found is not None:
            self.trying.look_at(found)

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        if e is None or not self.walk(e):
            super().keyPressEvent(e)

    # Drawing

    def _image(self, laid: LaidIn) -> QImage:
        known = self._images.get(id(laid))
        if known is None or known[0] is not laid:
            labels = laid.enlarged(*large_size(laid))
            code = display.screen().encode(lab_to_linear(laid.colours.reshape(-1, 1, 3))).reshape(-1, 3)
            kept = {id(t.laid) for o in self._options if (t := self.trying.found(o)) is not None}
            self._images = {k: v for k, v in self._images.items() if k in kept}
            self._images[id(laid)] = laid, to_image(code[labels])
        return self._images[id(laid)][1]

    def _paint_picture(self, painter: QPainter, option: Option, room: QRectF) -> QRectF:
        """The option's block-in in a room, or an empty field; where it lies."""
        aspect = self._aspect()
        wide = min(room.width(), room.height() * aspect)
        box = QRectF(room.center().x() - wide / 2, room.top(), wide, wide / aspect)
        found = self.trying.found(option)
        if found is not None and found.laid is not None:
            painter.drawImage(box, self._image(found.laid))
        else:
            painter.setPen(QPen(theme.colour("line"), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(box)
        return box

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport_())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(self.rect(), theme.colour("surround"))
        ink = theme.colour("on_surround")
        painter.setPen(ink)
        if not self._options:
            return
        held = self._looked_at()
        large = QRectF(_EDGE, 8, self.width() - 2 * _EDGE, self.height() * self._large - 44)
        box = self._paint_picture(painter, held, large)
        painter.setPen(ink)
        painter.setFont(theme.face(11, bold=True))
        found = self.trying.found(held)
        figures = f"; {found.laid.figures.words}" if found is not None and found.laid is not None else ""
        words = f"{held.name}: {found.words.split(', off')[0] if found else self._words(held)}{figures}."
        line = QRectF(_EDGE, box.bottom() + 3, self.width() - 2 * _EDGE, 24)
        painter.drawText(line, Qt.AlignmentFlag.AlignCenter, words)
        for option, place in zip(self._options, self.boxes(), strict=True):
            self._paint_small(painter, option, place, option.key == held.key)
        painter.setPen(ink)
        painter.setFont(theme.face(10))
        foot = QRectF(_EDGE, self.height() - 30, self.width() - 2 * _EDGE, 28)
        painter.drawText(foot, Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, self.foot_words())

    def _paint_small(self, painter: QPainter, option: Option, place: QRectF, held: bool) -> None:
        box = self._paint_picture(painter, option, place.adjusted(0, 0, 0, -_CAPTION))
        chosen = option.key == self.trying.chosen()
        if held:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("accent" if self.hasFocus() else "on_surround"), 2))
            painter.drawRect(box.adjusted(-3, -3, 3, 3))
        painter.setPen(theme.colour("on_surround"))
        painter.setFont(theme.face(9, bold=chosen))
        flags = Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap
        words = f"{option.name}{' (chosen)' if chosen else ''}\n{self._words(option)}"
        room = QRectF(place.left() - 4, box.bottom() + 4, place.width() + 8, _CAPTION)
        painter.drawText(room, flags, words)
