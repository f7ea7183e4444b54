"""Write resources/demo/log.json.gz: two made-up mornings at the easel, and weeks of made-up practice.

The piles are those of the demo project. A made-up painter with made-up tubes and an erring hand mixes them as the
program says, and everything is written down by the program itself; the times are invented.
"""

import gzip
from datetime import datetime, timedelta

import numpy as np

from ochre_stone.core.colour.spaces import Lab, as_lab
from ochre_stone.core.document.document import Document
from ochre_stone.core.mixing.strings.targets import Pile
from ochre_stone.core.paint.optics import reflectance_to_lab
from ochre_stone.core.picture.load import load
from ochre_stone.core.planning.mending import advise, held, with_advice, with_reading
from ochre_stone.core.planning.planning import batch_key
from ochre_stone.core.practice.drill import Material
from ochre_stone.core.practice.progress import practice_plan
from ochre_stone.core.store.files import open_project
from ochre_stone.devices.madeup import painted_patch
from ochre_stone.logbook.book import Book
from ochre_stone.logbook.entry import Answer, Entry
from ochre_stone.logbook.exchange import as_json, taken_out
from ochre_stone.logbook.following import numbers_of, planned_entry, tubes_in
from ochre_stone.resources import resource
from tests.support.learner import Done, naming, practise, seeing

FIRST = datetime(2026, 9, 12, 8, 40)
MORNINGS = (FIRST, FIRST + timedelta(days=1, minutes=-12))
MOST = 4
LINES = {
    "skin-3": "For the cheek and the chest; a second one beside it was not needed.",
    "sky-2": "Wet the sky is done in one go: mix enough.",
    "foliage-2": "Too green in the pile, right on the canvas beside the dry grass.",
    "other-1": "The hat: ochre does more here than the yellow.",
}


def seen(document: Document, pile: Pile, rng: np.random.Generator) -> Lab:
    """The pile under a reader, as made-up tubes and a made-up hand make it."""
    now = held(document, pile)
    tubes = [document.mixed.tube(i) for i, _ in now.amounts]
    patch = painted_patch(tubes, now.doses, batch_key(now), document.mix.chosen().surface)
    return as_lab(np.clip(reflectance_to_lab(patch) + rng.normal(0, 0.25, 3), [0, -150, -150], [105, 150, 150]))


def morning(document: Document, piles: list[Pile], start: datetime, rng: np.random.Generator, book: Book) -> Document:
    """One pile after another, corrected until it matches or nothing helps."""
    at = start.timestamp()
    for pile in piles:
        at += 40 + rng.uniform(10, 60)
        begun = at
        at += (0.9 + 0.55 * len(pile.recipe.ingredients)) * 60 * rng.uniform(0.9, 1.5)
        entry: Entry | None = None
        for _ in range(MOST):
            document = with_reading(document, pile.id, seen(document, pile, rng), "reader")
            entry = written(document, pile, at, entry, book)
            advice = advise(document, pile.id)
            if not advice.puts:
                break
            at += 60 * rng.uniform(0.8, 1.8)
            document = with_advice(document, pile.id, advice)
            entry = written(document, pile, at, entry if advice.again is None else None, book)
            at += 20
        assert entry is not None
        fields: dict[str, object] = {
            "begun": begun if entry.number == 0 else entry.begun,
            "finished": at,
            "line": LINES.get(pile.id, ""),
        }
        if rng.uniform() < 0.45:
            fields |= {"left_ml": round(entry.ml * rng.uniform(0.15, 0.5), 2), "left_at": at + 5400}
        if rng.uniform() < 0.3 and entry.came_out is not None:
            L, a, b = entry.came_out
            fields |= {"dried": (L + rng.uniform(0, 0.8), a + 0.1, b - 0.3), "dried_at": at + 2 * 86_400}
        book.put(Entry.model_validate(entry.model_dump() | fields))
        at += rng.uniform(30, 240)
    return document


def written(document: Document, pile: Pile, at: float, old: Entry | None, book: Book) -> Entry:
    """The entry as the log has it now."""
    number = numbers_of(document, pile.id)[-1]
    made = planned_entry(document, pile.id, number, at, old if old is not None and old.number == number else None)
    assert made is not None
    book.know(tubes_in(made, document.mixed.tube))
    book.put(made)
    return made


def practice(rng: np.random.Generator) -> list[Answer]:
    """Weeks of practice before the mornings: what the plan proposes, by a made-up learner whose eye gets better."""
    linear = load(resource("demo", "orchard_keeper.png")).reduced(50_000)
    material = Material(linear.astype(float))
    done: list[Done] = []
    for day in range(-33, 0, 2):
        start = FIRST.timestamp() + day * 86_400 + rng.uniform(-3600, 7 * 3600)
        better = 0.97 ** (33 + day)
        for n, p in enumerate(practice_plan(done, start)[:3]):
            if p.drill.id == "match":
                continue
            between = p.drill.beginner ** (0.35 + 0.5 * better) * p.drill.steady ** (0.65 - 0.5 * better)
            eye = seeing(between) if p.drill.asks is not None else naming(between * 1.25)
            seed = int(rng.integers(1 << 30))
            done = practise(p.drill, eye, p.drill.questions, seed, material, start + 240 * n, tuple(done))
    return [
        Answer(
            uid=f"demo-answer-{n:05d}",
            at=a.at,
            drill=a.drill,
            level=round(a.level, 4),
            right=a.right,
            error=round(a.error, 4),
        )
        for n, a in enumerate(done)
    ]


def main() -> None:
    rng = np.random.default_rng(12)
    document = open_project(resource("demo", "orchard-keeper.ochre")).document
    piles = sorted((p for s in document.mixed.strings for p in s.piles), key=lambda p: p.order)
    half = len(piles) // 2 + 1
    with Book.in_memory() as book:
        for start, of in zip(MORNINGS, (piles[:half], piles[half:]), strict=True):
            document = morning(document, of, start, rng, book)
        book.answer(*practice(rng))
        log = taken_out(book)
    in_turn = sorted(log.piles, key=lambda e: e.begun)
    named = tuple(e.model_copy(update={"uid": f"demo-pile-{n:04d}"}) for n, e in enumerate(in_turn))
    log = log.model_copy(update={"piles": named})
    path = resource("demo", "log.json.gz")
    path.write_bytes(gzip.compress(as_json(log), 9, mtime=0))
    print(f"{path}: {len(log.piles)} piles, {len(log.answers)} answers, {path.stat().st_size} bytes")
    for e in log.piles:
        print(f"  {e.name:14} {e.corrections} corrections, {e.minutes or 0:4.1f} min, {e.ml:.1f} ml, {e.came_out}")


if __name__ == "__main__":
    main()
