"""What is dropped on the window or pasted into it: files, several too, or a picture without a file."""

import sys
import tempfile
from pathlib import Path

from PyQt6.QtCore import QMimeData, QProcess, QTemporaryDir
from PyQt6.QtGui import QImage

from ochre_stone.desktop.window.files import Files


def has_something(mime: QMimeData | None) -> bool:
    """Whether there is something in it that could be opened."""
    return mime is not None and (mime.hasUrls() or mime.hasImage())


class Drops:
    """Opens what arrives: the first file here, each other one in a window of its own."""

    def __init__(self, files: Files) -> None:
        self.files = files
        self._held: list[QTemporaryDir] = []

    def take(self, mime: QMimeData | None) -> bool:
        """Open it; False where there is nothing that could be opened."""
        if mime is None:
            return False
        if mime.hasUrls():
            urls = mime.urls()
            local = [Path(u.toLocalFile()) for u in urls if u.isLocalFile()]
            if local:
                self.open_all(local)
                return True
            if not mime.hasImage():
                self.files.no_address(urls[0].toDisplayString())
                return True
        image = mime.imageData() if mime.hasImage() else None
        if isinstance(image, QImage) and not image.isNull():
            self._open_image(image)
            return True
        return False

    def open_all(self, paths: list[Path]) -> None:
        """The first here, the others beside it."""
        self.files.open(paths[0])
        for path in paths[1:9]:
            if not QProcess.startDetached(sys.executable, ["-m", "ochre_stone", str(path)])[0]:
                self.files.studio.failed.emit(f"Another window could not be started for “{path.name}”: open it there.")
                return

    def _open_image(self, image: QImage) -> None:
        """A picture without a file: it is kept in the project, whose file is asked for on saving."""
        if not self.files.may_go_on():
            return
        held = QTemporaryDir(str(Path(tempfile.gettempdir()) / "ochre-stone-XXXXXX"))
        path = Path(held.path()) / "pasted picture.png"
        if not held.isValid() or not image.save(str(path)):
            self.files.studio.failed.emit("The picture could not be taken over: save it as a file, then open that.")
            return
        self._held.append(held)
        studio = self.files.studio
        studio.files.load(
            path, lambda: studio.told.emit("This picture came without a file: Save asks where to keep it.")
        )
