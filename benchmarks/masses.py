"""Masses and harmony: how fast, and how few and clean the shapes, against scikit-image in the same run.

python -m benchmarks.masses

The reference smooths by its own total variation (Chambolle) and cuts by exhaustive multi-Otsu: what a user of
general-purpose libraries would reach for. Medians over the demo scene and the photographs that the packages ship.
"""

import statistics
import time
from pathlib import Path

import numpy as np
import skimage
import sklearn.datasets
from skimage.filters import threshold_multiotsu
from skimage.measure import label
from skimage.restoration import denoise_tv_chambolle

from benchmarks.timing import row, seconds
from ochre_stone.core.harmony.preview import recoloured, ways
from ochre_stone.core.harmony.schemes import places, pull
from ochre_stone.core.masses.edges import kind_map
from ochre_stone.core.masses.outlines import plan_outlines
from ochre_stone.core.masses.plan import FINE_PIXELS, PREVIEW_PIXELS, MassSettings, plan, prepare, refined
from ochre_stone.core.masses.shapes import enlarge
from ochre_stone.core.masses.thresholds import TONE_BINS, TOP, histogram, optimal_cuts, within_variance
from ochre_stone.core.picture.load import load
from ochre_stone.core.picture.picture import Floats, linear_to_lab
from ochre_stone.resources import resource

VALUES = 4


def pictures() -> dict[str, Path]:
    """The demo scene and photographs from packages."""
    data, images = Path(skimage.data.__file__).parent, Path(sklearn.datasets.__file__).parent / "images"
    found = {"demo": Path(str(resource("demo", "orchard_keeper.png")))}
    found |= {
        p.stem: p for p in (data / "astronaut.png", data / "coffee.png", data / "chelsea.png", data / "rocket.jpg")
    }
    return found | {p.stem: p for p in (images / "china.jpg", images / "flower.jpg")}


def shapes_of(labels: np.ndarray) -> tuple[int, int]:
    """4-connected shapes and length of their borders in pixels."""
    border = int((labels[:, 1:] != labels[:, :-1]).sum() + (labels[1:] != labels[:-1]).sum())
    return int(label(labels, connectivity=1, background=-1).max()), border


def reference(linear: Floats) -> np.ndarray:
    """Classes by the general-purpose way."""
    lightness = linear_to_lab(linear)[..., 0].astype(np.float64) / 100
    smooth = denoise_tv_chambolle(lightness, weight=0.2)
    return np.digitize(smooth, threshold_multiotsu(smooth, classes=VALUES))


def thresholds() -> None:
    """Seven values by dynamic programming against five by exhaustive search."""
    value = prepare(load(resource("demo", "orchard_keeper.png")).reduced(PREVIEW_PIXELS), 0.5).melted
    counts = histogram(value)
    bins = np.clip(value * (TONE_BINS / TOP), 0, TONE_BINS - 1).astype(int).astype(float)
    start = time.perf_counter()
    theirs_cuts = threshold_multiotsu(bins, classes=5, nbins=TONE_BINS)
    theirs = time.perf_counter() - start
    ours = seconds(lambda: optimal_cuts(counts, 7)[7])
    width = (bins.max() - bins.min()) / TONE_BINS
    worse = within_variance(counts, optimal_cuts(counts, 5)[5]) / within_variance(
        counts, (theirs_cuts + width / 2) * TOP / TONE_BINS
    )
    row(
        "thresholds, 7 values",
        ours,
        theirs,
        "scikit-image multi-Otsu at 5",
        f"{theirs / ours:.0f} times as fast; criterion at 5: {worse:.4f} of theirs",
    )
    locked = seconds(lambda: optimal_cuts(counts, 7, [3.0, 6.0])[7])
    row("thresholds, 7 values, 2 locked", locked, theirs, "scikit-image multi-Otsu at 5")


def pipeline() -> None:
    """Whole way from the picture, few shapes, short borders, and the preview kept when refined."""
    times, regions, lengths, agree, fine_seconds = [], [], [], [], []
    for path in pictures().values():
        picture = load(path)
        linear = picture.reduced(PREVIEW_PIXELS)
        settings = MassSettings(values=VALUES)
        ours = plan(prepare(linear, 0.5), settings)
        theirs = reference(linear)
        (n, border), (n2, border2) = shapes_of(ours.labels), shapes_of(theirs)
        regions.append(n / n2)
        lengths.append(border / border2)
        times.append(
            seconds(lambda x=linear: plan(prepare(x, 0.5), MassSettings(values=VALUES)), 3)  # type: ignore[misc]
            / seconds(lambda x=linear: reference(x), 1)  # type: ignore[misc]
        )
        fine = picture.reduced(FINE_PIXELS)
        start = time.perf_counter()
        again = refined(prepare(linear, 0.5), fine, settings)
        fine_seconds.append(time.perf_counter() - start)
        shown = enlarge(ours.labels, VALUES, again.labels.shape[1], again.labels.shape[0])
        agree.append(float((shown == again.labels).mean()))
    print(
        f"{'masses at .25 MP':34s} time {statistics.median(times):.2f}, shapes {statistics.median(regions):.3f}, "
        f"borders {statistics.median(lengths):.2f} of scikit-image TV and multi-Otsu "
        f"(worst {max(times):.2f}, {max(regions):.3f}, {max(lengths):.2f})"
    )
    print(
        f"{'preview and refined agree':34s} {statistics.median(agree):.1%}, at least {min(agree):.1%}; "
        f"refined within {max(fine_seconds):.1f} s"
    )


def live() -> None:
    """What runs while a slider moves or a page is turned, against one pass of scikit-image's TV at the same size."""
    linear = load(resource("demo", "orchard_keeper.png")).reduced(PREVIEW_PIXELS)
    ground = prepare(linear, 0.5)
    found = plan(ground, MassSettings(values=5))
    lightness = linear_to_lab(linear)[..., 0].astype(np.float64) / 100
    one = seconds(lambda: denoise_tv_chambolle(lightness, weight=0.2), 3)
    against = "scikit-image TV, one pass"
    row("masses, threshold moved", seconds(lambda: plan(ground, MassSettings(values=5))), one, against)
    row("outlines as smooth paths", seconds(lambda: plan_outlines(found)), one, against)
    row("kinds of edges", seconds(lambda: kind_map(found.labels, ground.lab)), one, against)
    lab = np.array([[60.0, 20, 30], [50, -10, -30], [40, -20, 20], [75, 5, 10], [30, 10, -15]])
    grid = ways(lab, pull(lab, places("triad", 20.0), 0.8, "traditional"))
    row("picture pulled, .25 MP", seconds(lambda: recoloured(ground.lab, grid)), one, against)


def main() -> None:
    thresholds()
    pipeline()
    live()


if __name__ == "__main__":
    main()
