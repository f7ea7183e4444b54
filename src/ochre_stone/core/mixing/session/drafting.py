"""Rows of piles as wanted, and each pile from tubes by the method of its row."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.mixing.recipe.finding import Wishes, recipe_of, recipes
from ochre_stone.core.mixing.recipe.nearness import NEAR, OUT, REACH, nearness
from ochre_stone.core.mixing.recipe.recipe import TINT, Recipe, Source
from ochre_stone.core.mixing.recipe.search import VALUE_ALONE
from ochre_stone.core.mixing.recipe.sources import Terms
from ochre_stone.core.mixing.session.tinting import brings, most_tints, tints_in, worth_making
from ochre_stone.core.mixing.strings.leans import leans_as
from ochre_stone.core.mixing.strings.methods import Kit, kit
from ochre_stone.core.mixing.strings.neutral import CLEANER, from_neutral, neutral_pile, neutral_words
from ochre_stone.core.mixing.strings.targets import Pile, PileTarget
from ochre_stone.core.mixing.technique.parents import by_parents, levels_of
from ochre_stone.core.paint.optics import USUAL
from ochre_stone.core.paint.tubes import Tube

_EFFORT, _MORE = 10, 60
_BETTER_VALUE, _PER_VALUE = 0.1, 12.0
"""Steps of value for which another recipe leads, and the CIEDE2000 that a step of value is worth: more than its own
length, since value is judged first (a judgement)."""
SAME_TARGET = 2.0
"""CIEDE2000 by which a pinned pile's target may move."""
_FIRST: dict[str, Callable[[int, int], float]] = {
    "middle": lambda i, n: abs(i - (n - 1) // 2) + 0.1 * (i < (n - 1) // 2),
    "lightest": lambda i, n: float(n - i),
    "darkest": lambda i, n: float(i),
}
_BROUGHT = "*"
_CLEANER_WORDS = "Cleaner from tubes than from the neutral:"


@dataclass(frozen=True)
class Pin:
    """A pile that the painter chose or mixed: its tubes and tints with their parts."""

    pile: str
    parts: tuple[tuple[str, float], ...]
    target: tuple[float, float, float]
    """What it was chosen for: it is let go where the pile is wanted elsewhere now."""


@dataclass(frozen=True)
class StringRow:
    """A string as wanted."""

    id: str
    name: str
    goals: tuple[PileTarget, ...]
    method: str = "nearest"
    mother: str = ""
    first: str = "middle"
    """Which pile is mixed first, one of ``FIRST``."""


@dataclass(frozen=True)
class Draft:
    """A row with its piles from tubes."""

    row: StringRow
    kit: Kit
    piles: tuple[Pile, ...]
    tints: tuple[Tube, ...]
    """Paints whose tint piles it uses."""

    def in_turn(self) -> list[str]:
        """Ids of its piles in the order of mixing."""
        n = len(self.piles)
        return [self.piles[i].id for i in sorted(range(n), key=lambda i: _FIRST[self.row.first](i, n))]


@dataclass(frozen=True)
class _Begun:
    """A row with its recipes as if any tint pile could be made."""

    row: StringRow
    kit: Kit
    grey: Source | None
    found: list[tuple[bool, list[Recipe]]]


@dataclass(frozen=True)
class Drafter:
    """Works rows out from tubes."""

    terms: Terms
    need: Mapping[str, float]
    """Millilitres of each pile on the canvas, by its id."""
    pins: Mapping[str, Pin]
    tints: int | None = None
    """Tint piles at most; None for as many as a session of this size is worth."""
    _levels: dict[tuple[str, int], float] = field(default_factory=dict)
    """Value to which the parents of a pile are brought, by its string and number."""
    _parents: set[str] = field(default_factory=set)
    """Ids of the parents that are made so far."""

    def drafts(self, rows: Sequence[StringRow], tick: Callable[[], None]) -> list[Draft]:
        """Recipes from tubes for all rows: first as if any tint pile could be made, then with those that the session is
        worth."""
        piles = [((r.id, n), g.value) for r in rows if r.method == "parents" for n, g in enumerate(r.goals, 1)]
        self._levels.update(zip((i for i, _ in piles), levels_of([v for _, v in piles]), strict=True))
        begun = [self._begin(r, tick) for r in rows]
        pinned = dict.fromkeys(i for p in self.pins.values() for i, _ in p.parts if i.startswith(TINT))
        most = most_tints(self.tints, sum(len(r.goals) for r in rows))
        claims = []
        for b in begun:
            for n, first in enumerate(b.found, 1):
                if tints := tints_in(first[1][0]):
                    claims.append((tints, brings((first[0], first[1][0]), self._straight(b, n))))
        kept = worth_making(claims, tuple(pinned), most)
        return [self._finish(b, kept) for b in begun]

    def _straight(self, begun: _Begun, number: int) -> tuple[bool, Recipe]:
        """A pile's best recipe without tints: of those found, where one is among them."""
        reachable, found = begun.found[number - 1]
        plain = next((r for r in found if not tints_in(r)), None)
        if plain is not None:
            return reachable and plain.de00 <= REACH, plain
        answer = self._find(begun.row, number, begun.row.goals[number - 1], begun.kit, (), begun.grey)
        return answer[0], answer[1][0]

    def _begin(self, row: StringRow, tick: Callable[[], None]) -> _Begun:
        terms, goals = self.terms, [g.lab for g in row.goals]
        allowed = kit(row.method, goals, terms.tubes, row.mother, terms.finish, terms.order)
        grey = neutral_pile(row.id, row.name, goals, terms) if row.method == "neutral" else None
        if row.method == "neutral":
            allowed = replace(allowed, words=neutral_words(grey, terms.tubes, terms.finish or USUAL))
        found = []
        for n, goal in enumerate(row.goals, 1):
            found.append(self._find(row, n, goal, allowed, None, grey))
            tick()
        return _Begun(row, allowed, grey, found)

    def _finish(self, begun: _Begun, kept: Sequence[str]) -> Draft:
        row, there = begun.row, _paints(begun.kit, kept)
        piles = []
        for n, (goal, (reachable, found)) in enumerate(zip(row.goals, begun.found, strict=True), 1):
            if not set(tints_in(found[0])) <= set(kept):
                reachable, found = self._find(row, n, goal, begun.kit, there, begun.grey)
            found = [found[0], *(r for r in found[1:] if set(tints_in(r)) <= set(kept))]
            pile_id = f"{row.id}-{n}"
            pin = self.pins.get(pile_id) or self._brought(row.id, goal)
            chosen = self._pinned(pin, goal, reachable) if pin is not None else None
            if chosen is not None:
                rest = [r for r in found if r.ingredients != chosen.ingredients]
                piles.append(Pile(pile_id, goal, chosen, tuple(rest), reachable, n, True))
            else:
                piles.append(Pile(pile_id, goal, found[0], tuple(found[1:]), reachable, n))
        return Draft(row, begun.kit, tuple(piles), there)

    def _find(
        self,
        row: StringRow,
        number: int,
        goal: PileTarget,
        allowed: Kit,
        tints: tuple[Tube, ...] | None,
        grey: Source | None,
    ) -> tuple[bool, list[Recipe]]:
        """Recipes of a pile by its row's method; from tubes where the method does not get near."""
        ml = self.need.get(f"{row.id}-{number}", 0.0)
        target, within = np.array(goal.lab), replace(self.terms, tubes=allowed.tubes)
        if row.method == "parents":
            found = by_parents(target, within, self._levels[row.id, number], ml, made=self._parents)
            self._parents.update(b.id for r in found[:1] for b in r.bases)
            if found:
                return found[0].de00 <= REACH, found
        if grey is not None:
            answer = from_neutral(target, within, grey, ml)
            if nearness(goal.lab, answer[1][0].lab).grade != OUT:
                return answer
            near, straight = self._from_tubes(goal, within, allowed, tints, ml)
            if straight[0].de00 < answer[1][0].de00 - CLEANER:
                return near, [replace(r, why=f"{_CLEANER_WORDS} {r.why[0].lower()}{r.why[1:]}") for r in straight]
            return answer
        return self._from_tubes(goal, within, allowed, tints, ml)

    def _from_tubes(
        self, goal: PileTarget, within: Terms, allowed: Kit, tints: tuple[Tube, ...] | None, ml: float
    ) -> tuple[bool, list[Recipe]]:
        """Recipes from tubes and tints; where few do not match at the first look, all are rounded."""
        target = np.array(goal.lab)
        wishes = Wishes(count=3, effort=_EFFORT, tints=tints, mother=allowed.mother, ml=ml)
        answer = recipes(target, within, wishes)
        if answer[0] and answer[1][0].de00 > REACH:
            answer = recipes(target, within, replace(wishes, effort=_MORE, by_parts=True))
        if not answer[0]:
            return False, self._value_first(goal, answer[1], replace(within, order=VALUE_ALONE), wishes)
        return answer

    def _value_first(self, goal: PileTarget, found: list[Recipe], within: Terms, wishes: Wishes) -> list[Recipe]:
        """Recipes out of reach: one of the right value leads, where there is one that leans as its goal does."""
        best = found[0]
        off = abs(best.value_error)
        if off <= _BETTER_VALUE or nearness(goal.lab, best.lab).grade == NEAR or self.terms.order == "even":
            return found

        def leads(r: Recipe) -> bool:
            gain = off - abs(r.value_error)
            worth = gain > _BETTER_VALUE and r.de00 - best.de00 < _PER_VALUE * gain
            return worth and leans_as(r.lab, goal.lab)

        led = [r for r in recipes(np.array(goal.lab), within, wishes)[1] if leads(r)][:1]
        return [*led, *found][: wishes.count]

    def _brought(self, row_id: str, goal: PileTarget) -> Pin | None:
        """The pin that a pile brought into this row from elsewhere left, where it is wanted here."""
        return next((p for p in self.pins.values() if brought_into(p.pile, row_id) and _wanted(p, goal)), None)

    def _pinned(self, pin: Pin, goal: PileTarget, reachable: bool) -> Recipe | None:
        """The pinned recipe, where its tubes are still there and its target has hardly moved."""
        if not _wanted(pin, goal):
            return None
        ids = {t.id for t in self.terms.tubes}
        if any(i.removeprefix(TINT) not in ids for i, _ in pin.parts):
            return None
        return recipe_of(dict(pin.parts), np.array(goal.lab), self.terms, reachable)


def brought(row_id: str, note_id: str) -> str:
    """The name of a pin for a pile that was mixed elsewhere, and of which only the row and the note are known yet."""
    return f"{row_id}{_BROUGHT}{note_id}"


def brought_into(pin_id: str, row_id: str) -> bool:
    """Whether a pin is one of these, for this row."""
    return pin_id.startswith(f"{row_id}{_BROUGHT}")


def _wanted(pin: Pin, goal: PileTarget) -> bool:
    return float(ciede2000(np.array(pin.target), np.array(goal.lab))) <= SAME_TARGET


def _paints(allowed: Kit, tints: Sequence[str]) -> tuple[Tube, ...]:
    """The tubes that tint piles, by their ids, are made of."""
    return tuple(t for t in allowed.tubes if f"{TINT}{t.id}" in tints)
