"""Start the simulated reader as a process of its own, and stop it."""

import subprocess
import sys
import threading

from ochre_stone.core.errors import OchreError

_START_SECONDS = 20.0


class StandIn:
    """The simulated reader's process; ``path`` is where it answers."""

    def __init__(self, *options: str) -> None:
        """Start it; ``options`` as on its command line. Raises OchreError where it does not start."""
        self._process = subprocess.Popen(
            [sys.executable, "-m", "ochre_stone.devices.simulated", *options],
            stdout=subprocess.PIPE,
            stdin=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            text=True,
        )
        timer = threading.Timer(_START_SECONDS, self._process.kill)
        timer.start()
        assert self._process.stdout is not None
        self.path = self._process.stdout.readline().strip()
        timer.cancel()
        if not self.path:
            self.stop()
            raise OchreError("The simulated reader did not start: try again, or use the photo alone.")

    @property
    def running(self) -> bool:
        return self._process.poll() is None

    def stop(self) -> None:
        """End the process; may be called twice."""
        if self.running:
            self._process.terminate()
            try:
                self._process.wait(3)
            except subprocess.TimeoutExpired:
                self._process.kill()
                self._process.wait(3)
        if self._process.stdout is not None:
            self._process.stdout.close()
