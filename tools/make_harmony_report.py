"""How often each scheme is recognised: the confusion table of docs/harmony.md, on made hue distributions.

Run by hand: ``python tools/make_harmony_report.py``; it rewrites the table between the marks in the document.
"""

import re
import sys
from pathlib import Path

import numpy as np

from ochre_stone.core.harmony import schemes

PLACE = Path(__file__).parent.parent / "docs" / "harmony.md"
ROUNDS = 200
SHORT = {
    "monochrome": "mono", "analogous": "analog", "complementary": "compl", "split-complementary": "split",
    "triad": "triad", "tetrad-rectangle": "rect", "tetrad-square": "square", "accented-analogous": "accent",
    "none": "none",
}  # fmt: skip


def made(name: str, rng: np.random.Generator, noise: float, hard: bool = False) -> np.ndarray:
    """A hue histogram (72,) of a known scheme at a random turn: arms of random weight and width, a floor of stray hues.

    ``hard``: arms off their places by 6 degrees, as wide as 5 to 16; "none" is even hue, or five heaps at odds with
    every scheme.
    """
    if name == "none":
        hues = [rng.random(3000) * 360]
        return _counted(hues)
    arms = np.array(schemes.OFFSETS[name])
    if hard:
        arms = arms + rng.normal(0, 6, len(arms))
    weight = np.maximum(rng.dirichlet([3] * len(arms)), 0.1)
    weight /= weight.sum()
    if name == "accented-analogous":
        weight = np.concatenate([weight[:3] / weight[:3].sum() * 0.82, [0.18]])
    turn, width = rng.random() * 360, rng.uniform(5, 16) if hard else 8.0
    hues = [
        turn + a + rng.normal(0, 3) + rng.normal(0, width, max(int(3000 * w), 1))
        for a, w in zip(arms, weight, strict=True)
    ]
    hues.append(rng.random(int(noise * 3000)) * 360)
    return _counted(hues)


def _counted(hues: list[np.ndarray]) -> np.ndarray:
    counts = np.histogram(np.concatenate(hues) % 360, schemes.BINS, (0, 360))[0].astype(float)
    return np.asarray(counts / counts.sum())


def confusion(hard: bool, rounds: int, seed: int = 11) -> tuple[list[str], np.ndarray]:
    """Names, and how often (true, found) each was found, in shares of a row."""
    rng = np.random.default_rng(seed)
    names = [*schemes.OFFSETS, "none"]
    table = np.zeros((len(names), len(names)))
    for i, name in enumerate(names):
        for _ in range(rounds):
            noise = rng.uniform(0.05, 0.35) if hard else 0.1
            found = schemes.fit(made(name, rng, noise, hard))[0].name
            table[i, names.index(found)] += 1
    return names, table / rounds


def as_markdown(hard: bool) -> str:
    names, table = confusion(hard, ROUNDS)
    lines = ["| made as, found as | " + " | ".join(SHORT[n] for n in names) + " |", "|---|" + "---:|" * len(names)]
    for name, row in zip(names, table, strict=True):
        cells = [f"{v * 100:.0f}" if v >= 0.005 else "" for v in row]
        lines.append(f"| {schemes.TITLES[name]} | " + " | ".join(cells) + " |")
    right = float(np.diag(table).mean())
    return "\n".join(lines) + f"\n\nRight in {right:.0%} of all.\n"


def main() -> None:
    text = PLACE.read_text(encoding="utf-8")
    for hard, mark in ((False, "easy"), (True, "hard")):
        begin, end = f"<!-- {mark} table -->", f"<!-- end of {mark} table -->"
        if begin not in text:
            sys.exit(f"{PLACE} lacks '{begin}'")
        text = re.sub(f"{begin}.*?{end}", f"{begin}\n\n{as_markdown(hard)}\n{end}", text, flags=re.S)
    PLACE.write_text(text, encoding="utf-8")
    print(f"wrote {PLACE}")


if __name__ == "__main__":
    main()
