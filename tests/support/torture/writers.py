"""Two writers at once, a full disk, a read-only folder: everything is there, or the old file is, and one sentence."""

import contextlib
import os
import resource
import signal
import subprocess
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint.box import OwnTube, PigmentPart
from ochre_stone.core.store import boxfile
from ochre_stone.core.store.files import open_project, save
from ochre_stone.desktop.session import settings
from tests.support.made import small_project
from tests.support.torture.kills import box_of, targets
from tests.support.torture.tally import Tally

_NOBODY = 65_534
_NOT_HERE = "no file system can be mounted here"


def run(tally: Tally, count: int) -> None:
    """Rounds of each, ``count`` in all."""
    parts = (_boxes, _settings, _projects, _no_room, _full_disk, _read_only)
    while tally.done < count:
        with tempfile.TemporaryDirectory(prefix="ochre-writers-") as name:
            part = parts[tally.done % len(parts)]
            began = time.monotonic()
            wrong = part(Path(name), tally.seed + tally.done)
            name = part.__name__.strip("_")
            if wrong == _NOT_HERE:
                name, wrong = f"{name} could not be tried here", ""
            tally.add("other" if wrong else name, time.monotonic() - began, wrong)
    tally.save()


def _forked(works: list[Callable[[], None]]) -> str:
    """Do all at once, each in a process of its own; what went wrong."""
    children = []
    for work in works:
        child = os.fork()
        if child == 0:
            code = 1
            try:
                work()
                code = 0
            finally:
                os._exit(code)
        children.append(child)
    failed = sum(os.waitpid(child, 0)[1] != 0 for child in children)
    return f"{failed} writers failed" if failed else ""


def _boxes(folder: Path, seed: int) -> str:
    path, each, writers = folder / "box.json", 12, 3
    boxfile.save_box(box_of(0), path)

    def writer(name: str) -> None:
        before = boxfile.load_box(path)
        for n in range(each):
            tube = OwnTube(id=f"own-{name}-{n}", name=name, parts=(PigmentPart(pigment="yellow-ochre"),))
            before = boxfile.change_box(before, before.with_tube(tube), path)

    wrong = _forked([lambda w=w: writer(f"w{w}") for w in range(writers)])  # type: ignore[misc]
    found = len(boxfile.load_box(path).tubes)
    return wrong or ("" if found == 40 + each * writers else f"{found} tubes of {40 + each * writers}")


def _settings(folder: Path, seed: int) -> str:
    path = folder / "settings.json"
    settings.file = lambda: path

    def writer(field: str, value: str) -> None:
        mine = settings.load_settings()
        for n in range(20):
            mine.folder = f"{field}{n}"
            setattr(mine, field, value)
            settings.store(mine)

    wrong = _forked([lambda: writer("palette_surface", "wood"), lambda: writer("warmth", "near-yellow")])
    now = settings.load_settings()
    return wrong or ("" if (now.palette_surface, now.warmth) == ("wood", "near-yellow") else f"lost: {now}")


def _projects(folder: Path, seed: int) -> str:
    source, path = folder / "source.ochre", folder / "x.ochre"
    source.write_bytes(small_project())
    project = open_project(source)
    save(path, project.document, project.picture)

    def writer(title: str) -> None:
        for _ in range(8):
            save(path, project.document.model_copy(update={"title": title}), project.picture)

    def reader() -> None:
        for _ in range(8):
            open_project(path)

    wrong = _forked([lambda: writer("a"), lambda: writer("b"), reader])
    return wrong or ("" if open_project(path).document.title in ("a", "b") else "neither writer's")


def _refused(folder: Path, hinder: Callable[[], None], wanted: bool = True) -> str:
    """Save everything in a child that is hindered: one sentence each, and what was there before stays."""
    made = targets(folder)
    for t in made:
        t.write(0)
    out = folder.parent / f"{folder.name}.said"
    out.touch()
    out.chmod(0o666)

    def work() -> None:
        with out.open("w", encoding="utf-8") as said:
            hinder()
            for t in made:
                try:
                    t.write(1)
                    said.write(f"{t.name}: written\n")
                except OchreError as error:
                    said.write(f"{t.name}: {error}\n")

    try:
        wrong = _forked([work])
        lines = out.read_text(encoding="utf-8").splitlines()
        if not wrong and len(lines) != len(made):
            wrong = f"{len(lines)} lines: {lines}"
        # Settings are remembered where they can be, and never complain.
        done = [line for line in lines if line.endswith(": written") and not line.startswith("settings")]
        if not wrong and wanted and done:
            wrong = f"written all the same: {lines}"
        broken = [t.name for t in made if not t.sound()]
        return wrong or (f"not whole: {broken}" if broken else "")
    finally:
        out.unlink()


def _no_room(folder: Path, seed: int) -> str:
    def hinder() -> None:
        signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
        resource.setrlimit(resource.RLIMIT_FSIZE, (1000, 1000))

    return _refused(folder, hinder, wanted=False)


def _full_disk(folder: Path, seed: int) -> str:
    """A file system of its own where one may be mounted, filled to the brim."""
    place = folder / "disk"
    place.mkdir()
    mount = ["mount", "-t", "tmpfs", "-o", "size=6m", "tmpfs", str(place)]
    if subprocess.run(mount, capture_output=True, check=False).returncode != 0:
        return _NOT_HERE
    try:

        def hinder() -> None:
            with contextlib.suppress(OSError), (place / "filler").open("wb", buffering=0) as filler:
                while True:
                    filler.write(bytes(4096))

        return _refused(place, hinder)
    finally:
        subprocess.run(["umount", "-l", str(place)], capture_output=True, check=False)


def _read_only(folder: Path, seed: int) -> str:
    def hinder() -> None:
        for path in (folder, *folder.rglob("*")):
            path.chmod(0o555 if path.is_dir() else 0o444)
        if os.getuid() == 0:
            os.setgid(_NOBODY)
            os.setuid(_NOBODY)

    wrong = _refused(folder, hinder)
    for path in (folder, *folder.rglob("*")):
        path.chmod(0o755 if path.is_dir() else 0o644)
    return wrong
