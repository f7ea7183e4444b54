"""The commands about the log: what was mixed, found again, mixed again, exported."""

import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import date, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from ochre_stone.cli_paint import box_of, json_option, tell_shell
from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint.usual import PALETTE

if TYPE_CHECKING:
    from ochre_stone.core.paint.tubes import Tube
    from ochre_stone.logbook.book import Book
    from ochre_stone.logbook.entry import Entry

_which = click.option("--log", "path", type=click.Path(dir_okay=False), help="Log file (default: your own).")
_demo = click.option("--demo", is_flag=True, help="The demo's made-up log.")


@click.group()
def log() -> None:
    """What was really mixed: list, find, mix again, export."""


@contextmanager
def _opened(path: str | None, demo: bool) -> Iterator["Book"]:
    """The log that is asked for; none is made by looking."""
    from ochre_stone.logbook.book import Book, log_file
    from ochre_stone.logbook.demo import demo_log
    from ochre_stone.logbook.exchange import take_in

    there = Path(path) if path is not None else log_file()
    if path is not None and not there.exists():
        raise OchreError(f"There is no log '{path}': check the name and the folder.")
    book = Book(there) if there.exists() and not demo else Book.in_memory()
    try:
        if demo:
            take_in(book, demo_log(time.time()))
        yield book
    finally:
        book.close()
        for words in (book.skipped_words(), book.read_only_words()):
            if words:
                click.echo(words, err=True)


def _finder() -> Callable[[str], "Tube"]:
    """Finds a tube of the painter's box, or a generic one."""
    return box_of(None).tube


def _when(at: float) -> str:
    return datetime.fromtimestamp(at).astimezone().isoformat(timespec="minutes")


def _one(book: "Book", name: str) -> "Entry":
    """The pile of that uid, or the only one whose uid begins with it."""
    found = [p.uid for p in book.listed(count=10_000_000) if p.uid.startswith(name)]
    if len(found) != 1:
        many = "no pile" if not found else f"{len(found)} piles"
        raise OchreError(f"In the log {many} begins with '{name}': see 'ochre-stone log list' for the ids.")
    return book.entries(found)[0]


@log.command("list")
@click.option("--day", default=None, help="Of one day, as 2026-05-31.")
@click.option("--count", default=50, show_default=True, type=click.IntRange(1, 100_000), help="At most so many.")
@_which
@_demo
@json_option
def list_piles(day: str | None, count: int, path: str | None, demo: bool, as_json: bool) -> None:
    """The piles of the log, the newest first."""
    from ochre_stone.core.colour.reading import read

    try:
        wanted = date.fromisoformat(day) if day is not None else None
    except ValueError:
        raise OchreError(f"'{day}' is no day: write it as 2026-05-31.") from None
    with _opened(path, demo) as book:
        found = book.listed(wanted, None, count)
    data = [
        {
            "id": p.uid,
            "name": p.name,
            "project": p.title,
            "begun": _when(p.begun),
            "lab": [round(v, 2) for v in p.lab],
            "value": round(read(p.lab).value, 2),
            "read": p.was_read,
            "left_ml": round(p.left_ml, 2),
        }
        for p in found
    ]
    lines = [
        f"{p.uid[:16]:16}  {_when(p.begun)}  {p.name:22} value {read(p.lab).value:.1f}, {read(p.lab).name}"
        + (f", {p.left_ml:.1f} ml left" if p.left_ml else "")
        for p in found
    ]
    tell_shell({"piles": data}, as_json, lambda: lines or ["The log holds no piles."])


@log.command()
@click.argument("colour")
@click.option("--palette", default=PALETTE, show_default=True, help="For the surface that it is looked at with.")
@click.option("--count", default=5, show_default=True, type=click.IntRange(1, 50), help="At most so many.")
@_which
@_demo
@json_option
def find(colour: str, palette: str, count: int, path: str | None, demo: bool, as_json: bool) -> None:
    """The piles of the past that come nearest to COLOUR with the tubes of now."""
    from ochre_stone.core.colour.parse import parse_colour
    from ochre_stone.core.colour.spaces import as_lab
    from ochre_stone.logbook.again import find_again
    from ochre_stone.logbook.exchange import put_words

    lab, surface = as_lab(parse_colour(colour)), box_of(None).palette(palette).surface
    with _opened(path, demo) as book:
        found = find_again(book, lab, _finder(), surface, count)
    data: dict[str, Any] = {
        "target": [round(v, 3) for v in lab],
        "found": [
            {
                "id": f.entry.uid,
                "name": f.entry.name,
                "begun": _when(f.entry.begun),
                "de00": round(f.off, 3),
                "lab": [round(v, 2) for v in f.now],
                "lacking": list(f.lacking),
                "put_in": [{"name": p.dose.name, "ml": round(p.ml, 3)} for p in f.entry.puts],
            }
            for f in found
        ],
    }
    lines = [f"{f.off:5.1f}  {f.entry.uid[:16]}  {f.entry.name}: {put_words(f.entry.puts)}" for f in found]
    tell_shell(data, as_json, lambda: lines or ["There is nothing like it in the log."])


@log.command()
@click.argument("pile")
@click.option("--ml", default=None, type=float, help="So many millilitres (default: as much as then).")
@click.option("--palette", default=PALETTE, show_default=True, help="For the surface that it is looked at with.")
@_which
@_demo
@json_option
def again(pile: str, ml: float | None, palette: str, path: str | None, demo: bool, as_json: bool) -> None:
    """What goes in to mix PILE (its id, or the beginning of it) again, with the tubes of now."""
    from ochre_stone.logbook.remixing import mix_again

    surface = box_of(None).palette(palette).surface
    with _opened(path, demo) as book:
        entry = _one(book, pile)
        try:
            made = mix_again(entry, book.tubes(), _finder(), surface, ml)
        except ValueError as error:
            raise OchreError(f"{ml:g} ml: {error}.") from None
    data = {
        "id": entry.uid, "name": entry.name, "ml": round(made.ml, 4), "corrected": made.corrected, "why": made.why,
        "doses": [
            {"supply": d.source, "name": d.name, "parts": p, "ml": round(d.volume, 4), "tubes": dict(d.shares)}
            for d, p in zip(made.doses, made.parts, strict=True)
        ],
        "lab": [round(v, 3) for v in made.comes_out], "lacking": list(made.lacking),
    }  # fmt: skip
    tell_shell(data, as_json, lambda: [made.words(), made.why])


@log.command()
@click.option("--out", required=True, type=click.Path(dir_okay=False), help="Where to: .json with everything, or .csv.")
@_which
@_demo
@json_option
def export(out: str, path: str | None, demo: bool, as_json: bool) -> None:
    """Write the log as JSON with everything, or as a CSV table of its piles."""
    from ochre_stone.logbook.exchange import save_log

    target = Path(out)
    if target.suffix.lower() not in (".json", ".csv"):
        raise OchreError(f"'{out}' is neither .json nor .csv: choose one of the two.")
    with _opened(path, demo) as book:
        count = save_log(book, target)
    tell_shell({"piles": count, "file": str(target)}, as_json, lambda: [f"Wrote {count} piles to {target}."])
