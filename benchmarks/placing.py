"""The block-in on the demo and on photographs that scikit-image and scikit-learn carry: how far it is from the picture
with its detail melted, how clean, and what it costs beside k-means with as many free colours in the same shapes
(scikit-learn); time as a ratio to that k-means in the same run.

python -m benchmarks.placing
"""

import time

import numpy as np
from sklearn.cluster import KMeans

from ochre_stone.core.placing.figures import placing_figures
from ochre_stone.core.placing.place import placed
from ochre_stone.core.planning.blockin import block_in, placing_ground
from tests.support.cases import cases, with_strings


def main() -> None:
    print("picture     piles shapes border  mean   p95 values | k-means mean   p95 | ratios   | CPU s, of k-means")
    ratios = []
    for name, picture, _ in cases():
        document = with_strings(name)
        ground = placing_ground(picture, document)
        laid, taken = block_in(picture, document), []
        assert laid is not None
        for group in laid.piles[:2]:  # what was laid in is remembered: each time another pile is hidden
            start = time.process_time()
            block_in(picture, document, {p.id for p in group})
            taken.append(time.process_time() - start)
        f, pixels = laid.figures, ground.melted.reshape(-1, 3)
        start = time.process_time()
        fit = KMeans(f.piles, n_init=1, random_state=0).fit(pixels[:: max(1, len(pixels) // 60_000)])
        whole = time.process_time() - start
        free = fit.cluster_centers_[np.argsort(fit.cluster_centers_[:, 0])]
        everywhere = np.ones((int(ground.thing.max()) + 1, len(free)), bool)
        bands = [(0.0, 10.0)] * (int(ground.mass.max()) + 1)
        labels = placed(ground, free, everywhere, bands, document.masses.outline, document.masses.smallest / 4)
        k = placing_figures(ground, labels, free)
        ratios.append((f.off / k.off, f.worst / k.worst))
        print(
            f"{name:11s} {f.piles:5d} {f.shapes:6d} {f.border:6.1f} {f.off:5.2f} {f.worst:5.1f} {f.values:6.3f} | "
            f"{k.off:12.2f} {k.worst:5.1f} | {ratios[-1][0]:.2f} {ratios[-1][1]:.2f} | "
            f"{min(taken):.2f} {min(taken) / whole:.2f}",
            flush=True,
        )
    mean, worst = np.median(np.array(ratios), axis=0)
    print(f"median ratios to k-means in the same shapes: mean {mean:.2f}, 95 % {worst:.2f}")


if __name__ == "__main__":
    main()
