"""Tables in text files, whichever program wrote them."""

import csv
import io
from collections.abc import Iterator

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
        yield from reader
    except csv.Error as error:
        line = reader.line_num + 1
        raise OchreError(f"'{name}' is no table from line {line} on ({error}): look for an open quote.") from None


def lines(text: str) -> str:
    """The text with line ends of one kind, also those of old."""
    return text.replace("\r\n", "\n").replace("\r", "\n")
