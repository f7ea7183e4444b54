"""The reader of palette photos over simulated ones that were never looked at while it was made.

python -m benchmarks.boards [PHOTOS OF EACH KIND, default 24] [FIRST NUMBER, default 0]

As asked: daylight, card in view and not burnt. Careless: lamps, burnt lights, no card at times. Corners are clicked
with 12 pixels of error, dabs of tubes are off their data by 2 in each direction. Beside it one click for each pile, at
its middle, of the card's light: the patch of 21 pixels that was read so far, and the whole pile.
"""

import sys
import time
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field
from multiprocessing import get_context

import cv2
import numpy as np

from benchmarks.boards.plans import plans
from benchmarks.boards.scene import conditions
from benchmarks.boards.simulate import LABEL_PX, Photo, simulate
from ochre_stone.core.boardphoto.layout import Expected, Layout, SeenRegion
from ochre_stone.core.boardphoto.read import BoardPhoto
from ochre_stone.core.boardphoto.single import read_one
from ochre_stone.core.boardphoto.square import PER_CM, plain_code, propose_corners
from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.balance import balance_from
from ochre_stone.core.picture.picture import Picture, srgb_encoding
from ochre_stone.core.picture.sampling import look_at, spot, spot_region

CLICK_PX, TUBES_OFF, SAME = 12.0, 2.0, 0.45
WITHIN95 = 2.80
"""Standard deviations in each of three directions within which 95 % of lengths lie."""


@dataclass
class Row:
    """One pile that lies on the palette."""

    id: str
    found: bool = False
    named: str = ""
    asked: bool = False
    burnt: bool = False
    off: float = np.nan
    noise: float = np.nan
    near: float = 0.0
    """CIEDE2000 between what it is and what it was taken for."""
    click: float = np.nan
    one: float = np.nan
    one_noise: float = np.nan


@dataclass
class Figures:
    """Of one photo."""

    careful: bool
    rows: list[Row] = field(default_factory=list)
    seconds: float = 0.0
    card: bool = False
    corners: float = np.nan
    phantoms: int = 0


def seen_layout(layout: Layout, rng: np.random.Generator) -> Layout:
    """What the program expects: tubes by data from which they are off."""

    def told(e: Expected) -> Expected:
        if not e.is_tube:
            return e
        L, a, b = (np.array(e.lab) + rng.normal(0, TUBES_OFF, 3)).tolist()
        return Expected(e.id, (L, a, b), e.x, e.y, e.radius, True)

    return Layout(layout.width, layout.height, tuple(told(e) for e in layout.expected))


def one_photo(asked: tuple[int, bool]) -> Figures:
    """Simulate a photo and read it."""
    number, careful = asked
    cv2.setNumThreads(1)
    every = plans()
    c = conditions(number, careful, tuple(every))
    plan = every[c.plan]
    photo = simulate(plan, number + 100_000 * careful, c)
    rng = np.random.default_rng(90_000 + number)
    layout, corners = seen_layout(plan.layout, rng), photo.corners + rng.normal(0, CLICK_PX, (4, 2))
    picture = Picture(photo.code, f"{number}.jpg", b"", (), srgb_encoding(1))
    start = time.process_time()
    half = plain_code(picture)
    board = BoardPhoto.of(half, layout, corners)
    out = Figures(careful, card=board.card is not None)
    if board.card is None and photo.card is not None:
        x, y = board.squared.to_photo(np.array([photo.card]) + rng.normal(0, 0.3, 2))[0]
        board = BoardPhoto.of(half, layout, corners, (float(x), float(y)))
    piles = board.piles()
    out.seconds = time.process_time() - start
    proposed = propose_corners(half)
    if proposed is not None:
        true = board.squared.to_board(proposed) - np.array([[0, 0], [1, 0], [1, 1], [0, 1]]) * [
            layout.width,
            layout.height,
        ]
        out.corners = float(np.linalg.norm(true, axis=1).max())
    _compare(out, photo, plan.layout, board, piles)
    if photo.card is not None:
        _clicked(out, photo, board, picture)
    return out


def _compare(out: Figures, photo: Photo, layout: Layout, board: BoardPhoto, piles: list[SeenRegion]) -> None:
    labels = cv2.resize(photo.labels, board.marks.shape[::-1], interpolation=cv2.INTER_NEAREST)
    assert LABEL_PX == PER_CM
    lab = {e.id: np.array(e.lab) for e in layout.expected}
    used = set()
    for t in photo.piles:
        own, best, hit = labels == t.number, SAME, None
        for p in piles:
            if abs(p.x - t.x) < 3 and abs(p.y - t.y) < 3:
                there = board.marks == p.number
                both = float((own & there).sum() / max((own | there).sum(), 1))
                if both > best:
                    best, hit = both, p
        row = Row(t.id)
        if hit is not None:
            used.add(hit.number)
            row = Row(
                t.id,
                True,
                hit.id,
                hit.asks or hit.unreadable,
                hit.unreadable,
                float(ciede2000(np.array(hit.lab), t.lab)),
                hit.noise,
            )
            if hit.id in lab and t.id in lab:
                row.near = float(ciede2000(lab[hit.id], lab[t.id]))
            elif hit.id:
                row.near = 99.0
        out.rows.append(row)
    out.phantoms = sum(p.number not in used and not p.is_tube for p in piles)


def _clicked(out: Figures, photo: Photo, board: BoardPhoto, picture: Picture) -> None:
    """Every pile by one click at its middle, the light by one at the card."""
    assert photo.card is not None
    x, y = board.squared.to_photo(np.array([photo.card]))[0]
    try:
        light = balance_from(spot(picture, x, y, 21).mean(axis=0), "card")
    except OchreError:
        return
    for row, t in zip(out.rows, photo.piles, strict=True):
        at = board.squared.to_photo(np.array([(t.x, t.y)]))[0]
        patch = look_at(picture, spot_region(picture, *at, 21), light)
        whole = read_one(picture, *at, light)
        if patch.clipped < 0.5:
            row.click = float(ciede2000(np.array(patch.lab), t.lab))
        if not whole.burnt_out:
            row.one, row.one_noise = float(ciede2000(np.array(whole.lab), t.lab)), whole.noise


def told(name: str, photos: list[Figures]) -> str:
    """One line of figures."""
    rows = [r for p in photos for r in p.rows]
    planned, found = [r for r in rows if r.id], [r for r in rows if r.found]
    right = sum(r.found and r.named == r.id for r in planned) / len(planned)
    wrong = [r for r in found if r.named and r.named != r.id and r.near > 3]
    read = [r for r in found if not r.burnt]
    off, noise = np.array([r.off for r in read]), np.array([r.noise for r in read])
    n = len(rows)
    burnt, asked, silent = sum(r.burnt for r in found), sum(r.asked for r in found), sum(not r.asked for r in wrong)
    return (
        f"{name:22s} {len(photos):3d} {n:5d}  {len(found) / n:6.1%} {burnt / n:6.1%} {right:6.1%} {len(wrong) / n:6.1%}"
        f" ({silent / n:.1%}) {asked / n:6.1%}  {np.median(off):5.2f} {np.percentile(off, 95):5.1f}"
        f"  {np.median(noise):5.2f} {(off < WITHIN95 * noise).mean():5.0%}"
    )


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 24
    first = int(sys.argv[2]) if len(sys.argv) > 2 else 0
    asked = [(n, careful) for careful in (True, False) for n in range(first, first + count)]
    # Spawned: a fork of a process that has worked with threads may hang.
    with ProcessPoolExecutor(2, get_context("spawn")) as workers:
        photos = list(workers.map(one_photo, asked))
    print("                     photos piles  found  burnt  named  wrong (unasked) asked   med.  95 %  noise  held")
    for name, careful in (("as asked", True), ("careless", False)):
        some = [p for p in photos if p.careful == careful]
        print(told(name, some))
        for k, plan in enumerate(plans()):
            print(told(f"  {plan}", [p for n, p in enumerate(some) if (first + n) % len(plans()) == k]))
        rows = [r for p in some for r in p.rows]
        for who, key in (("patch of 21 pixels", "click"), ("whole pile", "one")):
            off = np.array([getattr(r, key) for r in rows])
            off = off[np.isfinite(off)]
            high = np.percentile(off, 95)
            print(f"  one click, {who}: {len(off)} piles, median {np.median(off):.2f}, 95 % {high:.1f}")
        said = np.array([(r.one, r.one_noise) for r in rows if np.isfinite(r.one)])
        flat = np.array([r.click for r in rows if np.isfinite(r.click)])
        held, before = (said[:, 0] < WITHIN95 * said[:, 1]).mean(), (flat < WITHIN95 * 1.5).mean()
        print(f"    noise said {np.median(said[:, 1]):.2f}: {held:.0%} held; of a flat 1.5 with the patch {before:.0%}")
        corners, seconds = np.array([p.corners for p in some]), np.array([p.seconds for p in some])
        print(
            f" card found by itself in {sum(p.card for p in some)}; corners proposed in {np.isfinite(corners).sum()},"
            f" within .5 cm in {(corners < 0.5).sum()}; phantoms {sum(p.phantoms for p in some) / len(some):.1f} a"
        )
        print(f"  photo; seconds of one core: median {np.median(seconds):.2f}, most {seconds.max():.2f}")
