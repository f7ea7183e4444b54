"""How fast and how good, against general-purpose libraries in the same run. Ratios, not milliseconds: machines differ.

python -m benchmarks
"""

import tracemalloc
import warnings

import numpy as np

warnings.simplefilter("ignore")

import colour  # noqa: E402
from scipy.optimize import differential_evolution  # noqa: E402
from skimage.color import rgb2lab  # noqa: E402

from benchmarks.timing import row, seconds  # noqa: E402
from ochre_stone.core.colour.munsell import hue_value_chroma, value_of_luminance  # noqa: E402
from ochre_stone.core.mixing.recipe.search import Searcher, weighted_error  # noqa: E402
from ochre_stone.core.paint.optics import layer_lab  # noqa: E402
from ochre_stone.core.paint.palettes import palette  # noqa: E402
from ochre_stone.core.picture.load import load  # noqa: E402
from ochre_stone.core.picture.picture import linear_to_lab  # noqa: E402
from ochre_stone.resources import resource  # noqa: E402


def main() -> None:
    picture = load(resource("demo", "orchard_keeper.png"))
    code = picture.code.astype(np.float64) / 255
    linear = picture.linear()
    ours = seconds(lambda: linear_to_lab(picture.linear()))
    single = picture.code.astype(np.float32) / np.float32(255)
    lab = linear_to_lab(linear)
    error = float(np.abs(lab[::7, ::7] - rgb2lab(code[::7, ::7])).max())
    row(
        "to CIELAB, 1.9 MP",
        ours,
        seconds(lambda: rgb2lab(single), 3),
        "scikit-image rgb2lab, float32",
        f"max error {error:.3f}",
    )

    y = np.random.default_rng(0).random(200_000)
    reference = colour.notation.munsell_value_ASTMD1535(y * 100)
    error = float(np.abs(value_of_luminance(y) - reference).max())
    theirs = seconds(lambda: colour.notation.munsell_value_ASTMD1535(y * 100), 3)
    row(
        "Munsell value, 200,000",
        seconds(lambda: value_of_luminance(y)),
        theirs,
        "colour-science",
        f"max error {error:.4f}",
    )
    row(
        "Munsell hue and chroma, 10,000",
        seconds(lambda: hue_value_chroma(lab.reshape(-1, 3)[:10_000])),
        1.0,
        "a second",
    )

    tubes = palette("portrait-ten").tubes
    search = Searcher(tubes)
    K, S = np.stack([t.K for t in tubes]), np.stack([t.S for t in tubes])
    goal = np.array([62.0, 14, 22])

    def cost(x: np.ndarray) -> float:
        c = (x + 1e-9) / search.paints.strength
        return float(weighted_error(layer_lab(c @ K / c.sum(), c @ S / c.sum()), goal))

    t_theirs = seconds(lambda: differential_evolution(cost, [(0, 1)] * len(tubes), seed=1, maxiter=60, polish=False), 1)
    row(
        "recipes, all subsets of 4 of 10",
        seconds(lambda: search.find(goal), 9),
        t_theirs,
        "SciPy differential evolution",
    )

    tracemalloc.start()
    picture.remembered.forget()
    picture.reduced(1_000_000)
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    values = picture.width * picture.height * 3
    print(f"{'memory to reduce the picture':34s} {peak / values:9.2f} bytes per pixel and channel of the original")


if __name__ == "__main__":
    main()
