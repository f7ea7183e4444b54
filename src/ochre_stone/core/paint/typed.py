"""Tubes by what a painter types: names with commas, by any of their usual names."""

import difflib
import functools
import re
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from ochre_stone.core.paint.tubes import Tube, aliases, all_tubes, find

_PARTS = re.compile(r"[,;\n]")


@dataclass(frozen=True)
class Typed:
    """What was understood, and what was not."""

    paints: tuple[str, ...]
    """Ids of tubes, each once, in the order in which they were typed."""
    unclear: tuple[tuple[str, tuple[str, ...]], ...]
    """What was not understood, with the ids of the tubes that come nearest."""


def one_tube(text: str, own: Sequence[Tube] = ()) -> tuple[str, tuple[str, ...]]:
    """Id of the tube that a text means, "" where that is not clear; and the ids that come nearest.

    Own tubes come first, by their names; then a name that is just the text; then the only tube that holds its words.
    """
    typed = " ".join(text.lower().split())
    mine = [t.id for t in own if t.name.lower() == typed] or [t.id for t in own if typed and typed in t.name.lower()]
    if len(mine) == 1:
        return mine[0], ()
    found = [t.id for t in find(typed)] if typed else []
    exact = [i for i in found if typed in _names()[i]]
    if len(exact) == 1 or (len(found) == 1 and not mine):
        return (exact or found)[0], ()
    if not found:
        known = {name: i for i, names in _names().items() for name in names}
        close = difflib.get_close_matches(typed, known, n=3, cutoff=0.55)
        found = list(dict.fromkeys(known[c] for c in close))
    return "", tuple(dict.fromkeys((*mine, *exact, *found)))[:3]


def tubes_typed(text: str, own: Sequence[Tube] = ()) -> Typed:
    """The tubes of a text of names, parted by commas, semicolons or line ends."""
    paints: list[str] = []
    unclear: list[tuple[str, tuple[str, ...]]] = []
    for part in _PARTS.split(text):
        name = part.strip()
        if not name:
            continue
        found, near = one_tube(name, own)
        if found:
            paints.append(found)
        else:
            unclear.append((name, near))
    return Typed(tuple(dict.fromkeys(paints)), tuple(unclear))


def palette_name(tubes: Sequence[str], taken: Collection[str]) -> str:
    """A name for a palette that was typed, by its tubes, other than those ``taken``.

    >>> palette_name(["ochre", "red oxide", "black", "ultramarine"], [])
    'My ochre, red oxide, black …'
    >>> palette_name(["ochre", "red oxide"], ["My ochre, red oxide"])
    'My ochre, red oxide (2)'
    """
    tries = []
    for n in range(3, len(tubes) + 1):
        rest = " …" if n < len(tubes) else ""
        tries.append(f"My {', '.join(tubes[:n])}{rest}"[:70])
    plain = tries[0] if tries else f"My {', '.join(tubes) or 'white'}"
    numbered = (f"{plain} ({k})" for k in range(2, len(taken) + 3))
    return next(t for t in (*(tries or [plain]), *numbered) if t not in taken)


def unclear_words(typed: Typed, own: Mapping[str, str] | None = None) -> str:
    """What was not understood, in one sentence with the nearest; "" for nothing. ``own``: names of own tubes by id."""
    tubes, mine = all_tubes(), own or {}
    said = []
    for name, near in typed.unclear:
        names = [mine.get(i) or tubes[i].name for i in near]
        said.append(f"“{name[:40]}”" + (f" (do you mean {' or '.join(names)}?)" if names else ""))
    return f"Not understood: {'; '.join(said)}." if said else ""


@functools.cache
def _names() -> dict[str, set[str]]:
    return {
        i: {n.lower() for n in (i.replace("-", " "), t.name, t.short, t.ci, *t.common, *aliases(i))}
        for i, t in all_tubes().items()
    }
