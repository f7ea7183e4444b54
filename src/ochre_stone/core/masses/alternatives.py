"""Other plans for the same picture, to be seen side by side: fewer or more values, lights joined, darks joined."""

from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from ochre_stone.core.masses.plan import Ground, MassPlan, MassSettings, plan

_JOINED = 5


@dataclass(frozen=True, eq=False)
class Alternative:
    """A plan that could be chosen."""

    title: str
    why: str
    settings: MassSettings
    plan: MassPlan


def alternatives(
    ground: Ground, settings: MassSettings, painted: npt.NDArray[np.uint8] | None = None
) -> list[Alternative]:
    """Three, four and five values with their best thresholds, and five with the lights or the darks joined.

    What is said of shapes, families, division and range stays; thresholds are each plan's own.
    """
    plain = replace(settings, cuts=(), locked=(), families=(), edges=())
    out = [
        (f"{k} values", why, replace(plain, values=k))
        for k, why in ((3, "boldest: light, middle, dark"), (4, "one more middle"), (5, "room for halftones"))
    ]
    five = ground.cuts_for(replace(plain, values=_JOINED)).tolist()
    out.append(
        (
            "lights joined",
            "the light is one big shape; form is told in the darks",
            replace(plain, values=_JOINED - 1, cuts=tuple(five[:-1])),
        )
    )
    out.append(
        (
            "darks joined",
            "the shadow is one big shape; form is told in the lights",
            replace(plain, values=_JOINED - 1, cuts=tuple(five[1:])),
        )
    )
    return [Alternative(title, why, chosen, plan(ground, chosen, painted)) for title, why, chosen in out]
