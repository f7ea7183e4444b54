"""A made-up log: piles of a painter whose tubes are off their data and whose hand errs."""

from collections.abc import Sequence

import numpy as np

from ochre_stone.core.colour.spaces import Lab, as_lab
from ochre_stone.core.mixing.correcting.departing import departed
from ochre_stone.core.mixing.recipe.dose import Dose
from ochre_stone.core.paint.optics import layer_lab
from ochre_stone.core.paint.palettes import PALETTES
from ochre_stone.core.paint.predict import predict
from ochre_stone.core.paint.tubes import Tube, tube
from ochre_stone.logbook.entry import Cut, Entry, Put, Seen
from ochre_stone.logbook.following import tube_then

TEN = PALETTES["portrait-ten"]
THEN = {t.id: tube_then(t) for t in TEN.tubes}
DAY = 86_400.0
START = 1_790_000_000.0


def put(tube_id: str, ml: float, at: float = START, first: bool = True) -> Put:
    """A dose from a tube; a part is .4 ml."""
    return Put(at=at, dose=Dose.of_tube(tube_id, ml, 0.2, tube(tube_id).short), parts=ml / 0.4, first=first)


def entry(
    amounts: dict[str, float],
    at: float = START,
    n: int = 0,
    lab: Lab | None = None,
    target: Lab | None = None,
    **fields: object,
) -> Entry:
    """A pile of tubes that was mixed at a time, and read as ``lab`` a minute later."""
    puts = tuple(put(i, ml, at) for i, ml in amounts.items())
    seen = (Seen(at=at + 60, place=len(puts), lab=lab, noise=0.3, how="reader"),) if lab is not None else ()
    base = {
        "uid": f"made-{n:08d}", "project": "orchard", "title": "The orchard keeper", "pile": f"skin-{n}",
        "name": f"Skin {n}", "begun": at, "finished": at + 240, "palette": TEN.name, "target": target, "puts": puts,
        "seen": seen, "predicted": predict(amounts, surface=TEN.surface).lab, "planned_ml": 1.0, "planned_minutes": 2.0,
    }  # fmt: skip
    return Entry.model_validate(base | fields)


def off_tubes(strengths: dict[str, float]) -> dict[str, Tube]:
    """The palette's tubes, some of them stronger or weaker than their data."""
    figures = np.zeros((len(TEN.tubes), 3))
    for row, t in enumerate(TEN.tubes):
        figures[row, 0] = np.log(strengths.get(t.id, 1.0))
    K, S = departed(TEN.tubes, figures)
    from dataclasses import replace

    return {t.id: replace(t, K=K[i], S=S[i], stamp="off") for i, t in enumerate(TEN.tubes)}


def sittings(strengths: dict[str, float], days: int = 3, piles: int = 8, seed: int = 4) -> list[Entry]:
    """Piles of some days: three or four tubes each, read as the real tubes and an erring hand make them."""
    rng = np.random.default_rng(seed)
    real = off_tubes(strengths)
    out = []
    ids = [t.id for t in TEN.tubes if not t.is_white]
    for n in range(days * piles):
        chosen = ["titanium-white", *rng.choice(ids, 2, replace=False).tolist()]
        meant = {i: float(ml) for i, ml in zip(chosen, (1.6, 0.8, 0.4), strict=True)}
        lab = mixed_of(meant, real, rng)
        target = predict(meant, surface=TEN.surface).lab
        out.append(entry(meant, START + DAY * (n // piles) + 600 * n, n, lab, target))
    return out


def mixed_of(meant: dict[str, float], real: dict[str, Tube], rng: np.random.Generator, dose: float = 0.1) -> Lab:
    """How a pile really comes out."""
    amounts = np.array([ml * np.exp(rng.normal(0, dose)) for ml in meant.values()])
    c = amounts / amounts.sum()
    K, S = (sum(v * getattr(real[i], x) for i, v in zip(meant, c, strict=True)) for x in ("K", "S"))
    return as_lab(layer_lab(K, S, TEN.surface) + rng.normal(0, 0.2, 3))


def cut_and_added() -> Entry:
    """A pile that was cut in two, and to which a touch went after that."""
    e = entry({"titanium-white": 0.8, "yellow-ochre": 0.4}, n=77, lab=(80.0, 5.0, 30.0))
    more = put("ivory-black", 0.1, START + 120, False)
    later = Seen(at=START + 180, place=3, lab=(70.0, 2.0, 20.0), noise=0.3, how="reader")
    return e.model_copy(
        update={"puts": (*e.puts, more), "cuts": (Cut(at=START + 100, place=2, keep=0.5),), "seen": (*e.seen, later)}
    )


def uids(found: Sequence[Entry]) -> list[str]:
    """Their names."""
    return [e.uid for e in found]
