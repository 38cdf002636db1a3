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
        yield b"\xef\xbb\xbf"
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
    text = io.StringIO()
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
    from openpyxl import Workbook

    book = Workbook(write_only=True)
    try:
        for kind, fields, records in parts:
            sheet = book.create_sheet(kind)
            sheet.freeze_panes = "A2"
            sheet.append(list(fields))
            for record in records:
                sheet.append(
                    [_workbook_cell(sheet, record.get(field), kind, field) for field in fields]
                )
    except TableFault:
        for sheet in book.worksheets:
            sheet.close()
        raise
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder, "book.xlsx")
        book.save(path)
        with path.open("rb") as file:
            while block := file.read(_BLOCK):
                yield block


def _workbook_cell(sheet: Any, value: Any, kind: str, field: str) -> Any:
    """Numbers as numbers, all else as text, whatever it looks like."""
    from openpyxl.cell import WriteOnlyCell

    if isinstance(value, int) and not isinstance(value, bool):
        return WriteOnlyCell(sheet, value)
    cell = WriteOnlyCell(sheet, without_controls(_fitting(_cell(value), kind, field)))
    cell.data_type = "s"
    return cell
