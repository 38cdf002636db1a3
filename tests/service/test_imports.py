"""Imports over the real service: preview, apply, undo; what is exported comes back without a change."""

from __future__ import annotations

import csv
import io
from itertools import count
from pathlib import Path
from typing import Any

import pytest

from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import ImportRow, ImportShown

numbers = count(1)


class Bench:
    """A vendor of its own, with a product, and a folder for files."""

    def __init__(self, house: SealPacket, folder: Path) -> None:
        self.house, self.folder = house, folder
        self.vendor = house.vendors.add(key=f"bench-{next(numbers)}", name="Bench").key
        house.products.add(vendor=self.vendor, part_number="B-1", name="Bench one")

    def file(self, *rows: str, name: str = "list.csv") -> Path:
        path = self.folder / name
        path.write_text("\n".join(rows) + "\n")
        return path

    def preview(self, kind: str, *rows: str, **choices: Any) -> ImportShown:
        fixed = {"vendor": self.vendor, **choices.pop("fixed", {})}
        begun = self.house.imports.begin(kind, self.file(*rows), fixed=fixed, **choices)
        return self.house.imports.wait(begun.id)

    def apply(self, kind: str, *rows: str, **choices: Any) -> ImportShown:
        found = self.preview(kind, *rows, **choices)
        self.house.imports.apply(found.id)
        return self.house.imports.wait(found.id)

    def undo(self, ident: str) -> ImportShown:
        self.house.imports.undo(ident)
        return self.house.imports.wait(ident)

    def rows(self, found: ImportShown, outcome: str = "") -> list[ImportRow]:
        return list(self.house.imports.rows(found.id, outcome))

    def asset(self, serial: str) -> Any:
        return next(
            item
            for item in self.house.assets.list(serial, vendor=self.vendor)
            if item.serial == serial
        )


@pytest.fixture
def bench(marit: SealPacket, tmp_path: Path) -> Bench:
    """An empty bench."""
    return Bench(marit, tmp_path)


def caught(call: Any) -> Refused:
    """The problem of a call that has to fail."""
    with pytest.raises(Refused) as refusal:
        call()
    return refusal.value


def counts(found: ImportShown) -> tuple[int, int, int, int]:
    """new, changed, unchanged, rejected"""
    assert found.state in ("ready", "applied", "undone"), found.status_text
    return found.counts.new, found.counts.changed, found.counts.unchanged, found.counts.rejected


def test_a_preview_says_what_each_row_would_do_and_changes_nothing(bench: Bench) -> None:
    bench.house.assets.add(
        vendor=bench.vendor, product="B-1", serial="A-1", name="one", site="book-store"
    )
    bench.house.assets.add(vendor=bench.vendor, product="B-1", serial="A-2", name="two")
    found = bench.preview(
        "asset", "S/N;Part No;Label;Location;Installed;Colour", "A-1;B-1;uno;Nowhere Lane;;red", "A-2;B-1;two;;;blue",
        "A-3;B-1;three;Quay Street;31.12.2025;", "A-4;B-9;;;;", "A-5;B-1;;;31.02.2025;", ";B-1;nobody;;;", "A-3;B-1;again;;;",
    )  # fmt: skip
    assert counts(found) == (1, 0, 1, 5)
    assert found.mapping == {
        "serial": "S/N",
        "product": "Part No",
        "name": "Label",
        "site": "Location",
        "installed_on": "Installed",
    }
    told = {
        row.row: [fault.sentence for fault in row.faults] for row in bench.rows(found, "rejected")
    }
    assert told == {
        2: ["There is no site Nowhere Lane in the register. Add the site first."],
        5: ["There is no product B-9 in the register. Add the product first."],
        6: ["Installed “31.02.2025” is not a calendar day."],
        7: ["serial is missing: it tells the asset apart."],
        8: ["An earlier row is about A-3 already."],
    }
    new = bench.rows(found, "new")[0]
    assert new.body
    assert (new.called, new.body["installed_on"], new.body["vendor"]) == (
        "A-3",
        "2025-12-31",
        bench.vendor,
    )
    assert new.body["site"] == "quay-street", (
        "sites, vendors and people may be called by their names"
    )
    assert bench.asset("A-1").name == "one"
    assert [asset.serial for asset in bench.house.assets.list(vendor=bench.vendor)] == [
        "A-1",
        "A-2",
    ]


def test_applied_changes_are_told_field_by_field_and_can_be_undone(bench: Bench) -> None:
    bench.house.assets.add(
        vendor=bench.vendor, product="B-1", serial="A-1", name="one", site="book-store"
    )
    before = bench.asset("A-1")
    rows = ("serial,product,name,site,host_names", "A-1,B-1,uno,quay-street,h1;h2", "A-2,B-1,new,,")
    found = bench.apply("asset", *rows)
    assert (found.state, counts(found)) == ("applied", (1, 1, 0, 0))
    changed = bench.rows(found, "changed")[0]
    assert [(item.field, item.old, item.new) for item in changed.changes] == [
        ("name", "one", "uno"), ("site", "book-store", "quay-street"), ("host_names", [], ["h1", "h2"]),
    ]  # fmt: skip
    now = bench.asset("A-1")
    assert (now.name, now.site, now.stays[0].site) == ("uno", "quay-street", "book-store")
    assert [item.act for item in bench.house.assets.history(now.id).items] == ["imported", "added"]
    assert counts(bench.preview("asset", *rows)) == (0, 0, 2, 0), (
        "the same file again changes nothing"
    )
    assert bench.undo(found.id).state == "undone"
    kept = {"version", "updated_at"}
    assert bench.asset("A-1").model_dump(exclude=kept) == before.model_dump(exclude=kept)
    assert [asset.serial for asset in bench.house.assets.list(vendor=bench.vendor)] == ["A-1"]


def test_an_undo_that_would_lose_work_is_refused_whole(bench: Bench) -> None:
    found = bench.apply("asset", "serial,product", "A-1,B-1", "A-2,B-1")
    asset = bench.asset("A-2")
    bench.house.assets.change(asset.id, asset.version, notes="moved by hand")
    again = bench.undo(found.id)
    assert (again.state, "Nothing was undone. 1 of the records" in again.status_text) == (
        "applied",
        True,
    )
    later = bench.apply("asset", "serial,product", "A-3,B-1")
    assert caught(lambda: bench.house.imports.undo(found.id)).code == "not-the-last"
    bench.house.packets.note("About it", asset=bench.asset("A-3").id)
    assert "refers to this" in bench.undo(later.id).status_text


def test_a_record_that_changed_since_the_preview_stops_the_whole_import(bench: Bench) -> None:
    asset = bench.house.assets.add(vendor=bench.vendor, product="B-1", serial="A-1", name="one")
    found = bench.preview("asset", "serial,product,name", "A-1,B-1,uno", "A-9,B-1,new")
    bench.house.assets.change(asset.id, asset.version, name="eins")
    bench.house.imports.apply(found.id)
    stopped = bench.house.imports.wait(found.id)
    assert (
        stopped.state,
        "Nothing was applied. Row 2: A-1 has been changed" in stopped.status_text,
    ) == ("ready", True)
    assert [item.serial for item in bench.house.assets.list(vendor=bench.vendor)] == ["A-1"]


def test_columns_chosen_by_hand_are_remembered_for_the_source(bench: Bench) -> None:
    rows = ("Ref,Code,Colour", "A-1,B-1,red")
    first = bench.preview("asset", *rows, source="colour list")
    assert counts(first)[3] == 1
    chosen = bench.house.imports.columns(
        first.id,
        {"serial": "Ref", "product": "Code", "name": "Colour"},
        fixed={"vendor": bench.vendor},
    )
    assert counts(bench.house.imports.wait(chosen.id)) == (1, 0, 0, 0)
    assert (
        caught(lambda: bench.house.imports.columns(first.id, {"serial": "Gone"})).facts["field"]
        == "mapping"
    )
    begun = bench.house.imports.begin("asset", bench.file(*rows), source="colour list")
    assert bench.house.imports.wait(begun.id).mapping == {
        "serial": "Ref",
        "product": "Code",
        "name": "Colour",
    }


def test_rejected_rows_come_back_as_a_file_to_mend(bench: Bench) -> None:
    found = bench.preview(
        "asset", "serial;product;shipped_on", "A-1;B-1;someday", "A-2;B-1;2026-01-01", "=A-3;NOT;"
    )
    path = bench.house.imports.save_rejected(found.id, bench.folder / "rejected.csv")
    rows = list(csv.reader(io.StringIO(path.read_text("utf-8-sig"))))
    assert rows[0] == ["serial", "product", "shipped_on", "What is wrong"]
    assert [row[0] for row in rows[1:]] == ["A-1", "'=A-3"]
    assert "“someday” is not a date" in rows[1][3]
    path.write_text(
        path.read_text("utf-8-sig").replace("someday", "01.02.2026").replace("NOT", "B-1")
    )
    begun = bench.house.imports.begin("asset", path, fixed={"vendor": bench.vendor})
    assert counts(bench.house.imports.wait(begun.id)) == (2, 0, 0, 0)


def test_contracts_bring_money_and_passcodes_that_are_not_shown(bench: Bench) -> None:
    found = bench.apply(
        "contract", "Contract No,Start,End,Price,Curr,PIN", 'C-1,01/04/2026,31/03/2027,"£11,840.50",GBP,larch-4471',
        "C-2,01/04/2026,31/03/2027,1200,JPY,", "C-3,31/03/2027,01/04/2026,,,",
    )  # fmt: skip
    assert counts(found) == (2, 0, 0, 1), [row.faults for row in bench.rows(found, "rejected")]
    one, two = sorted(bench.house.contracts.list(vendor=bench.vendor), key=lambda item: item.number)
    assert (one.cost_minor, one.has_passcode, two.cost_minor, str(one.starts_on)) == (
        1184050,
        True,
        1200,
        "2026-04-01",
    )
    assert "larch" not in str(bench.rows(found))
    again = bench.preview("contract", "number,passcode", "C-1,larch-4471", "C-2,other")
    assert counts(again) == (0, 1, 1, 0)
    assert "other" not in str([row.changes for row in bench.rows(again)])


def test_parts_may_come_before_what_they_sit_in(bench: Bench) -> None:
    found = bench.apply(
        "asset", "serial,product,parent", "A-1,B-1,A-2", "A-2,B-1,A-3", "A-3,B-1,", "A-4,B-1,A-9"
    )
    assert counts(found) == (3, 0, 0, 1)
    assert [bench.asset(serial).carrier for serial in ("A-1", "A-2", "A-3")] == ["A-2", "A-3", None]
    assert bench.undo(found.id).state == "undone"


def test_entitlements_list_serials_some_of_them_for_a_while(bench: Bench) -> None:
    bench.apply("asset", "serial,product", "A-1,B-1", "A-2,B-1")
    bench.apply("contract", "number,start,end", "C-1,2026-01-01,2026-12-31")
    found = bench.apply(
        "entitlement", "contract,reference,level,needs,starts_on,ends_on,serials,listings",
        "C-1,E-1,Care,fault;question,2026-01-01,2026-12-31,A-1,A-2@2026-03-01/..",
        "C-1,E-2,Care,fault,2026-01-01,2026-12-31,A-7,",
    )  # fmt: skip
    assert counts(found) == (1, 0, 0, 1)
    kept = next(iter(bench.house.entitlements.list(vendor=bench.vendor)))
    assert (kept.serials, kept.listings[0].serial, str(kept.listings[0].from_on)) == (
        ["A-1"],
        "A-2",
        "2026-03-01",
    )


@pytest.mark.parametrize("form", ["csv", "xlsx", "jsonl"])
def test_what_was_exported_can_be_imported_again_without_a_change(
    marit: SealPacket, tmp_path: Path, form: str
) -> None:
    for kind, plural in (
        ("asset", "assets"),
        ("contract", "contracts"),
        ("entitlement", "entitlements"),
        ("login", "logins"),
        ("limit", "limits"),
        ("price", "prices"),
        ("licence", "licences"),
        ("release", "releases"),
    ):
        path = marit.export(plural, form, tmp_path / f"{plural}.{form}")
        found = marit.imports.wait(marit.imports.begin(kind, path).id)
        assert (found.state, found.counts.unchanged > 2, counts(found)[0::3], found.counts.changed) == (
            "ready", True, (0, 0), 0,
        ), (kind, [row.faults or row.changes for row in marit.imports.rows(found.id) if row.outcome != "unchanged"][:3])  # fmt: skip


@pytest.mark.parametrize("form", ["csv", "xlsx", "jsonl"])
def test_everything_in_one_file_can_be_imported_kind_by_kind(
    marit: SealPacket, tmp_path: Path, form: str
) -> None:
    path = marit.export("everything", form, tmp_path / "everything")
    assert b"larch-4471" not in path.read_bytes()
    for kind in ("vendor", "person", "site", "product"):
        found = marit.imports.wait(marit.imports.begin(kind, path).id)
        assert counts(found)[:2] == (0, 0)
        assert found.counts.unchanged >= 4
        assert found.counts.rejected == 0


def test_what_is_no_table_fails_with_a_remedy(bench: Bench) -> None:
    path = bench.folder / "picture.xlsx"
    path.write_bytes(b"PK\x03\x04 not really")
    found = bench.house.imports.wait(bench.house.imports.begin("asset", path).id)
    assert found.state == "failed"
    assert "damaged" in found.status_text
    assert caught(lambda: bench.house.imports.apply(found.id)).code == "not-ready"
    assert bench.house.imports.drop(found.id).state == "dropped"


@pytest.mark.parametrize(
    ("query", "field"),
    [
        ({"fixed": "nonsense"}, "fixed"),
        ({"fixed": '{"colour": "red"}'}, "fixed"),
        ({"mapping": "[1]"}, "mapping"),
    ],
)
def test_made_up_choices_are_refused(bench: Bench, query: dict[str, str], field: str) -> None:
    send = bench.house._wire.send
    problem = caught(
        lambda: send(
            "POST",
            "/imports",
            params={"kind": "asset", "name": "x", **query},
            content=b"a,b\n1,2\n",
        )
    )
    assert problem.facts["field"] == field
    assert (
        caught(lambda: bench.house.export("secrets", "csv", bench.folder / "x")).facts["field"]
        == "what"
    )


def test_only_keepers_import(teo: SealPacket, tmp_path: Path) -> None:
    path = tmp_path / "list.csv"
    path.write_text("serial\nA-1\n")
    assert caught(lambda: teo.imports.begin("asset", path)).code == "not-allowed"


def test_many_records_are_changed_alike_after_a_preview(bench: Bench) -> None:
    bench.apply(
        "asset",
        "serial,product,site,status",
        "A-1,B-1,book-store,",
        "A-2,B-1,quay-street,",
        "A-3,B-1,,spare",
    )
    ids = [asset.id for asset in bench.house.assets.list(vendor=bench.vendor)]
    found = bench.house.imports.bulk("asset", ids, site="quay-street", notes="moved in November")
    assert (found.state, found.counts.changed, found.file_name) == ("ready", 3, "3 assets")
    rows = bench.rows(found, "changed")
    assert [[item.field for item in row.changes] for row in rows] == [
        ["site", "notes"],
        ["notes"],
        ["site", "notes"],
    ]
    assert bench.asset("A-1").site == "book-store", "a preview changes nothing"
    bench.house.imports.apply(found.id)
    assert bench.house.imports.wait(found.id).state == "applied"
    assert [bench.asset(f"A-{n}").site for n in (1, 2, 3)] == ["quay-street"] * 3
    assert bench.undo(found.id).state == "undone"
    assert [bench.asset(f"A-{n}").site for n in (1, 2, 3)] == ["book-store", "quay-street", None]


def test_a_bulk_edit_takes_all_that_a_list_shows(bench: Bench) -> None:
    bench.apply("asset", "serial,product,status", "A-1,B-1,spare", "A-2,B-1,", "A-3,B-1,spare")
    found = bench.house.imports.bulk(
        "asset", all_of={"vendor": bench.vendor, "status": "spare"}, status="retired"
    )
    assert found.counts.changed == 2
    wrong = bench.house.imports.bulk("asset", all_of={"vendor": bench.vendor}, site="nowhere")
    assert wrong.counts.rejected == 3
    assert caught(lambda: bench.house.imports.columns(wrong.id, {})).code == "no-columns"
    assert bench.house.imports.drop(wrong.id).state == "dropped"
    assert (
        caught(lambda: bench.house.imports.bulk("asset", ["none"], site="quay-street")).facts[
            "field"
        ]
        == "ids"
    )
    assert (
        caught(lambda: bench.house.imports.bulk("asset", all_of={}, serial="X")).facts["field"]
        == "changes"
    )


def test_what_someone_added_since_the_preview_stops_the_whole_import(bench: Bench) -> None:
    found = bench.preview("asset", "serial,product", "A-1,B-1", "A-2,B-1")
    bench.house.assets.add(vendor=bench.vendor, product="B-1", serial="A-2", name="mine")
    bench.house.imports.apply(found.id)
    stopped = bench.house.imports.wait(found.id)
    assert stopped.state == "ready"
    assert (
        "Nothing was applied. This vendor has an asset with this serial number already."
        in stopped.status_text
    )
    assert [
        (asset.serial, asset.name) for asset in bench.house.assets.list(vendor=bench.vendor)
    ] == [("A-2", "mine")]


def test_an_undo_does_not_take_back_where_someone_moved_it_since(bench: Bench) -> None:
    bench.house.assets.add(vendor=bench.vendor, product="B-1", serial="A-1", site="book-store")
    found = bench.apply("asset", "serial,product,site", "A-1,B-1,quay-street")
    asset = bench.asset("A-1")
    bench.house.assets.change(asset.id, asset.version, site="fennel-lane")
    kept = bench.undo(found.id)
    assert (kept.state, "A-1 has been changed since the import" in kept.status_text) == (
        "applied",
        True,
    )
    assert bench.asset("A-1").site == "fennel-lane"
