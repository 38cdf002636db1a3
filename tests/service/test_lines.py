"""Lists of packets: their lines are written with each change, and found, narrowed, sorted and paged by all they show."""

from __future__ import annotations

import random
import time
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest
from sqlalchemy import select, update

from sealpacket.app.context import AppContext
from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import PacketBrief, PacketPage, PacketShown
from sealpacket.core.attention import Attention
from sealpacket.demo.house import RunningHouse
from sealpacket.services.packets import lines
from sealpacket.services.packets.redaction.typed_text import UNKEPT
from sealpacket.store.models import Packet, PacketLine
from tests.conftest import ARRAY, OTHER_ARRAY, SHELF, add
from tests.some import SEED

OF_ITS_OWN = {"words", "renew_at"}
"""What the database makes of the words, and when the line is worked out again: both say nothing of the packet."""


def false_lines(app: AppContext) -> dict[str, Any]:
    """By number, what the lines of packets say against what is worked out of all there is."""
    found = {}
    with app.database.transaction() as session:
        session.info[UNKEPT] = True
        kept = {one.packet_id: one for one in session.scalars(select(PacketLine))}
        for packet in session.scalars(select(Packet).order_by(Packet.number)):
            line = kept.pop(packet.id)
            whole = lines.line_of(app, session, packet)
            differs = {
                name: (getattr(line, name), value)
                for name, value in whole.items()
                if name not in OF_ITS_OWN and getattr(line, name) != value
            }
            if differs:
                found[packet.number] = differs
        assert not kept
    return found


def test_what_is_over_is_found_by_the_new_name_and_serial(
    marit: SealPacket, inside: AppContext
) -> None:
    asset = marit.assets.add(vendor="tarnfell", product="TN4", serial="TN4-OLD-1", name="Old name")
    number = marit.packets.note("It hums", asset=asset.serial).number
    marit.packets.withdraw(number, "It was the cable.")
    marit.assets.change(asset.id, asset.version, serial="TN4-NEW-1", name="Newer name")
    assert [one.number for one in marit.packets.list(query="newer")] == [number]
    assert [one.number for one in marit.packets.list(query="tn4-new-1")] == [number]
    assert marit.packets.list(query="tn4-old-1") == []
    assert_true(inside)


def assert_true(app: AppContext) -> None:
    """Lines are true as soon as the worker is through with what it has in hand."""
    end = time.monotonic() + 60
    while (found := false_lines(app)) and time.monotonic() < end:
        time.sleep(0.3)
    assert found == {}


@pytest.mark.parametrize("turn", range(2))
def test_lines_are_true_after_any_history(
    marit: SealPacket, inside: AppContext, lodged: PacketShown, tmp_path: Path, turn: int
) -> None:
    chance = random.Random(f"{SEED} lines {turn}")
    draft = marit.packets.note("The other array is slow", asset=OTHER_ARRAY).number

    def change(kind: str, handle: str, **fields: object) -> None:
        records = getattr(marit, kind)
        records.change(handle, records.get(handle).version, **fields)

    def plainly(number: str) -> object:
        return marit.packets.change(number, title=f"Slow, {chance.random():.3f}")

    acts: list[Callable[[], object]] = [
        lambda: marit.packets.answer(draft, category="volume/latency", severity="2"),
        lambda: marit.packets.answer(draft, category=None, severity=None),
        lambda: plainly(draft),
        lambda: marit.packets.change(draft, asset=chance.choice((ARRAY, OTHER_ARRAY, SHELF))),
        lambda: marit.packets.change(draft, ticket=f"T-{chance.randrange(99)}"),
        lambda: add(marit, draft, tmp_path / f"{chance.random()}.log", b"2026-11-20 07:40:00 slow\n"),
        lambda: marit.packets.tried(draft, "Restarted it", "no change"),
        lambda: marit.packets.hand_over(draft, "teo", "Please go on."),
        lambda: marit.packets.hand_over(lodged.number, "teo", "Please go on."),
        lambda: marit.packets.comment(lodged.number, f"It is {chance.choice(('better', 'worse'))}."),
        lambda: change("assets", ARRAY, name=f"book store {chance.randrange(9)}"),
        lambda: change("vendors", "tarnfell", name=f"Tarnfell {chance.randrange(9)}"),
        lambda: change("sites", "book-store", name=f"Book store {chance.randrange(9)}"),
        lambda: change("contracts", "T-2210", title=f"Care {chance.randrange(9)}"),
    ]  # fmt: skip
    for _ in range(14):
        chance.choice(acts)()
        assert_true(inside)
    marit.packets.withdraw(draft, "It was the cable.")
    assert_true(inside)


@pytest.fixture
def many(marit: SealPacket, of_all_sorts: None) -> list[PacketBrief]:
    """Packets of all sorts, as the list has them."""
    return marit.packets.list()


@pytest.fixture(scope="module")
def of_all_sorts(marit: SealPacket, house: RunningHouse) -> None:
    """Packets of all sorts."""
    chance = random.Random(f"{SEED} many")
    teo = house.client("teo")
    for place in range(24):
        who = chance.choice((marit, teo))
        made = who.packets.note(
            chance.choice(("Slow shelves", "no power at the desk", "A relocated array")),
            chance.choice(("The fans are humming.", "Nothing is printed.", "")),
            asset=chance.choice((None, ARRAY, SHELF, "OBS4-551203")),
            need=chance.choice(("fault", "question", "capacity")),
            ticket=chance.choice(("", f"INC-{place}")),
            our_reference=f"alert-{place}",
        )
        if chance.random() < 0.2:
            marit.packets.withdraw(made.number, "It was the cable.")


COLUMNS: dict[str, Callable[[PacketBrief], Any]] = {
    "number": lambda one: one.number,
    "title": lambda one: one.title,
    "vendor_name": lambda one: one.vendor,
    "site_name": lambda one: one.asset and one.asset.site,
    "product": lambda one: one.asset and one.asset.product,
    "need": lambda one: one.need,
    "owner": lambda one: one.owner,
    "turn_since": lambda one: one.turn_since,
    "life": lambda one: one.life,
    "reference": lambda one: one.reference,
    "created_at": lambda one: one.created_at,
    "updated_at": lambda one: one.updated_at,
}


@pytest.mark.parametrize("column", COLUMNS)
@pytest.mark.parametrize("downwards", [False, True])
def test_every_column_sorts_and_pages_whole(
    marit: SealPacket, many: list[PacketBrief], column: str, downwards: bool
) -> None:
    sort = f"-{column}" if downwards else column
    found: list[PacketBrief] = []
    cursor = ""
    while True:
        page = marit._wire.call(
            PacketPage, "GET", "/packets", params={"sort": sort, "limit": 7, "cursor": cursor}
        )
        found += page.items
        if not page.next:
            break
        cursor = page.next
    assert sorted(one.number for one in found) == sorted(one.number for one in many)
    values = [COLUMNS[column](one) for one in found]
    there = [one for one in values if one is not None]
    assert values[: len(there)] == there, "what is empty comes last"
    assert there == sorted(there, reverse=downwards)


FILTERS: dict[str, tuple[dict[str, Any], Callable[[PacketBrief], bool]]] = {
    "open": ({"open": True}, lambda one: one.turn != "none"),
    "vendor": ({"vendor": "ovenbird"}, lambda one: one.vendor == "Ovenbird Networks"),
    "site": (
        {"site": "book-store"},
        lambda one: bool(one.asset and (one.asset.site or "").startswith("Book store")),
    ),
    "asset": ({"asset": SHELF}, lambda one: bool(one.asset and one.asset.serial == SHELF)),
    "contract": ({"contract": "T-2210"}, lambda one: one.contract == "T-2210"),
    "owner": ({"owner": "teo"}, lambda one: one.owner == "teo"),
    "unowned": ({"unowned": True}, lambda one: not one.owner),
    "attention": ({"attention": "waiting"}, lambda one: one.attention == "waiting"),
    "both": (
        {"owner": "marit", "need": "fault", "life": "drafting"},
        lambda one: (one.owner, one.need, one.life) == ("marit", "fault", "drafting"),
    ),
    "word": ({"query": "shelving"}, lambda one: one.title == "Slow shelves"),
    "words": ({"query": "the arrays"}, lambda one: "array" in one.title),
    "our reference": ({"query": "alert-7"}, lambda one: one.our_reference == "alert-7"),
    "ticket": ({"query": "inc-1"}, lambda one: one.ticket.startswith("INC-1")),
    "serial": ({"query": "4-5512"}, lambda one: bool(one.asset and "4-5512" in one.asset.serial)),
    "contract number": ({"query": "T-2210"}, lambda one: one.contract == "T-2210"),
    "only stop words": ({"query": "the at"}, lambda one: False),
    "part of stop words": ({"query": "at the desk"}, lambda one: "at the desk" in one.title),
    "percent": ({"query": "100%"}, lambda one: False),
    "very long": ({"query": "shelving " * 200}, lambda one: one.title == "Slow shelves"),
}


@pytest.mark.parametrize("name", FILTERS)
def test_lists_are_narrowed(marit: SealPacket, many: list[PacketBrief], name: str) -> None:
    given, fits = FILTERS[name]
    found = {one.number for one in marit.packets.list(**given)}
    assert found == {one.number for one in many if fits(one)}


@pytest.mark.parametrize(
    "given",
    [{"sort": "colour"}, {"sort": "-"}, {"cursor": "e30"}, {"q": "a" * 2001}, {"attention": "x"}],
)
def test_a_wrong_list_is_refused(marit: SealPacket, given: dict[str, str]) -> None:
    with pytest.raises(Refused) as refused:
        marit._wire.call(PacketPage, "GET", "/packets", params=given)
    assert refused.value.status == 422


def test_an_endless_search_says_so(marit: SealPacket) -> None:
    with pytest.raises(Refused, match="The address is too long"):
        marit.packets.list(query="a" * 10_000)


def test_what_is_due_goes_first(marit: SealPacket, inside: AppContext) -> None:
    late, soon = (marit.packets.note(f"Due, {one}").number for one in ("late", "soon"))
    now = datetime.now(UTC)
    with inside.database.transaction() as session:
        for number, due_at in ((late, now - timedelta(hours=1)), (soon, now + timedelta(hours=1))):
            session.execute(
                update(PacketLine).where(PacketLine.number == number).values(due_at=due_at)
            )
    today = marit.today()
    dues = {one.number: one.attention for one in today.ours}
    assert (dues[late], dues[soon]) == ("overdue", "due_soon")
    assert list(dues.values()) == sorted(dues.values(), key=[*Attention].index)
    assert [one.attention for one in today.counts][:2] == ["overdue", "due_soon"]
    assert late in [one.number for one in marit.packets.list(attention="overdue")]
    assert late in [one.number for one in marit.packets.list(due_before=now)]
    lines.rebuild(inside)
    assert late not in [one.number for one in marit.packets.list(attention="overdue")]


def test_today_leaves_out_what_others_look_after(marit: SealPacket, teo: SealPacket) -> None:
    number = teo.packets.note("One of his own").number
    mine, all_ = marit.today(mine=True), marit.today()
    assert number in [one.number for one in all_.ours]
    assert number not in [one.number for one in mine.ours]
    assert mine.others == all_.ours_count - mine.ours_count > 0


def test_lost_lines_are_made_again(marit: SealPacket, inside: AppContext) -> None:
    marit.packets.note("One that is lost")
    with inside.database.transaction() as session:
        session.execute(update(PacketLine).values(title="wrong", stops=99))
    assert false_lines(inside)
    assert lines.rebuild(inside) == len(marit.packets.list())
    assert not false_lines(inside)
