"""Tables as spreadsheets really hold them."""

from __future__ import annotations

import io
import json
import re
import zipfile
from datetime import date, datetime
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import Workbook

from sealpacket.core.tables import (
    CellFault,
    Field,
    TableFault,
    date_order_of,
    guarded,
    guess_mapping,
    open_table,
    reading,
    understand,
    unguarded,
    write_everything,
    write_table,
)

ROWS = [["Serial", "Name", "Installed"], ["A-1", "Zähler; groß", "31.12.2025"], ["A-2", "two", ""]]
WANTED = (
    ["Serial", "Name", "Installed"],
    [["A-1", "Zähler; groß", "31.12.2025"], ["A-2", "two", ""]],
)


def as_text(separator: str) -> str:
    lines = [
        separator.join(f'"{cell}"' if separator in cell else cell for cell in row) for row in ROWS
    ]
    return "\r\n".join(lines) + "\r\n"


def read(path: Path, part: str = "") -> tuple[list[str], list[list[Any]]]:
    table = open_table(path, part)
    return table.headings, [cells for _, cells in table.rows]


@pytest.mark.parametrize("separator", [",", ";", "\t", "|"])
@pytest.mark.parametrize(
    "encoding", ["utf-8", "utf-8-sig", "utf-16", "utf-16-le", "utf-16-be", "cp1252"]
)
def test_csv_in_every_encoding_and_separator(tmp_path: Path, separator: str, encoding: str) -> None:
    path = tmp_path / "table.csv"
    path.write_bytes(as_text(separator).encode(encoding))
    assert read(path) == WANTED


def test_a_separator_hint_and_titles_above_the_headings_are_left(tmp_path: Path) -> None:
    path = tmp_path / "table.csv"
    path.write_text("sep=;\nList of machines\n\n" + as_text(";"))
    assert read(path) == WANTED
    numbers = [number for number, _ in open_table(path).rows]
    assert numbers == [5, 6], "rows are numbered as a spreadsheet shows them"


def test_a_workbook_with_dates_numbers_and_several_sheets(tmp_path: Path) -> None:
    book = Workbook()
    book.active.title = "cover"
    sheet = book.create_sheet("assets")
    sheet.append(["Serial", "Installed", "Cost", "Contract"])
    sheet.append(["A-1", datetime(2025, 12, 31), 11.5, 4471.0])
    book.save(tmp_path / "book.xlsx")
    assert read(tmp_path / "book.xlsx", "Assets") == (
        ["Serial", "Installed", "Cost", "Contract"], [["A-1", datetime(2025, 12, 31), 11.5, 4471]],
    )  # fmt: skip
    with pytest.raises(TableFault, match="no sheet named sites"):
        open_table(tmp_path / "book.xlsx", "sites")


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"", "empty"), (b"\xef\xbb\xbf\r\n", "empty"), (b"PK\x03\x04nonsense", "damaged"),
        (b"\xd0\xcf\x11\xe0\xa1\xb1", "old binary form"), (b'{"a": 1}\nnonsense\n', "Line 2 is not a JSON"),
        (b'{"a": 1}\n{"b": 1}\n', "Line 2 has the field b"), (b'{"a": 1}\n[1]\n', "not a JSON object"),
    ],
)  # fmt: skip
def test_what_is_no_table_says_so(tmp_path: Path, content: bytes, says: str) -> None:
    path = tmp_path / "file"
    path.write_bytes(content)
    with pytest.raises(TableFault, match=says) as caught:
        read(path)
    assert caught.value.remedy


def test_a_bomb_is_not_opened(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    assert reading.LARGEST_CONTENT == 2_000_000_000
    monkeypatch.setattr(reading, "LARGEST_CONTENT", 20_000_000)
    path = tmp_path / "bomb.zip"
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
        for number in range(3):
            archive.writestr(f"{number}.csv", bytes(7_000_000))
    with pytest.raises(TableFault, match="far too large"):
        open_table(path)


DAY, WHOLE, MONEY = Field("starts_on", "date"), Field("grace_days", "whole"), Field("cost", "money")
YES, LIST, TEXT = Field("on_call", "yes"), Field("host_names", "list"), Field("number", "text")
STATUS = Field("status", "choice", choices=("in_use", "spare"))


@pytest.mark.parametrize(
    ("cell", "order", "expected"),
    [
        ("2026-03-04", "day", "2026-03-04"), ("03/04/2026", "day", "2026-04-03"), ("03/04/2026", "month", "2026-03-04"),
        ("31/12/2026", "month", "2026-12-31"), ("12/31/2026", "day", "2026-12-31"), ("4.3.26", "day", "2026-03-04"),
        ("04-Mar-2026", "day", "2026-03-04"), ("4 March 2026", "day", "2026-03-04"), ("March 4, 2026", "day", "2026-03-04"),
        ("4. März 2026", "day", "2026-03-04"), ("20260304", "day", "2026-03-04"), (46085, "day", "2026-03-04"),
        ("46085", "day", "2026-03-04"), (46085.5, "day", "2026-03-04"), (datetime(2026, 3, 4, 9), "day", "2026-03-04"),
        (date(2026, 3, 4), "day", "2026-03-04"), ("2026-03-04T00:00:00Z", "day", "2026-03-04"), ("n/a", "day", None),
        ("2026/3/4", "month", "2026-03-04"), ("", "day", None), ("-", "day", None),
    ],
)  # fmt: skip
def test_dates_in_every_spelling(cell: Any, order: Any, expected: str | None) -> None:
    assert understand(cell, DAY, order) == expected


@pytest.mark.parametrize("cell", ["31.02.2026", "soon", 12, "2026", "#N/A", "13/13/2026", True])
def test_what_is_no_date_is_told(cell: Any) -> None:
    with pytest.raises(CellFault):
        understand(cell, DAY, "day")


@pytest.mark.parametrize(
    ("cell", "expected"),
    [("11,840.00", 11840.0), ("11.840,00", 11840.0), ("£ 11 840", 11840.0), ("1.184", 1184.0), ("0.184", 0.184), ("1,5", 1.5),
     ("12'000.50", 12000.5), ("(250)", -250.0), (99.5, 99.5), ("1.184.000", 1184000.0), ("EUR 7,25", 7.25)],
)  # fmt: skip
def test_amounts_as_people_write_them(cell: Any, expected: float) -> None:
    assert understand(cell, MONEY, "day") == pytest.approx(expected)


@pytest.mark.parametrize(
    ("cell", "field", "expected"),
    [
        ("30", WHOLE, 30), (30.0, WHOLE, 30), ("Yes", YES, True), ("x", YES, True), ("nein", YES, False), (True, YES, True),
        ("a; b ;", LIST, ["a", "b"]), ("a, b", LIST, ["a", "b"]), ("a\nb,c", LIST, ["a", "b,c"]), ('["a;b"]', LIST, ["a;b"]),
        ("In use", STATUS, "in_use"), ("SPARE", STATUS, "spare"), (4471.0, TEXT, "4471"), ("\u00a0x ", TEXT, "x"),
        ("S@2026-03-01/..", Field("l", "listings"), [{"serial": "S", "from_on": "2026-03-01", "until_on": None}]),
    ],
)  # fmt: skip
def test_cells_are_understood(cell: Any, field: Field, expected: Any) -> None:
    assert understand(cell, field, "day") == expected


@pytest.mark.parametrize(
    ("cell", "field"),
    [("1.5", WHOLE), ("many", WHOLE), ("perhaps", YES), ("broken", STATUS), ("[1, 2", LIST), ("S 2026", Field("l", "listings"))],
)  # fmt: skip
def test_cells_that_fit_no_field_say_why(cell: Any, field: Field) -> None:
    with pytest.raises(CellFault, match=r"."):
        understand(cell, field, "day")


@pytest.mark.parametrize(
    ("cells", "order"),
    [
        (["03/04/2026", "31/04/2026"], "day"),
        (["03/04/2026", "04/28/2026"], "month"),
        (["03/04/2026", None, 5], None),
    ],
)
def test_the_order_of_dates_is_seen_from_those_without_doubt(
    cells: list[Any], order: str | None
) -> None:
    assert date_order_of(cells) == order


def test_columns_are_matched_by_name_by_custom_and_by_likeness() -> None:
    headings = [
        "S/N",
        "Part Number",
        "Location",
        "Manufacturer",
        "Firmware",
        "Instaled on",
        "Colour",
    ]
    fields = ["vendor", "product", "serial", "name", "site", "software_version", "installed_on"]
    assert guess_mapping(headings, fields, {}) == {
        "serial": "S/N", "product": "Part Number", "site": "Location", "vendor": "Manufacturer",
        "software_version": "Firmware", "installed_on": "Instaled on",
    }  # fmt: skip
    remembered = guess_mapping(headings, fields, {"name": "Colour", "site": "Gone"})
    assert (remembered["name"], remembered["site"]) == ("Colour", "Location")


RECORDS = [
    {"serial": "=1+1", "names": ["a", "b"], "on": True, "days": 3, "day": "2026-03-01", "listings": []},
    {"serial": "'=x", "names": ["a,b"], "on": False, "days": None, "day": None,
     "listings": [{"serial": "S", "from_on": "2026-03-01", "until_on": None}]},
    {"serial": "0042", "names": [], "on": True, "days": -1, "day": None, "listings": []},
]  # fmt: skip
KINDS = {
    "serial": TEXT,
    "names": LIST,
    "on": YES,
    "days": WHOLE,
    "day": DAY,
    "listings": Field("l", "listings"),
}


@pytest.mark.parametrize("form", ["csv", "xlsx", "jsonl"])
def test_what_was_written_reads_the_same(tmp_path: Path, form: Any) -> None:
    path = tmp_path / f"things.{form}"
    path.write_bytes(b"".join(write_table(RECORDS, list(KINDS), form, "things")))
    headings, rows = read(path)
    again = [
        {h: understand(c, KINDS[h], "day") for h, c in zip(headings, cells, strict=True)}
        for cells in rows
    ]
    assert again == [{k: v if v != [] else None for k, v in record.items()} for record in RECORDS]


@pytest.mark.parametrize("form", ["csv", "xlsx", "jsonl"])
def test_everything_in_one_file_is_read_by_its_part(tmp_path: Path, form: Any) -> None:
    path = tmp_path / "everything"
    parts = [(name, ["serial"], [{"serial": f"{name}-1"}]) for name in ("assets", "sites")]
    path.write_bytes(b"".join(write_everything(parts, form)))
    assert read(path, "sites") == (["serial"], [["sites-1"]])


def test_a_spreadsheet_takes_no_cell_for_a_formula() -> None:
    text = b"".join(write_table(RECORDS[:1], ["serial"], "csv", "things")).decode("utf-8-sig")
    assert "'=1+1" in text
    content = b"".join(write_table(RECORDS[:1], ["serial"], "xlsx", "things"))
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        assert b"<f>" not in archive.read("xl/worksheets/sheet1.xml")


@pytest.mark.parametrize("cell", ["＝1+1", "a;=1+1", "a\n=1+1", "a\t@sum", "+44;-1"])
def test_no_part_of_a_cell_is_a_formula_either(cell: str) -> None:
    parts = re.split("[;\t\n]", guarded(cell))
    assert not any(part[0] in "=+-@＝" for part in parts)
    assert unguarded(guarded(cell)) == cell


@given(st.text(st.sampled_from("a'=+-@＝;\t\n ")))
def test_every_guard_comes_off_again(cell: str) -> None:
    assert unguarded(guarded(cell)) == cell


def test_what_no_workbook_cell_holds_is_refused_before_anything_is_written() -> None:
    with pytest.raises(TableFault, match="too long"):
        list(write_table([{"serials": ["S" * 40_000]}], ["serials"], "xlsx", "entitlements"))


words = (
    st.text(st.characters(blacklist_categories=("Cs", "Cc")), max_size=20)
    .map(str.strip)
    .filter(lambda word: not word.startswith("#"))  # a spreadsheet's own error is not a word
)


@given(
    st.lists(st.lists(words.filter(bool), max_size=4), min_size=1, max_size=5),
    st.sampled_from(["csv", "jsonl"]),
)
def test_lists_of_any_words_survive(lists: list[list[str]], form: Any) -> None:
    content = b"".join(
        write_table(
            [{"key": "k", "names": names} for names in lists], ["key", "names"], form, "things"
        )
    )
    lines = content.decode("utf-8-sig")
    if form == "jsonl":
        assert [json.loads(line)["names"] for line in lines.splitlines()] == lists
        return
    import csv

    cells = [row[1] for row in csv.reader(io.StringIO(lines))][1:]
    assert [understand(unguarded(cell), LIST, "day") or [] for cell in cells] == lists
