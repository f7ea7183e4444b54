"""The driver of a spot reader on a serial line: a real one on its port, or the simulated one on its pseudo-terminal.

Every call blocks at most for its time limit, so that it belongs off the main thread and can never hang for good; a
reader that goes away in the middle raises OchreError and leaves the driver closed.
"""

import contextlib
import threading
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TypeVar

import numpy as np

from ochre_stone.core.colour.spaces import Array, spectral_weights, xyz_to_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.later import later
from ochre_stone.devices import protocol
from ochre_stone.devices.protocol import Hello, Measurement, Refusal, ReplyError, Status

serial, list_ports = later("serial"), later("serial.tools.list_ports")
Done = TypeVar("Done")

ANSWER_SECONDS = 2.0
MEASURE_SECONDS = 8.0
_LONGEST_LINE = 2000
_GONE = "The reader was unplugged or switched off: plug it in and connect again; the notes are kept."


@dataclass(frozen=True)
class Port:
    """A serial port where a reader may be."""

    path: str
    words: str


def ports() -> list[Port]:
    """Serial ports of this machine that something is plugged into."""
    return [
        Port(p.device, f"{p.device} ({p.description})" if p.description not in (None, "n/a") else p.device)
        for p in sorted(list_ports.comports(), key=lambda p: p.device)
        if p.vid is not None or "ACM" in p.device or "USB" in p.device
    ]


def lab_of(reading: Measurement) -> tuple[float, float, float]:
    """CIELAB D65 of a reading: its reflectances under D65, or its XYZ."""
    xyz: Array = (
        np.array(reading.spectrum) @ spectral_weights("D65") if reading.spectrum else np.array(reading.xyz, float)
    )
    L, a, b = xyz_to_lab(xyz).tolist()
    return L, a, b


class SpotReader:
    """An open connection. Calls may come from any thread, one at a time."""

    def __init__(self, path: str) -> None:
        """Open the port and say hello. Raises OchreError where no reader answers."""
        self.path = path
        self._lock = threading.Lock()
        try:
            self._line = serial.Serial(path, protocol.BAUD, timeout=0.1, write_timeout=ANSWER_SECONDS)
        except (serial.SerialException, OSError, ValueError):
            raise OchreError(
                f"No reader can be opened at {path}: check the cable, and that no other program holds it."
            ) from None
        self.open = True
        try:
            self.hello: Hello = protocol.parse_hello(self._words(protocol.HELLO, "hello", ANSWER_SECONDS))
        except (ReplyError, OchreError):
            self.close()
            raise OchreError(f"What is plugged in at {path} is no spot reader: choose another port.") from None

    def status(self) -> Status:
        """Battery, calibration and warm-up. Raises OchreError."""
        return self._parsed(protocol.STATUS, "status", ANSWER_SECONDS, protocol.parse_status)

    def calibrate(self) -> None:
        """Take the white tile under it for white. Raises OchreError where it refuses or is gone."""
        self._parsed(protocol.CALIBRATE, "calibrated", MEASURE_SECONDS, lambda words: words)

    def read(self) -> Measurement:
        """Read the spot that it is pointed at. Raises OchreError where it refuses or is gone."""
        return self._parsed(protocol.READ, "reading", MEASURE_SECONDS, protocol.parse_reading)

    def point(self, x: float, y: float, aperture: float) -> None:
        """Tell the simulated reader where the painter points it (shares of its scene); a real one needs no telling."""
        self._words(f"point {x:.6f} {y:.6f} {aperture:.6f}", "pointed", ANSWER_SECONDS)

    def hold(self, reflectances: Sequence[float]) -> None:
        """Tell the simulated reader what painted patch is held under it (36 reflectances, 0..1)."""
        values = " ".join(f"{min(max(v, 0.0), 1.0):.5f}" for v in reflectances)
        self._words(f"hold {values}", "held", ANSWER_SECONDS)

    @property
    def is_simulated(self) -> bool:
        return self.hello.serial.startswith("simulated")

    def close(self) -> None:
        """Let the port go; may be called twice."""
        self.open = False
        with contextlib.suppress(serial.SerialException, OSError):
            self._line.close()

    def _parsed(self, request: str, word: str, seconds: float, parser: Callable[[list[str]], Done]) -> Done:
        words = self._words(request, word, seconds)
        try:
            return parser(words)
        except ReplyError as error:
            raise OchreError(f"The reader's answer makes no sense ('{error}'): read again.") from None

    def _words(self, request: str, word: str, seconds: float) -> list[str]:
        with self._lock:
            line = self._ask(request, seconds)
        try:
            answer = protocol.parse(line)
        except ReplyError as error:
            raise OchreError(f"The reader's answer makes no sense ('{error}'): read again.") from None
        if isinstance(answer, Refusal):
            raise OchreError(answer.sentence)
        if answer[0] != word:
            raise OchreError(f"The reader answered '{answer[0][:40]}' in place of '{word}': read again.")
        return answer[1]

    def _ask(self, request: str, seconds: float) -> str:
        if not self.open:
            raise OchreError(_GONE)
        try:
            self._line.reset_input_buffer()
            self._line.write(f"{request}\n".encode("ascii"))
            end = time.monotonic() + seconds
            held = bytearray()
            while time.monotonic() < end:
                held += self._line.read(max(1, self._line.in_waiting))
                if b"\n" in held:
                    return bytes(held.split(b"\n", 1)[0]).decode("ascii", "replace")
                if len(held) > _LONGEST_LINE:
                    break
        except (serial.SerialException, OSError, TypeError, ValueError):
            self.close()
            raise OchreError(_GONE) from None
        raise OchreError("The reader does not answer: check that it is switched on, then try again.")
