"""Finding: everything that has a name or a number, of every kind."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

import pytest

from sealpacket.app.context import AppContext
from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import FoundItem, PacketShown
from tests.conftest import ARRAY


def items(marit: SealPacket, query: str, **narrow: Any) -> list[FoundItem]:
    return [one for group in marit.find(query, **narrow).groups for one in group.items]


@pytest.mark.parametrize(
    ("query", "kind", "name"),
    [
        (ARRAY, "asset", ARRAY),
        ("tn944120", "asset", ARRAY),
        ("T-2210", "contract", "T-2210"),
        ("t-2210", "contract", "T-2210"),
        ("ovenbird", "vendor", "Ovenbird Networks"),
        ("Tannery", "site", "Book store"),
        ("book-store", "site", "Book store"),
        ("teo.valcourt", "person", "Teo Valcourt"),
        ("Harrowgate", "person", "Ines Harrowgate"),
    ],
)
def test_each_kind_is_found_by_what_is_known(
    marit: SealPacket, query: str, kind: str, name: str
) -> None:
    assert (kind, name) in [(one.kind, one.name) for one in items(marit, query)]


def test_an_exact_number_comes_first_and_nothing_like_it(marit: SealPacket) -> None:
    marit.packets.note("The lift of T-2210 is stuck")
    groups = marit.find("T-2210").groups
    assert (groups[0].kind, groups[0].items[0].exact) == ("contract", True)
    assert not any(one.exact for group in groups for one in group.items[1:])
    assert all(group.kind != "asset" for group in groups), "no serial that is only like it"


def test_a_mistyped_serial_is_found_only_if_nothing_else_is(marit: SealPacket) -> None:
    found = marit.find("TN9-44l20-A")
    assert found.likely
    assert ARRAY in [one.name for one in found.groups[0].items]
    assert not marit.find(ARRAY).likely


@pytest.mark.parametrize("query", ["10.4.2.1", "2001:db8::77", "%", "_", "zzzz qqqq", "x" * 1900])
def test_nothing_is_found_where_nothing_is(marit: SealPacket, query: str) -> None:
    assert marit.find(query).groups == []


def test_packets_are_found_by_all_their_numbers(marit: SealPacket, lodged: PacketShown) -> None:
    assert lodged.reference
    (found,) = items(marit, lodged.reference, kind="packet")
    assert (found.handle, found.exact, found.matched) == (
        lodged.number,
        True,
        lodged.reference.lower(),
    )


def test_replies_are_found_by_their_words(marit: SealPacket, lodged: PacketShown) -> None:
    marit.packets.take_reply(lodged.number, "Please send the diagnostics of both enclosures.")
    (found,) = items(marit, "enclosure diagnostic", kind="reply")
    assert found.handle == lodged.number
    assert "both enclosures" in found.title
    assert items(marit, "enclosure", kind="reply", vendor="ovenbird") == []
    (again,) = items(marit, "enclosure", kind="reply", vendor="tarnfell")
    assert again == found


def test_articles_and_known_issues_are_found(marit: SealPacket) -> None:
    marit.articles.put("fan-noise", title="Fans that whistle", text="Clean the *filters* first.")
    marit.known_issues.put(
        "whistle", title="Whistling fan", pattern="fan .* whistle", meaning="The bearing is worn."
    )
    kinds = {one.kind: one.handle for one in items(marit, "whistling")}
    assert kinds == {"article": "fan-noise", "known_issue": "whistle"}


def test_there_are_more(marit: SealPacket) -> None:
    for place in range(8):
        marit.packets.note(f"Of a row that goes on, {place}")
    (few,) = marit.find("row that goes", kind="packet").groups
    assert (len(few.items), few.more) == (6, True)
    (all_,) = marit.find("row that goes", kind="packet", limit=20).groups
    assert (len(all_.items), all_.more) == (8, False)


def test_finding_is_narrowed_by_age_and_product(marit: SealPacket, inside: AppContext) -> None:
    number = marit.packets.note("An aged one", asset=ARRAY).number
    tomorrow = datetime.now(UTC) + timedelta(days=1)
    assert marit.find(number, since=tomorrow).groups == []
    product = marit.assets.get(ARRAY).product
    assert [one.name for one in items(marit, number, product=product)] == [number]
    with pytest.raises(Refused, match="no product NONE"):
        marit.find(number, product="NONE")
    with pytest.raises(Refused) as wrong:
        marit.find(number, kind="colour")
    assert wrong.value.status == 422
