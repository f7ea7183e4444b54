"""Facts of mixtures that the fit of the pigments has not seen (``python -m benchmarks.pigments``, some five minutes).

Every third fact is left out of the fit in turn; what is told is how many of those left out hold, beside the shipped
data, which have seen all of them, and beside a fit to mass tones and tints alone. Facts of darks are counted by
themselves too: several are neighbours of each other.
"""

import json
from pathlib import Path

import numpy as np

from ochre_stone.core.paint.tubes import all_tubes
from tools.pigments.facts import Fact, Spectra, load
from tools.pigments.fit import fit

THIRDS = 3
FIRST_DARK = 200
"""Facts before it are of mixtures in general, the others of darks."""


def held(facts: list[Fact], spectra: Spectra) -> list[bool]:
    return [f.off(spectra) == 0 for f in facts]


def main() -> None:
    source = json.loads((Path(fit.__code__.co_filename).parent / "anchors.json").read_text(encoding="utf-8"))
    facts = load()
    shipped = {i: (t.K, t.S) for i, t in all_tubes().items()}
    alone = fit(source, []).spectra
    print("| | shipped, all facts seen | anchors alone, none seen | left out of the fit |")
    print("| --- | --- | --- | --- |")
    parts = {"of mixtures": facts[:FIRST_DARK], "of darks": facts[FIRST_DARK:]}
    total = {name: np.zeros(4, dtype=int) for name in parts}
    missed: list[str] = []
    for third in range(THIRDS):
        seen = [f for part in parts.values() for k, f in enumerate(part) if k % THIRDS != third]
        whole = fit(source, seen).spectra
        for name, part in parts.items():
            out = part[third::THIRDS]
            row = np.array([sum(held(out, s)) for s in (shipped, alone, whole)] + [len(out)])
            missed += [f.words for f in out if f.off(whole)]
            total[name] += row
            print(
                f"| {name}, third {third + 1} | " + " | ".join(f"{n} of {row[3]}" for n in row[:3]) + " |", flush=True
            )
    for name, row in total.items():
        print(f"| {name} | " + " | ".join(f"{n} of {row[3]} ({n / row[3]:.0%})" for n in row[:3]) + " |")
    print("\nLeft out and missed: " + "; ".join(missed) + ".")


if __name__ == "__main__":
    main()
