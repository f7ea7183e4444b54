"""Opening and looking: a 24-megapixel photo to linear XYZ and Munsell value, samples, views. Ratios in one run.

python -m benchmarks.pictures

Each way of opening runs in a process of its own, so that its peak of memory is its own (the high-water mark of its
resident pages, from /proc, less what it held before it began).
"""

import json
import statistics
import subprocess
import sys
import tempfile
import time
import warnings
from collections.abc import Callable
from pathlib import Path

import numpy as np
from PIL import Image

warnings.simplefilter("ignore")

WIDTH, HEIGHT = 6000, 4000
FRAME_MS = 1000 / 60


def make_photo(path: Path) -> None:
    """A made 24-megapixel JPEG: coloured shapes, soft and sharp, with grain."""
    rng = np.random.default_rng(1)
    small = rng.integers(0, 256, (40, 60, 3)).astype(np.uint8)
    soft = np.asarray(Image.fromarray(small).resize((WIDTH, HEIGHT), Image.Resampling.BICUBIC))
    grain = rng.normal(0, 4, (HEIGHT // 4, WIDTH // 4, 1)).repeat(4, 0).repeat(4, 1)
    Image.fromarray(np.clip(soft + grain, 0, 255).astype(np.uint8)).save(path, quality=92)


def ours(path: str) -> None:
    from ochre_stone.core.picture.load import load
    from ochre_stone.core.picture.picture import xyz_and_value

    xyz_and_value(load(path))


def theirs(path: str) -> None:
    """The plain route: read, sRGB to XYZ, Munsell value, all with colour-science."""
    import colour

    image = colour.read_image(path, bit_depth="float32", method="Imageio")
    xyz = colour.sRGB_to_XYZ(image)
    colour.notation.munsell_value_ASTMD1535(xyz[..., 1] * 100)


def _one(way: str, path: str) -> None:
    """In a process of its own: warm up on a small picture, then the large one; print seconds and bytes."""
    call = {"ours": ours, "theirs": theirs}[way]
    with tempfile.TemporaryDirectory() as folder:
        small = Path(folder) / "small.jpg"
        Image.fromarray(np.zeros((64, 64, 3), np.uint8)).save(small)
        call(str(small))
    before = _peak()
    start = time.perf_counter()
    call(path)
    took = time.perf_counter() - start
    print(json.dumps([took, _peak() - before]))


def _peak() -> int:
    """Most bytes of memory that this process has held."""
    status = Path("/proc/self/status").read_text(encoding="ascii")
    return int(next(line for line in status.splitlines() if line.startswith("VmHWM")).split()[1]) * 1024


def opening(path: Path) -> None:
    """Both ways of opening, twice each, the quicker of each kept."""
    found = {}
    for way in ("ours", "theirs"):
        runs = []
        for _ in range(2):
            command = [sys.executable, "-m", "benchmarks.pictures", way, str(path)]
            runs.append(json.loads(subprocess.run(command, capture_output=True, text=True, check=True).stdout))
        found[way] = (min(r[0] for r in runs), min(r[1] for r in runs))
    numbers = WIDTH * HEIGHT * 3
    (t, m), (t2, m2) = found["ours"], found["theirs"]
    print(f"open 24 MP to XYZ and value        {t:6.2f} s   {t2 / t:5.1f} times as fast as colour-science")
    print(
        f"  memory at its peak               {m / numbers:6.2f} bytes per pixel and channel; theirs {m2 / numbers:.1f}"
    )


def median_ms(work: Callable[[], object], times: int = 9) -> float:
    """Median time after a warm run."""
    work()
    out = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        out.append((time.perf_counter() - start) * 1000)
    return statistics.median(out)


def looking(path: Path) -> None:
    """Samples of the full picture and views at screen size, against a frame of a 60 Hz screen and scikit-image."""
    from skimage.color import rgb2gray
    from skimage.filters import gaussian

    from ochre_stone.core.picture.load import load
    from ochre_stone.core.picture.picture import linear_to_code
    from ochre_stone.core.picture.sampling import sample
    from ochre_stone.core.picture.screen import Screen
    from ochre_stone.core.picture.views import View, show
    from ochre_stone.desktop.session.studio import SCREEN_PIXELS

    picture = load(path)
    ms = median_ms(lambda: sample(picture, 3000, 2000, 101))
    print(f"a sample with a 101 px aperture    {ms:6.1f} ms  {ms / FRAME_MS:5.2f} frames")
    screen = picture.reduced(SCREEN_PIXELS)
    code, display = linear_to_code(screen), Screen()
    references = {
        "value": ("scikit-image rgb2gray", median_ms(lambda: rgb2gray(code), 5)),
        "squint": ("scikit-image gaussian", median_ms(lambda: gaussian(screen, 22, channel_axis=2), 3)),
    }
    for name, view in (
        ("as it is", View()),
        ("value", View(value=True)),
        ("squint", View(squint=True)),
        ("chroma", View(chroma=True)),
        ("mirror", View(mirror=True)),
    ):
        ms = median_ms(lambda v=view: show(screen, v, display.encode))
        against, other = references.get(name, ("", 0.0))
        ratio = f"  {ms / other:5.2f} of {against}" if against else ""
        print(f"view at screen size: {name:13s} {ms:6.1f} ms  {ms / FRAME_MS:5.2f} frames{ratio}")


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "photo.jpg"
        make_photo(path)
        opening(path)
        looking(path)


if __name__ == "__main__":
    if len(sys.argv) == 3:
        _one(sys.argv[1], sys.argv[2])
    else:
        main()
