"""The Frame page of Look: crop to a canvas, straighten by a drawn line, square up a photographed print, mirror."""

from collections.abc import Callable
from dataclasses import replace

from PyQt6.QtCore import QRectF
from PyQt6.QtWidgets import QCheckBox, QComboBox, QDoubleSpinBox

from ochre_stone.core.document.document import Canvas
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.frame import (
    CANVASES,
    MOST_TURN,
    Frame,
    Point,
    canvas_size,
    fitted,
    framed,
    largest,
    square_corners,
    turn_from_line,
)
from ochre_stone.desktop.easel.easel import Easel
from ochre_stone.desktop.easel.tools import Tool, tool_named
from ochre_stone.desktop.session.studio import Studio
from ochre_stone.desktop.widgets.parts import button, enable, set_tip, signals_blocked
from ochre_stone.desktop.widgets.tray import Tray

_FREE = "free shape"


class FramePage:
    """Controls of the frame; ``reframe`` shows it anew.

    The easel shows the whole picture, turned, with the cut on it.
    """

    def __init__(self, tray: Tray, studio: Studio, easel: Easel, reframe: Callable[[], None]) -> None:
        self.studio, self.easel, self._reframe = studio, easel, reframe
        tray.label("Crop", "head")
        self.canvas = QComboBox()
        self.canvas.addItems([_FREE, *(c.replace(" x ", " × ") for c in CANVASES)])
        self.canvas.setAccessibleName("Canvas")
        set_tip(self.canvas, "The cut keeps the shape of this canvas, and amounts are worked out for it")
        self.canvas.activated.connect(self._canvas_chosen)
        self.turned = button("Turn canvas", "Upright or lying")
        self.turned.clicked.connect(self._turn_canvas)
        tray.row(self.canvas, self.turned)
        self.whole = button("As large as fits", "The largest cut of this shape")
        self.whole.clicked.connect(lambda: self._largest(self.aspect()))
        tray.row(self.whole, None)
        tray.label(
            "Drag the cut, or its sides and corners. With keys on the easel: arrows move it, Ctrl with arrows sizes "
            "it, Shift is finer.",
            "quiet",
        )
        tray.label("Straighten", "head")
        self.level = button("Draw a line", "Along something that is level or upright in life", checkable=True)
        self.level.clicked.connect(lambda on: self._take(tool_named("level") if on else None))
        self.angle = QDoubleSpinBox()
        self.angle.setRange(-MOST_TURN, MOST_TURN)
        self.angle.setSingleStep(0.1)
        self.angle.setDecimals(1)
        self.angle.setSuffix("°")
        self.angle.setAccessibleName("Turned by")
        set_tip(self.angle, "Turned clockwise")
        self.angle.valueChanged.connect(lambda v: self._turn(round(v, 2)))
        tray.row(self.level, self.angle)
        tray.label("A photo of a print or painting", "head")
        self.corners = button("Four corners", "Click the four corners of something rectangular", checkable=True)
        self.reset = button("Whole photo", "No crop, no turn, no squaring up, no mirror")
        self.reset.clicked.connect(lambda: self._change("Take the whole photo", Frame()))
        self.corners.clicked.connect(lambda on: self._take(tool_named("corners") if on else None))
        self.mirror = QCheckBox("mirrored for good")
        set_tip(self.mirror, "Notes, masses and the sheet are mirrored; the view Mirror is only a look")
        self.mirror.toggled.connect(lambda on: self._change("Mirror the picture", replace(self._frame(), mirror=on)))
        tray.row(self.corners, self.reset)
        tray.rows.addWidget(self.mirror)
        self.size = tray.label("", "quiet")
        easel.cut_moved.connect(self._cut_moved)

    def _frame(self) -> Frame:
        return self.studio.document.frame

    def _take(self, tool: Tool | None) -> None:
        self.level.setChecked(tool is not None and tool.name == "level")
        self.corners.setChecked(tool is not None and tool.name == "corners")
        self.easel.take(tool)
        self._reframe()
        if tool is not None:
            self.easel.setFocus()
            asked = "Draw along something level or upright." if tool.name == "level" else "Click its four corners."
            self.studio.told.emit(asked)

    def put_away(self) -> None:
        """No tool in hand."""
        if self.level.isChecked() or self.corners.isChecked():
            self._take(None)

    @property
    def tool_out(self) -> bool:
        """Whether a line or corners are being drawn: the cut is not shown meanwhile."""
        return self.level.isChecked() or self.corners.isChecked()

    def plane(self) -> Frame:
        """The frame without its cut and mirror: what the easel shows on this page."""
        if self.corners.isChecked():
            return Frame()
        return replace(self._frame(), crop=(0.5, 0.5, 1.0, 1.0), mirror=False)

    def cut(self) -> QRectF | None:
        """The document's cut in pixels of the plane."""
        picture = self.studio.picture
        if picture is None or self.tool_out:
            return None
        w, h = self._frame().plane(picture.width, picture.height)
        x, y, cw, ch = self._frame().crop
        return QRectF((x - cw / 2) * w, (y - ch / 2) * h, cw * w, ch * h)

    def aspect(self) -> float | None:
        """Width over height that the cut keeps; None where it is free."""
        canvas = self.studio.document.canvas
        return canvas.width / canvas.height if self.canvas.currentIndex() > 0 else None

    def _change(self, words: str, frame: Frame, canvas: Canvas | None = None, kind: str = "") -> None:
        document = self.studio.document.model_copy(update={"frame": frame})
        if canvas is not None:
            document = document.model_copy(update={"canvas": canvas})
        self.studio.change(words, document, kind)

    def _cut_moved(self, cut: QRectF) -> None:
        picture = self.studio.picture
        if picture is None:
            return
        frame = self._frame()
        w, h = frame.plane(picture.width, picture.height)
        middle = cut.center()
        crop = (
            min(max(middle.x() / w, 0.0), 1.0),
            min(max(middle.y() / h, 0.0), 1.0),
            min(cut.width() / w, 1.5),
            min(cut.height() / h, 1.5),
        )
        wanted = fitted(replace(frame, crop=crop), picture.width, picture.height)
        self._change("Crop", wanted, kind="crop")

    def _canvas_chosen(self) -> None:
        picture = self.studio.picture
        if self.canvas.currentIndex() == 0 or picture is None:
            self.refresh()
            return
        short, long, unit = canvas_size(self.canvas.currentText())
        shown = framed(picture, self._frame())
        lying = shown.width >= shown.height
        size = {"width": long if lying else short, "height": short if lying else long, "unit": unit}
        canvas = Canvas.model_validate(self.studio.document.canvas.model_dump() | size)
        self._largest(canvas.width / canvas.height, canvas)

    def _turn_canvas(self) -> None:
        old = self.studio.document.canvas
        canvas = old.model_copy(update={"width": old.height, "height": old.width})
        self._largest(canvas.width / canvas.height if self.canvas.currentIndex() > 0 else None, canvas)

    def _largest(self, aspect: float | None, canvas: Canvas | None = None) -> None:
        picture = self.studio.picture
        if picture is not None:
            self._change("Crop", largest(self._frame(), picture.width, picture.height, aspect), canvas)

    def _turn(self, degrees: float) -> None:
        picture = self.studio.picture
        if picture is None or degrees == self._frame().turn:
            return
        turned = replace(self._frame(), turn=degrees)
        self._change("Straighten", fitted(turned, picture.width, picture.height), kind="turn")

    def drawn(self, name: str, points: list[Point]) -> None:
        """A line or four corners were drawn, in pixels of the photo."""
        picture = self.studio.picture
        if picture is None:
            return
        self._take(None)
        try:
            if name == "level":
                # The line lies in the plane as it was shown: measured there, added to the turn that it had.
                plane = framed(picture, self.plane())
                start, end = (plane.from_original(*p) for p in points)
                turn = self._frame().turn + turn_from_line(start, end)
                self._turn(round(min(max(turn, -MOST_TURN), MOST_TURN), 2))
            else:
                self._change("Square up", Frame(corners=square_corners(points), mirror=self._frame().mirror))
        except OchreError as error:
            self.studio.failed.emit(str(error))

    def refresh(self) -> None:
        """Show the document's frame."""
        picture, frame, canvas = self.studio.picture, self._frame(), self.studio.document.canvas
        for w in (self.canvas, self.turned, self.whole, self.level, self.angle, self.corners, self.mirror):
            enable(w, "" if picture is not None else "Open a photo first.")
        whole = "The whole photo is shown." if picture is not None else "Open a photo first."
        enable(self.reset, whole if picture is None or frame.is_whole else "")
        with signals_blocked(self.angle), signals_blocked(self.mirror), signals_blocked(self.canvas):
            self.angle.setValue(frame.turn)
            self.mirror.setChecked(frame.mirror)
            if picture is not None:
                self._show_canvas(frame, picture.width, picture.height)
        if picture is not None:
            wide, high = frame.size(picture.width, picture.height)
            per = wide / canvas.width
            self.size.setText(
                f"The frame has {wide} × {high} pixels: {per:.0f} for each {canvas.unit} of {canvas.words}."
            )

    def _show_canvas(self, frame: Frame, width: int, height: int) -> None:
        """Name the canvas where the cut has its shape."""
        canvas = self.studio.document.canvas
        w, h = frame.size(width, height)
        if abs(w / h / (canvas.width / canvas.height) - 1) > 0.01:
            self.canvas.setCurrentIndex(0)
            return
        short, long = sorted((canvas.width, canvas.height))
        self.canvas.setCurrentText(f"{short:g} × {long:g} {canvas.unit}")
