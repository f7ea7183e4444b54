"""Words at the easel, in type that is read from two metres."""

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter

from ochre_stone.desktop.widgets import theme


def write_large(
    painter: QPainter, room: QRectF, lines: Sequence[str], tall: float, clock: float | None, why: str = ""
) -> None:
    """Lines into a room, the first as a heading, the others ``tall`` pixels high, or smaller where they do not fit;
    ``why``: as high as the heading, below what is to be done; ``clock``: seconds that are shown at the foot."""
    painter.setPen(theme.colour("on_surround"))
    head = theme.face(1, bold=True)
    head.setPixelSize(max(16, round(min(tall * 0.42, room.height() * 0.06))))
    painter.setFont(head)
    flags = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap
    where = QRectF(room.left(), room.top(), room.width(), room.height() * 0.16)
    painter.drawText(where, flags, lines[0])
    share = 0.62 if why else 0.8
    body = QRectF(room.left(), room.top() + room.height() * 0.17, room.width(), room.height() * share)
    size = tall
    while size > 18:
        big = theme.face(1, bold=True)
        big.setPixelSize(round(size))
        metrics = QFontMetricsF(big)
        height = sum(metrics.boundingRect(body, flags, line).height() * 1.06 for line in lines[1:])
        widest = max((metrics.horizontalAdvance(w) for line in lines[1:] for w in line.split()), default=0.0)
        if height <= body.height() and widest <= body.width():
            break
        size *= 0.94
    big = theme.face(1, bold=True)
    big.setPixelSize(round(size))
    painter.setFont(big)
    y = body.top()
    for line in lines[1:]:
        height = QFontMetricsF(big).boundingRect(body, flags, line).height()
        painter.drawText(QRectF(body.left(), y, body.width(), height + 4), flags, line)
        y += height * 1.06
    painter.setFont(head)
    if why:
        painter.drawText(QRectF(body.left(), y + head.pixelSize(), body.width(), room.bottom() - y), flags, why)
    if clock is not None:
        seconds = int(clock)
        foot = QRectF(room.left(), room.bottom() - head.pixelSize() * 1.4, room.width(), head.pixelSize() * 1.4)
        painter.drawText(foot, Qt.AlignmentFlag.AlignRight, f"{seconds // 60}:{seconds % 60:02d}")
