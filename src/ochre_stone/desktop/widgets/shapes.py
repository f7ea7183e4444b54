"""Dabs and piles: soft closed curves whose form belongs to their note or pile, so that it keeps its shape."""

import functools
import math
import random
from collections.abc import Iterable, Sequence

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QColor, QPainter, QPainterPath

from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.picture.screen import Screen
from ochre_stone.desktop.session import display


@functools.lru_cache(maxsize=4096)
def _hex(screen: Screen, lab: Lab) -> str:
    return screen.hex_of(lab)


def paint_colour(lab: Lab) -> QColor:
    """The screen colour of a Lab colour; not to be changed, for it is remembered."""
    return _colour(display.screen(), lab)


@functools.lru_cache(maxsize=4096)
def _colour(screen: Screen, lab: Lab) -> QColor:
    return QColor(_hex(screen, lab))


def warm(labs: Iterable[Lab]) -> None:
    """Work screen colours out before they are painted; off the main thread."""
    for lab in labs:
        _hex(display.screen(), lab)


def ink_on(lab: Lab) -> QColor:
    """Black or white, whichever reads on a colour."""
    return QColor("#000000") if lab[0] > 52 else QColor("#ffffff")


def _closed(points: list[QPointF]) -> QPainterPath:
    """A smooth closed curve through points (Catmull-Rom as cubic Bezier)."""
    n = len(points)
    path = QPainterPath(points[0])
    for i in range(n):
        a, b, c, d = points[i - 1], points[i], points[(i + 1) % n], points[(i + 2) % n]
        path.cubicTo(b + (c - a) / 6, c - (d - b) / 6, c)
    path.closeSubpath()
    return path


def dab(seed: str, box: QRectF) -> QPainterPath:
    """A dab of paint: a round touch of the brush, a little uneven."""
    return _dab(seed, box.x(), box.y(), box.width(), box.height())


@functools.lru_cache(maxsize=512)
def _dab(seed: str, *place: float) -> QPainterPath:
    box = QRectF(*place)
    r = random.Random(f"dab {seed}")
    points = []
    for i in range(9):
        angle = 2 * math.pi * i / 9 + r.uniform(-0.12, 0.12)
        reach = r.uniform(0.84, 1.0)
        points.append(
            QPointF(
                box.center().x() + box.width() / 2 * reach * math.cos(angle),
                box.center().y() + box.height() / 2 * reach * math.sin(angle),
            )
        )
    return _closed(points)


def pile(seed: str, box: QRectF) -> QPainterPath:
    """A pile scraped together with a knife: broad, one straight flank, a drawn-out corner."""
    return _pile(seed, box.x(), box.y(), box.width(), box.height())


@functools.lru_cache(maxsize=512)
def _pile(seed: str, *place: float) -> QPainterPath:
    box = QRectF(*place)
    r = random.Random(f"pile {seed}")
    lean = r.uniform(-0.06, 0.06)
    outline = [
        (0.06 + r.uniform(-0.03, 0.05), 0.62), (0.10, 0.30 + r.uniform(-0.06, 0.06)), (0.30 + lean, 0.08),
        (0.62 + lean, 0.03 + r.uniform(0, 0.06)), (0.88, 0.16 + r.uniform(-0.05, 0.08)),
        (0.99, 0.42 + r.uniform(-0.1, 0.1)),
        (0.92, 0.80), (0.70, 0.96 + r.uniform(-0.05, 0.02)), (0.34, 0.97), (0.12, 0.86 + r.uniform(-0.04, 0.06)),
    ]  # fmt: skip
    return _closed([QPointF(box.left() + x * box.width(), box.top() + y * box.height()) for x, y in outline])


def ribbon(box: QRectF) -> QPainterPath:
    """Paint squeezed from a tube: a round-ended bead."""
    path = QPainterPath()
    path.addRoundedRect(box, box.height() / 2, box.height() / 2)
    return path


def halves(painter: QPainter, path: QPainterPath, upper: Lab, lower: Lab, split: float = 0.5) -> None:
    """Fill ``path`` with two colours that touch without a gap: ``upper`` above, ``lower`` below."""
    stacked(painter, path, (upper, lower), (split,))


def stacked(painter: QPainter, path: QPainterPath, labs: Sequence[Lab], splits: Sequence[float] = ()) -> None:
    """Fill ``path`` with colours that touch without a gap, from top to bottom; ``splits``: where one ends, as shares of
    the height, even where none are given."""
    box = path.boundingRect()
    splits = splits or [(k + 1) / len(labs) for k in range(len(labs) - 1)]
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.fillPath(path, paint_colour(labs[-1]))
    # Clipped on whole pixels from the top, the lower one first, so that no seam shows between two.
    for lab, split in zip(reversed(labs[:-1]), reversed(splits), strict=True):
        edge = round(box.top() + box.height() * split)
        painter.setClipRect(QRectF(box.left() - 2, box.top() - 2, box.width() + 4, edge - box.top() + 2))
        painter.fillPath(path, paint_colour(lab))
    painter.restore()
