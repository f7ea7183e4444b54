"""The whole session: every string's piles from tubes, then one plan of what is mixed on from what, then the recipes.

Targets come in as rows; each row is built by its method. The order is that of the work: rows in turn, in each its first
pile as the school has it. A pile goes on only from piles that were mixed before it, and from those of its own string
unless families may be crossed.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace

from ochre_stone.core.mixing.recipe.sources import Terms
from ochre_stone.core.mixing.session.branching import Branching, branch
from ochre_stone.core.mixing.session.darkest import with_darkest
from ochre_stone.core.mixing.session.drafting import Draft, Drafter, Pin, StringRow
from ochre_stone.core.mixing.session.sharing import same_mixture, with_shared, without
from ochre_stone.core.mixing.session.ways import Onward
from ochre_stone.core.mixing.strings.methods import Kit
from ochre_stone.core.mixing.strings.targets import MixString, Pile


@dataclass(frozen=True)
class PlannedSession:
    """What is planned."""

    strings: tuple[MixString, ...]
    branching: Branching
    kits: Mapping[str, Kit] = field(default_factory=dict)


@dataclass(frozen=True)
class MixOn:
    """Whether piles go on from others."""

    on: bool = True
    across: bool = False
    """Also from piles of other strings."""


def plan_session(
    rows: Sequence[StringRow],
    terms: Terms,
    need: Mapping[str, float] | None = None,
    pins: Sequence[Pin] = (),
    mix_on: MixOn = MixOn(),
    tints: int | None = None,
    progress: Callable[[float], None] = lambda share: None,
) -> PlannedSession:
    """Strings for ``rows``, each pile with the recipe that the whole plan gives it.

    ``need``: millilitres of each pile on the canvas, by its id (row id, hyphen, number from the dark); ``pins``: piles
    that stay as they are; ``tints``: tint piles at most, None for as many as a session of its size is worth.
    ``progress`` gets 0..1 and may raise to cancel.
    """
    tick = _Ticks(max(1, 3 * sum(len(r.goals) for r in rows)), progress)
    want = need or {}
    drafter = Drafter(terms, want, {p.pile: p for p in pins}, tints)
    drafts, want = with_darkest(drafter.drafts(rows, tick), terms, want)
    turn = [i for d in drafts for i in d.in_turn()]
    onward = Onward(terms, want, mix_on.on, mix_on.across)
    plan = branch(onward.ways(drafts, turn, tick), want)
    final, chosen = onward.mixed(drafts, plan, tick)
    shared = same_mixture({i: final[i] for i in turn})
    if chosen != dict(plan.chosen) or shared:  # what rounding changed is counted as it is
        plan = without(plan, chosen, shared, want)
    final = with_shared(final, shared)
    order = {i: k for k, i in enumerate((i for i in turn if i in final), 1)}
    strings = tuple(s for d in drafts if (s := _string(d, final, order)).piles)
    return PlannedSession(strings, plan, {d.row.id: d.kit for d in drafts})


class _Ticks:
    """Tells progress, a step at a time."""

    def __init__(self, steps: int, progress: Callable[[float], None]) -> None:
        self._done, self._steps, self._progress = 0, steps, progress

    def __call__(self) -> None:
        self._done += 1
        self._progress(min(1.0, self._done / self._steps))


def _string(draft: Draft, final: Mapping[str, Pile], order: Mapping[str, int]) -> MixString:
    """The string of a row, with the base piles that its recipes use in the end."""
    piles = tuple(replace(final[p.id], order=order[p.id]) for p in draft.piles if p.id in final)
    used = {b.id: b for p in sorted(piles, key=lambda p: p.order) for b in p.recipe.bases}
    row = draft.row
    return MixString(row.id, row.name, piles, tuple(used.values()), row.method, draft.kit.words, draft.kit.mother)
