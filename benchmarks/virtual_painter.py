"""A simulated painter mixes and corrects piles by eye, once obeying the program, once going by rules of thumb.

The painter is independent of the program (:mod:`benchmarks.painter`): own forward optics; tubes that differ from their
data in ways that the belief cannot hold exactly, one in five another pigment; doses off by a fifth, touches by a third,
paint that stays on the knife, base piles dosed by eye once; readings with noise, or off one way all session, or words.
Targets: random mixtures that the real tubes reach within 1.5. Four palettes of 4 to 12 tubes, sessions of 25 piles, at
most 15 corrections; what the program says is done to the letter, and a pile is judged by its true colour when the
program says "it matches" or "leave it".

By rule of thumb: from the same recipe with the tubes as their data say, a touch at a time of the tube that leads
nearest to where the pile should go, by the same readings, noise and doses.

python -m benchmarks.virtual_painter [SETS OF TUBES, default 2]
"""

import itertools
import sys
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass

import numpy as np

from benchmarks.painter import HOME, Conditions, Outcome, Palette, by_program, by_rule, calibration
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.mixing.correcting.belief import Belief
from ochre_stone.core.mixing.recipe.finding import Wishes, recipes
from ochre_stone.core.mixing.recipe.search import nearest_mixture
from ochre_stone.core.mixing.recipe.sources import Terms
from ochre_stone.core.paint import palettes
from ochre_stone.core.paint.optics import layer_lab
from ochre_stone.core.paint.tubes import Tube
from tests.support.truth import Truth

PILES, SET = 25, 5000
TWELVE = (
    "titanium-white", "yellow-ochre", "cadmium-yellow-medium", "cadmium-red-light", "alizarin-crimson",
    "quinacridone-rose", "burnt-sienna", "raw-umber", "ultramarine-blue", "phthalo-blue-green-shade", "viridian",
    "ivory-black",
)  # fmt: skip
CONDITIONS = {
    "as above": Conditions(),
    "doses .1": Conditions(dose=0.1, touch=0.2),
    "doses .3": Conditions(dose=0.3, touch=0.45),
    "noise 2": Conditions(noise=2.0),
    "off by 1": Conditions(bias=1.0),
    "words only": Conditions(words=True),
    "tubes true": Conditions(true_tubes=True),
}


def worked() -> list[palettes.Palette]:
    """The palettes, of 4, 7, 10 and 12 tubes."""
    of = palettes.PALETTES
    twelve = palettes.Palette("twelve", "Twelve", "", TWELVE)
    return [of["four-tube-earth"], of["double-primaries"], of["portrait-ten"], twelve]


def goals(tubes: Sequence[Tube], truth: Truth, rng: np.random.Generator) -> list[Array]:
    """Targets that the real tubes reach: mixtures of three by their data, with none to much white."""
    K, S = np.stack([t.K for t in tubes]), np.stack([t.S for t in tubes])
    power = np.array([max(t.tinting_strength, 0.3) for t in tubes])
    white = next(i for i, t in enumerate(tubes) if t.is_white)
    out: list[Array] = []
    while len(out) < PILES:
        few = rng.choice(len(tubes), 3, replace=False)
        c = np.zeros(len(tubes))
        c[few] = rng.dirichlet(np.ones(3)) / power[few]
        c[white] += rng.choice([0, 0.3, 1, 3]) * c.sum()
        lab = layer_lab(c @ K / c.sum(), c @ S / c.sum())
        if nearest_mixture(truth.K, truth.S, lab)[0] <= HOME - 0.5:
            out.append(lab)
    return out


@dataclass
class Session:
    """25 piles of one palette."""

    ours: list[Outcome]
    rule: list[Outcome]
    said: list[tuple[float, float]]
    """Of mixtures never read: what is said of them, and what they are off."""


def session(asked: tuple[int, int, str]) -> Session:
    """One session: number of the palette, of the set of tubes, conditions."""
    number, series, name = asked
    tubes, how = worked()[number].tubes, CONDITIONS[name]
    seed = SET * (series + 1) + number
    rng = np.random.default_rng(seed)
    truth = Truth(tubes, rng)
    if how.true_tubes:
        truth.K, truth.S = np.stack([t.K for t in tubes]), np.stack([t.S for t in tubes])
    wanted = goals(tubes, truth, rng)
    belief, palette = Belief.prior(tubes), Palette(truth, how, np.random.default_rng(seed + 500))
    other = Palette(truth, how, np.random.default_rng(seed + 700))
    out = Session([], [], [])
    for k, goal in enumerate(wanted):
        start = recipes(goal, Terms(tubes, "", 4, None), Wishes(count=1, effort=16))[1][0]
        done, belief = by_program(tubes, goal, palette, belief, f"p{k}", how)
        out.ours.append(done)
        out.rule.append(by_rule(tubes, goal, other, start, how))
        if k % 5 == 4:
            out.said += calibration(belief, truth, tubes, np.random.default_rng(seed + 900), 20)
    return out


def line(name: str, who: str, outcomes: Sequence[Outcome]) -> str:
    """One painter under one set of conditions."""
    first, end, n, doses, growth, used = (
        np.array([getattr(o, f) for o in outcomes]) for f in ("first", "end", "corrections", "doses", "growth", "used")
    )
    high = [float(np.percentile(x, 95)) for x in (first, n, doses, growth, used)]
    return (
        f"{name:10s} {who:7s} {np.median(first):4.1f} {high[0]:5.1f}  {(end > HOME).mean():5.1%} {np.median(end):5.2f}"
        f" {np.percentile(end, 95):5.2f}  {np.median(n):3.0f} {high[1]:4.0f}  {doses.mean():4.1f} {high[2]:4.0f}"
        f"  {np.median(growth):5.2f} {high[3]:5.2f}  {high[4]:5.2f}"
    )


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 2
    print("                     first mix   not   true at end  corrections    doses       growth   paint")
    print("conditions painter  med.  95 %  home   med.  95 %  med. 95 %  mean 95 %   med.  95 %   95 %")
    with ProcessPoolExecutor(2) as workers:
        for series, name in itertools.product(range(count), CONDITIONS):
            asked = [(number, series, name) for number in range(len(worked()))]
            found = list(workers.map(session, asked))
            print(f"tubes, set {series + 1}" if name == "as above" else "", flush=True)
            ours = [o for s in found for o in s.ours]
            print(line(name, "program", ours))
            print(line(name, "rule", [o for s in found for o in s.rule]))
            early, late = (np.array([o.first for s in found for o in s.ours[a:b]]) for a, b in ((0, 5), (20, 25)))
            said = np.array([c for s in found for c in s.said])
            looks = sum(o.looks for o in ours) / len(ours)
            within, off = (said[:, 1] <= said[:, 0]).mean(), np.median(said[:, 1])
            print(
                f"{'':18s} first mix of piles 21 to 25 over 1 to 5: {np.mean(late) / np.mean(early):.2f} (median "
                f"{np.median(late) / np.median(early):.2f}); read once more {looks:.1f} times a pile",
                flush=True,
            )
            print(f"{'':18s} mixtures never read: {within:.0%} within what is said, off {off:.2f}", flush=True)


if __name__ == "__main__":
    main()
