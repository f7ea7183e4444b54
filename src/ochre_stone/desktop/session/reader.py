"""The spot reader on the desktop: connected, calibrated and read off the main thread; a pulled cable loses nothing."""

import threading
from collections.abc import Callable, Sequence
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from ochre_stone.core.colour.munsell import notation
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.frame import Point
from ochre_stone.desktop.session.studio import Studio
from ochre_stone.devices.protocol import Measurement, Status
from ochre_stone.devices.reader import SpotReader, lab_of
from ochre_stone.devices.stand_in import StandIn

LOW_BATTERY = 15


class ReaderLink(QObject):
    """At most one reader, real or simulated."""

    changed = pyqtSignal()

    def __init__(self, studio: Studio) -> None:
        super().__init__(studio)
        self.studio = studio
        self.reader: SpotReader | None = None
        self.status: Status | None = None
        self._stand_in: StandIn | None = None
        self.last: Measurement | None = None
        self._warming = QTimer(self)
        self._warming.setSingleShot(True)
        self._warming.setInterval(1000)
        self._warming.timeout.connect(self._keep_warm)
        self.changed.connect(self._watch_warming)
        studio.jobs.busy_changed.connect(self.changed.emit)

    def _keep_warm(self) -> None:
        self._do(lambda reader: None, lambda _: None)

    @property
    def busy(self) -> bool:
        return self.studio.jobs.busy("reader")

    @property
    def connected(self) -> bool:
        return self.reader is not None and self.reader.open

    def _watch_warming(self) -> None:
        """While the reader warms up, ask it again every second."""
        if self.connected and not self.busy and self.status is not None and self.status.warming:
            if not self._warming.isActive():
                self._warming.start()
        else:
            self._warming.stop()

    def connect_to(self, path: str, options: tuple[str, ...] = ()) -> None:
        """Connect to the port ``path``; "" starts the simulated reader, with ``options``, and connects to that."""
        self.close()

        def work(_: Any) -> tuple[StandIn | None, SpotReader, Status]:
            stand_in = StandIn(*options) if not path else None
            try:
                reader = SpotReader(stand_in.path if stand_in is not None else path)
                try:
                    return stand_in, reader, reader.status()
                except OchreError:
                    reader.close()
                    raise
            except OchreError:
                if stand_in is not None:
                    stand_in.stop()
                raise

        def arrived(answer: tuple[StandIn | None, SpotReader, Status]) -> None:
            self._stand_in, self.reader, self.status = answer
            hint = "" if self.status.calibrated else " Put it on its white tile and choose Calibrate."
            self.studio.told.emit(f"{self.reader.hello.name} is connected.{hint}")
            self.changed.emit()

        self.studio.jobs.start("reader", work, arrived, self._failed, outlives=True)

    def calibrate(self) -> None:
        """Take the white tile for white."""
        self._do(lambda reader: reader.calibrate(), lambda _: self.studio.told.emit("Calibrated on the white tile."))

    def _free(self) -> bool:
        """Whether a reader is there and at rest; says so where it is not."""
        if not self.connected:
            self.studio.failed.emit("No reader is connected: connect one at Look, Scene.")
        elif self.busy:
            self.studio.told.emit("The reader is still reading: hold it still.")
        return self.connected and not self.busy

    def read(self, place: Point | None, aperture: int) -> None:
        """Take a note from the reader; ``place`` in pixels of the photo, where it is known."""
        picture = self.studio.picture
        if not self._free():
            return

        def work(reader: SpotReader) -> Measurement:
            if reader.is_simulated:
                if place is None or picture is None:
                    raise OchreError("Click the picture where the simulated reader is to be pointed.")
                reader.point(place[0] / picture.width, place[1] / picture.height, min(aperture / picture.width, 1.0))
            return reader.read()

        def arrived(reading: Measurement) -> None:
            from ochre_stone.core.planning.noting import note_of_reading

            self.last = reading
            inside = place if picture is not None and picture is self.studio.picture else None
            document = self.studio.document
            note = note_of_reading(document, lab_of(reading), reading.spectrum, inside, aperture)
            self.studio.change("Take a note with the reader", document.with_note(note))
            self.studio.select(note.id)
            if reading.battery < LOW_BATTERY:
                self.studio.told.emit(f"The reader's battery is at {reading.battery} %: charge it soon.")

        self._do(work, arrived)

    def read_pile(self, painted: Sequence[float], done: Callable[[Measurement], None]) -> None:
        """Read a pile on the palette. The simulated reader is held to ``painted``, its reflectances; a real one is
        where the painter holds it."""
        if not self._free():
            return

        def work(reader: SpotReader) -> Measurement:
            if reader.is_simulated:
                reader.hold(painted)
            return reader.read()

        self._do(work, done)

    def _do(self, work: Callable[[SpotReader], Any], done: Callable[[Any], None]) -> None:
        reader = self.reader
        if reader is None or self.busy:
            return

        def job(_: Any) -> tuple[Any, Status]:
            return work(reader), reader.status()

        era, title = self.studio.era, self.studio.title

        def arrived(answer: tuple[Any, Status]) -> None:
            self.status = answer[1]
            if isinstance(answer[0], Measurement) and self.studio.era != era:
                self.last = answer[0]
                self.studio.told.emit(
                    f"A reading for “{title}” came in: {notation(lab_of(answer[0]))}. It was not put into "
                    f"“{self.studio.title}”."
                )
            else:
                done(answer[0])
            self.changed.emit()

        self.studio.jobs.start("reader", job, arrived, self._failed, outlives=True)

    def _failed(self, message: str) -> None:
        if self.reader is not None and not self.reader.open:
            self.close()
        self.studio.failed.emit(message)
        self.changed.emit()

    def close(self) -> None:
        """Let the reader go, and end the simulated one."""
        if self.reader is not None:
            self.reader.close()
        if self._stand_in is not None:  # its end may take a moment: not the window's time
            threading.Thread(target=self._stand_in.stop).start()
        self.reader, self._stand_in, self.status = None, None, None
        self.changed.emit()

    def words(self) -> str:
        """How the reader is, in a sentence or two."""
        if self.busy and self.reader is None:
            return "Connecting…"
        if self.reader is None or self.status is None:
            return "No reader is connected."
        said = [f"{self.reader.hello.name}, battery {self.status.battery} %"]
        if self.status.battery < LOW_BATTERY:
            said.append("charge it soon")
        if self.busy:
            said.append("reading, hold it still")
        elif self.status.warming:
            said.append("still warming up")
        else:
            said.append("calibrated" if self.status.calibrated else "not calibrated: put it on its white tile")
        return ", ".join(said) + "."
