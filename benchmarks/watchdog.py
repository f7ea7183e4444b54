"""How long the main thread is away from its event loop: the processor time of each turn."""

import time
from collections.abc import Callable

from PyQt6.QtCore import QAbstractEventDispatcher, QEventLoop, QObject, QTimer


class Watchdog(QObject):
    """Keeps how much processor time the main thread used in each turn of the loop, in milliseconds.

    Processor time, not the clock: waiting is no fault, and another process on a busy machine is not the window's.
    """

    def __init__(self) -> None:
        super().__init__()
        self.turns: list[float] = []
        self._since = 0.0
        loop = QAbstractEventDispatcher.instance()
        assert loop is not None
        self._loop = loop

    def start(self) -> None:
        self._since = time.thread_time()
        self._loop.awake.connect(self._awake)

    def stop(self) -> None:
        self._awake()
        self._loop.awake.disconnect(self._awake)

    def _awake(self) -> None:
        now = time.thread_time()
        self.turns.append((now - self._since) * 1000)
        self._since = now

    @property
    def longest(self) -> float:
        return max(self.turns, default=0.0)

    def run(self, step: Callable[[], object], idle: Callable[[], bool]) -> None:
        """Do ``step`` inside a real event loop, which goes on until ``idle`` has held for a few turns."""
        loop = QEventLoop()
        quiet = 0

        def look() -> None:
            nonlocal quiet
            quiet = quiet + 1 if idle() else 0
            if quiet > 4:
                loop.quit()

        timer = QTimer()
        timer.timeout.connect(look)
        QTimer.singleShot(0, step)
        timer.start(10)
        self.start()
        loop.exec()
        self.stop()
        timer.stop()
