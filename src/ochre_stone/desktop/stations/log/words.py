"""What the log says of a pile."""

from datetime import datetime

from ochre_stone.core.colour.difference import apart
from ochre_stone.core.colour.reading import read
from ochre_stone.core.mixing.correcting.words import addition_words
from ochre_stone.desktop.session import numbers
from ochre_stone.logbook.entry import Entry


def day_words(at: float) -> str:
    """A day, as 12 Sep 2026."""
    when = datetime.fromtimestamp(at)
    return f"{when.day} {when.strftime('%b %Y')}"


def clock(at: float) -> str:
    """The time of day."""
    return datetime.fromtimestamp(at).strftime("%H:%M")


def course_of(e: Entry) -> list[str]:
    """What happened to a pile, line by line."""
    out: list[tuple[float, int, str]] = []
    first = [p for p in e.puts if p.first]
    mixed = ", ".join(addition_words(p.parts, p.dose.name) for p in first)
    out.append((e.begun, 0, f"mixed {mixed}"))
    later: dict[float, list[str]] = {}
    for p in e.puts:
        if not p.first:
            later.setdefault(p.at, []).append(addition_words(p.parts, p.dose.name))
    out += [(at, 2, f"added {' and '.join(words)}") for at, words in later.items()]
    out += [(c.at, 1, f"went on with {c.keep:.0%} of it") for c in e.cuts]
    for s in e.seen:
        out.append((s.at, 3, f"said to be {s.said}" if s.how == "words" else seen_words(e, s.lab, s.how)))
    if e.finished is not None:
        out.append((e.finished, 4, "done"))
    return [f"{clock(at)}  {words}" for at, _, words in sorted(out, key=lambda x: (x[0], x[1]))]


def seen_words(e: Entry, lab: tuple[float, float, float], how: str) -> str:
    """How it was read, against its target."""
    r = read(lab)
    words = f"read {numbers.value(r.value)} {r.name}" if how != "typed" else f"typed {numbers.value(r.value)} {r.name}"
    if e.target is None:
        return words
    step = r.value - read(e.target).value
    value = "value right" if abs(step) < 0.1 else f"{abs(step):.1f} too {'light' if step > 0 else 'dark'}"
    return f"{words}: {value}, {apart(lab, e.target):.1f} off"


def planned_against(e: Entry) -> str:
    """Planned against real: paint, time and how near."""
    said = []
    if e.planned_ml > 0:
        said.append(f"{e.used_ml:.1f} ml went in, {e.planned_ml:.1f} were planned")
    else:
        said.append(f"{e.used_ml:.1f} ml went in")
    if e.minutes is not None:
        said.append(f"{e.minutes:.0f} min, {e.planned_minutes:.0f} expected")
    n = e.corrections
    said.append(f"{n} correction{'s' * (n != 1)}")
    return "; ".join(said) + "."
