"""Mutated inputs of every format that is read: each is opened, or refused in one sentence.

A child does a batch, so that one that dies, hangs or takes too much is seen; which input it was follows from its
number.
"""

import contextlib
import json
import os
import resource
import subprocess
import sys
import tempfile
import threading
import time
import traceback
from pathlib import Path

import numpy as np

from ochre_stone.core.errors import OchreError
from tests.support.torture import corpus
from tests.support.torture.mutate import mutated
from tests.support.torture.seeing import look_for_faces, read_the_palette
from tests.support.torture.tally import Tally

_BATCH = 200
_HANGS_S = 60.0
_MOST_GB = 2.5
_EVERY = 25
"""Of so many inputs one is a picture of real size."""


def run(tally: Tally, count: int, children: int = 2) -> None:
    """Go on until ``count`` inputs are done."""
    corpus.real()
    lock, starts = threading.Lock(), iter(range(tally.done, count, _BATCH))

    def work() -> None:
        while True:
            with lock:
                start = next(starts, None)
            if start is None:
                return
            size = min(_BATCH, count - start)
            results, peak, died = _batch(start, size, tally.seed)
            with lock:
                for what, seconds, words in results:
                    tally.add(what, seconds, words)
                if died:
                    tally.add("other", words=died)
                tally.peak = max(tally.peak, peak)
                if peak > _MOST_GB:
                    tally.wrong(f"{peak:.2f} GB in the batch from {start}")
                tally.save()

    threads = [threading.Thread(target=work) for _ in range(children)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()


def _batch(start: int, size: int, seed: int) -> tuple[list[tuple[str, float, str]], float, str]:
    results: list[tuple[str, float, str]] = []
    peak, died, at = 0.0, "", start
    while at < start + size and not died:
        command = [sys.executable, "-m", "tests.support.torture.inputs", str(at), str(start + size - at), str(seed)]
        with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True) as child:
            assert child.stdout is not None
            timer = threading.Timer(_HANGS_S + 30, child.kill)
            timer.start()
            for line in child.stdout:
                timer.cancel()
                answer = json.loads(line)
                peak = max(peak, answer["gb"])
                results.append((answer["what"], answer["s"], answer["words"]))
                at += 1
                timer = threading.Timer(_HANGS_S, child.kill)
                timer.start()
            timer.cancel()
            child.wait()
            if at < start + size:
                died = f"input {at} of seed {seed}: the process ended with {child.returncode}, or hung"
    return results, peak, died


def one(number: int, seed: int, folder: Path) -> tuple[str, str]:
    """Try one input: what came of it, and words where that must not be."""
    rng = np.random.default_rng((seed, number))
    samples = corpus.real() if number % _EVERY == _EVERY - 1 else corpus.small()
    sample = samples[int(rng.integers(0, len(samples)))]
    data = mutated(sample, rng, corpus.small())
    try:
        _read(sample.kind, sample.name, data, folder)
    except OchreError as error:
        words = str(error)
        sound = words and "\n" not in words and len(words) <= 700 and words.isprintable()
        return ("refused", "") if sound else ("other", f"input {number}: {words[:300]!r}")
    except BaseException:
        (folder.parent / f"input-{seed}-{number}-{sample.name}").write_bytes(data)
        return "other", f"input {number} ({sample.name}): {traceback.format_exc()[-900:]}"
    return "opened", ""


def _read(kind: str, name: str, data: bytes, folder: Path) -> None:
    """As the program does, with what it does at once with the answer."""
    from ochre_stone.core.paint.box import PaintBox
    from ochre_stone.core.paint.spectral import read_text
    from ochre_stone.core.picture.load import glimpse, load
    from ochre_stone.core.store import boxfile, safecopy
    from ochre_stone.core.store.files import open_project, save

    path = folder / name
    path.write_bytes(data)
    if kind == "picture":
        glimpse(data, name, 100_000)
        load(path).reduced(100_000)
    elif kind == "faces":
        look_for_faces(path)
    elif kind == "palette":
        read_the_palette(path, np.random.default_rng(len(data)))
    elif kind in ("log", "log file", "waiting"):
        _log(kind, path)
    elif kind == "project":
        project = open_project(path)
        if project.picture is not None:
            project.document.seen(project.picture, 50_000)
        save(folder / "again.ochre", project.document, project.picture)
    elif kind == "work":
        left = safecopy._about(folder)
        if left is not None:
            safecopy.bring_back(left)
    elif kind == "box":
        boxfile.load_box(path)
    elif kind == "tubes":
        boxfile.read_import(path, PaintBox())
    elif kind == "swatches":
        read_text(data.decode("utf-8-sig", "replace"), name, ["yellow-ochre", "titanium-white"])
    elif kind == "profile":
        from ochre_stone.desktop.session import display

        display.find_screen(str(path))[0].encode(np.full((2, 2, 3), 0.2, np.float32))
    elif kind == "settings":
        from ochre_stone.desktop.session import settings

        settings.file = lambda: path
        settings.load_settings()
    else:
        _typed(kind, data.decode("utf-8", "replace"))


def _log(kind: str, path: Path) -> None:
    """Looked at in all ways, written to, and out again; a damaged one keeps a copy."""
    from ochre_stone.logbook import again, exchange, waiting
    from ochre_stone.logbook.book import Book
    from ochre_stone.logbook.openlog import OpenLog

    for old in path.parent.glob(f"{path.name}?*"):
        old.unlink()
    if kind == "log file":
        with Book.in_memory() as book:
            exchange.load_log(book, path)
        return
    if kind == "waiting":
        beside = waiting._fresh(path.parent, path.with_name("mine.sqlite"))
        path.rename(beside)
        log = OpenLog(path.with_name("mine.sqlite"))
        log.flush()
        log.close()
        for left in path.parent.glob("mine.sqlite*"):
            left.unlink()
        return
    with Book(path) as book:
        looks = (book.days, book.projects, book.read_lately, book.answers, book.count, book.tubes)
        for look in (*looks, lambda: book.near((50, 10, 10), 20), lambda: again.leftovers(book, 1_790_000_000.0)):
            with contextlib.suppress(OchreError):
                look()
        exchange.save_log(book, path.with_name("out.json"))
        exchange.save_log(book, path.with_name("out.csv"))
        piles = len(book.entries([p.uid for p in book.listed(count=10_000)]))
        book.answer()
        if book.skipped and not [*path.parent.glob("*.damaged")]:
            raise AssertionError(f"{book.skipped_words()} {piles} piles, and no copy was kept")


def _typed(kind: str, text: str) -> None:
    from ochre_stone.core.colour.parse import parse_colour
    from ochre_stone.core.paint.writing import parts_of
    from ochre_stone.export.bundle import parse_canvas

    {"mixture": parts_of, "colour": parse_colour, "canvas": parse_canvas}[kind](text)


def main() -> None:
    """A batch in a child: START COUNT SEED; a line of JSON for each."""
    start, count, seed = (int(a) for a in sys.argv[1:4])
    with tempfile.TemporaryDirectory(prefix="ochre-torture-") as home:
        os.environ["XDG_CACHE_HOME"] = os.environ["HOME"] = home
        folder = Path(home) / "inputs"
        folder.mkdir()
        for number in range(start, start + count):
            began = time.monotonic()
            what, words = one(number, seed, folder)
            peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024 / 1e9
            print(json.dumps({"what": what, "s": time.monotonic() - began, "words": words, "gb": peak}), flush=True)


if __name__ == "__main__":
    main()
