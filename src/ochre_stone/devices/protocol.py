"""The spot reader's protocol: lines of ASCII text over a serial line, one answer to every request.

Set down in docs/reader-protocol.md. A request is one word; an answer starts with ``ok`` or ``no``. Numbers are decimal,
parted by spaces. Nothing is ever sent unasked, so that a line can be lost without the two getting out of step.
"""

from dataclasses import dataclass

from ochre_stone.core.colour.spaces import WAVELENGTHS

BAUD = 115200
BANDS = len(WAVELENGTHS)
PROTOCOL_VERSION = 1

HELLO, CALIBRATE, READ, STATUS = "hello", "calibrate", "read", "status"

REFUSALS = {
    "warming": "The reader is still warming up: wait {0} seconds and read again.",
    "calibrate": "The reader wants its white tile first: put it on the tile and choose Calibrate.",
    "not-white": "That was not the white tile: put the reader flat on its tile and calibrate again.",
    "battery": "The reader's battery is empty: charge it; the notes taken so far are kept.",
    "dark": "The reader saw too little light there: come closer, or read something lighter.",
    "moved": "The reader was moved while it read: hold it still and read again.",
}
"""What a ``no`` means, by its word; {0} is its number where it has one."""


class ReplyError(ValueError):
    """An answer that is none of the protocol's."""


@dataclass(frozen=True)
class Hello:
    """Who answers."""

    name: str
    serial: str
    measures: str
    """"reflectance" (36 bands) or "xyz"."""


@dataclass(frozen=True)
class Status:
    """How the reader is."""

    battery: int
    """Percent."""
    calibrated: bool
    warming: int
    """Seconds until it is warm; 0 when it is."""


@dataclass(frozen=True)
class Refusal:
    """A ``no``: its word and number."""

    word: str
    number: str = ""

    @property
    def sentence(self) -> str:
        """What the painter is told."""
        known = REFUSALS.get(self.word)
        if known is None:
            return f"The reader refused ({self.word[:40]}): see its handbook."
        return known.format(self.number or "a few")


@dataclass(frozen=True)
class Measurement:
    """A spot as read: 36 reflectances against the white tile, or XYZ with Y = 1 for white."""

    spectrum: tuple[float, ...] = ()
    xyz: tuple[float, ...] = ()
    battery: int = 100


def parse(line: str) -> tuple[str, list[str]] | Refusal:
    """First word after ``ok`` and the rest, or a refusal. Raises ReplyError for anything else."""
    words = line.strip().split()
    if len(words) >= 2 and words[0] == "no":
        return Refusal(words[1], words[2] if len(words) > 2 else "")
    if len(words) >= 2 and words[0] == "ok":
        return words[1], words[2:]
    raise ReplyError(line[:60])


def parse_hello(words: list[str]) -> Hello:
    """``ok hello 1 NAME SERIAL reflectance|xyz``."""
    if len(words) != 4 or words[0] != str(PROTOCOL_VERSION) or words[3] not in ("reflectance", "xyz"):
        raise ReplyError(" ".join(words)[:60])
    return Hello(words[1].replace("_", " ")[:60], words[2][:60], words[3])


def parse_status(words: list[str]) -> Status:
    """``ok status BATTERY calibrated|raw WARMING``."""
    try:
        battery, state, warming = words
        return Status(min(max(int(battery), 0), 100), {"calibrated": True, "raw": False}[state], max(int(warming), 0))
    except (ValueError, KeyError):
        raise ReplyError(" ".join(words)[:60]) from None


def parse_reading(words: list[str]) -> Measurement:
    """``ok reading BATTERY reflectance R1 ... R36`` or ``ok reading BATTERY xyz X Y Z``."""
    try:
        battery, kind = int(words[0]), words[1]
        numbers = tuple(float(w) for w in words[2:])
    except (ValueError, IndexError):
        raise ReplyError(" ".join(words)[:60]) from None
    wanted = {"reflectance": BANDS, "xyz": 3}.get(kind)
    if wanted is None or len(numbers) != wanted or not all(-0.5 <= v <= 20 for v in numbers):
        raise ReplyError(" ".join(words)[:60])
    held = tuple(max(v, 0.0) for v in numbers)  # noise may reach below nothing
    battery = min(max(battery, 0), 100)
    return (
        Measurement(spectrum=held, battery=battery) if kind == "reflectance" else Measurement(xyz=held, battery=battery)
    )


def write_reading(values: list[float], battery: int, kind: str = "reflectance") -> str:
    """The line for a reading."""
    return f"ok reading {battery} {kind} " + " ".join(f"{v:.5f}" for v in values)
