"""Damage: to bytes, to text, and to what JSON and ZIP hold inside."""

import copy
import io
import json
import zipfile
from typing import Any

import numpy as np

from tests.support.torture.corpus import Sample
from tests.support.torture.seeing import damaged

_ODD: tuple[Any, ...] = (
    None, True, -1, 0, 1e308, -1e308, float("nan"), float("inf"), 2**63, 10**400, "", "x" * 100_000, "\n\x00\ud800",
    "<img src='http://10.255.255.1/x'>", [], {}, [[]] * 50, {"k" * 100_000: 1}, "../../etc/passwd", "é" * 300,
)  # fmt: skip
_WORDS = (b"", b"\x00" * 64, b"\xff" * 64, b"\r", b'"', b"nan", b"1e999", b"-0", b"\xed\xa0\x80", b"9" * 400, b"\n,;")


def mutated(sample: Sample, rng: np.random.Generator, others: tuple[Sample, ...]) -> bytes:
    """The sample's bytes with one to four kinds of damage."""
    data = sample.data
    if sample.kind == "project" and rng.random() < 0.6:
        return _project(data, rng)
    if data[:1] == b"{" and rng.random() < 0.6:
        return _json(data, rng)
    if sample.kind in ("faces", "palette") and rng.random() < 0.85:
        return damaged(data, rng)
    for _ in range(int(rng.integers(1, 5))):
        data = _bytes(data, rng, others)
    return data


def _bytes(data: bytes, rng: np.random.Generator, others: tuple[Sample, ...]) -> bytes:
    if not data:
        return bytes(rng.integers(0, 256, 50, dtype=np.uint8))
    # Headers decide most: half of all damage lies in the first kilobyte.
    reach = len(data) if rng.random() < 0.5 else min(len(data), 1000)
    at = int(rng.integers(0, reach))
    length = int(min(2 ** rng.integers(0, 12), len(data)))
    out = bytearray(data)
    match int(rng.integers(0, 9)):
        case 0:
            out[at] ^= 1 << int(rng.integers(0, 8))
        case 1:
            out[at] = int(rng.integers(0, 256))
        case 2:
            return bytes(out[:at])
        case 3:
            del out[at : at + length]
        case 4:
            out[at:at] = out[at : at + length]
        case 5:
            out[at : at + 4] = int(rng.choice([0, 1, 2**31 - 1, 2**32 - 1, 65_535, 40_000])).to_bytes(
                4, "big" if rng.random() < 0.5 else "little"
            )
        case 6:
            other = others[int(rng.integers(0, len(others)))].data
            start = int(rng.integers(0, max(len(other), 1)))
            out[at : at + length] = other[start : start + length]
        case 7:
            out[at:at] = _WORDS[int(rng.integers(0, len(_WORDS)))]
        case 8:
            out[at : at + length] = rng.integers(0, 256, len(out[at : at + length]), dtype=np.uint8).tobytes()
    return bytes(out)


def _json(data: bytes, rng: np.random.Generator) -> bytes:
    held = json.loads(data)
    for _ in range(int(rng.integers(1, 4))):
        _spoil(held, rng)
    return json.dumps(held).encode("utf-8", "replace")


def _spoil(held: Any, rng: np.random.Generator) -> None:
    while True:
        keys: list[Any] = list(held) if isinstance(held, dict) else list(range(len(held)))
        if not keys:
            return
        key = keys[int(rng.integers(0, len(keys)))]
        inner = held[key]
        if isinstance(inner, dict | list) and inner and rng.random() < 0.75:
            held = inner
            continue
        odd = copy.deepcopy(_ODD[int(rng.integers(0, len(_ODD)))])  # one that is spoilt on must not come again as that
        match int(rng.integers(0, 4)):
            case 0:
                del held[key]
            case 1 if isinstance(held, dict):
                held["unknown" if rng.random() < 0.5 else "k" * 10_000] = odd
            case 2 if isinstance(held, list):
                held += [inner] * int(2 ** rng.integers(0, 12))
            case _:
                held[key] = odd
        return


def _project(data: bytes, rng: np.random.Generator) -> bytes:
    """A project whose members are damaged, renamed, doubled, left out or joined by others."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
        for name in old.namelist():
            inner = old.read(name)
            if name == "project.json" and rng.random() < 0.8:
                inner = _json(inner, rng)
            elif rng.random() < 0.1:
                inner = inner[: int(rng.integers(0, len(inner) + 1))]
            if rng.random() < 0.03:
                continue
            if rng.random() < 0.03:
                name = ("../" * 5) + name
            new.writestr(name, inner)
        if rng.random() < 0.1:
            for n in range(int(rng.integers(1, 30))):
                new.writestr(f"more/{n}", bytes(1000))
    return out.getvalue()
