"""What to do about a pile, in words: for the window and the view at the easel alike."""

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.document.document import Document
from ochre_stone.core.mixing.correcting.correct import HOME, Correction
from ochre_stone.core.mixing.correcting.words import addition_words
from ochre_stone.core.mixing.recipe.dose import whole_of
from ochre_stone.core.mixing.recipe.recipe import TINT_WHITE, count_words
from ochre_stone.core.mixing.strings.targets import Pile
from ochre_stone.core.planning.mending import Advice, goal_of, held, readings_of

_TIMES = {1: "once", 2: "twice"}
_CUT = {0.5: "half", 1 / 3: "a third"}
_GROWS, _SMALL, _NEARER = 1.05, 1.1, 0.05
"""Growth that is told, and up to which one addition is small; CIEDE2000 from which it leads nearer."""


def verdict_words(now: Advice) -> str:
    """The verdict in one line."""
    c = now.correction
    if c.verdict == "home":
        return "It matches." if c.sure >= 0.5 else "It matches as nearly as can be told."
    if c.verdict == "look":
        return "Too near to tell: read it once more."
    if c.verdict == "leave":
        return f"It comes no nearer: leave it{', or ' + now.instead if now.instead else ''}."
    if c.verdict == "again":
        return "Start this one again: a new pile is expected to end nearer than anything added to it."
    if c.verdict == "cut":
        return f"Cut the pile first, and go on with {kept_words(c.keep)} of it: whole it would grow too large."
    if c.de00 <= HOME:
        return f"{'One small addition' if len(c.additions) == 1 and c.growth <= _SMALL else 'This'} brings it home."
    return "This brings it nearer; look again after." if _leads_nearer(c) else "Put the least in and look again."


def _leads_nearer(c: Correction) -> bool:
    """Whether less than the least dose is not what is wanted."""
    return c.de00 < c.now - _NEARER


def other_words(now: Advice) -> str:
    """What else would do: the next best additions, or what all that was read would take where words say another."""
    ways = [
        "; ".join(addition_words(v, n) for (_, v), n in zip(o.additions, o.names, strict=True))
        for o in now.correction.others[:2]
        if o.additions
    ]
    if not ways:
        return ""
    if now.correction.why:
        return f"By all that was read and said, rather: {ways[0]}, then {now.correction.others[0].de00:.1f}."
    return f"Or: {' — or '.join(ways)}."


def goal_words(pile: Pile) -> str:
    """What a pile is corrected toward."""
    return "target" if pile.reachable else "nearest"


def kept_words(keep: float) -> str:
    """The share of a pile to go on with, in words."""
    return min(_CUT.items(), key=lambda kv: abs(kv[0] - keep))[1]


def addition_list(now: Advice) -> list[str]:
    """Each thing to add as it is measured, "a touch of black"."""
    c = now.correction
    return [addition_words(v, n) for (_, v), n in zip(c.additions, c.names, strict=True)]


def _whole(document: Document, pile: Pile) -> int:
    """As how many parts a pile counts that stands there: whole ones, for it is counted by eye."""
    return max(1, round(whole_of(held(document, pile).doses)))


def makings(document: Document, now: Advice) -> list[str]:
    """How each tint is made that is wanted and not there yet, "black tint: 10 white to 1 black"."""
    known = document.mixed.tube
    return [
        f"{name}: {TINT_WHITE:g} {known(shares[0][0]).short} to 1 {known(shares[1][0]).short}"
        for name, shares in now.to_make
    ]


def value_words(document: Document, pile: Pile, lab: Lab) -> str:
    """How far a pile's value is off, Munsell's: value is judged first."""
    off = float(value_of_lightness(lab[0]) - value_of_lightness(goal_of(document, pile)[0]))
    if abs(off) < 0.15:
        return "value right"
    return f"{abs(off):.1f} too {'light' if off > 0 else 'dark'}"


def short_advice(document: Document, pile: Pile, now: Advice) -> str:
    """What to do in a few words, for a list of many piles."""
    c = now.correction
    if now.again is not None:
        made = "".join(f" ({words})" for words in makings(document, now))
        return f"start again with {', '.join(now.again_words())}{made}"
    if c.verdict not in ("add", "cut"):
        return verdict_words(now)
    keep = f"keep {kept_words(c.keep)}, " if c.verdict == "cut" else ""
    made = "".join(f" ({words})" for words in makings(document, now))
    half = ", half first" if c.half_first else ""
    whole, added = count_words(_whole(document, pile)), " and ".join(addition_list(now))
    return f"of {whole} {keep}add {added}{made}{half}, then {c.de00:.1f}"


def advice_lines(document: Document, pile: Pile, now: Advice) -> list[str]:
    """What to do and why, in sentences."""
    c = now.correction
    seen = len(readings_of(document, pile.id))
    if c.verdict in ("home", "leave", "look"):
        times = f"Seen {_TIMES.get(seen, f'{seen} times')}; it is {c.now:.1f} off, give or take {c.give:.1f}."
        return [times, "Nothing more to add." if c.verdict == "home" else ""]
    if now.again is not None:
        parts = ", ".join(now.again_words())
        by_eye = f"By eye it is expected {now.again.by_eye:.1f} off; this one is {c.now:.1f}."
        made = [f"Make first: {'; '.join(words)}."] if (words := makings(document, now)) else []
        return [*made, f"Start with {parts}: what was learnt of the tubes is in it.", by_eye]
    keep = f"keep {kept_words(c.keep)}, then add" if c.keep < 1 else "add"
    first = f"Counting the pile as {count_words(_whole(document, pile))}: {keep} {' and '.join(addition_list(now))}."
    made = [f"Make first: {'; '.join(words)}."] if (words := makings(document, now)) else []
    then = f"then {c.de00:.1f}" if _leads_nearer(c) else "and less cannot be dosed: look after it"
    grows = f"it grows to {c.growth:.2g} of its size" if c.growth >= _GROWS else "it keeps its size"
    why = [c.why] if c.why else []
    out = [*why, *made, first, f"About {c.now:.1f} off now, {then}; {grows}."]
    if c.half_first:
        out.insert(len(why) + len(made) + 1, "It may lead past it: half first, then look.")
    return out
