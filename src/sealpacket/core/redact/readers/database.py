"""SQLite files: built anew row by row, so that no free page, no old row and no hidden table goes along."""

from __future__ import annotations

import shutil
import sqlite3
import tempfile
from pathlib import Path
from typing import IO, Any

from sealpacket.core.redact.engine import Held
from sealpacket.core.redact.readers.base import BLOCK, Work, blocks_of, spool
from sealpacket.core.redact.readers.packed import Inner
from sealpacket.core.redact.readers.text import looks_like_text, number_like

_STEP = 2000


def read_sqlite(source: IO[bytes], target: IO[bytes], work: Work, inner: Inner, label: str) -> None:
    """Every table with its rows, every view and index; virtual tables and broken files hold it."""
    folder = Path(tempfile.mkdtemp(prefix="sealpacket-"))
    try:
        with (folder / "in.db").open("wb") as file:
            shutil.copyfileobj(source, file, BLOCK)
        _copy(folder / "in.db", folder / "out.db", work, inner)
        with (folder / "out.db").open("rb") as file:
            for block in blocks_of(file):
                target.write(block)
    except sqlite3.Error as error:
        raise Held(f"The SQLite file is broken ({type(error).__name__}).") from error
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def _copy(came: Path, goes: Path, work: Work, inner: Inner) -> None:
    old = sqlite3.connect(f"file:{came}?mode=ro&immutable=1", uri=True)
    new = sqlite3.connect(goes)
    try:
        old.text_factory = bytes
        old.execute("PRAGMA trusted_schema = OFF")
        new.execute("PRAGMA trusted_schema = OFF")
        rows = old.execute(
            "SELECT type, name, tbl_name, sql FROM sqlite_master WHERE sql IS NOT NULL"
        ).fetchall()
        made = [tuple((part or b"").decode("utf-8", "replace") for part in row) for row in rows]
        if any(sql.upper().startswith("CREATE VIRTUAL") for _, _, _, sql in made):
            raise Held("It has virtual tables, which cannot be looked into.")
        tables = [
            (name, sql)
            for kind, name, _, sql in made
            if kind == "table" and not name.startswith("sqlite_")
        ]
        for name, sql in tables:
            new.execute(work.words(sql) if work.words(name) == name else sql)
            _rows(old, new, name, work, inner)
        for kind, _, _, sql in made:
            if kind in ("index", "view"):
                new.execute(work.words(sql))
        new.commit()
    finally:
        old.close()
        new.close()


def _rows(old: Any, new: Any, table: str, work: Work, inner: Inner) -> None:
    quoted = '"' + table.replace('"', '""') + '"'
    reading = old.execute(f"SELECT * FROM {quoted}")  # noqa: S608 - a quoted name from the file's own schema
    columns = [
        part[0].decode() if isinstance(part[0], bytes) else part[0] for part in reading.description
    ]
    slots = ", ".join("?" * len(columns))
    while rows := reading.fetchmany(_STEP):
        clean = [
            [_value(name, value, work, inner) for name, value in zip(columns, row, strict=True)]
            for row in rows
        ]
        new.executemany(f"INSERT INTO {quoted} VALUES ({slots})", clean)  # noqa: S608


def _value(column: str, value: Any, work: Work, inner: Inner) -> Any:
    if value is None or isinstance(value, float):
        return value
    if isinstance(value, int):
        text = f"{column}={value}".encode()
        spans = work.run.spans(text) if len(str(value)) >= 4 else []
        return int(number_like(str(value).encode(), spans[0].instead)) if spans else value
    data = bytes(value)
    work.count(len(data))
    if looks_like_text(data[:BLOCK]):
        return _cell(column, data, work).decode("utf-8", "replace")
    with spool() as plain, spool() as copy:
        plain.write(data)
        plain.seek(0)
        inner(plain, copy, work.inside(), f"{column}.bin")
        copy.seek(0)
        return copy.read()


def _cell(column: str, data: bytes, work: Work) -> bytes:
    """A cell beside its column's name, which may tell what it is."""
    head = f"{column}=".encode()
    together = work.run.text(head + data)
    return together[len(head) :] if together.startswith(head) else work.run.text(data)
