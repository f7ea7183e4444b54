"""Facts of mixtures that the fit of the pigments has not seen (``python -m benchmarks.pigments``, some three minutes).

Every third fact is left out of the fit in turn; what is told is how many of those left out hold, beside the shipped
data, which have seen all of them, and beside a fit to mass tones and tints alone.
"""

import json
from pathlib import Path

import numpy as np

from ochre_stone.core.paint.tubes import all_tubes
from tools.pigments.facts import Fact, Spectra, load
from tools.pigments.fit import fit

THIRDS = 3


def held(facts: list[Fact], spectra: Spectra) -> list[bool]:
    return [f.off(spectra) == 0 for f in facts]


def main() -> None:
    source = json.loads((Path(fit.__code__.co_filename).parent / "anchors.json").read_text(encoding="utf-8"))
    facts = load()
    shipped = {i: (t.K, t.S) for i, t in all_tubes().items()}
    alone = fit(source, []).spectra
    print("| | shipped, all facts seen | anchors alone, none seen | left out of the fit |")
    print("| --- | --- | --- | --- |")
    total = np.zeros(4, dtype=int)
    missed: list[str] = []
    for third in range(THIRDS):
        out = facts[third::THIRDS]
        seen = [f for k, f in enumerate(facts) if k % THIRDS != third]
        whole = fit(source, seen).spectra
        row = np.array([sum(held(out, s)) for s in (shipped, alone, whole)] + [len(out)])
        missed += [f.words for f in out if f.off(whole)]
        total += row
        print(f"| third {third + 1} | " + " | ".join(f"{n} of {row[3]}" for n in row[:3]) + " |", flush=True)
    print("| all | " + " | ".join(f"{n} of {total[3]} ({n / total[3]:.0%})" for n in total[:3]) + " |")
    print("\nLeft out and missed: " + "; ".join(missed) + ".")


if __name__ == "__main__":
    main()
