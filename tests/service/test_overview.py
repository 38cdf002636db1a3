"""The overview counts what lists show; lists are taken out as files, as they are narrowed."""

from __future__ import annotations

import csv
import io
import json
import zipfile
from datetime import UTC, date, datetime, timedelta
from pathlib import Path
from urllib.parse import parse_qsl

import openpyxl
import pytest
from sqlalchemy import select

from sealpacket.app.context import AppContext
from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import Overview, OverviewNumber, PacketShown
from sealpacket.store.models import Packet
from tests.conftest import ARRAY, GOOD_ANSWERS, Tarnfell, lodge


def table(found: Overview, part: str) -> dict[str, dict[str, OverviewNumber]]:
    """The numbers of a part by row and name."""
    (one,) = [one for one in found.parts if one.part == part]
    return {row.name: {number.name: number for number in row.numbers} for row in one.rows}


def behind(marit: SealPacket, number: OverviewNumber) -> list[str]:
    """The numbers of the packets behind a number."""
    given = {{"q": "query"}.get(name, name): value for name, value in parse_qsl(number.packets)}
    return [one.number for one in marit.packets.list(**given)]  # type: ignore[arg-type]


@pytest.fixture
def gone(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell, inside: AppContext
) -> list[str]:
    """Packets of all sorts: one that was asked about, one that was refused, one answered late, one draft."""
    tarnfell.steer(case=lodged.reference, ask="Which firmware do both controllers run?")
    marit.packets.follow(lodged.number)
    refused = marit.packets.note("The array is refused", "It stops each night.", asset=ARRAY)
    marit.packets.answer(refused.number, **GOOD_ANSWERS)
    tarnfell.steer(refuse="not_entitled")
    assert lodge(marit, refused.number).life == "refused"
    tarnfell.steer(refuse=None)
    late = marit.packets.note("The array answers late", "It stops each night.", asset=ARRAY)
    marit.packets.answer(late.number, **GOOD_ANSWERS)
    reference = lodge(marit, late.number).reference
    with inside.database.transaction() as session:
        packet = session.scalars(select(Packet).where(Packet.number == late.number)).one()
        packet.lodged_at = datetime.now(UTC) - timedelta(hours=30)
        packet.turns[0].at = packet.lodged_at
    tarnfell.steer(case=reference, state="REMEDY_SENT", say="The replica is paused now.")
    marit.packets.follow(late.number)
    marit.packets.contest(late.number, "It still stops.")
    draft = marit.packets.note("A draft", asset=ARRAY)
    return [lodged.number, refused.number, late.number, draft.number]


def test_numbers_are_those_of_the_lists_behind_them(marit: SealPacket, gone: list[str]) -> None:
    asked, refused, late, draft = gone
    found = marit.overview()
    counted = set()
    for part in found.parts:
        for row in part.rows:
            for number in row.numbers:
                if number.unit == "packets" and number.packets:
                    assert len(behind(marit, number)) == number.value, (part.part, row.name, number)
                    counted.add(part.part)
    assert counted == {one.part for one in found.parts} - {"ratings"}
    parts = {one.part: table(found, one.part) for one in found.parts}
    assert draft in behind(marit, parts["open"]["Tarnfell Storage"]["up to a day"])
    assert asked in behind(marit, parts["questions"]["Tarnfell Storage"]["asked back"])
    assert refused in behind(marit, parts["refusals"]["Tarnfell Storage, not_entitled"]["refused"])
    assert late in behind(marit, parts["answers"]["Tarnfell Storage"]["contested"])
    promises = next(row for name, row in parts["promises"].items() if "badly hindered" in name)
    assert late in behind(marit, promises["first answer late"])
    assert promises["first answer in time"].value is not None
    month = f"{datetime.now(UTC):%b %Y}"
    assert set(gone) <= set(behind(marit, parts["flow"][month]["noted"]))


def test_periods_and_limits_count(marit: SealPacket, gone: list[str]) -> None:
    before = marit.overview(since=date(2020, 1, 1), until=date(2020, 3, 1), part="flow")
    (flow,) = before.parts
    assert [row.name for row in flow.rows][0] == "week of 30 Dec 2019"
    assert all(number.value == 0 for row in flow.rows for number in row.numbers)
    other = marit.overview(vendor="lumenlathe", part="questions")
    assert other.parts[0].rows == []
    for wrong, said in (
        ({"since": date(2026, 2, 1), "until": date(2026, 1, 1)}, "ends before it begins"),
        ({"since": date(2000, 1, 1)}, "too long"),
        ({"vendor": "nobody-such"}, "nobody-such"),
    ):
        with pytest.raises(Refused, match=said):
            marit.overview(**wrong)  # type: ignore[arg-type]


def rows_of(path: Path) -> list[dict[str, str]]:
    return list(csv.DictReader(io.StringIO(path.read_text("utf-8-sig"))))


def test_a_narrowed_list_is_taken_out(marit: SealPacket, gone: list[str], tmp_path: Path) -> None:
    marit.packets.change(gone[3], title="=cmd|'/c calc'!A1")
    wanted = [one.number for one in marit.packets.list(vendor="tarnfell", sort="number")]
    table = rows_of(
        marit.packets.export(tmp_path / "p.csv", "csv", vendor="tarnfell", sort="number")
    )
    assert [row["number"] for row in table] == wanted
    assert {row["asset_serial"] for row in table} == {ARRAY}
    assert not any(cell.startswith("=") for row in table for cell in row.values())
    book = openpyxl.load_workbook(
        marit.packets.export(tmp_path / "p.xlsx", "xlsx", vendor="tarnfell", sort="number")
    )
    head, *cells = book["packets"].iter_rows(values_only=True)
    assert [row[head.index("number")] for row in cells] == wanted
    titles = [cell for cell in book["packets"]["B"] if str(cell.value).startswith("=cmd")]
    assert [cell.data_type for cell in titles] == ["s"], "no formula"
    lines = marit.packets.export(tmp_path / "p.jsonl", "jsonl", life="refused").read_text()
    given = [json.loads(line) for line in lines.splitlines()]
    assert gone[1] in [one["number"] for one in given]
    assert {one["life"] for one in given} == {"refused"}
    with pytest.raises(Refused, match="not sorted by"):
        marit.packets.export(tmp_path / "p.csv", sort="colour")
    actions = [one.action for one in marit.custody("list packets", limit=5)]
    assert "list exported" in actions


def test_every_list_is_taken_out(marit: SealPacket, gone: list[str], tmp_path: Path) -> None:
    many = len(marit.packets.list(refused_as="not_entitled"))
    overview = rows_of(marit.export_overview(tmp_path / "o.csv", part="refusals"))
    assert [(row["number"], float(row["value"])) for row in overview] == [("refused", many)]
    ahead = marit.export_ahead(tmp_path / "a.zip", days=365)
    assert "ending.csv" in zipfile.ZipFile(ahead).namelist()
    covered = rows_of(marit.export_coverage(tmp_path / "c.csv", vendor="tarnfell"))
    assert ARRAY in {row["serial"] for row in covered}
    custody = rows_of(marit.export_custody(tmp_path / "l.csv", subject=f"packet {gone[0]}"))
    assert "packet sealed" in {row["action"] for row in custody}
    assets = rows_of(marit.export("assets", "csv", tmp_path / "r.csv", vendor="tarnfell"))
    assert {row["vendor"] for row in assets} == {"tarnfell"}
    with pytest.raises(Refused, match="exported whole"):
        marit.export("everything", "csv", tmp_path / "r.zip", vendor="tarnfell")
