"""Writing tables: CSV, XLSX and JSON Lines, such that reading them gives the same values again."""

from __future__ import annotations

import csv
import io
import json
import tempfile
import zipfile
from collections.abc import Iterable, Iterator, Mapping, Sequence
from pathlib import Path
from typing import Any, Literal

from sealpacket.core.controls import without_controls
from sealpacket.core.tables.reading import TableFault, guarded

Format = Literal["csv", "xlsx", "jsonl"]
Record = Mapping[str, Any]
_BLOCK = 1 << 16


def write_table(
    records: Iterable[Record], fields: Sequence[str], form: Format, kind: str
) -> Iterator[bytes]:
    """The file of one kind of record, in pieces. CSV is UTF-8 with a byte order mark, as spreadsheets want it."""
    if form == "jsonl":
        yield from _json_lines(kind, records)
    elif form == "csv":
        yield from _csv(records, fields)
    else:
        yield from _workbook([(kind, fields, records)])


def write_everything(
    parts: Iterable[tuple[str, Sequence[str], Iterable[Record]]], form: Format
) -> Iterator[bytes]:
    """One file of all kinds of record, given as (kind, fields, records): a zip of CSV files, a workbook, or lines."""
    if form == "jsonl":
        for kind, _fields, records in parts:
            yield from _json_lines(kind, records)
    elif form == "xlsx":
        yield from _workbook(parts)
    else:
        with tempfile.TemporaryFile() as file:
            with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as archive:
                for kind, fields, records in parts:
                    with archive.open(f"{kind}.csv", "w", force_zip64=True) as member:
                        for block in write_table(records, fields, "csv", kind):
                            member.write(block)
            file.seek(0)
            while block := file.read(_BLOCK):
                yield block


def _json_lines(kind: str, records: Iterable[Record]) -> Iterator[bytes]:
    for record in records:
        yield (json.dumps({"kind": kind, **record}, ensure_ascii=False) + "\n").encode()


def _csv(records: Iterable[Record], fields: Sequence[str]) -> Iterator[bytes]:
    text = io.StringIO("\ufeff")
    text.seek(
        1
    )  # the mark is in the first piece, which is not there before the first record: that may be a refusal
    writer = csv.writer(text)
    writer.writerow(fields)
    for record in records:
        writer.writerow([guarded(_cell(record.get(field))) for field in fields])
        if text.tell() > _BLOCK:
            yield text.getvalue().encode()
            text.seek(0)
            text.truncate()
    yield text.getvalue().encode()


def _cell(value: Any) -> str:
    if isinstance(value, str):
        return value
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, list):
        items = [_item(item) for item in value]
        plain = all(
            item and not set(item) & set(";|\n[") and item == item.strip() for item in items
        )
        return (
            "; ".join(items)
            if (plain and len(items) != 1) or (plain and "," not in items[0])
            else json.dumps(value)
        )
    return str(value)


def _item(item: Any) -> str:
    if isinstance(item, Mapping):
        return f"{item['serial']}@{item.get('from_on') or '..'}/{item.get('until_on') or '..'}"
    return str(item)


def _fitting(text: str, kind: str, field: str) -> str:
    if len(text) > 32_767:
        raise TableFault(
            f"The {field} of one {kind} are too long for a cell of a workbook.",
            "Export as CSV or JSON Lines.",
        )
    return text


def _workbook(parts: Iterable[tuple[str, Sequence[str], Iterable[Record]]]) -> Iterator[bytes]:
    """A workbook, written row by row to a file of its own: it takes no more memory than a row."""
    from xlsxwriter import Workbook

    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder, "book.xlsx")
        options = {"constant_memory": True, "tmpdir": folder, "strings_to_urls": False}
        with Workbook(path, options) as book:
            for kind, fields, records in parts:
                sheet = book.add_worksheet(kind[:_LONGEST_NAME])
                sheet.freeze_panes(1, 0)
                for place, field in enumerate(fields):
                    sheet.write_string(0, place, field)
                for row, record in enumerate(records, 1):
                    if row == _MOST_ROWS:
                        raise TableFault(
                            f"A workbook holds {_MOST_ROWS - 1:,} rows at most, and there are more.",
                            "Narrow the list, or export as CSV or JSON Lines.",
                        )
                    for place, field in enumerate(fields):
                        _write_cell(sheet, row, place, record.get(field), kind, field)
        with path.open("rb") as file:
            while block := file.read(_BLOCK):
                yield block


_LONGEST_NAME, _MOST_ROWS = 31, 1 << 20


def _write_cell(sheet: Any, row: int, place: int, value: Any, kind: str, field: str) -> None:
    """Numbers as numbers, all else as text, whatever it looks like."""
    if value is None or value == "":
        return
    if isinstance(value, int | float) and not isinstance(value, bool):
        sheet.write_number(row, place, value)
    else:
        text = without_controls(_fitting(_cell(value), kind, field))
        sheet.write_string(row, place, text)
