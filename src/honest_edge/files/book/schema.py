"""How the Book lies in its file: migrations that are only ever added to, and what every connection is set to."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager

APPLICATION_ID = 0x48_45_42_4B  # "HEBK", in the header of every SQLite file that is a Book
BUSY_MS = 5000

MIGRATIONS: tuple[str, ...] = (
    """
    CREATE TABLE events (
        seq INTEGER PRIMARY KEY,
        key TEXT NOT NULL UNIQUE,
        at_ms INTEGER NOT NULL,
        kind TEXT NOT NULL,
        data TEXT NOT NULL,
        previous TEXT NOT NULL UNIQUE,
        hash TEXT NOT NULL UNIQUE
    ) STRICT;
    CREATE INDEX events_by_kind ON events (kind, at_ms);
    CREATE TRIGGER events_stay BEFORE UPDATE ON events BEGIN SELECT RAISE(ABORT, 'events are only added'); END;
    CREATE TRIGGER events_remain BEFORE DELETE ON events BEGIN SELECT RAISE(ABORT, 'events are only added'); END;
    CREATE TABLE runs (
        seq INTEGER PRIMARY KEY REFERENCES events (seq),
        at_ms INTEGER NOT NULL,
        title TEXT NOT NULL,
        stock TEXT NOT NULL,
        machine TEXT NOT NULL,
        printer TEXT NOT NULL,
        sheets INTEGER NOT NULL,
        good INTEGER NOT NULL,
        bad INTEGER NOT NULL,
        reason TEXT NOT NULL,
        forecast REAL,
        sheet_price REAL,
        job TEXT NOT NULL
    ) STRICT;
    CREATE INDEX runs_by_time ON runs (at_ms);
    CREATE TABLE upkeep (name TEXT PRIMARY KEY, at_ms INTEGER NOT NULL) STRICT;
    """,
    """
    ALTER TABLE runs ADD COLUMN blade TEXT NOT NULL DEFAULT '';
    ALTER TABLE runs ADD COLUMN cut_m REAL;
    ALTER TABLE runs ADD COLUMN ink_cm2 REAL;
    ALTER TABLE runs ADD COLUMN minutes REAL;
    ALTER TABLE runs ADD COLUMN setting TEXT NOT NULL DEFAULT '';
    CREATE INDEX runs_by_stock ON runs (stock, machine, at_ms);
    CREATE INDEX runs_by_use ON runs (stock, at_ms, sheets);
    CREATE INDEX runs_by_blade ON runs (blade, at_ms) WHERE blade <> '';
    CREATE TABLE notes (
        seq INTEGER PRIMARY KEY REFERENCES events (seq),
        kind TEXT NOT NULL,
        about TEXT NOT NULL,
        at_ms INTEGER NOT NULL
    ) STRICT;
    CREATE INDEX notes_by_time ON notes (kind, at_ms);
    CREATE INDEX notes_by_subject ON notes (kind, about, at_ms);
    """,
)
"""One step a version. A step that was published is never changed: what it made lies on people's disks."""

VERSION = len(MIGRATIONS)


def set_up(connection: sqlite3.Connection) -> None:
    """Set what SQLite forgets with each connection (https://www.sqlite.org/pragma.html)."""
    for pragma in (
        f"busy_timeout = {BUSY_MS}",
        "journal_mode = WAL",  # a folder on a network keeps its own mode, which is slower and as safe
        "synchronous = FULL",
        "foreign_keys = ON",
        "cell_size_check = ON",
        "trusted_schema = OFF",
    ):
        connection.execute(f"PRAGMA {pragma}")


def migrate(connection: sqlite3.Connection) -> None:
    """Bring a Book to this version, all steps or none."""
    with transaction(connection):
        (version,) = connection.execute("PRAGMA user_version").fetchone()
        for step in MIGRATIONS[version:]:
            for statement in _statements(step):
                connection.execute(statement)
        connection.execute(f"PRAGMA user_version = {VERSION}")
        connection.execute(f"PRAGMA application_id = {APPLICATION_ID}")


@contextmanager
def transaction(connection: sqlite3.Connection) -> Iterator[None]:
    """Do all that is written within, or none of it."""
    connection.execute("BEGIN IMMEDIATE")
    try:
        yield
        connection.execute("COMMIT")
    except BaseException:
        if connection.in_transaction:  # a full disk ends it by itself
            connection.execute("ROLLBACK")
        raise


def _statements(step: str) -> list[str]:
    """Return a step's statements one by one: all at once would end the transaction they stand in."""
    statements, begun = [], ""
    for line in step.splitlines(keepends=True):
        begun += line
        if sqlite3.complete_statement(begun):
            statements.append(begun)
            begun = ""
    return statements
