"""Cover on any day: renewals, amendments, moves and transfers leave the past as it was."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from itertools import count
from typing import Any

import pytest

from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import AssetShown, ContractShown, EntitlementShown, PacketShown, Ruling

YEAR = {"starts_on": "2026-01-01", "ends_on": "2026-12-31"}
MARCH, NEXT_MARCH = date(2026, 3, 3), date(2027, 3, 3)
numbers = count(1)


class Lift:
    """A vendor of its own for each test, with one lift, one contract and one entitlement that lists the lift."""

    def __init__(self, house: SealPacket) -> None:
        number = next(numbers)
        self.house = house
        self.vendor = house.vendors.add(key=f"lifts-{number}", name=f"Lifts {number}").key
        self.product(part_number="L", name="Lift")
        self.product(part_number="CAB", name="Cabin computer", needs_registration=True)
        self.product(part_number="SW", name="Lift software", sort="software")
        self.lift = self.asset("L-1", "L", site="book-store")
        self.contract = house.contracts.add(
            vendor=self.vendor, number=f"C-{number}", **YEAR, cost_minor=120000, currency="GBP"
        )
        self.entitlement = self.entitle("E-1", serials=["L-1"], level="Care", rank=5)

    def product(self, **fields: Any) -> None:
        self.house.products.add(vendor=self.vendor, **fields)

    def asset(self, serial: str, product: str, **fields: Any) -> AssetShown:
        return self.house.assets.add(vendor=self.vendor, product=product, serial=serial, **fields)

    def entitle(self, reference: str, **fields: Any) -> EntitlementShown:
        body = {"level": "Care", "needs": ["fault"], **YEAR, **fields}
        return self.house.entitlements.add(
            vendor=self.vendor, contract=self.contract.number, reference=f"{self.vendor}/{reference}", **body
        )

    def ruling(self, day: date, asset: AssetShown | None = None) -> Ruling:
        return self.house.coverage((asset or self.lift).id, day=day)

    def fresh(self) -> tuple[AssetShown, ContractShown, EntitlementShown]:
        return (
            self.house.assets.get(self.lift.id), self.house.contracts.get(self.contract.id),
            self.house.entitlements.get(self.entitlement.id),
        )  # fmt: skip


@pytest.fixture
def lift(marit: SealPacket) -> Lift:
    """A lift, covered for this year."""
    return Lift(marit)


def said(ruling: Ruling) -> tuple[Any, ...]:
    """What a ruling decides, and why."""
    return ruling.route, ruling.contract, ruling.entitlement, ruling.level, ruling.ends_on, ruling.reasons


def test_what_was_true_on_a_day_stays_so_for_ever(lift: Lift, marit: SealPacket) -> None:
    """Renewed, amended, moved, transferred: nothing of it changes what is said of a day before."""
    lift.entitle("E-2", sites=["quay-street"], level="Extra", rank=50)
    other = lift.entitle("E-3", serials=[], products=["CAB"], level="Other", rank=70)
    days = [date(2026, month, 3) for month in range(1, 12)]
    before = [said(lift.ruling(day)) for day in days]
    asset, contract, entitlement = lift.fresh()
    assert (
        marit.assets.move(asset.id, asset.version, from_on=date(2026, 12, 10), site="quay-street").site == "quay-street"
    )
    marit.entitlements.amend(entitlement.id, entitlement.version, from_on=date(2026, 12, 1), level="Better", rank=9)
    renewed = marit.contracts.renew(contract.id, contract.version, ends_on=date(2027, 12, 31))
    assert (str(renewed.starts_on), [str(term.ends_on) for term in renewed.former_terms]) == (
        "2027-01-01",
        ["2026-12-31"],
    )
    assert [lift.ruling(date(2026, 12, day)).level for day in (1, 9, 10)] == ["Better", "Better", "Extra"]
    assert lift.ruling(NEXT_MARCH).level == "Extra"
    asset, _, entitlement = lift.fresh()
    marit.assets.transfer(
        asset.id, asset.version, from_on=date(2027, 2, 1), out_of=f"{lift.vendor}/E-1", into=other.reference
    )
    assert lift.ruling(NEXT_MARCH).level == "Other"
    assert [said(lift.ruling(day)) for day in days] == before


def test_a_renewal_keeps_the_former_term_and_its_grace(lift: Lift, marit: SealPacket) -> None:
    contract = marit.contracts.change(lift.contract.id, 1, grace_days=10)
    apart = lift.entitle("E-9", ends_on="2026-06-30", products=["CAB"])
    renewed = marit.contracts.renew(
        contract.id,
        contract.version,
        starts_on="2027-02-01",
        ends_on=date(2027, 12, 31),
        cost_minor=130000,
        grace_days=0,
    )
    assert (renewed.cost_minor, renewed.former_terms[0].cost_minor) == (130000, 120000)
    assert [lift.ruling(date(2027, 1, day)).route for day in (10, 11)] == ["support", "none"]
    assert lift.ruling(date(2027, 2, 1)).route == "support"
    assert str(marit.entitlements.get(apart.id).ends_on) == "2026-06-30", "what ended apart is not renewed"
    problem = caught(lambda: marit.contracts.renew(renewed.id, renewed.version, ends_on=date(2027, 6, 1)))
    assert problem.facts["field"] == "ends_on"


def caught(call: Any) -> Refused:
    """The problem of a call that has to fail."""
    with pytest.raises(Refused) as refusal:
        call()
    return refusal.value


def test_a_plain_change_of_site_is_a_move_today(lift: Lift, marit: SealPacket) -> None:
    lift.entitle("E-2", sites=["book-store"], level="Extra", rank=50)
    assert lift.ruling(MARCH).level == "Extra"
    moved = marit.assets.change(lift.lift.id, 1, site="quay-street")
    today = datetime.now(UTC).date()
    assert (moved.placed_on, moved.stays[0].site, moved.stays[0].until_on) == (
        today,
        "book-store",
        today - timedelta(days=1),
    )
    assert lift.ruling(MARCH).level == "Extra"
    assert lift.ruling(today).level == "Care"
    same = caught(lambda: marit.assets.move(moved.id, moved.version, from_on=today, site="quay-street"))
    assert same.code == "same-place"
    back = marit.assets.move(moved.id, moved.version, from_on=date(2026, 2, 1), site="fennel-lane", status="spare")
    assert [(str(stay.from_on), str(stay.until_on), stay.site) for stay in back.stays] == [
        ("None", "2026-01-31", "book-store")
    ]
    assert lift.ruling(MARCH).level == "Care", "an earlier day takes the later stay's place"


def test_an_amendment_lies_inside_its_version(lift: Lift, marit: SealPacket) -> None:
    entitlement = lift.entitlement
    for day in ("2026-01-01", "2027-01-01"):
        problem = caught(
            lambda day=day: marit.entitlements.amend(entitlement.id, 1, from_on=date.fromisoformat(day), level="X")
        )
        assert problem.facts["field"] == "from_on"
    first = marit.entitlements.amend(entitlement.id, 1, from_on=date(2026, 6, 1), level="Second")
    old = marit.entitlements.get(entitlement.id)
    assert (str(old.replaced_on), str(old.ends_on)) == ("2026-06-01", "2026-12-31")
    late = caught(lambda: marit.entitlements.amend(old.id, old.version, from_on=date(2026, 8, 1), level="X"))
    assert late.code == "replaced"
    assert marit.entitlements.get(entitlement.reference).id == first.id, "its reference means the version that counts"
    assert [lift.ruling(date(2026, 5, 31)).level, lift.ruling(date(2026, 6, 1)).level] == ["Care", "Second"]
    assert {item.code for item in lift.ruling(date(2026, 6, 1)).passed_over} == {"replaced"}


def test_parts_and_software_are_covered_by_what_carries_them(lift: Lift, marit: SealPacket) -> None:
    cabin = lift.asset("CAB-1", "CAB", carrier="L-1", registered_on="2026-02-01")
    software = lift.asset("LIC-1", "SW", carrier="CAB-1")
    assert lift.ruling(MARCH, cabin).reasons[0].startswith("It is part of Lift L-1")
    assert lift.ruling(MARCH, software).passed_over[0].code == "beyond_reach"
    marit.entitlements.change(lift.entitlement.id, 1, reach=["parts", "software"])
    assert lift.ruling(MARCH, software).route == "support"
    early = lift.ruling(date(2026, 1, 15), cabin)
    assert (early.route, early.holds, early.cures[0].act) == ("support", False, "register_product")
    circle = caught(lambda: marit.assets.change(lift.lift.id, 1, carrier="LIC-1"))
    assert circle.facts["field"] == "carrier"
    assert caught(lambda: lift.asset("X-1", "CAB", carrier="NOT-1")).code == "no-such"


def test_another_vendors_carrier_is_named_with_its_vendor_and_covers_nothing(lift: Lift) -> None:
    software = lift.asset("LIC-2", "SW", carrier="tarnfell:TN9-44120-A")
    assert software.carrier == "tarnfell:TN9-44120-A"
    assert lift.ruling(MARCH, software).route == "none"


def test_a_login_that_may_not_ask_or_send_for_others_is_told_before_the_desk_would(
    lift: Lift, marit: SealPacket
) -> None:
    number = lift.contract.number
    login = marit.logins.add(
        vendor=lift.vendor, name="weak", needs=["question"], contracts=[number], mailbox_read=False
    )
    marit.logins.add(vendor=lift.vendor, name="strong", contracts=[number])
    ruling = marit.coverage(lift.lift.id, day=MARCH, login="weak")
    assert (ruling.holds, ruling.cures[0].target, len(ruling.warnings)) == (False, "strong", 1)
    assert login.needs == ["question"]


def test_the_history_of_a_record_tells_each_version(lift: Lift, marit: SealPacket) -> None:
    marit.contracts.change(lift.contract.id, 1, title="Passenger lift", passcode="never-to-be-seen")
    versions = marit.contracts.history(lift.contract.id).items
    assert [(version.version, version.act, version.by) for version in versions] == [
        (2, "changed", "marit"),
        (1, "added", "marit"),
    ]
    assert [(item.field, item.old, item.new) for item in versions[0].changes] == [("title", "", "Passenger lift")]
    assert "never-to-be-seen" not in str(versions)


def test_a_timeline_shows_renewals_gaps_and_overlaps(lift: Lift, marit: SealPacket) -> None:
    marit.contracts.renew(lift.contract.id, 1, starts_on="2027-02-01", ends_on=date(2027, 12, 31))
    lift.entitle("E-2", starts_on="2026-11-01", ends_on="2026-12-31", products=["L"], rank=1)
    found = marit.timeline(lift.lift.id, since=date(2026, 1, 1), until=date(2027, 12, 31))
    assert [(str(span.starts_on), span.route, len(span.also)) for span in found.spans] == [
        ("2026-01-01", "support", 0), ("2026-11-01", "support", 1), ("2027-01-01", "none", 0), ("2027-02-01", "support", 0),
    ]  # fmt: skip
    assert [(bar.entitlement.split("/")[1], str(bar.starts_on)) for bar in found.bars] == [
        ("E-1", "2026-01-01"), ("E-2", "2026-11-01"), ("E-1", "2027-02-01"),
    ]  # fmt: skip
    backwards = caught(lambda: marit.timeline(lift.lift.id, since=NEXT_MARCH, until=MARCH))
    assert backwards.facts["field"] == "until"


def test_everything_on_a_day_agrees_with_each_ruling(lift: Lift, marit: SealPacket) -> None:
    lift.asset("CAB-1", "CAB", carrier="L-1", registered_on="2026-02-01")
    lift.asset("L-2", "L", status="retired")
    moved = lift.asset("L-3", "L", site="book-store")
    marit.assets.move(moved.id, moved.version, from_on=date(2026, 6, 1), site="quay-street")
    lift.entitle("E-2", sites=["quay-street"], level="Extra", rank=50)
    ids = {asset.serial: asset.id for asset in marit.assets.list(vendor=lift.vendor)}
    for day in (date(2026, 1, 15), MARCH, date(2026, 6, 1), date(2028, 1, 1)):
        rows = list(marit.cover_everything(day=day, vendor=lift.vendor))
        assert [row.serial for row in rows] == ["CAB-1", "L-1", "L-3"]
        for row in rows:
            ruling = marit.coverage(ids[row.serial], day=day)
            assert (row.route, row.holds, row.entitlement, row.reason) == (
                ruling.route, ruling.holds, ruling.entitlement, ruling.reasons[0],
            )  # fmt: skip
    assert [row.serial for row in marit.cover_everything(day=MARCH, vendor=lift.vendor, route="none")] == ["L-3"]
    assert [row.serial for row in marit.cover_everything(vendor=lift.vendor, status="retired")] == ["L-2"]
    assert caught(lambda: list(marit.cover_everything(vendor="nobody"))).status == 404


def test_a_list_is_ruled_on_and_says_what_is_unknown(lift: Lift, marit: SealPacket) -> None:
    found = marit.coverage_list([lift.lift.id, "NOT-THERE"], day=MARCH)
    assert ([row.serial for row in found.items], found.unknown) == (["L-1"], ["NOT-THERE"])


def test_a_sealed_ruling_is_replayed(marit: SealPacket, sealed: PacketShown, noted: PacketShown) -> None:
    replayed = marit.packets.replay(sealed.number)
    assert replayed.same
    assert replayed.ruling == sealed.ruling
    assert len(replayed.basis.candidates) >= 2


def test_a_draft_has_no_sealed_ruling(marit: SealPacket, noted: PacketShown) -> None:
    assert caught(lambda: marit.packets.replay(noted.number)).code == "not-sealed"
