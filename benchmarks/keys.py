"""Suggested key colours against labels drawn by hand: names, light or shadow, what is left over, spots met.

python -m benchmarks.keys [--apart] [--pictures FOLDER ...]

The pictures of scikit-image and scikit-learn are found where they are installed; the others come with packages that
`benchmarks/fetch_pictures.sh FOLDER` unpacks. --apart adds the four pictures that were kept out of sight until the
rules were fixed. As a measure of the chooser, scikit-learn's k-means runs on the same melted pictures.
"""

import argparse
import time
from collections.abc import Sequence
from pathlib import Path

import cv2
import numpy as np
import skimage
import sklearn
from sklearn.cluster import KMeans

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.document.document import Document
from ochre_stone.core.keys.area import suggest_in
from ochre_stone.core.picture.frame import Frame, framed
from ochre_stone.core.picture.picture import linear_to_lab
from ochre_stone.core.picture.simplify import smooth_lab
from ochre_stone.core.planning.suggesting import suggest_notes
from tests.support.labelled import Labelled, corners, demo, gaps, labelled, light, met, names, quarters


def reduced(one: Labelled) -> tuple[np.ndarray, np.ndarray]:
    """Lab (h, w, 3) at 60,000 pixels and where a main thing is (h, w)."""
    lab = linear_to_lab(one.picture.reduced(60_000))
    h, w = lab.shape[:2]
    rows = (np.arange(h) + 0.5) * one.things.shape[0] / h
    columns = (np.arange(w) + 0.5) * one.things.shape[1] / w
    return lab, one.things[np.ix_(rows.astype(int), columns.astype(int))] >= 0


def percent(counts: np.ndarray) -> str:
    total = max(int(counts[:3].sum()), 1)
    a, b, c = (round(100 * int(v) / total) for v in counts[:3])
    return f"right {a} / other {b} / wrong {c} % of {total}; of names given {counts[3]} of {counts[4]} right"


def report(pictures: Sequence[Labelled], count: int = 12) -> None:
    """One table."""
    all_names, all_met, rests, inside, taken = np.zeros(5, int), np.zeros(3, int), [], [], []
    print("picture    left over  p95   things  k-means  spots 4/6/all  right other wrong  given right  seconds")
    for one in pictures:
        start = time.perf_counter()
        found = suggest_notes(one.picture, count, Document())
        notes, rest = found.notes, found.rest
        taken.append(time.perf_counter() - start)
        said, spots = names(one, notes), met(one, notes)
        lab, there = reduced(one)
        gap = gaps(lab, notes).reshape(there.shape)[there].mean()
        means = KMeans(count, n_init=1, random_state=0).fit(smooth_lab(lab).reshape(-1, 3)).cluster_centers_
        theirs = np.min([ciede2000(lab.reshape(-1, 3).astype(float), c) for c in means], axis=0).mean()
        print(
            f"{one.name:10s} {rest.mean:8.2f} {rest.p95:6.1f} {gap:7.2f} {theirs:8.2f}"
            f"   {'/'.join(map(str, spots)):>12s}"
            f"  {said[0]:5d} {said[1]:5d} {said[2]:5d}  {said[3]:3d} of {said[4]:2d}  {taken[-1]:7.2f}"
        )
        all_names, all_met = all_names + said, all_met + spots
        rests.append((rest.mean, rest.p95))
        inside.append(gap)
    mean, p95 = np.mean(rests, axis=0)
    print(f"all: left over {mean:.2f}/{p95:.1f}, in things {np.mean(inside):.2f}; spots {all_met.tolist()}")
    print("names:", percent(all_names), f"; {np.median(taken):.2f} s")
    cuts = np.zeros(5, int)
    for part in (c for one in pictures for c in corners(one)):
        cuts += names(part, suggest_notes(part.picture, count, Document()).notes)
    print("names in corner cuts:", percent(cuts))


def drawn(pictures: Sequence[Labelled]) -> None:
    """Faces with a loose outline: six notes in them, and what these leave over of the skin itself."""
    print("a drawn face     2-2-2: left over  p95   1-2-3: left over  p95   seconds")
    for one in pictures:
        if ("skin",) not in one.subjects:
            continue
        skin = one.things == one.subjects.index(("skin",))
        grown = cv2.dilate(skin.astype(np.uint8), np.ones((max(skin.shape) // 40,) * 2, np.uint8))
        outline = max(cv2.findContours(grown, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)[0], key=cv2.contourArea)
        points = cv2.approxPolyDP(outline, max(skin.shape) / 200, True)[:, 0].astype(float)
        lab = linear_to_lab(one.picture.linear())[skin][::7]
        cells, taken = [], 0.0
        for shape in ("2-2-2", "1-2-3"):
            start = time.perf_counter()
            keys = suggest_in(framed(one.picture, Frame()), points, shape).keys
            taken = time.perf_counter() - start
            gap = np.min([ciede2000(lab.astype(float), np.array(k.seen.lab)) for k in keys], axis=0)
            cells.append(f"{gap.mean():15.1f} {np.percentile(gap, 95):5.1f}")
        print(f"{one.name:12s} {'   '.join(cells)} {taken:12.2f}")


def main() -> None:
    ask = argparse.ArgumentParser()
    ask.add_argument("--apart", action="store_true")
    ask.add_argument("--pictures", nargs="*", type=Path, default=[])
    ask.add_argument("--count", type=int, default=12)
    asked = ask.parse_args()
    installed = [Path(m.__file__).parent.parent for m in (skimage, sklearn)]
    found = labelled([*asked.pictures, *installed])
    made, mask = demo()
    report([*(p for p in found if p.kind != "apart"), made], asked.count)
    rows = []
    for count in (12, 20):
        rows.append(light(mask, suggest_notes(made.picture, count, Document()).notes))
    parts = [
        light(mask[where], suggest_notes(made.cut(*where).picture, 12, Document()).notes)
        for where in quarters(mask.shape)
    ]
    print("light or shadow right, demo with 12 and 20 notes:", rows, "four cuts:", np.sum(parts, axis=0).tolist())
    drawn([*found, made])
    if asked.apart:
        print("\nkept apart")
        report([p for p in found if p.kind == "apart"], asked.count)


if __name__ == "__main__":
    main()
