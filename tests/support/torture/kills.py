"""kill -9 while project, box, settings and safe copy are being saved: what is there afterwards is whole, old or new.

Children are forked from a warm parent, so that the kill lands in the saving and not in the starting.
"""

import os
import signal
import tempfile
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import cv2
import numpy as np

from ochre_stone.core.paint.box import OwnTube, PaintBox, PigmentPart
from ochre_stone.core.store import boxfile, safecopy
from ochre_stone.core.store.files import Project, open_project, save
from ochre_stone.desktop.session import settings
from tests.support.made import small_project
from tests.support.torture.tally import Tally

_LONGEST_S = 0.06


@dataclass(frozen=True)
class Target:
    """Something that is saved: two states in turn, and what is found."""

    name: str
    write: Callable[[int], None]
    sound: Callable[[], bool]
    """Whether what is on disk is the one state or the other, whole."""


def run(tally: Tally, count: int) -> None:
    """Go on until ``count`` kills are done."""
    cv2.setNumThreads(0)  # a forked child has no other threads to wait for
    with tempfile.TemporaryDirectory(prefix="ochre-kills-") as name:
        folder = Path(name)
        made = targets(folder)
        for t in made:
            t.write(0)
        while tally.done < count:
            rng = np.random.default_rng((tally.seed, tally.done))
            target = made[tally.done % len(made)]
            saves = _kill(target, rng.uniform(0, _LONGEST_S))
            if target.sound():
                tally.add("sound")
                tally.counts["saves"] = tally.counts.get("saves", 0) + saves
            else:
                tally.add("other", words=f"kill {tally.done} of seed {tally.seed}: {target.name} is not whole")
            if tally.done % 50 == 0:
                tally.save()
        _cleared(folder, made, tally)
    tally.save()


def _kill(target: Target, seconds: float) -> int:
    """Fork a child that saves without end, kill it; how many saves it ended."""
    out, into = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(out)
        try:
            for n in range(1_000_000):
                os.write(into, b".")  # the first before anything is saved
                target.write(n)
        finally:
            os._exit(1)
    os.close(into)
    os.read(out, 1)
    time.sleep(seconds)
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    count = 0
    while more := os.read(out, 65536):
        count += len(more)
    os.close(out)
    return count


def _cleared(folder: Path, made: list[Target], tally: Tally) -> None:
    """What the killed left is cleared by the next writing, once it is older than a minute."""
    left = list(folder.rglob("*.part"))
    tally.counts["parts left by kills"] = len(left)
    for path in left:
        os.utime(path, (1e9, 1e9))
    for t in made:
        t.write(0)
    safecopy.ownerless()
    rest = [p for p in folder.rglob("*.part") if "unsaved" not in p.parts]
    if rest:
        tally.wrong(f"{len(rest)} parts are still there")


def targets(folder: Path) -> list[Target]:
    """Project, box, settings and safe copy in a folder."""
    return [_project(folder), _box(folder), _settings(folder), _safe_copy(folder)]


def _projects(folder: Path) -> tuple[Project, list[Any]]:
    path = folder / "source.ochre"
    path.write_bytes(small_project())
    project = open_project(path)
    return project, [project.document.model_copy(update={"title": f"state {n}"}) for n in range(2)]


def _project(folder: Path) -> Target:
    project, states = _projects(folder)
    path = folder / "project.ochre"

    def sound() -> bool:
        found = open_project(path)
        return found.document in states and found.picture is not None

    return Target("project", lambda n: save(path, states[n % 2], project.picture), sound)


def box_of(n: int) -> PaintBox:
    """A box of forty tubes."""
    part = (PigmentPart(pigment="yellow-ochre"),)
    return PaintBox(tubes=tuple(OwnTube(id=f"own-{i}", name=f"{i} of {n}", parts=part) for i in range(40)))


def _box(folder: Path) -> Target:
    path, states = folder / "box" / "paintbox.json", [box_of(n) for n in range(2)]

    def write(n: int) -> None:
        boxfile.change_box(states[(n + 1) % 2], states[n % 2], path)

    return Target("box", write, lambda: boxfile.load_box(path) in states)


def _settings(folder: Path) -> Target:
    path = folder / "config" / "settings.json"
    held = settings.Settings()

    def write(n: int) -> None:
        settings.file = lambda: path
        held.folder = f"{n % 2}" * 2000
        settings.store(held)

    def sound() -> bool:
        settings.file = lambda: path
        return settings.load_settings().folder in ("0" * 2000, "1" * 2000)

    return Target("settings", write, sound)


def _safe_copy(folder: Path) -> Target:
    project, states = _projects(folder)
    safecopy.root = lambda: folder / "unsaved"
    copies: dict[int, safecopy.SafeCopy] = {}

    def write(n: int) -> None:
        copy = copies.setdefault(os.getpid(), safecopy.SafeCopy())
        copy.write(copy.turn, states[n % 2], project.picture, None, None, None)

    def sound() -> bool:
        """All that is offered can be brought back; the parent's own is offered to nobody."""
        found = safecopy.ownerless()
        good = all(safecopy.bring_back(left).project.document in states for left in found)
        return good and all(safecopy.remove(left) for left in found) and not safecopy.ownerless()

    return Target("safe copy", write, sound)
