"""The reader's cable pulled after every byte that it sends, and every byte that it sends garbled."""

import os
import select
import threading
import time
import tty
from dataclasses import dataclass, field

from ochre_stone.core.errors import OchreError
from ochre_stone.devices.reader import SpotReader, lab_of
from ochre_stone.devices.simulated import Simulation, scene
from tests.support.torture.tally import Tally

_PATCH = [0.3] * 36
_LONGEST_S = 12.0
"""Connecting, asking, calibrating and reading, each with its time limit; a pulled cable ends them at once."""


@dataclass
class _Line:
    """The far end of a cable: answers, and after ``cut`` bytes is gone, or garbles the byte ``garbled``."""

    cut: int
    garbled: int
    sent: int = 0
    over: threading.Event = field(default_factory=threading.Event)

    def serve(self, master: int, slave: int) -> None:
        """Answer until the near end is done or the cable is pulled."""
        simulation, held = Simulation(_truth(), warm_up=0.0), b""
        try:
            while not self.over.is_set():
                if not select.select([master], [], [], 0.02)[0]:
                    continue
                held += os.read(master, 1024)
                while b"\n" in held:
                    line, held = held.split(b"\n", 1)
                    reply = bytearray(f"{simulation.answer(line.decode('ascii', 'replace'))}\n".encode("ascii"))
                    at = self.garbled - self.sent
                    if 0 <= at < len(reply):
                        reply[at] ^= 0x55
                    if 0 <= self.cut < self.sent + len(reply):
                        os.write(master, bytes(reply[: self.cut - self.sent]))
                        return
                    os.write(master, bytes(reply))
                    self.sent += len(reply)
        except OSError:
            return
        finally:
            for end in (slave, master):
                os.close(end)


_scene: list[object] = []


def _truth() -> object:
    if not _scene:
        _scene.append(scene())
    return _scene[0]


def talk(cut: int, garbled: int) -> tuple[str, int]:
    """A whole conversation: "read", or the refusal; and how many bytes the reader sent."""
    master, slave = os.openpty()
    tty.setraw(slave)
    line, path = _Line(cut, garbled), os.ttyname(slave)
    server = threading.Thread(target=line.serve, args=(master, slave))
    server.start()
    try:
        what = _conversation(path)
    finally:
        line.over.set()
        server.join()
    return what, line.sent


def _conversation(path: str) -> str:
    try:
        reader = SpotReader(path)
        try:
            reader.status()
            reader.calibrate()
            reader.hold(_PATCH)
            lab_of(reader.read())
        finally:
            reader.close()
    except OchreError as error:
        words = str(error)
        return "refused" if "\n" not in words and words else f"other: {words!r}"
    return "read"


def run(tally: Tally, step: int = 1) -> None:
    """Every ``step``-th byte, pulled and garbled."""
    what, whole = talk(-1, -1)
    if what != "read":
        tally.wrong(f"a sound cable: {what}")
    cases = [(n, -1) for n in range(0, whole, step)] + [(-1, n) for n in range(0, whole, step)]
    for cut, garbled in cases[tally.done :]:
        began = time.monotonic()
        try:
            what, _ = talk(cut, garbled)
        except Exception as error:
            what = f"other: {error!r}"
        seconds = time.monotonic() - began
        if what.startswith("other") or seconds > _LONGEST_S or (cut >= 0 and what == "read"):
            tally.add("other", seconds, f"cut {cut}, garbled {garbled}: {what} in {seconds:.1f} s")
        else:
            tally.add(what, seconds)
        if tally.done % 100 == 0:
            tally.save()
    tally.save()
