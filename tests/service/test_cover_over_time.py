"""Cover on any day: renewals, amendments, moves and transfers leave the past as it was."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from itertools import count
from typing import Any

import pytest

from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import (
    AssetShown,
    ContractShown,
    EntitlementShown,
    PacketShown,
    Ruling,
)

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
            vendor=self.vendor,
            contract=self.contract.number,
            reference=f"{self.vendor}/{reference}",
            **body,
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
    return (
        ruling.route,
        ruling.contract,
        ruling.entitlement,
        ruling.level,
        ruling.ends_on,
        ruling.reasons,
    )


def test_what_was_true_on_a_day_stays_so_for_ever(lift: Lift, marit: SealPacket) -> None:
    """Renewed, amended, moved, transferred: nothing of it changes what is said of a day before."""
    lift.entitle("E-2", sites=["quay-street"], level="Extra", rank=50)
    other = lift.entitle("E-3", serials=[], products=["CAB"], level="Other", rank=70)
    days = [date(2026, month, 3) for month in range(1, 12)]
    before = [said(lift.ruling(day)) for day in days]
    asset, contract, entitlement = lift.fresh()
    assert (
        marit.assets.move(
            asset.id, asset.version, from_on=date(2026, 12, 10), site="quay-street"
        ).site
        == "quay-street"
    )
    marit.entitlements.amend(
        entitlement.id, entitlement.version, from_on=date(2026, 12, 1), level="Better", rank=9
    )
    renewed = marit.contracts.renew(contract.id, contract.version, ends_on=date(2027, 12, 31))
    assert (str(renewed.starts_on), [str(term.ends_on) for term in renewed.former_terms]) == (
        "2027-01-01",
        ["2026-12-31"],
    )
    assert [lift.ruling(date(2026, 12, day)).level for day in (1, 9, 10)] == [
        "Better",
        "Better",
        "Extra",
    ]
    assert lift.ruling(NEXT_MARCH).level == "Extra"
    asset, _, entitlement = lift.fresh()
    later = max(marit.entitlements.list(other.reference), key=lambda row: row.starts_on)
    marit.assets.transfer(
        asset.id,
        asset.version,
        from_on=date(2027, 2, 1),
        out_of=f"{lift.vendor}/E-1",
        into=other.reference,
    )
    assert marit.entitlements.get(later.id).version == later.version + 1, (
        "who read it before is told that it changed"
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
    assert str(marit.entitlements.get(apart.id).ends_on) == "2026-06-30", (
        "what ended apart is not renewed"
    )
    problem = caught(
        lambda: marit.contracts.renew(renewed.id, renewed.version, ends_on=date(2027, 6, 1))
    )
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
    same = caught(
        lambda: marit.assets.move(moved.id, moved.version, from_on=today, site="quay-street")
    )
    assert same.code == "same-place"
    back = marit.assets.move(
        moved.id, moved.version, from_on=date(2026, 2, 1), site="fennel-lane", status="spare"
    )
    assert [(str(stay.from_on), str(stay.until_on), stay.site) for stay in back.stays] == [
        ("None", "2026-01-31", "book-store")
    ]
    assert lift.ruling(MARCH).level == "Care", "an earlier day takes the later stay's place"


def test_an_amendment_lies_inside_its_version(lift: Lift, marit: SealPacket) -> None:
    entitlement = lift.entitlement
    for day in ("2026-01-01", "2027-01-01"):
        problem = caught(
            lambda day=day: marit.entitlements.amend(
                entitlement.id, 1, from_on=date.fromisoformat(day), level="X"
            )
        )
        assert problem.facts["field"] == "from_on"
    first = marit.entitlements.amend(entitlement.id, 1, from_on=date(2026, 6, 1), level="Second")
    old = marit.entitlements.get(entitlement.id)
    assert (str(old.replaced_on), str(old.ends_on)) == ("2026-06-01", "2026-12-31")
    late = caught(
        lambda: marit.entitlements.amend(old.id, old.version, from_on=date(2026, 8, 1), level="X")
    )
    assert late.code == "replaced"
    assert marit.entitlements.get(entitlement.reference).id == first.id, (
        "its reference means the version that counts"
    )
    assert [lift.ruling(date(2026, 5, 31)).level, lift.ruling(date(2026, 6, 1)).level] == [
        "Care",
        "Second",
    ]
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


def test_another_vendors_machine_covers_no_software_of_ours_but_may_be_the_way(
    lift: Lift, marit: SealPacket
) -> None:
    maker = f"hosts-{lift.vendor}"
    marit.vendors.add(key=maker, name="Host maker")
    marit.products.add(vendor=maker, part_number="H", name="Host")
    marit.assets.add(vendor=maker, product="H", serial="H-1")
    software = lift.asset("LIC-2", "SW", carrier=f"{maker}:H-1")
    assert software.carrier == f"{maker}:H-1"
    assert lift.ruling(MARCH, software).route == "none"
    assert "use_host" not in {cure.code for cure in lift.ruling(MARCH, software).cures}
    days = {"starts_on": "2026-01-01", "ends_on": "2026-12-31"}
    marit.contracts.add(vendor=maker, number=f"H-{lift.vendor}", **days)
    entitlement = {
        "vendor": maker,
        "contract": f"H-{lift.vendor}",
        "level": "Appliance",
        "needs": ["fault"],
        **days,
    }
    marit.entitlements.add(**entitlement, reference=f"{maker}-1", serials=["H-1"])
    assert "use_host" not in {cure.code for cure in lift.ruling(MARCH, software).cures}
    marit.entitlements.add(
        **entitlement, reference=f"{maker}-2", serials=["H-1"], reach=["software"]
    )
    ruling = lift.ruling(MARCH, software)
    assert (ruling.route, ruling.cures[0].code, ruling.cures[0].target) == (
        "none",
        "use_host",
        "H-1",
    )
    assert (
        f"Host maker's contract H-{lift.vendor} (Appliance, until 31 Dec 2026)"
        in ruling.cures[0].sentence
    )


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
    assert [(item.field, item.old, item.new) for item in versions[0].changes] == [
        ("title", "", "Passenger lift")
    ]
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
    assert [
        row.serial for row in marit.cover_everything(day=MARCH, vendor=lift.vendor, route="none")
    ] == ["L-3"]
    assert [row.serial for row in marit.cover_everything(vendor=lift.vendor, status="retired")] == [
        "L-2"
    ]
    assert caught(lambda: list(marit.cover_everything(vendor="nobody"))).status == 404


def test_a_list_is_ruled_on_and_says_what_is_unknown(lift: Lift, marit: SealPacket) -> None:
    found = marit.coverage_list([lift.lift.id, "NOT-THERE"], day=MARCH)
    assert ([row.serial for row in found.items], found.unknown) == (["L-1"], ["NOT-THERE"])


def test_a_sealed_ruling_is_replayed(
    marit: SealPacket, sealed: PacketShown, noted: PacketShown
) -> None:
    replayed = marit.packets.replay(sealed.number)
    assert replayed.same
    assert replayed.ruling == sealed.ruling
    assert len(replayed.basis.candidates) >= 2


def test_a_draft_has_no_sealed_ruling(marit: SealPacket, noted: PacketShown) -> None:
    assert caught(lambda: marit.packets.replay(noted.number)).code == "not-sealed"


@pytest.mark.parametrize(
    ("path", "body"),
    [
        ("/assets/{asset}/move", {"from_on": "2026-05-01", "site": "quay-street"}),
        ("/assets/{asset}/transfer", {"from_on": "2026-05-01", "out_of": "x", "into": "y"}),
        ("/contracts/{contract}/renew", {"ends_on": "2027-12-31"}),
        ("/entitlements/{entitlement}/amend", {"from_on": "2026-05-01", "changes": {"level": "X"}}),
    ],
)
def test_what_counts_from_a_day_on_needs_the_version_that_was_read(
    lift: Lift, marit: SealPacket, path: str, body: dict[str, Any]
) -> None:
    where = path.format(
        asset=lift.lift.id, contract=lift.contract.id, entitlement=lift.entitlement.id
    )
    assert caught(lambda: marit._wire.send("POST", where, json=body)).code == "version-missing"
    assert caught(lambda: marit._wire.send("POST", where, json=body, version=7)).code == "stale"
    unknown = caught(
        lambda: marit._wire.send("POST", where, json={**body, "colour": "red"}, version=1)
    )
    assert unknown.status == 422


def test_a_transfer_names_entitlements_that_list_it_and_do_not_yet(
    lift: Lift, marit: SealPacket
) -> None:
    other = lift.entitle("E-2", products=["CAB"])
    asset = marit.assets.get(lift.lift.id)

    def transfer(out_of: str, into: str) -> Refused:
        return caught(
            lambda: marit.assets.transfer(
                asset.id, asset.version, from_on=MARCH, out_of=out_of, into=into
            )
        )

    assert transfer(other.reference, lift.entitlement.reference).code == "not-listed"
    assert transfer(lift.entitlement.reference, lift.entitlement.reference).code == "already-there"
    assert transfer(lift.entitlement.reference, "TSE-301877").facts["field"] == "into"


def test_transferred_on_the_first_day_it_was_never_on_the_old_one(
    lift: Lift, marit: SealPacket
) -> None:
    other = lift.entitle("E-2", products=["CAB"], level="Other")
    marit.assets.transfer(
        lift.lift.id,
        1,
        from_on=date(2026, 1, 1),
        out_of=lift.entitlement.reference,
        into=other.reference,
    )
    assert lift.ruling(date(2026, 1, 1)).level == "Other"
    left = marit.entitlements.get(lift.entitlement.id)
    assert (left.serials, left.listings) == ([], [])
    assert lift.ruling(MARCH).passed_over == [], (
        "emptied, it covers nothing; it does not cover everything"
    )


def test_serials_listed_for_a_while_are_kept_with_their_days(lift: Lift, marit: SealPacket) -> None:
    entitlement = lift.entitlement
    listings = [{"serial": "L-1", "from_on": "2026-03-01", "until_on": "2026-05-31"}]
    changed = marit.entitlements.change(entitlement.id, 1, serials=[], listings=listings)
    assert [(x.serial, str(x.from_on), str(x.until_on)) for x in changed.listings] == [
        ("L-1", "2026-03-01", "2026-05-31")
    ]
    said = {
        str(day): lift.ruling(day).route
        for day in (date(2026, 2, 28), date(2026, 3, 1), date(2026, 5, 31), date(2026, 6, 1))
    }
    assert list(said.values()) == ["none", "support", "support", "none"]
    assert [item.code for item in lift.ruling(date(2026, 2, 28)).passed_over] == ["not_listed_yet"]
    wrong = [{"serial": "L-1", "from_on": "2026-05-01", "until_on": "2026-03-01"}]
    assert (
        caught(
            lambda: marit.entitlements.change(entitlement.id, changed.version, listings=wrong)
        ).status
        == 422
    )


def test_an_asset_that_is_only_ordered_or_retired_is_told_so(lift: Lift, marit: SealPacket) -> None:
    retired = marit.assets.change(lift.lift.id, 1, status="retired")
    assert marit.coverage(retired.id).warnings == ["The register says that it is retired."]
    assert marit.coverage(retired.id, day=MARCH).warnings == [], "it was in use then"


def test_a_packet_sent_for_someone_else_needs_a_login_that_may(
    marit: SealPacket, answered: PacketShown
) -> None:
    login = next(
        item for item in marit.logins.list(vendor="tarnfell") if item.name.startswith("marit")
    )
    kept = marit.logins.change(login.id, login.version, for_others=False)
    try:
        own = marit.packets.get(answered.number)
        assert own.ruling
        assert own.ruling.holds
        person = next(question for question in own.questions if question.form == "person")
        asked = marit.packets.answer(answered.number, **{person.id: "ines"})
        assert asked.ruling
        assert (asked.ruling.holds, asked.ruling.reasons[-1]) == (
            False, "marit.oswin@quillmere.example may not send on behalf of Ines Harrowgate.",
        )  # fmt: skip
    finally:
        marit.logins.change(login.id, kept.version, for_others=True)


def test_a_mailbox_that_nobody_reads_is_warned_of(marit: SealPacket, answered: PacketShown) -> None:
    login = next(
        item for item in marit.logins.list(vendor="tarnfell") if item.name.startswith("marit")
    )
    kept = marit.logins.change(login.id, login.version, mailbox_read=False)
    try:
        checks = marit.packets.get(answered.number).checks
        warned = [check for check in checks if check.code == "cover-warning"]
        assert [
            (check.level, "Nobody reads the mailbox" in check.sentence) for check in warned
        ] == [("warn", True)]
    finally:
        marit.logins.change(login.id, kept.version, mailbox_read=True)


def test_a_renewal_moves_the_day_for_notice_along(lift: Lift, marit: SealPacket) -> None:
    contract = marit.contracts.change(lift.contract.id, 1, notice_on="2026-11-30")
    renewed = marit.contracts.renew(contract.id, contract.version, ends_on=date(2027, 12, 31))
    assert str(renewed.notice_on) == "2027-11-30"
    given = marit.contracts.renew(
        renewed.id, renewed.version, ends_on=date(2028, 12, 31), notice_on="2028-10-01"
    )
    assert str(given.notice_on) == "2028-10-01"
