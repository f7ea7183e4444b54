"""The log's file: SQLite with a write-ahead log, so that several windows can have it open and a kill loses nothing that
was written."""

import json
import sqlite3
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from pathlib import Path
from typing import Any

import numpy as np
from platformdirs import user_data_path

from ochre_stone.core.colour.spaces import Array, Lab, as_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.mixing.recipe.dose import Dose
from ochre_stone.core.paint.media import MEDIA
from ochre_stone.logbook.entry import LAST, Answer, Cut, Entry, Put, Seen, TubeThen, tube_key
from ochre_stone.logbook.logfile import LogFile

_CELL = 5.0
"""Side of a cell of colour by which piles are found, CIELAB."""
_SIDE = 128
_MOST_CELLS = 3000


def log_file() -> Path:
    """Where the painter's log lies."""
    return user_data_path("ochre-stone") / "log.sqlite"


@dataclass(frozen=True)
class Day:
    """A day on which something was mixed."""

    day: date
    piles: int


@dataclass(frozen=True)
class Past:
    """A pile of the past, in short."""

    uid: str
    project: str
    title: str
    pile: str
    name: str
    begun: float
    lab: Lab
    was_read: bool
    left_ml: float
    left_at: float
    medium: str


class Book(LogFile):
    """A log: its tubes, piles and answers. For one thread."""

    def __init__(self, path: Path | None = None) -> None:
        """Open the log at ``path`` (default: the painter's own), made where there is none; raises OchreError."""
        super().__init__(path or log_file(), ours=path in (None, log_file()))

    def apply(
        self,
        tubes: Iterable[TubeThen] = (),
        removed: Sequence[str] = (),
        put: Sequence[Entry] = (),
        answers: Sequence[Answer] = (),
    ) -> None:
        """Keep tubes, take entries out, keep entries and answers: all of it or nothing. Raises as :meth:`put`."""
        with self._writing() as db:
            self._know(db, tubes)
            self._remove(db, removed)
            known = self._tube_ids()
            for e in put:
                self._put_one(db, e, known)
            self._answer(db, answers)

    # Tubes

    def know(self, tubes: Iterable[TubeThen]) -> None:
        """Keep tubes as they are now; known ones stay as they were."""
        self.apply(tubes=tubes)

    @staticmethod
    def _know(db: sqlite3.Connection, tubes: Iterable[TubeThen]) -> None:
        rows = [(t.tube, t.stamp, t.name, _blob(t.k), _blob(t.s)) for t in tubes]
        db.executemany("INSERT OR IGNORE INTO tube (tube, stamp, name, k, s) VALUES (?, ?, ?, ?, ?)", rows)

    def tubes(self) -> dict[str, TubeThen]:
        """All tubes that were ever mixed with, by their keys."""
        return {t.key: t for _, t in self._tubes()}

    def _tubes(self) -> list[tuple[int, TubeThen]]:
        return self._each(self._rows("SELECT id, tube, stamp, name, k, s FROM tube"), "tube", _tube)

    def _tube_ids(self) -> dict[str, int]:
        return {tube_key(tube, stamp): row for row, tube, stamp in self._rows("SELECT id, tube, stamp FROM tube")}

    # Piles

    def put(self, *entries: Entry) -> None:
        """Keep entries, each in place of the one with its uid. Raises OchreError for a tube that is not known."""
        self.apply(put=entries)

    def _put_one(self, db: sqlite3.Connection, e: Entry, known: dict[str, int]) -> None:
        lacking = {key for p in e.puts for key, _ in p.dose.shares if key not in known}
        if lacking:
            what = f"The pile '{e.name}' holds '{min(lacking)}'"
            raise OchreError(f"{what}, of which the log has no figures: add the tube.")
        db.execute(
            "INSERT INTO project (uid, title) VALUES (?, ?) ON CONFLICT (uid) DO UPDATE SET title = excluded.title",
            (e.project, e.title),
        )
        project = db.execute("SELECT id FROM project WHERE uid = ?", (e.project,)).fetchone()[0]
        db.execute("DELETE FROM pile WHERE uid = ?", (e.uid,))
        lab = e.came_out
        place = (*lab, _cell(lab)) if lab is not None else (None, None, None, None)
        row = db.execute(
            "INSERT INTO pile (uid, project, pile, number, name, origin, begun, finished, medium, palette,"
            " target, planned, planned_ml, planned_minutes, predicted, left_ml, left_at, dried, dried_at, line,"
            " picture, l, a, b, cell, was_read) VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?)",
            (
                e.uid,
                project,
                e.pile,
                e.number,
                e.name,
                e.origin,
                e.begun,
                e.finished,
                e.medium,
                e.palette,
                _text(e.target),
                json.dumps(e.planned),
                e.planned_ml,
                e.planned_minutes,
                _text(e.predicted),
                e.left_ml,
                e.left_at,
                _text(e.dried),
                e.dried_at,
                e.line,
                e.picture,
                *place,
                int(e.was_read),
            ),
        ).lastrowid
        for n, p in enumerate(e.puts):
            put = db.execute(
                "INSERT INTO put (pile, place, at, supply, name, parts, ml, error, within, first)"
                " VALUES (?,?,?,?,?,?,?,?,?,?)",
                (row, n, p.at, p.dose.source, p.dose.name, p.parts, p.ml, p.dose.error, p.dose.within, int(p.first)),
            ).lastrowid
            once: dict[str, float] = {}
            for key, share in p.dose.shares:
                once[key] = once.get(key, 0.0) + share
            db.executemany("INSERT INTO share VALUES (?,?,?)", [(put, known[key], v) for key, v in once.items()])
        db.executemany(
            "INSERT INTO cut (pile, at, place, keep) VALUES (?,?,?,?)", [(row, c.at, c.place, c.keep) for c in e.cuts]
        )
        db.executemany(
            "INSERT INTO seen (pile, at, place, l, a, b, noise, how, said, gloss) VALUES (?,?,?,?,?,?,?,?,?,?)",
            [(row, s.at, s.place, *s.lab, s.noise, s.how, s.said, s.gloss) for s in e.seen],
        )

    def remove(self, uids: Sequence[str]) -> None:
        """Take entries out; projects without any go with them."""
        self.apply(removed=uids)

    @staticmethod
    def _remove(db: sqlite3.Connection, uids: Sequence[str]) -> None:
        if uids:
            db.executemany("DELETE FROM pile WHERE uid = ?", [(u,) for u in uids])
            db.execute("DELETE FROM project WHERE id NOT IN (SELECT project FROM pile)")

    def clear(self) -> None:
        """Take everything out, practice too."""
        with self._writing() as db:
            for table in ("project", "tube", "answer"):
                db.execute(f"DELETE FROM {table}")

    def entries(self, uids: Sequence[str]) -> list[Entry]:
        """Entries in full, in the order asked for; unknown ones are left out."""
        names = {row: tube.key for row, tube in self._tubes()}
        return [e for e in self._each([(uid,) for uid in uids], "pile", lambda r: self._entry(r[0], names)) if e]

    def _entry(self, uid: str, names: dict[int, str]) -> Entry | None:
        rows = self._rows(
            "SELECT p.id, j.uid, j.title, p.pile, p.number, p.name, p.origin, p.begun, p.finished, p.medium,"
            " p.palette,"
            " p.target, p.planned, p.planned_ml, p.planned_minutes, p.predicted, p.left_ml, p.left_at, p.dried,"
            " p.dried_at, p.line, p.picture FROM pile p JOIN project j ON j.id = p.project WHERE p.uid = ?",
            (uid,),
        )
        if not rows:
            return None
        row = rows[0]
        at = row[0]
        shares: dict[int, list[tuple[str, float]]] = {}
        for put, tube, share in self._rows(
            "SELECT s.put, s.tube, s.share FROM share s JOIN put p ON p.id = s.put WHERE p.pile = ? ORDER BY s.put",
            (at,),
        ):
            shares.setdefault(put, []).append((names[tube], share))
        puts = self._rows(
            "SELECT id, at, supply, name, parts, ml, error, within, first FROM put WHERE pile = ? ORDER BY place", (at,)
        )
        cuts = self._rows("SELECT at, place, keep FROM cut WHERE pile = ? ORDER BY id", (at,))
        seen = self._rows(
            "SELECT at, place, l, a, b, noise, how, said, gloss FROM seen WHERE pile = ? ORDER BY id", (at,)
        )
        return Entry(
            uid=uid,
            project=row[1],
            title=row[2],
            pile=row[3],
            number=row[4],
            name=row[5],
            origin=row[6],
            begun=row[7],
            finished=row[8],
            medium=row[9],
            palette=row[10],
            target=_lab(row[11]),
            planned=tuple((i, v) for i, v in json.loads(row[12])),
            planned_ml=row[13],
            planned_minutes=row[14],
            predicted=_lab(row[15]),
            left_ml=row[16],
            left_at=row[17],
            dried=_lab(row[18]),
            dried_at=row[19],
            line=row[20],
            picture=row[21],
            puts=tuple(
                Put(at=p[1], dose=Dose(tuple(shares[p[0]]), p[5], p[6], p[2], p[7], p[3]), parts=p[4], first=bool(p[8]))
                for p in puts
            ),
            cuts=tuple(Cut(at=c[0], place=c[1], keep=c[2]) for c in cuts),
            seen=tuple(
                Seen(at=s[0], place=s[1], lab=(s[2], s[3], s[4]), noise=s[5], how=s[6], said=s[7], gloss=s[8])
                for s in seen
            ),
        )

    def of_pile(self, project: str, pile: str, number: int) -> list[str]:
        """Uids of the entries of a pile of the plan, the newest first."""
        found = self._rows(
            "SELECT p.uid FROM pile p JOIN project j ON j.id = p.project WHERE j.uid = ? AND p.pile = ?"
            " AND p.number = ? ORDER BY p.begun DESC",
            (project, pile, number),
        )
        return [uid for (uid,) in found]

    def listed(
        self, day: date | None = None, project: str | None = None, count: int = 200, before: float = 1e11
    ) -> list[Past]:
        """Piles in short, the newest first: of a day (in local time), of a project, begun before a time."""
        where, values = ["p.begun < ?"], [before]
        more: list[object] = []
        if day is not None:
            start = datetime(day.year, day.month, day.day).timestamp()
            end = datetime.combine(day + timedelta(days=1), datetime.min.time()).timestamp()
            where.append("p.begun >= ? AND p.begun < ?")
            more += [start, end]
        if project is not None:
            where.append("j.uid = ?")
            more.append(project)
        return self._pasts(f"WHERE {' AND '.join(where)} ORDER BY p.begun DESC LIMIT ?", (*values, *more, count))

    def near(self, lab: Lab, within: float, count: int = 200) -> list[Past]:
        """Piles whose colour lies within a cube of CIELAB about a colour, the nearest in CIELAB first, so many at most.

        Cost: a look at each cell of 5 units; many small ones are asked for at once.
        """
        low, high = (np.array(lab) - within, np.array(lab) + within)
        cells = _cells(low, high)
        if len(cells) > _MOST_CELLS:
            raise ValueError("that is too far around: ask for less")
        marks = ",".join("?" * len(cells))
        far = "(p.l - ?) * (p.l - ?) + (p.a - ?) * (p.a - ?) + (p.b - ?) * (p.b - ?)"
        twice = [v for v in lab for _ in range(2)]
        found = self._pasts(f"WHERE p.cell IN ({marks}) ORDER BY {far} LIMIT ?", (*cells, *twice, count))
        return [p for p in found if (np.abs(np.array(p.lab) - np.array(lab)) <= within).all()]

    def leftovers(self, since: float) -> list[Past]:
        """Piles of which something was left at ``since`` or later, the newest first."""
        return self._pasts("WHERE p.left_ml > 0 AND p.left_at >= ? ORDER BY p.left_at DESC LIMIT 500", (since,))

    def _pasts(self, rest: str, values: Sequence[object]) -> list[Past]:
        found = self._rows(
            "SELECT p.uid, j.uid, j.title, p.pile, p.name, p.begun, p.l, p.a, p.b, p.was_read, p.left_ml, p.left_at,"
            f" p.medium FROM pile p JOIN project j ON j.id = p.project {rest}",
            values,
        )
        return self._each(found, "pile", _past)

    def count(self) -> int:
        """How many piles there are."""
        return int(self._rows("SELECT count(*) FROM pile")[0][0])

    def days(self, count: int = 120) -> list[Day]:
        """Days on which something was mixed, in local time, the newest first."""
        found = self._rows(
            "SELECT date(begun, 'unixepoch', 'localtime') AS day, count(*) FROM pile GROUP BY day ORDER BY day DESC"
            " LIMIT ?",
            (count,),
        )
        return self._each(found, "day", lambda r: Day(date.fromisoformat(r[0]), int(r[1])))

    def projects(self) -> list[tuple[str, str, int]]:
        """Uid, title and number of piles of each project, the one worked on last first."""
        found = self._rows(
            "SELECT j.uid, j.title, count(*) FROM project j JOIN pile p ON p.project = j.id GROUP BY j.id"
            " ORDER BY max(p.begun) DESC"
        )
        return [(str(uid), str(title), int(n)) for uid, title, n in found]

    def read_lately(self, count: int = 60) -> list[str]:
        """Uids of the piles that were read by figures, the newest first."""
        return [
            uid
            for (uid,) in self._rows(
                "SELECT p.uid FROM pile p WHERE p.id IN"
                " (SELECT pile FROM seen WHERE how <> 'words' ORDER BY at DESC LIMIT ?) ORDER BY p.begun DESC"
                " LIMIT ?",
                (20 * count, count),
            )
        ]

    # Practice

    def answer(self, *answers: Answer) -> None:
        """Keep answers; one that is known stays as it is."""
        self.apply(answers=answers)

    @staticmethod
    def _answer(db: sqlite3.Connection, answers: Iterable[Answer]) -> None:
        rows = [(a.uid, a.at, a.drill, a.level, int(a.right), a.error, a.told) for a in answers]
        db.executemany(
            "INSERT OR IGNORE INTO answer (uid, at, drill, level, right, error, told) VALUES (?,?,?,?,?,?,?)", rows
        )

    def answers(self, drill: str | None = None, count: int = 5000) -> list[Answer]:
        """Answers in the order of time, the last ``count`` of them."""
        where = "WHERE drill = ?" if drill is not None else ""
        found = self._rows(
            f"SELECT uid, at, drill, level, right, error, told FROM answer {where} ORDER BY at DESC LIMIT ?",
            (*([drill] if drill is not None else []), count),
        )
        return self._each(reversed(found), "answer", _answered)


def _past(r: tuple[Any, ...]) -> Past:
    begun, left, at = float(r[5]), float(r[10] or 0.0), float(r[11] or 0.0)
    lab = float(r[6] or 0.0), float(r[7] or 0.0), float(r[8] or 0.0)
    if not (0 <= begun <= LAST and 0 <= lab[0] <= 200 and abs(lab[1]) <= 300 and abs(lab[2]) <= 300):
        raise ValueError("no pile was ever so")
    uid, project, title, pile, name, medium = (str(r[i]) for i in (0, 1, 2, 3, 4, 12))
    if medium not in MEDIA:
        raise ValueError("there is no such medium")
    return Past(uid, project, title, pile, name, begun, lab, bool(r[9]), left, at, medium)


def _tube(r: tuple[Any, ...]) -> tuple[int, TubeThen]:
    return int(r[0]), TubeThen(tube=r[1], stamp=r[2], name=r[3], k=_row(r[4]), s=_row(r[5]))


def _answered(r: tuple[Any, ...]) -> Answer:
    return Answer(uid=r[0], at=r[1], drill=r[2], level=r[3], right=bool(r[4]), error=r[5], told=r[6])


def _blob(values: Sequence[float]) -> bytes:
    return np.asarray(values, dtype="<f8").tobytes()


def _row(blob: bytes) -> tuple[float, ...]:
    return tuple(np.frombuffer(blob, dtype="<f8").tolist())


def _text(lab: Lab | None) -> str | None:
    return None if lab is None else json.dumps(list(lab))


def _lab(text: str | None) -> Lab | None:
    return None if text is None else as_lab(np.array(json.loads(text)))


def _index(values: Array) -> list[int]:
    return [int(v) for v in np.clip(np.floor(values / _CELL) + _SIDE // 2, 0, _SIDE - 1)]


def _cell(lab: Lab) -> int:
    x, y, z = _index(np.array(lab))
    return (x * _SIDE + y) * _SIDE + z


def _cells(low: Array, high: Array) -> list[int]:
    first, last = _index(low), _index(high)
    spans = [range(a, b + 1) for a, b in zip(first, last, strict=True)]
    return [(x * _SIDE + y) * _SIDE + z for x in spans[0] for y in spans[1] for z in spans[2]]
