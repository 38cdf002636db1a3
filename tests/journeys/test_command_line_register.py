"""The register on the command line: lists come in and go out, days are asked about, the time ahead is told."""

from __future__ import annotations

import csv
import io
import json
import re
import shlex
from datetime import timedelta
from itertools import count
from pathlib import Path

import pytest

from sealpacket.cli.register import _EXAMPLES
from sealpacket.client import SealPacket
from tests.journeys.terminal import Terminal
from tests.some import today

numbers = count(1)


def day(offset: int) -> str:
    return (today() + timedelta(days=offset)).isoformat()


@pytest.fixture
def gates(marit: SealPacket) -> str:
    """A vendor whose two gates are covered until in forty days."""
    vendor = f"gates-{next(numbers)}"
    marit.vendors.add(key=vendor, name=vendor)
    marit.products.add(vendor=vendor, part_number="G", name="Gate")
    for serial in ("1", "2"):
        marit.assets.add(vendor=vendor, product="G", serial=f"{vendor}-{serial}", site="book-store")
    term = {"vendor": vendor, "starts_on": day(-100), "ends_on": day(40)}
    marit.contracts.add(number=f"{vendor}-C", cost_minor=14100, currency="GBP", **term)
    marit.entitlements.add(
        contract=f"{vendor}-C",
        reference=f"{vendor}-E",
        level="Care",
        needs=["fault"],
        serials=[f"{vendor}-1"],
        **term,
    )
    return vendor


def test_cover_of_one_of_some_of_everything_and_over_time(shell: Terminal, gates: str) -> None:
    assert f"Serial {gates}-1 is listed on contract {gates}-C." in shell.run(
        "coverage", f"{gates}-1"
    )
    said = shell.run("coverage", f"{gates}-2", code=3)
    assert "Ruling: none\n" in said.replace("  \n", "\n")
    assert f"Contract {gates}-C covers others of this model" in said
    said = shell.run("coverage", f"{gates}-1", f"{gates}-2", "no-such-gate", code=1)
    assert "2 assets: 1 by support, 1 not covered." in said
    assert "The register has no asset no-such-gate." in said
    assert "1 assets: 1 not covered." in shell.run(
        "coverage", "--everything", "--vendor", gates, "--route", "none"
    )
    lines = shell.run("coverage", "--everything", "--vendor", gates, "--json").splitlines()
    assert [json.loads(line)["route"] for line in lines] == ["support", "none"]
    drawn = shell.run("coverage", f"{gates}-1", "--since", day(-200), "--until", day(200))
    assert re.search(rf"{day(-100)} +{day(40)} +141 +support", drawn)
    assert "▬" in drawn
    assert "×" in drawn
    assert "Name some assets" in shell.run("coverage", code=1)
    assert "A timeline is of one asset." in shell.run(
        "coverage", "a", "b", "--since", day(0), code=1
    )


def test_what_counts_from_a_day_on(shell: Terminal, gates: str) -> None:
    contract, entitlement, gate = f"{gates}-C", f"{gates}-E", f"{gates}-1"
    assert f"from {day(41)} to {day(400)}" in shell.run(
        "contract", "renew", contract, "--until", day(400)
    )
    said = shell.run("entitlement", "amend", entitlement, "level=Better", "--from", day(-10))
    assert f"a new version counts from {day(-10)}" in said
    assert f"at quay-street, since {day(-5)}" in shell.run(
        "asset", "move", gate, "--site", "quay-street", "--from", day(-5)
    )
    assert "Care" in shell.run("coverage", gate, "--day", day(-11))
    assert "Better" in shell.run("coverage", gate, "--day", day(-10))
    assert "Care" in shell.run("coverage", gate, "--day", day(100)), "the next term was made before"
    shell.run("entitlement", "add", f"vendor={gates}", f"contract={contract}", f"reference={gates}-F", "level=Other",
              'needs=["fault"]', f"starts_on={day(-100)}", f"ends_on={day(40)}", f'serials=["{gates}-2"]')  # fmt: skip
    assert f"is listed on {gates}-F from {day(1)}" in shell.run(
        "asset", "transfer", gate, "--out-of", entitlement, "--into", f"{gates}-F", "--from", day(1)
    )
    assert "Other" in shell.run("coverage", gate, "--day", day(1))
    told = shell.run("asset", "history", gate)
    assert "Version 1, added" in told
    assert "site: book-store → quay-street" in told
    assert shell.json("contract", "history", contract)["items"][0]["act"] == "renewed"
    assert "not inside it" in shell.run(
        "entitlement", "amend", entitlement, "level=X", "--from", day(300), code=1
    )


def test_a_list_is_read_applied_and_undone(
    shell: Terminal, gates: str, tmp_path: Path, marit: SealPacket
) -> None:
    path = tmp_path / "gates.csv"
    path.write_text(f"S/N;Part No;Place\n{gates}-1;G;Quay Street\n{gates}-3;G;\n{gates}-4;H;\n")
    said = shell.run("import", "read", "asset", str(path), "--set", f"vendor={gates}", "--column", "site=Place",
                     "--column", "serial=S/N", "--column", "product=Part No", "--apply", code=3)  # fmt: skip
    assert "1 new, 1 changed, 0 unchanged, 1 rejected" in said
    assert f"row 4 {gates}-4: There is no product H in the register." in said
    assert "site book-store → quay-street" in said
    assert "Nothing is in the register yet." in said, (
        "what has rejected rows is not applied at once"
    )
    shell.run("import", "rejected", "--out", str(tmp_path / "mend.csv"))
    rows = list(csv.reader(io.StringIO((tmp_path / "mend.csv").read_text("utf-8-sig"))))
    assert [row[0] for row in rows] == ["S/N", f"{gates}-4"]
    assert "applied" in shell.run("import", "apply")
    assert len(list(marit.assets.list(vendor=gates))) == 3
    assert "gates.csv" in shell.run("import", "list")
    assert "undone" in shell.run("import", "undo")
    assert len(list(marit.assets.list(vendor=gates))) == 2
    assert shell.json("import", "show")["state"] == "undone"


def test_what_is_exported_comes_back_unchanged(shell: Terminal, tmp_path: Path) -> None:
    for name in ("register.xlsx", "register.jsonl", "register.zip"):
        shell.run("export", "everything", str(tmp_path / name))
        said = shell.run("import", "read", "contract", str(tmp_path / name))
        assert re.search(r"0 new, 0 changed, \d+ unchanged, 0 rejected", said), name
    assert "is not a known form" in shell.run(
        "export", "assets", str(tmp_path / "assets.ods"), code=1
    )
    assert "There are no wishes" in shell.run(
        "export", "wishes", str(tmp_path / "wishes.csv"), code=1
    )


def test_the_time_ahead_is_told(shell: Terminal, gates: str) -> None:
    said = shell.run("ahead", "--vendor", gates)
    assert re.search(rf"{gates}-C .* 40 d .*141.00 GBP", said)
    assert f"{gates}-2" in said.split("Not covered")[1]
    assert "Nothing." in shell.run("ahead", "--vendor", gates, "--days", "30")
    assert shell.json("ahead", "--vendor", gates)["counts"]["uncovered"] == 1
    shell.run(
        "contract",
        "add",
        f"vendor={gates}",
        f"number={gates}-D",
        f"starts_on={day(0)}",
        f"ends_on={day(50)}",
    )
    said = shell.run("ahead", "aligned", "--vendor", gates)
    assert f"All to end on {day(50)}" in said
    assert "Together 10.00 GBP" in said
    assert "Fewer than two" in shell.run("ahead", "aligned", f"{gates}-C", code=1)
    assert "/calendar/" in shell.run("ahead", "calendar")
    assert "The address is ended." in shell.run("ahead", "calendar", "--end")
    assert "You get a weekly digest at marit.oswin@quillmere.example." in shell.run(
        "ahead", "tell", "weekly"
    )
    assert "You get no digest by mail." in shell.run("ahead", "tell", "never")


@pytest.mark.parametrize("name", _EXAMPLES)
def test_the_example_of_the_help_works_as_it_stands(shell: Terminal, name: str) -> None:
    """But for what tells a record from those that are there already."""
    own = re.compile(r"^(key|number|reference|part_number|serial)=.*$")
    given = [own.sub(r"\1=try-it-1", one) for one in shlex.split(_EXAMPLES[name])]
    if name == "login":
        given = [one.replace("name=marit", "name=try-it") for one in given]
    given = [one.replace("site=fennel-lane", "site=book-store") for one in given]
    assert f"Added {name}" in shell.run(name, "add", *given)
    assert f"Example: sealpacket {name} add" in " ".join(shell.run(name, "add", "--help").split())
