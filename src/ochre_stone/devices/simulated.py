"""A simulated spot reader: its own small process on a pseudo-terminal, pointed at the demo scene's spectral truth.

It reads as a reader held toward the scene does: the light that comes from a spot, against the light of a white tile
held in the sun. Run as ``ochre-stone-reader``; it prints the path of its terminal and answers until it is stopped.
"""

import argparse
import contextlib
import os
import select
import signal
import sys
import termios
import time
import tty
from dataclasses import dataclass, field

import numpy as np

from ochre_stone.core.colour.spaces import WAVELENGTHS, Array
from ochre_stone.devices import protocol
from ochre_stone.resources import resource

_TILE = 0.985
"""Reflectance of the white tile; the reader knows it and calls a perfect white 1."""
_LEAST_LIGHT = 2e-4


def scene() -> Array:
    """Radiance factor (h, w, 36) of the demo scene: radiance over that of a perfect white facing the sun.

    The scene's data run from 400 to 700 nm; their ends are held beyond.
    """
    with np.load(resource("demo", "spectral_cube.npz")) as data:
        radiance = data["radiance"].astype(np.float64)
        waves = data["wavelength_nm"].astype(float)
        # A tile held toward the sun, under open sky.
        white = (data["sun_irradiance"] + data["sky_irradiance_horizontal"]).astype(float) / np.pi
    factor = radiance / white
    at = np.clip(WAVELENGTHS, waves[0], waves[-1])
    low = np.clip(np.searchsorted(waves, at, side="right") - 1, 0, len(waves) - 2)
    share = (at - waves[low]) / (waves[low + 1] - waves[low])
    return np.asarray(factor[..., low] * (1 - share) + factor[..., low + 1] * share)


@dataclass
class Simulation:
    """The reader's insides; ``answer`` is all that the outside sees."""

    truth: Array
    noise: float = 0.003
    """Standard deviation of a reading, as a share of it, and a twentieth of that as a floor."""
    warm_up: float = 3.0
    """Seconds from switching on."""
    battery: float = 80.0
    drain: float = 0.25
    """Percent of the battery that one reading takes."""
    kind: str = "reflectance"
    seed: int = 1
    started: float = field(default_factory=time.monotonic)
    calibrated: bool = False
    place: tuple[float, float, float] | None = None
    patch: np.ndarray | None = None
    """Reflectances of a painted patch that is held under it, in place of a place of the scene."""
    _random: np.random.Generator = field(init=False)

    def __post_init__(self) -> None:
        self._random = np.random.default_rng(self.seed)

    def answer(self, request: str) -> str:
        """The line for a request."""
        words = request.strip().split()
        name = words[0] if words else ""
        if name == protocol.HELLO:
            return f"ok hello {protocol.PROTOCOL_VERSION} Simulated_reader simulated-0001 {self.kind}"
        if name == protocol.STATUS:
            state = "calibrated" if self.calibrated else "raw"
            return f"ok status {round(self.battery)} {state} {self._warming()}"
        if name == "point":
            return self._point(words[1:])
        if name == "hold":
            return self._hold(words[1:])
        if name in (protocol.CALIBRATE, protocol.READ):
            return self._refusal(name) or (self._calibrate() if name == protocol.CALIBRATE else self._read())
        return "no unknown"

    def _warming(self) -> int:
        return max(0, int(np.ceil(self.started + self.warm_up - time.monotonic())))

    def _refusal(self, name: str) -> str:
        if self.battery < 1:
            return "no battery"
        if self._warming() > 0:
            return f"no warming {self._warming()}"
        if name == protocol.READ and not self.calibrated:
            return "no calibrate"
        return ""

    def _calibrate(self) -> str:
        self.calibrated = True
        self._use()
        return "ok calibrated"

    def _point(self, words: list[str]) -> str:
        try:
            x, y, aperture = (float(w) for w in words)
        except ValueError:
            return "no unknown"
        if not (0 <= x <= 1 and 0 <= y <= 1 and 0 <= aperture <= 1):
            return "no dark"
        self.place, self.patch = (x, y, aperture), None
        return "ok pointed"

    def _hold(self, words: list[str]) -> str:
        """A painted patch is held under it: its reflectances."""
        try:
            patch = np.array([float(w) for w in words])
        except ValueError:
            return "no unknown"
        if patch.shape != (self.truth.shape[2],) or not ((patch >= 0) & (patch <= 1)).all():
            return "no dark"
        self.patch = patch
        return "ok held"

    def _use(self) -> None:
        self.battery = max(0.0, self.battery - self.drain)

    def _read(self) -> str:
        if self.patch is not None:
            return self._seen(self.patch)
        if self.place is None:
            return "no dark"
        height, width = self.truth.shape[:2]
        x, y, aperture = self.place
        radius = max(aperture * width / 2, 0.5)
        dy, dx = np.ogrid[:height, :width]
        distance = np.hypot(dx + 0.5 - x * width, dy + 0.5 - y * height)
        inside = distance <= max(radius, float(distance.min()))
        return self._seen(self.truth[inside].mean(axis=0))

    def _seen(self, spectrum: np.ndarray) -> str:
        if spectrum.max() < _LEAST_LIGHT:
            return "no dark"
        seen = spectrum * self._random.normal(1, self.noise, len(spectrum))
        seen = seen + self._random.normal(0, self.noise / 20, len(spectrum))
        self._use()
        if self.kind == "xyz":
            from ochre_stone.core.colour.spaces import spectral_weights

            return protocol.write_reading((seen @ spectral_weights("D65")).tolist(), round(self.battery), "xyz")
        return protocol.write_reading(seen.tolist(), round(self.battery))


def serve(simulation: Simulation, unplug_after: int = -1, seconds: float = 0.35, announce: bool = True) -> None:
    """Answer on a new pseudo-terminal until the process is stopped or its parent goes away.

    ``unplug_after``: go away in the middle of that reading, counted from 0, as a pulled cable does; below 0 never.
    """
    master, slave = os.openpty()
    tty.setraw(slave)
    mode = termios.tcgetattr(slave)
    mode[3] &= ~termios.ECHO
    termios.tcsetattr(slave, termios.TCSANOW, mode)
    if announce:
        print(os.ttyname(slave), flush=True)
    parent = os.getppid()
    readings, held = 0, b""
    while os.getppid() == parent:
        ready, _, _ = select.select([master], [], [], 0.5)
        if not ready:
            continue
        held += os.read(master, 1024)
        while b"\n" in held:
            line, held = held.split(b"\n", 1)
            request = line.decode("ascii", "replace")
            reply = simulation.answer(request)
            if reply.startswith("ok reading"):
                time.sleep(seconds)
                if readings == unplug_after:
                    os.write(master, reply[: len(reply) // 2].encode("ascii"))
                    os.close(slave)
                    os.close(master)
                    return
                readings += 1
            os.write(master, f"{reply}\n".encode("ascii"))
        held = held[-2000:]


def main(argv: list[str] | None = None) -> int:
    """Run the simulated reader."""
    parser = argparse.ArgumentParser(
        prog="ochre-stone-reader",
        description="A simulated spot reader that looks at the demo scene; prints the path to connect to.",
    )
    parser.add_argument("--noise", type=float, default=0.003, help="spread of a reading, as a share of it")
    parser.add_argument("--warm-up", type=float, default=3.0, help="seconds before it reads")
    parser.add_argument("--battery", type=float, default=80.0, help="percent at the start")
    parser.add_argument("--drain", type=float, default=0.25, help="percent that one reading takes")
    parser.add_argument("--seconds", type=float, default=0.35, help="how long a reading takes")
    parser.add_argument("--seed", type=int, default=1, help="of its noise")
    parser.add_argument("--xyz", action="store_true", help="give XYZ in place of reflectances")
    parser.add_argument("--unplug-after", type=int, default=-1, help="go away during this reading, counted from 0")
    asked = parser.parse_args(argv)
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    simulation = Simulation(
        scene(),
        asked.noise,
        asked.warm_up,
        asked.battery,
        asked.drain,
        "xyz" if asked.xyz else "reflectance",
        asked.seed,
    )
    with contextlib.suppress(KeyboardInterrupt, OSError):
        serve(simulation, asked.unplug_after, asked.seconds)
    return 0


if __name__ == "__main__":
    sys.exit(main())
