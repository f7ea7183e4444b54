"""The log's tables, and how older ones are brought up to the present."""

import sqlite3

from ochre_stone.core.errors import OchreError

APPLICATION = 0x0C4E0106
"""Marks the file as a log of this program's (PRAGMA application_id)."""

_FIRST = """
CREATE TABLE project (id INTEGER PRIMARY KEY, uid TEXT NOT NULL UNIQUE, title TEXT NOT NULL) STRICT;
CREATE TABLE tube (
    id INTEGER PRIMARY KEY, tube TEXT NOT NULL, stamp TEXT NOT NULL, name TEXT NOT NULL,
    k BLOB NOT NULL, s BLOB NOT NULL, UNIQUE (tube, stamp)
) STRICT;
CREATE TABLE pile (
    id INTEGER PRIMARY KEY, uid TEXT NOT NULL UNIQUE, project INTEGER NOT NULL REFERENCES project ON DELETE CASCADE,
    pile TEXT NOT NULL, number INTEGER NOT NULL, name TEXT NOT NULL, origin TEXT NOT NULL, begun REAL NOT NULL,
    finished REAL, medium TEXT NOT NULL, palette TEXT NOT NULL, target TEXT, planned TEXT NOT NULL,
    planned_ml REAL NOT NULL, planned_minutes REAL NOT NULL, predicted TEXT, left_ml REAL, left_at REAL, dried TEXT,
    dried_at REAL, line TEXT NOT NULL, picture BLOB NOT NULL, l REAL, a REAL, b REAL, cell INTEGER,
    was_read INTEGER NOT NULL
) STRICT;
CREATE INDEX pile_begun ON pile (begun);
CREATE INDEX pile_cell ON pile (cell);
CREATE INDEX pile_project ON pile (project, pile, number);
CREATE INDEX pile_left ON pile (left_at) WHERE left_ml > 0;
CREATE TABLE put (
    id INTEGER PRIMARY KEY, pile INTEGER NOT NULL REFERENCES pile ON DELETE CASCADE, place INTEGER NOT NULL,
    at REAL NOT NULL,
    supply TEXT NOT NULL, name TEXT NOT NULL, parts REAL NOT NULL, ml REAL NOT NULL, error REAL NOT NULL,
    within REAL NOT NULL, first INTEGER NOT NULL, UNIQUE (pile, place)
) STRICT;
CREATE TABLE share (
    put INTEGER NOT NULL REFERENCES put ON DELETE CASCADE, tube INTEGER NOT NULL REFERENCES tube, share REAL NOT NULL,
    PRIMARY KEY (put, tube)
) STRICT, WITHOUT ROWID;
CREATE INDEX share_tube ON share (tube);
CREATE TABLE cut (
    id INTEGER PRIMARY KEY, pile INTEGER NOT NULL REFERENCES pile ON DELETE CASCADE, at REAL NOT NULL,
    place INTEGER NOT NULL,
    keep REAL NOT NULL
) STRICT;
CREATE INDEX cut_pile ON cut (pile);
CREATE TABLE seen (
    id INTEGER PRIMARY KEY, pile INTEGER NOT NULL REFERENCES pile ON DELETE CASCADE, at REAL NOT NULL,
    place INTEGER NOT NULL,
    l REAL NOT NULL, a REAL NOT NULL, b REAL NOT NULL, noise REAL NOT NULL, how TEXT NOT NULL, said TEXT NOT NULL
) STRICT;
CREATE INDEX seen_pile ON seen (pile);
CREATE INDEX seen_at ON seen (at);
"""
_SECOND = """
CREATE TABLE answer (
    id INTEGER PRIMARY KEY, uid TEXT NOT NULL UNIQUE, at REAL NOT NULL, drill TEXT NOT NULL, level REAL NOT NULL,
    right INTEGER NOT NULL, error REAL NOT NULL, told TEXT NOT NULL
) STRICT;
CREATE INDEX answer_drill ON answer (drill, at);
"""
_THIRD = """
ALTER TABLE seen ADD COLUMN gloss REAL NOT NULL DEFAULT 0.3;
UPDATE tube SET stamp = '1' WHERE stamp = ''
"""
"""Readings of before were taken as of satin paint, and generic pigments had the figures of the first edition."""
MIGRATIONS = (_FIRST, _SECOND, _THIRD)
"""What makes each version from the one before; the version is kept as PRAGMA user_version."""
SCHEMA_VERSION = len(MIGRATIONS)


def check_schema(db: sqlite3.Connection, name: str) -> int:
    """The version of a log, 0 for an empty file. Raises OchreError for a newer one, or a file of another program."""
    version = int(db.execute("PRAGMA user_version").fetchone()[0])
    if version > SCHEMA_VERSION:
        raise OchreError(f"The log '{name}' was written by a newer Ochre Stone: update the program to use it.")
    if version < 0 or (version == 0 and db.execute("SELECT count(*) FROM sqlite_schema").fetchone()[0]):
        raise OchreError(f"'{name}' is no log of Ochre Stone's: move it away, and a new one is begun.")
    return version


def bring_up(db: sqlite3.Connection, name: str) -> None:
    """Make the tables, or bring older ones up to the present, whole or not at all.

    Raises OchreError as :func:`look_at`.
    """
    if check_schema(db, name) == SCHEMA_VERSION:
        return
    db.execute("BEGIN IMMEDIATE")
    try:
        for n in range(check_schema(db, name), SCHEMA_VERSION):  # another window may have been first
            for statement in MIGRATIONS[n].split(";"):
                if statement.strip():
                    db.execute(statement)
        db.execute(f"PRAGMA application_id = {APPLICATION}")
        db.execute(f"PRAGMA user_version = {SCHEMA_VERSION}")
        db.execute("COMMIT")
    except BaseException:
        db.execute("ROLLBACK")
        raise
