"""Bytes as a picture of the toolkit."""

import numpy as np
import numpy.typing as npt
from PyQt6.QtGui import QIcon, QImage, QPixmap


def to_image(code: npt.NDArray[np.uint8]) -> QImage:
    """A QImage that owns a copy of bytes: colour (h, w, 3), colour with cover (h, w, 4) or grey (h, w)."""
    code = np.ascontiguousarray(code)
    height, width = code.shape[:2]
    kinds = {2: QImage.Format.Format_Grayscale8, 3: QImage.Format.Format_RGB888, 4: QImage.Format.Format_RGBA8888}
    kind = kinds[2 if code.ndim == 2 else code.shape[2]]
    return QImage(code.tobytes(), width, height, code.strides[0], kind).copy()


def untinted(pixmap: QPixmap) -> QIcon:
    """An icon that keeps its colours in a row that is chosen, where the toolkit would tint it."""
    icon = QIcon(pixmap)
    for mode in (QIcon.Mode.Selected, QIcon.Mode.Active, QIcon.Mode.Disabled):
        icon.addPixmap(pixmap, mode)
    return icon
