"""Looking ahead over the real service: what ends, overlaps and is not covered; calendars and digests."""

from __future__ import annotations

from datetime import date, timedelta
from email import message_from_bytes, policy
from itertools import count
from typing import Any

import pytest
from icalendar import Calendar

from sealpacket.app.context import AppContext
from sealpacket.client import Refused, SealPacket
from sealpacket.demo.house import RunningHouse
from sealpacket.services import digests
from tests import plain_http
from tests.some import today

numbers = count(1)


def day(offset: int) -> str:
    return (today() + timedelta(days=offset)).isoformat()


@pytest.fixture
def vendor(marit: SealPacket) -> str:
    """A vendor with six doors, of which each is something to be looked after."""
    key = marit.vendors.add(key=f"doors-{next(numbers)}", name="Doors").key
    marit.products.add(vendor=key, part_number="D", name="Door")
    for serial, status in (
        ("bare", "in_use"),
        ("twice", "in_use"),
        ("gap", "in_use"),
        ("old", "retired"),
        ("to-come", "ordered"),
    ):
        marit.assets.add(
            vendor=key, product="D", serial=f"{key}-{serial}", status=status, site="book-store"
        )
    for number, start, end, cost, serials in (
        ("ENDS", -300, 40, 30000, ["twice", "old"]), ("LONG", -100, 300, 10000, ["twice"]), ("GAP-1", -100, 20, None, ["gap"]),
        ("GAP-2", 30, 300, None, ["gap"]), ("OVER", -400, -10, None, ["bare"]),
    ):  # fmt: skip
        money = {"cost_minor": cost, "currency": "GBP"} if cost else {}
        marit.contracts.add(
            vendor=key, number=f"{key}/{number}", starts_on=day(start), ends_on=day(end), **money
        )
        marit.entitlements.add(
            vendor=key, contract=f"{key}/{number}", reference=f"{key}-{number}", level="Care", needs=["fault"],
            starts_on=day(start), ends_on=day(end), serials=[f"{key}-{serial}" for serial in serials],
        )  # fmt: skip
    return key


def caught(call: Any) -> Refused:
    """The problem of a call that has to fail."""
    with pytest.raises(Refused) as refusal:
        call()
    return refusal.value


def test_everything_that_needs_looking_after_is_told(marit: SealPacket, vendor: str) -> None:
    found = marit.ahead(vendor=vendor)
    assert found.fresh
    assert [(x.contract.split("/")[1], x.days, x.assets) for x in found.ending] == [
        ("GAP-1", 20, 1),
        ("ENDS", 40, 1),
    ]
    assert [(x.contract.split("/")[1], x.days) for x in found.lapsed] == [("OVER", 10)]
    assert [x.serial.removeprefix(f"{vendor}-") for x in found.uncovered] == ["bare"]
    assert "10 days ago" in found.uncovered[0].reason
    assert [(x.serial, x.days, str(x.starts_on)) for x in found.gaps] == [
        (f"{vendor}-gap", 9, day(21))
    ]
    assert [(x.serial, len(x.contracts)) for x in found.twice] == [(f"{vendor}-twice", 2)]
    assert [(x.serial, x.entitlement) for x in found.retired] == [
        (f"{vendor}-old", f"{vendor}-ENDS")
    ]
    assert {x.contract.split("/")[1]: x.each_minor for x in found.costs} == {
        "ENDS": 30000,
        "LONG": 10000,
    }
    assert found.counts.twice == 1
    contract = marit.contracts.get(f"{vendor}/ENDS")
    marit.contracts.renew(
        contract.id, contract.version, ends_on=today() + timedelta(days=400), cost_minor=90000
    )
    costs = {x.contract.split("/")[1]: x.cost_minor for x in marit.ahead(vendor=vendor).costs}
    assert costs["ENDS"] == 30000, "what a thing costs today is by the term that runs today"
    assert [x.contract.split("/")[1] for x in marit.ahead(vendor=vendor, days=30).ending] == [
        "GAP-1"
    ]
    assert marit.ahead(vendor=vendor, site="quay-street").uncovered == []


def test_a_change_of_the_register_is_seen_at_once(marit: SealPacket, vendor: str) -> None:
    assert len(marit.ahead(vendor=vendor).uncovered) == 1
    marit.assets.add(vendor=vendor, product="D", serial=f"{vendor}-new")
    assert len(marit.ahead(vendor=vendor).uncovered) == 2


def test_one_end_for_several_contracts_is_priced(marit: SealPacket, vendor: str) -> None:
    found = marit.aligned(vendor=vendor)
    assert str(found.on) == day(300)
    assert {x.contract.split("/")[1]: x.days for x in found.items} == {"GAP-1": 280, "ENDS": 260}
    assert [(total.currency, total.minor) for total in found.totals] == [
        ("GBP", round(30000 / 341 * 260))
    ]
    assert found.unknown == [f"{vendor}/GAP-1"]
    named = marit.aligned(
        contracts=[f"{vendor}/ENDS", f"{vendor}/LONG"], on=today() + timedelta(days=100)
    )
    assert ([x.days for x in named.items], named.later) == ([60], [f"{vendor}/LONG"])
    assert caught(lambda: marit.aligned(contracts=[f"{vendor}/ENDS"])).code == "too-few"
    assert caught(lambda: marit.aligned(vendor=vendor, on=date(2020, 1, 1))).facts["field"] == "on"


def test_a_calendar_is_read_by_whoever_has_its_address(marit: SealPacket, vendor: str) -> None:
    contract = marit.contracts.get(f"{vendor}/ENDS")
    marit.contracts.change(contract.id, contract.version, notice_on=day(10), grace_days=5)
    marit.entitlements.add(vendor=vendor, contract=f"{vendor}/LONG", reference="APART", level="Care", needs=["fault"],
                           starts_on=day(-10), ends_on=day(15), co_term=False)  # fmt: skip
    marit.choose_digest("never", vendors=[vendor])
    address = marit.new_calendar()
    answer = plain_http.get(address)
    assert answer.status_code == 200, answer.text
    assert answer.headers["Content-Type"].startswith("text/calendar")
    events = {str(e["SUMMARY"]): e for e in Calendar.from_ical(answer.content).walk("VEVENT")}
    days = {name.split(": ", 1)[1]: e["DTSTART"].dt.isoformat() for name, e in events.items()}
    named = f"contract {vendor}/ENDS"
    assert days[f"{named} ends"] == day(40)
    assert days[f"{named}: last day for notice"] == day(10)
    assert days[f"{named} lapses"] == day(45)
    assert days["APART (Care) ends"] == day(15)
    assert f"contract {vendor}/OVER ends" in days, "what lapsed lately is still there"
    again = {
        str(e["UID"]) for e in Calendar.from_ical(plain_http.get(address).content).walk("VEVENT")
    }
    assert again == {str(e["UID"]) for e in events.values()}, "the same events keep their ids"
    later = marit.new_calendar()
    assert plain_http.get(address).status_code == 404
    assert not marit.end_calendar().calendar
    assert plain_http.get(later).status_code == 404


@pytest.mark.parametrize(
    ("every", "sent", "today", "due"),
    [
        ("never", None, "2026-11-23", False), ("daily", None, "2026-11-23", True), ("daily", "2026-11-23", "2026-11-23", False),
        ("daily", "2026-11-22", "2026-11-23", True), ("weekly", "2026-11-16", "2026-11-22", False),
        ("weekly", "2026-11-16", "2026-11-23", True), ("weekly", "2026-11-16", "2026-11-25", True),
        ("monthly", "2026-11-01", "2026-11-30", False), ("monthly", "2026-11-03", "2026-12-01", True),
    ],
)  # fmt: skip
def test_a_digest_is_due_once_a_day_week_or_month(
    every: str, sent: str | None, today: str, due: bool
) -> None:
    assert (
        digests.is_due(every, date.fromisoformat(sent) if sent else None, date.fromisoformat(today))
        is due
    )


def test_a_digest_goes_to_the_person_and_tells_of_their_vendors(
    house: RunningHouse, inside: AppContext, signed_in: Any, vendor: str
) -> None:
    ines = signed_in("ines")
    chosen = ines.choose_digest("daily", vendors=[vendor])
    assert (chosen.mail, chosen.mail_configured) == ("ines.harrowgate@quillmere.example", True)
    known = set(house.mail_folder.glob("*.eml"))
    assert digests.send_due(inside) == 1
    assert digests.send_due(inside) == 0, "once a day"
    (path,) = set(house.mail_folder.glob("*.eml")) - known
    message = message_from_bytes(path.read_bytes(), policy=policy.default)
    text = message.get_content()
    assert message["To"] == "ines.harrowgate@quillmere.example"
    assert f"Doors {vendor}/ENDS on {day(40)}, in 40 days" in text
    assert f"{vendor}-bare Door" in text
    assert "Lumenlathe" not in text
    house.end("stand-in mail")
    try:
        ines.choose_digest("weekly", vendors=[vendor])
        with inside.database.transaction() as session:
            session.query(digests.Digest).update({"sent_on": None})
        assert digests.send_due(inside) == 0, (
            "a mail server that is away loses nothing: it is tried again"
        )
        assert ines.digest().sent_on is None
    finally:
        house.begin("stand-in mail")
        ines.choose_digest("never")


def test_a_digest_names_sites_and_vendors_that_there_are(marit: SealPacket) -> None:
    assert caught(lambda: marit.choose_digest("daily", sites=["nowhere"])).facts["field"] == "sites"
    assert caught(lambda: marit.choose_digest("hourly")).status == 422
