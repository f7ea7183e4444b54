"""The log's file: nothing written is lost, windows share it, old and foreign files are told, out and in again."""

import json
import os
import signal
import sqlite3
import subprocess
import sys
import tempfile
import threading
import time
import unittest
from datetime import datetime
from pathlib import Path

from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint import tabled
from ochre_stone.logbook import exchange, schema
from ochre_stone.logbook.book import Book
from ochre_stone.logbook.entry import Answer
from tests.logbook.made import DAY, START, THEN, cut_and_added, entry

_WRITER = """
import sys
from pathlib import Path
from ochre_stone.logbook.book import Book
from tests.logbook.made import THEN, entry
with Book(Path(sys.argv[1])) as book:
    book.know(THEN.values())
    for n in range(100_000):
        book.put(entry({"titanium-white": 1.0, "yellow-ochre": 0.5}, n=n))
        print(n, flush=True)
"""


class BookCase(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "deep" / "log.sqlite"
        self.book = Book(self.path)
        self.addCleanup(self.book.close)
        self.book.know(THEN.values())


class Keeping(BookCase):
    def test_an_entry_comes_back_as_it_was(self) -> None:
        made = cut_and_added().model_copy(
            update={
                "line": "for the hat, “warm”",
                "left_ml": 0.4,
                "left_at": START + 500,
                "dried": (69.0, 2.0, 19.0),
                "dried_at": START + DAY,
                "picture": b"\x89PNG..",
                "planned": (("yellow-ochre", 1.0),),
            }
        )
        self.book.put(made)
        self.assertEqual(self.book.entries([made.uid, "nobody-knows"]), [made])
        self.assertAlmostEqual(made.ml, 0.7)
        self.assertAlmostEqual(made.used_ml, 1.3)
        self.assertEqual(made.corrections, 1)
        self.assertEqual(made.inside(2), {"titanium-white": 0.8, "yellow-ochre": 0.4})
        self.assertEqual(made.came_out, (69.0, 2.0, 19.0))
        again = made.model_copy(update={"line": "another"})
        self.book.put(again)
        self.assertEqual(self.book.count(), 1)
        self.assertEqual(self.book.entries([made.uid])[0].line, "another")

    def test_a_pile_that_is_called_done_a_day_later_was_done_when_it_was_touched_last(self) -> None:
        e = cut_and_added()
        self.assertEqual(e.ended(START + 600), START + 600)
        self.assertEqual(e.ended(START + DAY), START + 180)

    def test_what_is_taken_out_takes_its_parts_along(self) -> None:
        self.book.put(cut_and_added(), entry({"yellow-ochre": 1.0}, n=2))
        self.book.remove([cut_and_added().uid])
        for table, left in (("pile", 1), ("put", 1), ("cut", 0), ("seen", 0), ("share", 1), ("project", 1)):
            self.assertEqual(self.book.db.execute(f"SELECT count(*) FROM {table}").fetchone()[0], left, table)
        self.book.remove([entry({"yellow-ochre": 1.0}, n=2).uid])
        self.assertEqual(self.book.projects(), [])
        self.assertEqual(self.book.db.execute("PRAGMA foreign_key_check").fetchall(), [])

    def test_days_projects_and_leftovers(self) -> None:
        other = entry(
            {"yellow-ochre": 1.0},
            START + DAY,
            2,
            project="garden",
            title="Garden wall",
            left_ml=0.5,
            left_at=START + DAY + 60,
        )
        self.book.put(entry({"titanium-white": 1.0}, n=1), other)
        first, second = datetime.fromtimestamp(START).date(), datetime.fromtimestamp(START + DAY).date()
        self.assertEqual([(d.day, d.piles) for d in self.book.days()], [(second, 1), (first, 1)])
        self.assertEqual([p.name for p in self.book.listed(day=first)], ["Skin 1"])
        self.assertEqual([p.name for p in self.book.listed(project="garden")], ["Skin 2"])
        self.assertEqual(self.book.projects(), [("garden", "Garden wall", 1), ("orchard", "The orchard keeper", 1)])
        self.assertEqual([p.left_ml for p in self.book.leftovers(START)], [0.5])
        self.assertEqual(self.book.of_pile("orchard", "skin-1", 0), [entry({"titanium-white": 1.0}, n=1).uid])

    def test_a_pile_of_strange_tubes_is_refused_and_nothing_half_written(self) -> None:
        strange = entry({"prussian-blue": 1.0}, n=5)
        with self.assertRaisesRegex(OchreError, "prussian-blue"):
            self.book.put(entry({"yellow-ochre": 1.0}, n=4), strange)
        self.assertEqual(self.book.count(), 0)

    def test_answers_of_practice(self) -> None:
        made = [
            Answer(uid=f"answer-{n:04d}", at=START + n, drill="value", level=2.0, right=n % 2 == 0, error=0.5)
            for n in range(6)
        ]
        self.book.answer(*made)
        self.book.answer(*made)
        self.assertEqual(self.book.answers("value"), made)
        self.assertEqual(self.book.answers("hue"), [])


class Safety(BookCase):
    def test_a_kill_loses_nothing_that_was_written(self) -> None:
        self.book.close()
        p = subprocess.Popen(
            [sys.executable, "-c", _WRITER, str(self.path)],
            stdout=subprocess.PIPE,
            text=True,
            cwd=Path(__file__).parents[2],
        )
        assert p.stdout is not None
        said = [p.stdout.readline() for _ in range(40)]
        os.kill(p.pid, signal.SIGKILL)
        rest = p.stdout.read().split()
        p.wait()
        p.stdout.close()
        last = int(rest[-1]) if rest and rest[-1].isdigit() else int(said[-1])
        with Book(self.path) as after:
            self.assertEqual(after.db.execute("PRAGMA integrity_check").fetchone()[0], "ok")
            self.assertGreaterEqual(after.count(), last)
            self.assertEqual(len(after.entries([f"made-{last - 1:08d}"])), 1)
            after.put(entry({"yellow-ochre": 1.0}, n=99_999_999))

    def test_windows_write_side_by_side(self) -> None:
        wrong: list[Exception] = []

        def window(first: int) -> None:
            try:
                with Book(self.path) as book:
                    for n in range(first, first + 40):
                        book.put(entry({"titanium-white": 1.0, "yellow-ochre": 0.5}, n=n))
            except Exception as error:
                wrong.append(error)

        threads = [threading.Thread(target=window, args=(100 * k,)) for k in range(3)]
        for t in threads:
            t.start()
        while any(t.is_alive() for t in threads):
            self.book.listed(count=20)  # a reader is not in the way
            time.sleep(0.005)
        self.assertEqual(wrong, [])
        self.assertEqual(self.book.count(), 120)
        mode = self.book.db.execute("PRAGMA journal_mode").fetchone()[0]
        self.assertEqual(mode, "wal")

    def test_a_log_of_the_first_version_is_brought_up(self) -> None:
        old = self.path.with_name("old.sqlite")
        db = sqlite3.connect(old)
        db.executescript(schema.MIGRATIONS[0])
        db.execute("PRAGMA user_version = 1")
        db.execute("INSERT INTO project (uid, title) VALUES ('p', 'kept')")
        db.commit()
        db.close()
        with Book(old) as book:
            self.assertEqual(book.db.execute("PRAGMA user_version").fetchone()[0], schema.SCHEMA_VERSION)
            self.assertEqual(book.db.execute("PRAGMA application_id").fetchone()[0], 0x0C4E0106)
            self.assertEqual(book.db.execute("SELECT title FROM project").fetchone()[0], "kept")
            self.assertEqual(book.answers(), [])

    def test_a_log_of_before_keeps_the_paint_of_its_time(self) -> None:
        """Its generic tubes are another state of them, and what was read was read as of satin paint."""
        old = self.path.with_name("second.sqlite")
        with Book(old) as book:
            book.apply(THEN.values(), put=[cut_and_added()])
        db = sqlite3.connect(old)
        db.execute("ALTER TABLE seen DROP COLUMN gloss")
        db.execute("PRAGMA user_version = 2")
        db.commit()
        db.close()
        with Book(old) as book:
            (e,) = book.entries([cut_and_added().uid])
            self.assertEqual({k for p in e.puts for k, _ in p.dose.shares} - {f"{i}@1" for i in THEN}, set())
            self.assertEqual({s.gloss for s in e.seen}, {0.3})
            self.assertEqual(set(book.tubes()), {f"{i}@1" for i in THEN})
            book.know(THEN.values())  # today's stand beside them
            self.assertEqual(len(book.tubes()), 2 * len(THEN))
            log = exchange.taken_out(book)
        first = log.model_copy(update={"version": 1, "tubes": tuple(THEN.values()), "piles": (cut_and_added(),)})
        came = exchange.read_json(exchange.as_json(first), "old.json")
        self.assertEqual({t.stamp for t in came.tubes}, {"1"})
        self.assertEqual(
            {k for p in came.piles[0].puts for k, _ in p.dose.shares}, {k for p in e.puts for k, _ in p.dose.shares}
        )

    def test_newer_foreign_and_damaged_files_are_told_and_left_alone(self) -> None:
        newer = self.path.with_name("newer.sqlite")
        db = sqlite3.connect(newer)
        db.execute(f"PRAGMA user_version = {schema.SCHEMA_VERSION + 1}")
        db.close()
        foreign = self.path.with_name("foreign.sqlite")
        db = sqlite3.connect(foreign)
        db.execute("CREATE TABLE recipes (id)")
        db.commit()
        db.close()
        below = self.path.with_name("below.sqlite")
        db = sqlite3.connect(below)
        db.execute("PRAGMA user_version = -3")
        db.close()
        damaged = self.path.with_name("damaged.sqlite")
        damaged.write_bytes(b"no database at all " * 400)
        for path, words in ((newer, "newer"), (foreign, "no log"), (below, "no log"), (damaged, "is damaged")):
            before = path.read_bytes()
            with self.assertRaisesRegex(OchreError, words):
                Book(path)
            self.assertEqual(path.read_bytes(), before)


class OutAndIn(BookCase):
    def test_a_log_goes_out_and_in_whole(self) -> None:
        made = [cut_and_added().model_copy(update={"picture": bytes(range(256))}), entry({"yellow-ochre": 1.0}, n=2)]
        self.book.put(*made)
        self.book.answer(Answer(uid="answer-0001", at=START, drill="value", level=1, right=True, error=0.1))
        out = self.path.with_name("out.json")
        self.assertEqual(exchange.save_log(self.book, out), 2)
        other = Book.in_memory()
        self.addCleanup(other.close)
        self.assertEqual(exchange.load_log(other, out), 2)
        self.assertEqual(other.entries([e.uid for e in made]), made)
        self.assertEqual(len(other.answers()), 1)
        exchange.load_log(other, out)
        self.assertEqual(other.count(), 2)

    def test_a_table_of_the_piles(self) -> None:
        self.book.put(cut_and_added(), entry({"yellow-ochre": 1.0}, n=2, line="=1+1, “quoted”"))
        out = self.path.with_name("out.csv")
        exchange.save_log(self.book, out)
        import csv

        rows = list(csv.DictReader(out.read_text(encoding="utf-8-sig").splitlines()))
        self.assertEqual(set(rows[0]), set(exchange.LOG_COLUMNS))
        by_name = {r["name"]: r for r in rows}
        self.assertEqual(by_name["Skin 77"]["ml"], "0.7")
        self.assertIn(".10 ml black", by_name["Skin 77"]["what went in"])
        self.assertEqual(by_name["Skin 2"]["line"], "'=1+1, “quoted”", "no spreadsheet runs it")
        (back,) = (
            r["line"] for r in tabled.rows(out.read_text(encoding="utf-8-sig"), "out.csv", ",", 9) if "=" in r["line"]
        )
        self.assertEqual(back, "=1+1, “quoted”")

    def test_what_is_no_log_is_told_and_nothing_taken_in(self) -> None:
        log = exchange.Exchanged(format="ochre-stone-log", tubes=tuple(THEN.values()), piles=(cut_and_added(),))
        good = json.loads(exchange.as_json(log))
        bad = {
            "not.json": (b"{", "no log"),
            "other.json": (b'{"format": "ochre-stone"}', "format"),
            "newer.json": (json.dumps(good | {"version": 99}).encode(), "newer"),
            "short.json": (json.dumps(good | {"tubes": []}).encode(), "no figures"),
            "nan.json": (json.dumps(good).replace('"ml": 0.8', '"ml": -3', 1).encode(), "ml"),
        }
        with Book.in_memory() as empty:
            for name, (data, words) in bad.items():
                path = self.path.with_name(name)
                path.write_bytes(data)
                with self.assertRaisesRegex(OchreError, words):
                    exchange.load_log(empty, path)
                self.assertEqual(empty.count(), 0, name)


if __name__ == "__main__":
    unittest.main()
