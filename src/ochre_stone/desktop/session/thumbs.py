"""Small pictures of files that were worked on, for the start page."""

import contextlib
import zipfile
import zlib
from pathlib import Path

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QImage, QImageReader

from ochre_stone.core.store.files import SUFFIX

_MOST_BYTES = 2_000_000
_DAMAGED = (OSError, zipfile.BadZipFile, zlib.error, KeyError, NotImplementedError, RuntimeError)


def thumbnail(path: Path, size: QSize) -> QImage | None:
    """A picture of a project (its preview) or a photo, within that size; None where there is none to be had."""
    if not path.is_file():
        return None
    image = QImage()
    if path.suffix == SUFFIX:
        with contextlib.suppress(*_DAMAGED), zipfile.ZipFile(path) as archive:
            if archive.getinfo("preview.png").file_size <= _MOST_BYTES:
                image.loadFromData(archive.read("preview.png"))
    else:
        reader = QImageReader(str(path))
        reader.setAutoTransform(True)
        whole = reader.size()
        if whole.isValid():
            reader.setScaledSize(whole.scaled(size, Qt.AspectRatioMode.KeepAspectRatio))
        image = reader.read()
    if image.isNull():
        return None
    return image.scaled(size, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)
