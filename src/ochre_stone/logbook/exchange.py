"""The log out and in: JSON with everything, CSV of the piles for a table."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime
from pathlib import Path
from typing import Annotated, Literal

from pydantic import Field

from ochre_stone.core.errors import OchreError
from ochre_stone.core.frozen import Frozen
from ochre_stone.core.paint import tabled
from ochre_stone.core.picture.reading import read_bytes
from ochre_stone.core.store.atomic import write_bytes
from ochre_stone.core.store.checking import read_model
from ochre_stone.logbook.book import Book
from ochre_stone.logbook.entry import IN_BASE_64, Answer, Entry, Put, TubeThen, tube_key

FORMAT = 2
MOST_LOG_BYTES = 400_000_000
MOST_IN_A_LOG = 250_000
"""Twenty on every day of thirty years."""
LOG_COLUMNS = (
    "uid", "project", "title", "pile", "name", "begun", "finished", "medium", "palette", "target_L", "target_a",
    "target_b", "came_out_L", "came_out_a", "came_out_b", "was_read", "ml", "left_ml", "corrections", "minutes",
    "what went in", "line",
)  # fmt: skip
"""Of the CSV; times in UTC as ISO 8601, colours in CIELAB D65, amounts in millilitres."""


class Exchanged(Frozen):
    """A log as a file: all that one needs to know the piles again."""

    model_config = IN_BASE_64

    format: Literal["ochre-stone-log"]
    """Written always: a file without it is something else."""
    version: Annotated[int, Field(ge=1)] = FORMAT
    tubes: tuple[TubeThen, ...] = ()
    piles: tuple[Entry, ...] = Field(default=(), max_length=MOST_IN_A_LOG)
    answers: tuple[Answer, ...] = Field(default=(), max_length=MOST_IN_A_LOG)
    """Of practice."""


def taken_out(book: Book, uids: Sequence[str] | None = None, practice: bool = True) -> Exchanged:
    """A log, or some piles of it with their tubes."""
    chosen = list(uids) if uids is not None else [p.uid for p in book.listed(count=10_000_000)]
    entries = book.entries(chosen)
    used = {k for e in entries for k in _keys(e)}
    tubes = tuple(t for key, t in book.tubes().items() if key in used)
    answers = book.answers(count=10_000_000) if practice and uids is None else []
    return Exchanged(format="ochre-stone-log", tubes=tubes, piles=tuple(entries), answers=tuple(answers))


def as_json(log: Exchanged) -> bytes:
    """The file; pictures are in base 64."""
    return log.model_dump_json().encode()


def read_json(data: bytes, name: str) -> Exchanged:
    """What a file holds. Raises OchreError for one that is damaged, no log, far too long, or of a newer version."""
    count = data.count(b'"uid"')  # before anything is made of it
    if count > 2 * MOST_IN_A_LOG:
        raise OchreError(f"'{name}' holds {count} piles and answers: at most {MOST_IN_A_LOG} of each are taken in.")
    try:
        found = read_model(Exchanged, data)
    except ValueError as error:
        raise OchreError(f"'{name}' is no log that can be read: {error}; nothing was taken in.") from None
    if found.version > FORMAT:
        raise OchreError(f"'{name}' was written by a newer Ochre Stone: update the program to read it.")
    return _of_first_edition(found) if found.version == 1 else found


def _of_first_edition(log: Exchanged) -> Exchanged:
    """A log of before the pigments' figures changed: its generic tubes are another state of them than today's."""

    def key(tube: str) -> str:
        return tube if "@" in tube else tube_key(tube, "1")

    def put(p: Put) -> Put:
        return p.model_copy(update={"dose": replace(p.dose, shares=tuple((key(i), c) for i, c in p.dose.shares))})

    piles = [
        e.model_copy(
            update={"puts": tuple(put(p) for p in e.puts), "planned": tuple((key(i), c) for i, c in e.planned)}
        )
        for e in log.piles
    ]
    tubes = [t if t.stamp else t.model_copy(update={"stamp": "1"}) for t in log.tubes]
    return log.model_copy(update={"version": FORMAT, "tubes": tuple(tubes), "piles": tuple(piles)})


def take_in(book: Book, log: Exchanged) -> int:
    """Put a log into another one, all of it or nothing; piles that are there already are replaced. How many there were.
    Raises OchreError for a pile of tubes that it has no figures of."""
    known = {t.key for t in log.tubes} | set(book.tubes())
    for e in log.piles:
        lacking = _keys(e) - known
        if lacking:
            what = f"The pile '{e.name}' holds '{min(lacking)}'"
            raise OchreError(f"{what}, of which the file has no figures: nothing was taken in.")
    book.apply(log.tubes, put=log.piles, answers=log.answers)
    return len(log.piles)


def _keys(e: Entry) -> set[str]:
    return {k for p in e.puts for k, _ in p.dose.shares}


def as_csv(entries: Sequence[Entry]) -> bytes:
    """A row for each pile, with :data:`COLUMNS`."""
    table: list[Sequence[object]] = [LOG_COLUMNS]
    for e in entries:
        table.append(
            [
                e.uid,
                e.project,
                e.title,
                e.pile,
                e.name,
                _time(e.begun),
                _time(e.finished),
                e.medium,
                e.palette,
                *_lab(e.target),
                *_lab(e.came_out),
                int(e.was_read),
                round(e.ml, 3),
                "" if e.left_ml is None else round(e.left_ml, 3),
                e.corrections,
                "" if e.minutes is None else round(e.minutes, 1),
                put_words(e.puts),
                e.line,
            ]
        )
    return b"\xef\xbb\xbf" + tabled.as_text(table, "\r\n").encode()


def put_words(puts: Sequence[Put]) -> str:
    """What went in, in its order: "1.2 ml white, .4 ml ochre"."""
    return ", ".join(f"{p.ml:.2f} ml {p.dose.name}" for p in puts)


def _time(at: float | None) -> str:
    return "" if at is None else datetime.fromtimestamp(at).astimezone().isoformat(timespec="seconds")


def _lab(lab: Sequence[float] | None) -> list[object]:
    return ["", "", ""] if lab is None else [round(v, 3) for v in lab]


def save_log(book: Book, path: Path, uids: Sequence[str] | None = None) -> int:
    """Write a log, or some of its piles, by the file's ending: .csv or .json. How many piles there were."""
    log = taken_out(book, uids)
    if path.suffix.lower() == ".csv":
        write_bytes(path, as_csv(log.piles))
    else:
        write_bytes(path, as_json(log))
    return len(log.piles)


def load_log(book: Book, path: Path) -> int:
    """Take a JSON log in; raises OchreError as :func:`read_json` and :func:`take_in`."""
    try:
        data = read_bytes(path, MOST_LOG_BYTES)
    except OSError as error:
        raise OchreError(f"'{path.name}' cannot be read ({error.strerror}): check the file.") from None
    return take_in(book, read_json(data, path.name))
