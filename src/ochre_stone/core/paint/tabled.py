"""Tables in text files, whichever program wrote them."""

import csv
import io
import re
from collections.abc import Iterable, Iterator

from ochre_stone.core.errors import OchreError


def rows(text: str, name: str, mark: str, most: int) -> Iterator[dict[str | None, str | list[str] | None]]:
    """The lines of a CSV under its first as :class:`csv.DictReader` gives them; any line ends.

    Raises OchreError, naming file and line, for what is no table (an open quote, a field without end) and for one of
    more than ``most`` lines, before it is read on.
    """
    text = lines(text)
    if text.count("\n") > most + 1:
        raise OchreError(f"'{name}' holds {text.count(chr(10))} lines: at most {most} are read.")
    reader = csv.DictReader(io.StringIO(text, newline=""), delimiter=mark, strict=True)
    try:
        for row in reader:
            yield {key: _read(cell) if isinstance(cell, str) else cell for key, cell in row.items()}
    except csv.Error as error:
        line = reader.line_num + 1
        raise OchreError(f"'{name}' is no table from line {line} on ({error}): look for an open quote.") from None


def lines(text: str) -> str:
    """The text with line ends of one kind, also those of old."""
    return text.replace("\r\n", "\n").replace("\r", "\n")


_NUMBER = re.compile(r"[+-]?[\d.]+(e[+-]?\d+)?", re.IGNORECASE)
_RUN = ("=", "+", "-", "@", "\t", "\r")
"""What a cell begins with that spreadsheets take for a formula."""


def as_text(rows: Iterable[Iterable[object]], end: str = "\n") -> str:
    """A CSV with commas. A cell that a spreadsheet would run is written behind an apostrophe, which :func:`rows` takes
    off again; numbers are left as they are.

    >>> print(as_text([("=1+1", -2.5, "a;b")]), end="")
    '=1+1,-2.5,"a;b"
    """
    return "".join(",".join(_quoted(_harmless(str(cell))) for cell in row) + end for row in rows)


def _harmless(cell: str) -> str:
    runs = cell.startswith(_RUN) and not _NUMBER.fullmatch(cell)
    return f"'{cell}" if runs or _is_marked(cell) else cell


def _is_marked(cell: str) -> bool:
    return cell.startswith("'") and cell.lstrip("'").startswith(_RUN)


def _read(cell: str) -> str:
    return cell[1:] if _is_marked(cell) else cell


def _quoted(cell: str) -> str:
    return '"' + cell.replace('"', '""') + '"' if re.search(r'[,;"\t\r\n]', cell) else cell
