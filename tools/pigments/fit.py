"""The fit in its order, which is physical.

1. The three whites, to their mass tone: heights of the oil's yellow band and of the flat base. Every tint rests on
   them.
2. Every other pigment to its mass tone and tints, alone; before that the tables of the iron oxides' crystals, to all
   pigments that are made of them.
3. The pigments of one *series* again: cadmium sulfide and its selenide solid solutions are one direct-gap
   semiconductor, ground to one particle size, whose edge moves with the composition. Its absorption per volume above
   the gap and its scattering can hardly change along the series, so K0 and S0 get the series' mean as a prior
   (empirical Bayes). Alone, the deep reds take strength that their edge should have supplied.
4. All pigments that facts of mixtures speak of, together, with those facts beside their own figures. A mass tone fixes
   K/S where a paint is dark, and there reflectance lies on the floor of the surface; a tint fixes K against white. How
   strong an opaque yellow is against an opaque red, only a mixture of the two can tell.
5. What the facts taught of a *class* (opaque yellows, organic reds ...) is lent to all of it: the mean change of ln K0
   and ln S0 becomes the members' prior, and 4 is done again.
"""

from dataclasses import dataclass

import numpy as np
from scipy.optimize import least_squares

from tools.pigments.crystals import learn
from tools.pigments.facts import Fact, Spectra
from tools.pigments.model import Crystals, Model, Pair, anchor_errors, fit_white, spectra

SERIES_SD = 0.20
"""Spread of ln K0 and ln S0 left inside a series: makers grind a little differently."""
FACTS_WEIGHT = 2.4
"""One standard deviation of a fact against one of an anchor: painters know mixtures better than this data knows Lab."""
CLASS_SD = 0.15
"""Spread of ln K0 and ln S0 round what its class was taught."""
CLASSES = {
    "opaque yellow": ("cadmium-yellow", "chrome-yellow", "lead-tin", "bismuth", "naples"),
    "opaque red": ("cadmium-red", "cadmium-orange", "vermilion", "red-lead", "molybdate"),
    "organic yellow": ("azo-", "indian-yellow", "isoindolinone", "benzimidazolone-yellow", "nickel-azo"),
    "organic red": ("pyrrole", "naphthol", "quinacridone", "alizarin", "perylene-maroon"),
    "organic blue, green": ("phthalo", "prussian", "indanthrone", "dioxazine"),
    "yellow earth": ("yellow-ochre", "raw-sienna", "transparent-yellow", "raw-umber"),
    "red earth": ("venetian", "indian-red", "transparent-red", "caput", "burnt"),
}
"""Beginnings of ids."""
LENT = 2
"""Rounds of lending; a third changes nothing that is seen."""


@dataclass(frozen=True)
class Fitted:
    models: dict[str, Model]
    parameters: dict[str, dict]
    spectra: dict[str, Pair]
    crystals: Crystals

    @property
    def white(self) -> Pair:
        return self.spectra["titanium-white"]

    def errors(self) -> dict[str, list[list[float]]]:
        """By pigment, [parts of white by weight, CIEDE2000] of each anchor; the whites are not counted."""
        return {i: self.error_of(m.entry) for i, m in self.models.items()}

    def error_of(self, entry: dict) -> list[list[float]]:
        """Of one entry of anchors.json, whites too."""
        by_volume = self.models[entry["id"]].by_volume if entry["id"] in self.models else 0.0
        return anchor_errors(entry, self.spectra[entry["id"]], self.white, by_volume)


def fit(source: dict, facts: list[Fact]) -> Fitted:
    """K and S of all entries of anchors.json, with the facts given."""
    entries = {e["id"]: e for e in source["pigments"]}
    whites = {i: fit_white(e) for i, e in entries.items() if i.endswith("-white")}
    white_spectra = {i: spectra(p) for i, p in whites.items()}
    white = white_spectra["titanium-white"]
    models = {i: Model(e, e["density"] / source["density_of_white"]) for i, e in entries.items() if i not in whites}
    crystals = learn(list(models.values()), white)
    models = {i: m.with_crystals(crystals) for i, m in models.items()}

    xs = {i: m.alone(white) for i, m in models.items()}
    for series in sorted({e["series"] for e in entries.values() if "series" in e}):
        members = [i for i, e in entries.items() if e.get("series") == series]
        for slot in (0, 1):  # K0, S0
            mean = np.mean([xs[i][slot] for i in members])
            for i in members:
                models[i].mean[slot], models[i].sd[slot] = mean, SERIES_SD
        xs |= {i: models[i].alone(white) for i in members}

    if facts:
        taught = {i for f in facts for i in f.paints}
        alone, xs = xs, together(models, xs, white_spectra, facts)
        for _ in range(LENT):
            lend(models, alone, xs, taught)
            xs = {i: x if i in taught else models[i].alone(white) for i, x in xs.items()}
            xs = together(models, xs, white_spectra, facts)
    parameters = {**whites, **{i: models[i].parameters(xs[i]) for i in models}}
    return Fitted(models, parameters, {i: spectra(p, crystals) for i, p in parameters.items()}, crystals)


def lend(models: dict[str, Model], alone: dict, xs: dict, taught: set[str]) -> None:
    """Move the priors of K0 and S0 of every member by the mean change that the facts brought to its class."""
    for starts in CLASSES.values():
        members = [i for i in models if i.startswith(starts)]
        known = [i for i in members if i in taught]
        for slot in (0, 1) if known else ():
            change = float(np.mean([xs[i][slot] - alone[i][slot] for i in known]))
            for i in members:
                models[i].mean[slot], models[i].sd[slot] = alone[i][slot] + change, CLASS_SD


def together(models: dict[str, Model], xs: dict, whites: Spectra, facts: list[Fact]) -> dict[str, np.ndarray]:
    """Fit all paints of the facts at once, from ``xs``. The Jacobian is worked out paint by paint: a figure moves only
    with the paints that it is mixed of."""
    white = whites["titanium-white"]
    names = sorted({i for f in facts for i in f.paints} & set(models))
    cuts = np.cumsum([0, *(len(xs[i]) for i in names)])
    of = {i: [k for k, f in enumerate(facts) if i in f.paints] for i in names}

    def parts(x: np.ndarray) -> dict[str, np.ndarray]:
        return {i: x[cuts[k] : cuts[k + 1]] for k, i in enumerate(names)}

    def pieces(x: np.ndarray) -> tuple[dict, dict, list]:
        p = parts(x)
        known = {**whites, **{i: models[i].spectra(p[i]) for i in names}}
        own = {i: models[i].residuals(p[i], known[i], white) for i in names}
        return known, own, [FACTS_WEIGHT * f.residuals(known) for f in facts]

    def residual(x: np.ndarray) -> np.ndarray:
        _, own, rows = pieces(x)
        return np.concatenate([*(own[i] for i in names), *rows])

    def jacobian(x: np.ndarray) -> np.ndarray:
        p = parts(x)
        known, own, rows = pieces(x)
        starts = dict(zip(names, np.cumsum([0, *(len(own[i]) for i in names)]), strict=False))
        at = sum(len(o) for o in own.values()) + np.cumsum([0, *(len(r) for r in rows)])
        J = np.zeros((at[-1], len(x)))
        for k, i in enumerate(names):
            steps = 1e-4 * models[i].sd
            moved = [models[i].spectra(p[i] + step) for step in np.diag(steps)]
            columns = slice(cuts[k], cuts[k + 1])
            here = slice(starts[i], starts[i] + len(own[i]))
            ys = [models[i].residuals(p[i] + step, m, white) for step, m in zip(np.diag(steps), moved, strict=True)]
            J[here, columns] = (np.array(ys).T - own[i][:, None]) / steps
            several = {**known, i: (np.array([m[0] for m in moved]), np.array([m[1] for m in moved]))}
            for n in of[i]:
                J[at[n] : at[n + 1], columns] = (FACTS_WEIGHT * facts[n].residuals(several) - rows[n][:, None]) / steps
        return J

    start = np.concatenate([xs[i] for i in names])
    scale = np.concatenate([models[i].sd for i in names])
    done = least_squares(residual, start, jac=jacobian, x_scale=scale, max_nfev=30, ftol=1e-4, xtol=1e-5)
    return {**xs, **{i: v.copy() for i, v in parts(done.x).items()}}
