"""A vendor's statement beside the register: compared, accepted either way, or turned into a packet."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, timedelta
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest

from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import DifferenceShown, StatementShown
from tests.some import today

START, END = today() - timedelta(days=100), today() + timedelta(days=200)
HEAD = "Serial No;Contract No;Level;Start;End;Site;Part No"
Row = tuple[str, ...]


class Desk:
    """A vendor of the test's own with three covered things, and statements about them."""

    def __init__(self, client: SealPacket, folder: Path) -> None:
        self.client, self.folder = client, folder
        self.key = f"v{uuid4().hex[:8]}"
        self.contract = f"C-{self.key}"
        client.vendors.add(key=self.key, name=f"Vendor {self.key}")
        client.products.add(vendor=self.key, part_number="P1", name="Thing")
        self.serials = [f"{self.key.upper()}-{number}" for number in (3000, 4107, 5211)]
        for serial in self.serials:
            client.assets.add(vendor=self.key, product="P1", serial=serial, site="fennel-lane")
        client.contracts.add(
            vendor=self.key, number=self.contract, starts_on=str(START), ends_on=str(END)
        )
        client.entitlements.add(
            vendor=self.key, contract=self.contract, reference=f"E-{self.key}", level="Care", needs=["fault"],
            starts_on=str(START), ends_on=str(END), serials=self.serials,
        )  # fmt: skip

    def row(self, serial: str, **other: str) -> str:
        """A line that agrees with the register, but for what is given."""
        said = {"contract": self.contract, "level": "Care", "starts": f"{START:%d.%m.%Y}", "ends": f"{END:%d.%m.%Y}",
                "site": "Fennel Lane", "product": "P1", **other}  # fmt: skip
        return ";".join((serial, *said.values()))

    def send(
        self, *rows: str, head: str = HEAD, mapping: dict[str, str] | None = None
    ) -> StatementShown:
        path = self.folder / f"{uuid4().hex}.csv"
        path.write_text("\n".join((head, *rows)), encoding="utf-8")
        return self.client.statements.wait(
            self.client.statements.send(self.key, path, mapping=mapping).id
        )

    def differences(self, statement: StatementShown) -> list[DifferenceShown]:
        return list(self.client.statements.differences(statement.id))

    def entitlement(self) -> Any:
        return self.client.entitlements.get(f"E-{self.key}")

    def told(self, statement: StatementShown) -> list[tuple[str, str, list[str]]]:
        return [(one.sort, one.serial, one.fields) for one in self.differences(statement)]


@pytest.fixture
def desk(marit: SealPacket, tmp_path: Path) -> Desk:
    return Desk(marit, tmp_path)


def taken(desk: Desk, *rows: str) -> StatementShown:
    """A statement of which everything is accepted as theirs."""
    statement = desk.send(*rows)
    numbers = [one.number for one in desk.differences(statement)]
    return desk.client.statements.decide(statement.id, numbers, "theirs")


def test_a_statement_that_agrees_has_no_differences(desk: Desk) -> None:
    statement = desk.send(*map(desk.row, desk.serials))
    assert (statement.state, statement.counts.agreeing, statement.undecided) == ("ready", 3, 0)
    assert statement.mapping["serial"] == "Serial No"


def test_every_sort_of_difference_is_told(desk: Desk) -> None:
    one, two, three = desk.serials
    statement = desk.send(
        desk.row(one.replace("3000", "30O0")),
        desk.row(two, level="Extended care", site="Bellfield"),
        desk.row("X-77119"),
    )
    assert sorted(desk.told(statement)) == [
        ("differs", two, ["level", "site"]), ("mistyped", one, []), ("only_ours", three, []), ("only_theirs", "X-77119", []),
    ]  # fmt: skip
    mistyped = next(item for item in desk.differences(statement) if item.sort == "mistyped")
    assert [slip.words for slip in mistyped.slips] == [
        f"character {len(one) - 1}: the digit 0 here, the letter O there"
    ]


Check = Callable[[Desk], object]


@pytest.mark.parametrize(
    ("changes", "check", "then"),
    [
        ({"level": "Extended care"}, lambda d: d.entitlement().level, "Extended care"),
        ({"site": "Bellfield"}, lambda d: d.client.assets.get(d.serials[0]).site, "bellfield"),
        ({"ends": f"{END + timedelta(days=30):%d.%m.%Y}"}, lambda d: d.client.contracts.get(d.contract).ends_on, END + timedelta(days=30)),
        ({"ends": f"{END - timedelta(days=30):%d.%m.%Y}"}, lambda d: [str(one.until_on) for one in d.entitlement().listings], [str(END - timedelta(days=30))]),
        ({"starts": f"{START + timedelta(days=30):%d.%m.%Y}"}, lambda d: [str(one.from_on) for one in d.entitlement().listings], [str(START + timedelta(days=30))]),
        ({"starts": f"{START - timedelta(days=30):%d.%m.%Y}"}, lambda d: d.entitlement().starts_on, START - timedelta(days=30)),
    ],
)  # fmt: skip
def test_their_word_on_one_field_goes_into_the_register(
    desk: Desk, changes: dict[str, str], check: Check, then: object
) -> None:
    rows = [desk.row(desk.serials[0], **changes), *map(desk.row, desk.serials[1:])]
    statement = taken(desk, *rows)
    assert statement.undecided == 0
    assert check(desk) == then


def test_what_only_they_list_is_listed_and_what_they_do_not_list_is_taken_off(desk: Desk) -> None:
    taken(desk, desk.row(desk.serials[0]), desk.row(desk.serials[1]), desk.row("NEW-4471"))
    kept = desk.entitlement()
    assert set(desk.serials[:2]) <= set(kept.serials)
    assert "NEW-4471" in [*kept.serials, *(one.serial for one in kept.listings)]
    assert desk.client.assets.get("NEW-4471").product == "P1"
    off = next(one for one in kept.listings if one.serial == desk.serials[2])
    assert off.until_on == today() - timedelta(days=1)
    assert desk.client.coverage(desk.serials[2]).route == "none"
    yesterday = desk.client.coverage(desk.serials[2], day=today() - timedelta(days=1))
    assert yesterday.route == "support", "what was true before the statement's day stays true"


def test_their_spelling_of_a_serial_can_be_the_right_one(desk: Desk) -> None:
    theirs = desk.serials[0].replace("3000", "30O0")
    taken(desk, desk.row(theirs), *map(desk.row, desk.serials[1:]))
    asset = desk.client.assets.get(theirs)
    assert asset.serial == theirs
    history = desk.client.assets.history(asset.id).items
    assert (history[0].act, [one.old for one in history[0].changes]) == (
        "changed by a statement",
        [desk.serials[0]],
    )
    assert theirs in desk.entitlement().serials


def test_after_their_word_the_same_statement_agrees(desk: Desk) -> None:
    rows = [
        desk.row(desk.serials[0].replace("3000", "3O00"), site="Bellfield"),
        desk.row(desk.serials[1], level="Extended care"), desk.row("NEW-8812", level="Extended care"),
    ]  # fmt: skip
    statement = desk.send(*rows)
    differences = desk.differences(statement)
    desk.client.statements.decide(statement.id, [one.number for one in differences], "theirs")
    again = desk.send(*rows)
    assert [
        (one.sort, one.serial, one.fields)
        for one in desk.differences(again)
        if one.fields != ["level"]
    ] == []


def test_our_word_changes_nothing_and_is_remembered_for_the_next_statement(desk: Desk) -> None:
    statement = desk.send(*map(desk.row, desk.serials[:2]))
    [open_one] = desk.differences(statement)
    decided = desk.client.statements.decide(
        statement.id, [open_one.number], "ours", "bought in May"
    )
    assert decided.undecided == 0
    assert desk.serials[2] in desk.entitlement().serials
    [again] = desk.differences(desk.send(*map(desk.row, desk.serials[:2])))
    assert again.before is not None
    assert (again.before.decision, again.before.by, again.before.reason) == (
        "ours",
        "marit",
        "bought in May",
    )
    with pytest.raises(Refused, match="decided already, by marit"):
        desk.client.statements.decide(statement.id, [open_one.number], "theirs")


def test_differences_become_one_packet_to_the_vendor(desk: Desk) -> None:
    statement = desk.send(
        desk.row(desk.serials[0], level="Extended care"), desk.row(desk.serials[1])
    )
    numbers = [one.number for one in desk.differences(statement)]
    number = desk.client.statements.ask(statement.id, numbers)
    packet = desk.client.packets.get(number)
    assert (packet.life, packet.need) == ("drafting", "question")
    assert (
        f"{desk.serials[0]}: level: Care by our records, Extended care on your statement."
        in packet.note
    )
    assert {one.packet for one in desk.differences(statement)} == {number}
    assert desk.client.statements.get(statement.id).undecided == 0


@pytest.mark.parametrize(
    ("row", "words"),
    [
        (("NEW-1", {"product": "P9"}), "does not say which product of ours"),
        (("NEW-2", {"contract": "C-nowhere"}), "not clear which entitlement of contract C-nowhere"),
    ],
)
def test_what_cannot_be_taken_over_is_told_and_all_of_it_stays_open(
    desk: Desk, row: Any, words: str
) -> None:
    serial, changes = row
    with pytest.raises(Refused, match=f"{serial}: .*{words}.*Nothing was decided"):
        taken(
            desk,
            desk.row(desk.serials[0], level="Extended care"),
            *map(desk.row, desk.serials[1:]),
            desk.row(serial, **changes),
        )
    assert desk.entitlement().level == "Care"
    assert desk.client.statements.list(desk.key).items[0].undecided == 2


def test_what_is_covered_without_being_named_is_compared_but_not_taken_off(desk: Desk) -> None:
    desk.client.entitlements.add(
        vendor=desk.key, contract=desk.contract, reference=f"ALL-{desk.key}", level="Advice", needs=["question"],
        starts_on=str(START), ends_on=str(END), products=["P1"],
    )  # fmt: skip
    desk.client.assets.add(vendor=desk.key, product="P1", serial=f"W-{desk.key}", site="bellfield")
    statement = desk.send(*map(desk.row, desk.serials))
    [found] = desk.differences(statement)
    assert (found.sort, found.serial) == ("only_ours", f"W-{desk.key}")
    with pytest.raises(Refused, match="covers it without naming it"):
        desk.client.statements.decide(statement.id, [found.number], "theirs")


def test_columns_chosen_once_are_remembered_for_the_vendor(desk: Desk) -> None:
    head, rows = "Geraet;Anlage", [f"{serial};x" for serial in desk.serials]
    failed = desk.send(*rows, head=head)
    assert (failed.state, "No column holds serials" in failed.status_text) == ("failed", True)
    chosen = desk.send(*rows, head=head, mapping={"serial": "Geraet"})
    assert (chosen.state, chosen.counts.agreeing) == ("ready", 3)
    assert desk.send(*rows, head=head).counts.agreeing == 3


def test_rows_that_say_nothing_are_told_and_the_rest_is_compared(desk: Desk) -> None:
    statement = desk.send(*map(desk.row, desk.serials), desk.row(""), desk.row("X-1", ends="soon"))
    assert statement.counts.agreeing == 3
    assert statement.status_text.startswith("2 rows of")


def test_a_dropped_statement_is_gone_and_only_keepers_see_any(desk: Desk, teo: SealPacket) -> None:
    statement = desk.send(*map(desk.row, desk.serials))
    assert desk.client.statements.drop(statement.id).state == "dropped"
    assert desk.client.statements.list(desk.key).items == []
    with pytest.raises(Refused, match="needs the role"):
        teo.statements.list()
    with pytest.raises(Refused, match="no vendor nobody"):
        desk.client.statements.send("nobody", desk.folder / next(desk.folder.iterdir()).name)


def test_the_day_of_the_statement_counts(desk: Desk, marit: SealPacket) -> None:
    path = desk.folder / "old.csv"
    path.write_text("\n".join((HEAD, *map(desk.row, desk.serials))), encoding="utf-8")
    before = marit.statements.send(desk.key, path, as_of=date(2001, 1, 1))
    counts = marit.statements.wait(before.id).counts
    assert (counts.agreeing, counts.only_theirs) == (0, 3)
