"""A question as it is seen: patches that touch, a picture with its spots, answers to choose from; then the truth."""

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap

from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import Array, Lab
from ochre_stone.core.practice.trial import Adjust, Match, OneOf, Patch, PlacedCuts, Trial, Verdict
from ochre_stone.desktop.session import display, numbers
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.image import to_image
from ochre_stone.desktop.widgets.items import Item, Items
from ochre_stone.desktop.widgets.shapes import dab, ink_on, paint_colour

_SIDE = 300.0
_SPOT = 11.0
_ACROSS = 4
"""Answers in one line."""


class DrillView(Items):
    """What is asked. Answers are items: a click, or their number, takes one."""

    answered = pyqtSignal(int)
    """One of several was chosen."""
    stepped = pyqtSignal(int)
    """The patch in hand is to be moved one step on, or back."""
    picked = pyqtSignal(int)
    """A patch that can be moved was taken in hand."""

    def __init__(self) -> None:
        super().__init__("The drill")
        self.trial: Trial | None = None
        self.verdict: Verdict | None = None
        self.places: tuple[int, ...] = ()
        """Of patches that are moved."""
        self.cuts: tuple[float, ...] = ()
        self.mixed: Lab | None = None
        self.hint = ""
        self._pixmap: QPixmap | None = None
        self._by_keys = False
        self.taken.connect(self._was_taken)
        self.opened.connect(self._was_opened)

    def show_trial(self, trial: Trial | None, verdict: Verdict | None, in_hand: int = 0) -> None:
        """A question, its answer where it was given, and which patch is in hand."""
        if trial is not self.trial:
            self._pixmap = None
            if trial is not None and trial.scene is not None:
                linear = trial.scene.linear
                self._pixmap = QPixmap.fromImage(to_image(display.screen().encode(linear.astype("float32"))))
        self.trial, self.verdict = trial, verdict
        self.set_items(self._items())
        self.setAccessibleDescription(self._said())
        self.hold(f"patch-{in_hand}" if self._adjust() is not None else None)
        self.update()

    def _adjust(self) -> Adjust | None:
        asked = self.trial.asked if self.trial is not None else None
        return asked if isinstance(asked, Adjust) else None

    def _one_of(self) -> OneOf | None:
        asked = self.trial.asked if self.trial is not None and self.verdict is None else None
        return asked if isinstance(asked, OneOf) else None

    def _items(self) -> list[Item]:
        one, adjust = self._one_of(), self._adjust()
        if one is not None:
            return [Item(f"answer-{k}", f"{k + 1}, {w}") for k, w in enumerate(one.words)]
        if adjust is not None and self.verdict is None:
            return [Item(f"patch-{k}", name, f"step {self.places[k]}") for k, name in enumerate(adjust.names)]
        return []

    def _said(self) -> str:
        if self.trial is None:
            return self.hint
        if self.verdict is not None:
            return self.verdict.words
        return self.trial.question

    # Where things lie

    def boxes(self) -> list[QRectF]:
        if self._one_of() is not None:
            return self._answer_boxes()
        adjust = self._adjust()
        return self._adjust_boxes(adjust) if adjust is not None and self.verdict is None else []

    def _answer_boxes(self) -> list[QRectF]:
        one = self._one_of()
        n = len(one.words) if one is not None else 0
        across = n if n <= _ACROSS else -(-n // 2)
        wide = min((self.width() - 40) / max(across, 1), 190.0)
        high = 130.0 if one is not None and one.patches else 50.0
        left = (self.width() - across * wide) / 2
        rows = -(-n // max(across, 1))
        top = self.height() - 24 - rows * (high + 8)
        return [QRectF(left + k % across * wide + 5, top + k // across * (high + 8), wide - 10, high) for k in range(n)]

    def _adjust_boxes(self, adjust: Adjust) -> list[QRectF]:
        n = len(adjust.ladders)
        if n == 1:
            box = self._stage()
            return [QRectF(box.left(), box.center().y(), box.width(), box.height() / 2)]
        if n == 2:
            box = self._stage()
            half = box.width() / 2
            return [
                QRectF(box.left() + k * half, box.top() + box.height() * 0.34, half, box.height() * 0.66)
                for k in range(2)
            ]
        whole = self.width() - 60.0
        wide = whole / (n + 2)
        return [QRectF(30 + (k + 1) * wide, self.height() * 0.3, wide, self.height() * 0.4) for k in range(n)]

    def _stage(self) -> QRectF:
        """Where the patches stand, touching."""
        side = min(_SIDE * 1.5, self.width() - 120.0, self.height() - 270.0)
        return QRectF((self.width() - side) / 2, 70, side, side)

    # Hands

    def _was_taken(self, item_id: str) -> None:
        kind, _, number = item_id.partition("-")
        if kind == "patch":
            self.picked.emit(int(number))
        elif not self._by_keys:
            self.answered.emit(int(number))

    def _was_opened(self, item_id: str) -> None:
        kind, _, number = item_id.partition("-")
        if kind == "answer":
            self.answered.emit(int(number))

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        one, trial = self._one_of(), self.trial
        if e is not None and one is not None and trial is not None and trial.scene is not None:
            place, scale = self._scene_place()
            for k, (_, x, y) in enumerate(trial.scene.marks):
                gap = e.position() - QPointF(place.left() + x * scale, place.top() + y * scale)
                if abs(gap.x()) < 2 * _SPOT and abs(gap.y()) < 2 * _SPOT:
                    self.answered.emit(k)
                    return
        super().mousePressEvent(e)

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        if e is None:
            return
        key = Qt.Key
        one = self._one_of()
        text = e.text()
        if one is not None and text.isdigit() and 1 <= int(text) <= len(one.words):
            self.answered.emit(int(text) - 1)
        elif e.key() in (key.Key_PageUp, key.Key_PageDown) and self._adjust() is not None:
            self.stepped.emit(1 if e.key() == key.Key_PageUp else -1)
        else:
            self._by_keys = True  # an arrow chooses an answer, Enter gives it
            walked = self.walk(e)
            self._by_keys = False
            if not walked:
                super().keyPressEvent(e)

    # Drawing

    def paintEvent(self, e: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport_())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        ink = theme.colour("on_surround")
        painter.setPen(ink)
        trial = self.trial
        flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
        if trial is None:
            painter.setFont(theme.face(11))
            painter.drawText(self.rect().adjusted(60, 0, -60, 0), flags, self.hint)
            return
        painter.setFont(theme.face(14, bold=True))
        words = trial.question if self.verdict is None else self.verdict.words
        painter.drawText(QRectF(20, 12, self.width() - 40, 48), flags, words)
        if self.verdict is not None and self.verdict.truth:
            self._paint_truth(painter, ink)
        elif trial.scene is not None and self._pixmap is not None:
            self._paint_scene(painter, ink)
        elif isinstance(trial.asked, Adjust):
            self._paint_adjust(painter, trial, trial.asked)
        elif isinstance(trial.asked, Match):
            self._paint_match(painter, trial.asked)
        else:
            self._paint_patches(painter, trial, ink)
        if self._one_of() is not None:
            self._paint_answers(painter, ink)
        if self.verdict is not None and trial.why:
            painter.setPen(ink)
            painter.setFont(theme.face(11))
            painter.drawText(QRectF(40, self.height() - 60, self.width() - 80, 44), flags, trial.why)

    def _paint_patches(self, painter: QPainter, trial: Trial, ink: QColor) -> None:
        box, patches = self._stage(), trial.patches
        if any(p.ground is not None for p in patches):
            self._paint_on_grounds(painter, patches)
            return
        if len(patches) > 3:  # a row of a chart
            wide = (self.width() - 80.0) / len(patches)
            boxes = [
                QRectF(round(40 + k * wide), box.top() + 40, round(wide) + 1, box.height() * 0.45)
                for k in range(len(patches))
            ]
        elif len(patches) == 2 and patches[0].words == "target":
            boxes = [
                QRectF(box.left(), box.top(), box.width(), box.height() / 2),
                QRectF(box.left(), box.center().y(), box.width(), box.height() / 2),
            ]
        else:
            wide = box.width() / max(len(patches), 1)
            boxes = [
                QRectF(round(box.left() + k * wide), box.top(), round(wide), box.height()) for k in range(len(patches))
            ]
        for p, place in zip(patches, boxes, strict=True):
            self._fill(painter, p, place, ink)

    def _fill(self, painter: QPainter, p: Patch, place: QRectF, ink: QColor) -> None:
        if p.words == "?":
            painter.setPen(QPen(ink, 1.5, Qt.PenStyle.DashLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(place.adjusted(3, 3, -3, -3))
            painter.setPen(ink)
        else:
            painter.fillRect(place, paint_colour(p.lab))
            painter.setPen(ink_on(p.lab))
        if p.words:
            painter.setFont(theme.face(12, bold=True))
            foot = QRectF(place.left() + 4, place.bottom() - 52, place.width() - 8, 46)
            flags = Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignBottom | Qt.TextFlag.TextWordWrap
            painter.drawText(foot, flags, p.words)

    def _paint_on_grounds(self, painter: QPainter, patches: Sequence[Patch]) -> None:
        box = self._stage()
        wide = min(box.width() * 1.5, self.width() - 40.0) / 2
        left = (self.width() - 2 * wide) / 2
        for k, p in enumerate(patches):
            place = QRectF(round(left + k * wide), box.top(), round(wide), box.height())
            painter.fillRect(place, paint_colour(p.ground if p.ground is not None else p.lab))
            side = min(place.width(), place.height()) * 0.34
            spot = QRectF(place.center().x() - side / 2, place.center().y() - side / 2, side, side)
            painter.fillRect(spot, paint_colour(p.lab))
            painter.setPen(ink_on(p.ground if p.ground is not None else p.lab))
            painter.setFont(theme.face(12, bold=True))
            painter.drawText(QRectF(place.left(), place.bottom() - 32, wide, 26), Qt.AlignmentFlag.AlignCenter, p.words)

    def _scene_place(self) -> tuple[QRectF, float]:
        """Where the picture stands, and how much larger it is than its pixels."""
        if self._pixmap is None:
            return QRectF(), 1.0
        room = QRectF(24, 66, self.width() - 48, self.height() - 66 - (170 if self.cuts else 110))
        scale = min(room.width() / self._pixmap.width(), room.height() / self._pixmap.height())
        w, h = self._pixmap.width() * scale, self._pixmap.height() * scale
        return QRectF(room.center().x() - w / 2, room.top(), w, h), scale

    def _paint_scene(self, painter: QPainter, ink: QColor) -> None:
        assert self._pixmap is not None and self.trial is not None and self.trial.scene is not None
        place, scale = self._scene_place()
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawPixmap(place, self._pixmap, QRectF(self._pixmap.rect()))
        for name, x, y in self.trial.scene.marks:
            at = QPointF(place.left() + x * scale, place.top() + y * scale)
            for grey, size in ((QColor("#000000"), _SPOT + 1.5), (QColor("#ffffff"), _SPOT)):
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.setPen(QPen(grey, 2))
                painter.drawEllipse(at, size, size)
            tag = QRectF(at.x() + _SPOT + 3, at.y() - 10, 20, 20)
            painter.fillRect(tag, QColor("#000000"))
            painter.setPen(QColor("#ffffff"))
            painter.setFont(theme.face(11, bold=True))
            painter.drawText(tag, Qt.AlignmentFlag.AlignCenter, name)
        asked = self.trial.asked
        if isinstance(asked, PlacedCuts):
            self._paint_curve(painter, asked, QRectF(60, self.height() - 150, self.width() - 120, 88), ink)

    def _paint_curve(self, painter: QPainter, asked: PlacedCuts, box: QRectF, ink: QColor) -> None:
        counts = histogram_of(asked.values)
        top = max(max(counts), 1.0)
        faint = QColor(ink)
        faint.setAlpha(110)
        wide = box.width() / len(counts)
        for k, n in enumerate(counts):
            high = box.height() * (n / top) ** 0.5
            painter.fillRect(QRectF(box.left() + k * wide, box.bottom() - high, wide + 0.5, high), faint)
        painter.setFont(theme.face(9))
        for tick in range(11):
            x = box.left() + box.width() * tick / 10
            painter.setPen(ink)
            painter.drawText(QRectF(x - 20, box.bottom() + 2, 40, 14), Qt.AlignmentFlag.AlignCenter, str(tick))
        for v in self.cuts:
            x = box.left() + box.width() * v / 10
            painter.setPen(QPen(ink, 2))
            painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()))
        if self.verdict is not None:
            painter.setPen(QPen(ink, 2, Qt.PenStyle.DashLine))
            for v in asked.best:
                x = box.left() + box.width() * v / 10
                painter.drawLine(QPointF(x, box.top() - 8), QPointF(x, box.bottom()))

    def _paint_adjust(self, painter: QPainter, trial: Trial, adjust: Adjust) -> None:
        boxes = self._adjust_boxes(adjust)
        ink = theme.colour("on_surround")
        if len(boxes) == 1:
            box = self._stage()
            self._fill(painter, trial.patches[0], QRectF(box.left(), box.top(), box.width(), box.height() / 2), ink)
        elif len(boxes) == 2:
            box = self._stage()
            self._fill(painter, trial.patches[0], QRectF(box.left(), box.top(), box.width(), box.height() * 0.34), ink)
        else:
            wide = boxes[0].width()
            ends = (boxes[0].translated(-wide, 0), boxes[-1].translated(wide, 0))
            for p, place in zip(trial.patches, ends, strict=True):
                self._fill(painter, p, place.adjusted(0, 0, 1, 0), ink)
        for k, (row, place) in enumerate(zip(adjust.ladders, boxes, strict=True)):
            self._fill(painter, Patch(row[self.places[k]], adjust.names[k]), place.adjusted(0, 0, 1, 0), ink)
        held = self.row_of(self.held)
        if 0 <= held < len(boxes) and len(boxes) > 1:
            painter.setPen(QPen(theme.colour("accent"), 3))
            under = boxes[held]
            foot = under.bottom() + 8
            painter.drawLine(QPointF(under.left() + 4, foot), QPointF(under.right() - 4, foot))

    def _paint_match(self, painter: QPainter, asked: Match) -> None:
        box = self._stage()
        now = self.mixed if self.mixed is not None else asked.target
        upper = QRectF(box.left(), box.top(), box.width(), box.height() / 2)
        ink = theme.colour("on_surround")
        self._fill(painter, Patch(asked.target, "target"), upper, ink)
        self._fill(painter, Patch(now, "your pile"), upper.translated(0, box.height() / 2), ink)

    def _paint_truth(self, painter: QPainter, ink: QColor) -> None:
        """Large and touching."""
        assert self.verdict is not None
        box, patches = self._stage(), self.verdict.truth
        if any(p.ground is not None for p in patches):  # without their grounds now, touching
            patches = tuple(Patch(p.lab, p.words) for p in patches)
        wide = (self.width() - 80.0 if len(patches) > 3 else box.width()) / len(patches)
        left = (self.width() - wide * len(patches)) / 2
        for k, p in enumerate(patches):
            words = p.words if len(patches) > 4 else f"{p.words}  {numbers.value(read(p.lab).value)}".strip()
            place = QRectF(round(left + k * wide), box.top(), round(wide) + 1, box.height() * 0.8)
            self._fill(painter, Patch(p.lab, words if p.words != "?" else numbers.value(read(p.lab).value)), place, ink)

    def _paint_answers(self, painter: QPainter, ink: QColor) -> None:
        one = self._one_of()
        assert one is not None
        for k, (words, box) in enumerate(zip(one.words, self._answer_boxes(), strict=True)):
            if one.patches:
                painter.fillPath(dab(f"answer {k}", box.adjusted(0, 0, 0, -24)), paint_colour(one.patches[k]))
                foot = QRectF(box.left(), box.bottom() - 22, box.width(), 20)
            else:
                painter.setPen(QPen(ink, 1.2))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRoundedRect(box, 5, 5)
                foot = box
            painter.setPen(ink)
            painter.setFont(theme.face(11.5, bold=True))
            painter.drawText(foot, Qt.AlignmentFlag.AlignCenter, f"{k + 1}  {words}")
            if f"answer-{k}" == self.held:
                painter.setPen(QPen(theme.colour("accent"), 2.4))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRoundedRect(box.adjusted(-4, -4, 4, 4), 7, 7)


def histogram_of(values: Array, bins: int = 120) -> list[float]:
    """How much of the picture has each value, 0 to 10."""
    out = [0.0] * bins
    for v in values[:: max(len(values) // 8000, 1)].tolist():
        out[min(max(int(v / 10 * bins), 0), bins - 1)] += 1
    return out
