"""What piles are called: by the painter's own words for their notes, never by a number."""

import re
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.document.document import Document, Mixed, Note
from ochre_stone.core.mixing.recipe.recipe import Recipe
from ochre_stone.core.mixing.strings.kindred import kindred
from ochre_stone.core.mixing.strings.leans import dark_lean, is_darkest
from ochre_stone.core.mixing.strings.targets import MixString, Pile

_AFTER = (",", " in ", " on ", " at ", " of ", " with ", " beside ", " under ")
"""What the head of a name stands before."""


@dataclass(frozen=True)
class PileName:
    """A pile's name, and a shorter one where there is little room."""

    name: str
    short: str


def head_of(name: str) -> str:
    """The head of a name: "cheek" of "cheek in the sun".

    >>> head_of("cheek in the sun"), head_of("wall, ochre in shade"), head_of("red scarf")
    ('cheek', 'wall', 'red scarf')
    """
    ends = [at for mark in _AFTER if (at := name.find(mark)) > 0]
    return name[: min(ends)] if ends else name


def pile_names(document: Document) -> dict[str, PileName]:
    """Names of all piles by their ids, each another, and none a tube's: its note's; of a step those of its neighbours;
    else its string's with the value that it stands at."""
    noted = {n.id: n.name.strip() or read(n.lab).name for n in document.notes}
    piles = [(s, p) for s in document.mixed.strings for p in s.piles]
    out = {p.id: _name(s, p, noted) for s, p in piles} | _darkest([p for _, p in piles if is_darkest(p)])
    count = Counter(n.name for n in out.values())
    taken = {name for t in document.mix.chosen().tubes for name in (t.short, t.name)}
    for _, p in piles:
        found = out[p.id]
        if count[found.name] > 1 or found.name in taken:  # two notes of one name, or one that is called as a tube
            told = f"{found.name}, value {p.target.value:.1f}"
            more = (told, f"{told}, {read(p.target.lab).name}", f"{told}, mixed {p.order}")
            name = next((m for m in more if m not in taken), more[-1])
            out[p.id] = PileName(name, name)
        taken.add(out[p.id].name)
    return out


def _darkest(piles: Sequence[Pile]) -> dict[str, PileName]:
    """Names of piles that stand for all notes of their lean that are darker than the paint."""
    leans = {p.id: dark_lean(p.target.lab) for p in piles}
    words = {i: f"darkest, {way}" if way and len(piles) > 1 else "darkest" for i, way in leans.items()}
    return {i: PileName(w, w) for i, w in words.items()}


def _name(string: MixString, pile: Pile, noted: Mapping[str, str]) -> PileName:
    own = [noted[i] for i in pile.target.notes if i in noted]
    if own:
        return PileName(own[0], own[0])
    value = pile.target.value
    around = [p for p in string.piles if any(i in noted for i in p.target.notes)]
    like = [p for p in around if kindred(p.target.lab, pile.target.lab, True)] or around
    below = max((p for p in like if p.target.value < value), key=lambda p: p.target.value, default=None)
    above = min((p for p in like if p.target.value > value), key=lambda p: p.target.value, default=None)
    if pile.target.origin == "between" and below is not None and above is not None:
        one, other = (next(noted[i] for i in p.target.notes if i in noted) for p in (below, above))
        a, b = (head_of(one), head_of(other)) if head_of(one) != head_of(other) else (one, other)
        steps = sum(below.target.value < p.target.value < above.target.value for p in string.piles)
        near = "" if steps == 1 else f", value {value:.1f}"
        return PileName(f"between {a} and {b}{near}", f"{a}–{b}{near.removeprefix(', value')}")
    title = string.name.lower()
    return PileName(f"{title} at value {value:.1f}", f"{title} {value:.1f}")


def also_for(document: Document, pile: Pile) -> str:
    """ "Also for chest in the sun and neck." where a pile serves other notes than the one that it is called by; ""
    elsewhere."""
    noted = {n.id: n.name.strip() or read(n.lab).name for n in document.notes}
    others = [noted[i] for i in pile.target.notes if i in noted and noted[i] != pile.name]
    if not others:
        return ""
    many = f"{', '.join(others[:-1])} and {others[-1]}" if len(others) > 1 else others[0]
    return f"{'For' if is_darkest(pile) else 'Also for'} {many}."


def named(document: Document) -> Document:
    """The document with its piles, and what goes on from them, called as :func:`pile_names` has it; itself where that
    is so."""
    names = pile_names(document)
    if all(
        p.name == names[p.id].name and p.short == names[p.id].short for s in document.mixed.strings for p in s.piles
    ):
        return document
    return document.model_copy(update={"mixed": with_names(document.mixed, names)})


def with_names(mixed: Mixed, names: Mapping[str, PileName]) -> Mixed:
    """Strings whose piles are called so, by their ids; those that are called so already stay themselves."""
    strings = []
    for s in mixed.strings:
        piles = tuple(
            replace(
                p,
                name=names[p.id].name,
                short=names[p.id].short,
                recipe=_renamed(p.recipe, names),
                alternatives=tuple(_renamed(r, names) for r in p.alternatives),
            )
            for p in s.piles
        )
        strings.append(s if piles == s.piles else replace(s, piles=piles))
    return mixed.model_copy(update={"strings": tuple(strings)})


def _renamed(recipe: Recipe, names: Mapping[str, PileName]) -> Recipe:
    """What goes on from piles, by their short names; its reasons too."""
    why = recipe.why
    for x in recipe.ingredients:
        if x.id in names and x.name != names[x.id].short:
            alike = any(y.name == x.name and y.id != x.id for y in recipe.ingredients)  # "ochre", a tube as well
            why = _told(why, x.name, names[x.id].short, alike)
    inside = tuple(replace(x, name=names[x.id].short) if x.id in names else x for x in recipe.ingredients)
    return recipe if inside == recipe.ingredients else replace(recipe, ingredients=inside, why=why)


def _told(why: str, old: str, new: str, alike: bool) -> str:
    """Reasons in which a pile has another name; a tube whose name holds the old one keeps its own."""
    before = r"mixed on from " if alike else r"(?:^|; |: |a touch of )(?:mixed on from )?"
    pattern = re.compile(rf"({before}){re.escape(old)}(?=[;:.,]| [a-z]+s\b)", re.IGNORECASE)
    return pattern.sub(lambda found: found[1] + new, why)


_PARTS = {
    "highlight": "highlight", "light": "in light", "halftone": "halftone", "core shadow": "in shade",
    "cast shadow": "in cast shadow", "reflected light": "in reflected light", "dark accent": "dark accent",
}  # fmt: skip
_TONES = ("very light ", "very dark ", "middle light ", "middle dark ", "middle ", "light ", "dark ")


def note_name(subject: str, role: str, lab: Lab, others: Sequence[Note]) -> str:
    """A name in painters' words that no other note has: the thing, its colour and its part.

    >>> note_name("wall", "core shadow", (55.0, 8.0, 30.0), ()), note_name("skin", "light", (75.0, 15.0, 22.0), ())
    ('wall, tan in shade', 'peach light')
    """
    seen = read(lab)
    plain = next((seen.name.removeprefix(t) for t in _TONES if seen.name.startswith(t)), seen.name)
    taken = {n.name: n.lab for n in others}
    tries = [_called(subject, role, plain), _called(subject, role, seen.name)]
    same = taken.get(tries[0])
    if same is not None:
        tries += [f"{tries[0]}, {words}" for words in _unlike(lab, same)]
    tries += [f"{tries[0]}, value {seen.value:.1f}"]
    tries += [f"{tries[0]}, value {seen.value:.1f}, {seen.munsell}"]
    found = next((t for t in tries if t not in taken), None)
    return found or next(t for k in range(2, len(taken) + 3) if (t := f"{tries[-1]} ({k})") not in taken)


def _called(subject: str, role: str, colour: str) -> str:
    part = _PARTS.get(role, "")
    if subject == "skin":
        return f"{colour} {part.removeprefix('in ')}".strip()
    return f"{colour} {part}".strip() if subject == "other" else f"{subject}, {colour} {part}".strip()


def _unlike(lab: Lab, same: Lab) -> list[str]:
    """How a colour is unlike another of its name, what is seen first in front."""
    a, b = read(lab), read(same)
    said = [(abs(a.value - b.value), "lighter" if a.value > b.value else "darker")]
    said += [(abs(a.chroma - b.chroma) / 4, "stronger" if a.chroma > b.chroma else "greyer")]
    said += [(abs(lab[2] - same[2]) / 40, "yellower" if lab[2] > same[2] else "bluer")]
    words = [w for far, w in sorted(said, reverse=True) if far > 0.02]
    return [*words, *(f"{x} and {y}" for x, y in pairwise(words))]
