"""Dark natural colours in counted parts: how near usual palettes of five to ten tubes come, in CIEDE2000.

python -m benchmarks.darks            the median, nine in ten and the worst, by palette and by kind
"""

import sys
from collections.abc import Mapping

import numpy as np

from ochre_stone.core.paint.tubes import Tube, tube
from tests.support.darks import COLOURS, CRIMSON, OF_CRIMSON, PAINTS, nearest


def measured(known: Mapping[str, Tube] | None = None) -> dict[str, dict[str, np.ndarray]]:
    """By palette; ``known``: tubes that stand in for those that ship."""
    return {n: nearest([(known or {}).get(i) or tube(i) for i in paints.split()]) for n, paints in PAINTS.items()}


def report(found: Mapping[str, Mapping[str, np.ndarray]]) -> str:
    """A row for each palette: median of each kind; then of all, with nine in ten and the worst."""
    rows = [f"{'':10s}" + "".join(f"{k:>13s}" for k in COLOURS) + f"{'all':>8s}{'90 %':>7s}{'worst':>7s}"]
    for name, kinds in found.items():
        every = np.concatenate(list(kinds.values()))
        rows.append(
            f"{name:10s}"
            + "".join(f"{np.median(v):13.1f}" for v in kinds.values())
            + f"{np.median(every):8.2f}{np.quantile(every, 0.9):7.1f}{every.max():7.1f}"
        )
    whole = [v for kinds in found.values() for v in kinds.values()]
    fair = [v for n, kinds in found.items() for k, v in kinds.items() if n in CRIMSON or k not in OF_CRIMSON]
    for words, parts in (("all", whole), ("without violets and wine reds where no crimson lies", fair)):
        every = np.concatenate(parts)
        figures = f"median {np.median(every):.2f}, nine in ten {np.quantile(every, 0.9):.2f}, worst {every.max():.1f}"
        rows.append(f"{words}: {figures}")
    return "\n".join(rows)


if __name__ == "__main__":
    sys.stdout.write(report(measured()) + "\n")
