"""Opening a table whatever holds it: CSV in any common encoding and separator, XLSX, JSON Lines, or a zip of these.

Rows are read one by one; nothing holds a whole table. Archives are opened with limits, against bombs.
"""

from __future__ import annotations

import codecs
import csv
import io
import json
import re
import zipfile
from collections.abc import Iterable, Iterator
from contextlib import suppress
from dataclasses import dataclass
from itertools import chain
from pathlib import Path
from typing import IO, Any

MOST_ROWS = 1_000_000
MOST_COLUMNS = 300
LONGEST_CELL = 4_000_000
LARGEST_CONTENT = 2_000_000_000
_SEPARATORS = ",;\t|"
_LOOK = 1 << 16
_HEAD = 20

csv.field_size_limit(LONGEST_CELL)  # for the whole process, so set once and not by the first table

_FORMULA = re.compile(r"(^|[;\t\r\n])('*[=+\-@＝＋－＠])")
_BEGINNINGS = frozenset("'=+-@＝＋－＠")
_SEPARATOR = re.compile(r"[;\t\r\n]")
_GUARDED = re.compile(r"(^|[;\t\r\n])'('*[=+\-@＝＋－＠])")

Cells = list[Any]


class TableFault(Exception):
    """The file is not a readable table; the message says why, `remedy` what to do."""

    def __init__(self, sentence: str, remedy: str) -> None:
        super().__init__(sentence)
        self.remedy = remedy


@dataclass(frozen=True)
class Table:
    """Headings, and the rows below them, each with its number in the file as a spreadsheet shows it."""

    headings: list[str]
    rows: Iterator[tuple[int, Cells]]


def open_table(path: Path, part: str = "") -> Table:
    """The table in a file. `part` names the sheet, archive member or kind where the file holds several.

    Raises TableFault if there is none, or none that can be read.
    """
    with path.open("rb") as file:
        head = file.read(_LOOK)
    if not head.strip(b"\0 \r\n\t\xef\xbb\xbf\xff\xfe"):
        raise TableFault("The file is empty.", "Export it again from where it came from.")
    if head.startswith(b"PK\x03\x04"):
        return _open_zip(path, part)
    if head.startswith(b"\xd0\xcf\x11\xe0"):
        raise TableFault(
            "This is a workbook of the old binary form.", "Save it as XLSX or CSV, then try again."
        )
    if head.lstrip(b"\xef\xbb\xbf \r\n\t").startswith(b"{"):
        return _json_lines(path.open("rb"), part)
    return _csv(path.open("rb"), head)


def _open_zip(path: Path, part: str) -> Table:
    try:
        archive = zipfile.ZipFile(path)
    except zipfile.BadZipFile as error:
        raise TableFault(
            "The file is damaged: it is no whole archive.", "Export it again."
        ) from error
    infos = archive.infolist()
    if sum(info.file_size for info in infos) > LARGEST_CONTENT or len(infos) > 10_000:
        raise TableFault(
            "The file would be far too large when opened.", "Cut it into several files."
        )
    names = {info.filename for info in infos}
    if "xl/workbook.xml" in names:
        return _workbook(path, part)
    wanted = [name for name in sorted(names) if Path(name).stem == part] if part else sorted(names)
    found = next((name for name in wanted if name.endswith((".csv", ".jsonl"))), None)
    if found is None:
        raise TableFault(
            f"The archive holds no table{f' named {part}' if part else ''}.",
            "Import one CSV or XLSX file.",
        )
    with archive.open(found) as member:
        head = member.read(_LOOK)
    if found.endswith(".jsonl"):
        return _json_lines(archive.open(found), part)
    return _csv(archive.open(found), head)


def _workbook(path: Path, part: str) -> Table:
    from openpyxl import load_workbook

    try:
        book = load_workbook(path.open("rb"), read_only=True, data_only=True, keep_links=False)
    except Exception as error:
        raise TableFault(
            "The workbook cannot be read.", "Save it as XLSX again, without a password."
        ) from error
    names = book.sheetnames
    name = next((n for n in names if n.casefold() == part.casefold()), None) if part else None
    if name is None and len(names) > 1 and part:
        raise TableFault(
            f"The workbook has no sheet named {part}.", f"It has {', '.join(names[:20])}."
        )
    sheet = book[name or names[0]]
    sheet.reset_dimensions()

    def rows() -> Iterator[tuple[int, Cells]]:
        for number, row in enumerate(sheet.iter_rows(values_only=True), 1):
            yield number, [_whole(cell) for cell in row[:MOST_COLUMNS]]

    return _with_headings(rows())


def _whole(cell: Any) -> Any:
    """Numbers that a workbook keeps as 4471.0 are 4471."""
    return int(cell) if isinstance(cell, float) and cell.is_integer() and abs(cell) < 1e15 else cell


def _csv(file: IO[bytes], head: bytes) -> Table:
    encoding = _encoding(file, head)
    file.seek(0)
    text = io.TextIOWrapper(file, encoding=encoding, newline="", errors="strict")
    sample = text.read(_LOOK)
    first = sample.split("\n", 1)[0].strip()
    hinted = first[4:] if first[:4].lower() == "sep=" and len(first) == 5 else ""
    separator = hinted or _separator(sample)
    text.seek(0)
    reader = csv.reader(text, delimiter=separator, strict=False)

    def rows() -> Iterator[tuple[int, Cells]]:
        try:
            for number, row in enumerate(reader, 1):
                if not (hinted and number == 1):
                    yield number, [unguarded(cell) for cell in row[:MOST_COLUMNS]]
        except (csv.Error, UnicodeError) as error:
            raise TableFault(
                f"Line {reader.line_num} cannot be read: {error}.",
                "Save the file as CSV in UTF-8 again.",
            ) from error

    return _with_headings(rows())


def guarded(cell: str) -> str:
    """A spreadsheet would take such a cell for a formula and act on it: it is marked as text.

    So is each part of a cell that some spreadsheets would cut it into: many take semicolons for separators.
    """
    if cell[:1] not in _BEGINNINGS and _SEPARATOR.search(cell) is None:
        return cell
    return _FORMULA.sub(r"\1'\2", cell)


def unguarded(cell: str) -> str:
    """The guard of `guarded` taken off again."""
    return _GUARDED.sub(r"\1\2", cell) if "'" in cell else cell


def _encoding(file: IO[bytes], head: bytes) -> str:
    for mark, name in (
        (codecs.BOM_UTF8, "utf-8-sig"),
        (codecs.BOM_UTF16_LE, "utf-16"),
        (codecs.BOM_UTF16_BE, "utf-16"),
    ):
        if head.startswith(mark):
            return name
    if len(head) >= 4 and head[1::2].count(0) > len(head) // 4:
        return "utf-16-le"
    if len(head) >= 4 and head[::2].count(0) > len(head) // 4:
        return "utf-16-be"
    decoder = codecs.getincrementaldecoder("utf-8")()
    file.seek(0)
    with suppress(UnicodeDecodeError):
        while block := file.read(1 << 20):
            decoder.decode(block)
        decoder.decode(b"", final=True)
        return "utf-8"
    return "cp1252"


def _separator(sample: str) -> str:
    """The separator that cuts the first lines into the most columns, evenly."""
    lines = sample.splitlines()[:_HEAD]

    def evenness(separator: str) -> tuple[float, int]:
        with suppress(csv.Error):
            widths = [len(row) for row in csv.reader(lines, delimiter=separator) if row]
            usual = max(set(widths), key=widths.count) if widths else 1
            return (widths.count(usual) / max(len(widths), 1) if usual > 1 else 0.0, usual)
        return 0.0, 0

    best = max(_SEPARATORS, key=evenness)
    return best if evenness(best)[1] > 1 else ","


def _with_headings(rows: Iterator[tuple[int, Cells]]) -> Table:
    """The headings are the first row that is about as wide as the widest of the first rows; titles above are left."""
    first: list[tuple[int, Cells]] = []
    for number, cells in rows:
        if any(not _is_empty(cell) for cell in cells):
            first.append((number, cells))
        if len(first) == _HEAD:
            break
    if not first:
        raise TableFault("The table has no rows.", "Check that it is the right sheet.")
    width = max(_filled(cells) for _, cells in first)
    place = next(i for i, (_, cells) in enumerate(first) if _filled(cells) * 2 >= width)
    headings = ["" if _is_empty(cell) else " ".join(str(cell).split()) for cell in first[place][1]]
    while headings and not headings[-1]:
        headings.pop()

    return Table(headings, _below(chain(first[place + 1 :], rows)))


def _below(rows: Iterable[tuple[int, Cells]]) -> Iterator[tuple[int, Cells]]:
    """The rows that are not empty. Raises TableFault for too many."""
    count = 0
    for number, cells in rows:
        if all(_is_empty(cell) for cell in cells):
            continue
        count += 1
        if count > MOST_ROWS:
            raise TableFault(
                f"The table has more than {MOST_ROWS} rows.", "Cut it into several files."
            )
        yield number, cells


def _filled(cells: Cells) -> int:
    return sum(not _is_empty(cell) for cell in cells)


def _is_empty(cell: Any) -> bool:
    return cell is None or (isinstance(cell, str) and not cell.strip())


def _objects(file: IO[bytes], part: str) -> Iterator[tuple[int, dict[str, Any]]]:
    for number, line in enumerate(io.TextIOWrapper(file, encoding="utf-8-sig"), 1):
        if not line.strip():
            continue
        try:
            body = json.loads(line)
        except (ValueError, RecursionError) as error:
            raise TableFault(
                f"Line {number} is not a JSON object.", "Give one object in each line."
            ) from error
        if not isinstance(body, dict) or len(body) > MOST_COLUMNS:
            raise TableFault(
                f"Line {number} is not a JSON object.", "Give one object in each line."
            )
        if not part or body.get("kind", part) == part:
            yield number, {name: value for name, value in body.items() if name != "kind"}


def _json_lines(file: IO[bytes], part: str) -> Table:
    found = _objects(file, part)
    first = next(found, None)
    if first is None:
        about = f" about {part}" if part else ""
        raise TableFault(f"The file has no line{about}.", "Check that it is the right file.")
    headings = list(first[1])

    def rows() -> Iterator[tuple[int, Cells]]:
        for number, body in chain([first], found):
            unknown = [name for name in body if name not in headings]
            if unknown:
                raise TableFault(
                    f"Line {number} has the field {unknown[0]}, which the first line has not.",
                    "Give every line the same fields.",
                )
            yield number, [body.get(name) for name in headings]

    return Table(headings, rows())
