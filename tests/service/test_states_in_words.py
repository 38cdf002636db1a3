"""A desk that a person reaches on two ways, tells its states in words, and never closes a case itself."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import pytest

from sealpacket.app.context import AppContext
from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.services.packets.follow.cases import remind_to_settle
from sealpacket.services.packets.workbench import find_packet
from tests.core.test_four_desks import text_of


@pytest.fixture(scope="module")
def dunholm(marit: SealPacket) -> str:
    """Dunholm's lift, its desk, and a contract for it."""
    marit.vendors.add(key="dunholm", name="Dunholm Lifts", customer_number="DL-20931")
    marit.products.add(vendor="dunholm", part_number="DL-1", name="Lift")
    marit.assets.add(vendor="dunholm", product="DL-1", serial="DL1-4711", site="quay-street")
    marit.contracts.add(
        vendor="dunholm", number="DLC-7001", starts_on="2026-01-01", ends_on="2030-12-31"
    )
    marit.entitlements.add(
        vendor="dunholm", contract="DLC-7001", reference="DLE-1", level="Care", needs=["fault"],
        starts_on="2026-01-01", ends_on="2030-12-31", serials=["DL1-4711"],
    )  # fmt: skip
    marit.put_sheet(
        text_of("telephone-or-page").replace(
            "repaired: answered", "repaired: {life: answered, turn: vendor, settle_after_days: 5}"
        )
    )
    return "DL1-4711"


@pytest.fixture
def told(marit: SealPacket, dunholm: str) -> PacketShown:
    """A packet that was told by telephone and has its number."""
    number = marit.packets.note(
        "The lift stands", "It stands at the third floor.", asset=dunholm
    ).number
    marit.packets.answer(number, floor="3", inside="no", back="+441632960100")
    marit.packets.seal(number)
    marit.packets.lodge(number)
    return marit.packets.enter_reference(number, f"L-55-{20000 + int(number[2:])}")


def test_a_person_chooses_the_way(marit: SealPacket, told: PacketShown) -> None:
    called = marit.packets.hand_guide(told.number)
    assert (called.by, [one.by for one in called.ways]) == ("telephone", ["telephone", "form"])
    page = marit.packets.hand_guide(told.number, "form")
    assert page.where == "https://dunholm.example/melden"
    assert [one.label for one in page.cases[0].fields] == [
        "Contract", "Lift", "Floor", "People inside", "What happened",
    ]  # fmt: skip
    assert (called.cases[0].fields[1].spelled != "", page.cases[0].fields[1].spelled) == (True, "")
    with pytest.raises(Refused) as caught:
        marit.packets.hand_guide(told.number, "paper")
    assert "telephone, form" in caught.value.remedy


@pytest.mark.parametrize("way", ["call", "words"])
def test_words_tell_how_the_case_stands(marit: SealPacket, told: PacketShown, way: str) -> None:
    if way == "call":
        heard = marit.packets.record_call(told.number, "They say: needs part, next week.")
    else:
        heard = marit.packets.take_reply(told.number, "It needs part 7 first.", asks=False)
    assert (heard.desk_status, heard.life, heard.turn) == ("needs part", "lodged", "vendor")


def test_it_is_for_us_to_settle_once_its_days_are_over(
    marit: SealPacket, told: PacketShown, inside: AppContext
) -> None:
    heard = marit.packets.record_call(told.number, "It is repaired.")
    assert (heard.life, heard.turn) == ("answered", "vendor")
    assert "settle it from" in heard.status_text
    assert heard.number in [one.number for one in marit.today().theirs]
    with inside.database.transaction() as session:
        case = find_packet(session, told.number).cases[0]
        assert case.settle_on is not None
        assert case.settle_on > datetime.now(UTC).date() + timedelta(days=4)
        case.settle_on = datetime.now(UTC).date()
    remind_to_settle(inside)
    due = next(one for one in marit.today().ours if one.number == told.number)
    assert due.status_text == "Dunholm Lifts says repaired; it is for us to settle it now"
    over = marit.packets.settle(told.number, cure="A new door switch")
    assert (over.life, over.turn, over.status_text) == ("settled", "none", "Settled.")


def test_what_is_settled_asks_for_nothing_any_more(marit: SealPacket, told: PacketShown) -> None:
    asked = marit.packets.record_call(told.number, "Who has the key?", asks=True)
    assert asked.messages[-1].questions[0].open
    over = marit.packets.settle(told.number)
    assert not over.messages[-1].questions[0].open
    rated = marit.packets.rate(told.number, 5)
    assert rated.status_text == (
        "Settled. A message of ours has to be passed on to Dunholm Lifts by hand"
    )
    assert rated.turn == "ours"


def test_a_desk_is_chosen_and_answers_come_back(marit: SealPacket, dunholm: str) -> None:
    packet = marit.packets.note("The lift stands", "It stands.", asset=dunholm)
    desks = [(one.key, one.takes) for one in packet.desks]
    assert ("dunholm-lifts", True) in desks
    assert desks[-1] == ("dunholm-by-hand", True)
    marit.packets.answer(packet.number, floor="2", inside="no")
    other = marit.packets.change(packet.number, desk="dunholm-by-hand")
    assert other.desk == "dunholm-by-hand"
    assert [one.code for one in other.checks if one.code == "answers-aside"] == ["answers-aside"]
    back = marit.packets.change(packet.number, desk="dunholm-lifts")
    assert next(one.answer.value for one in back.questions if one.id == "floor") == "2"
    with pytest.raises(Refused) as caught:
        marit.packets.change(packet.number, desk="tarnfell-support")
    assert "dunholm-by-hand" in caught.value.remedy


@pytest.mark.parametrize("need", ["improvement", "tie", "return", "reading"])
def test_what_no_desk_of_the_vendor_takes_goes_by_hand(
    marit: SealPacket, dunholm: str, need: str
) -> None:
    packet = marit.packets.note("A wish", "We wish for a quieter door.", need=need, asset=dunholm)
    assert (packet.desk, packet.by_hand) == ("dunholm-by-hand", True)
    assert "wrong-need" not in [one.code for one in packet.checks]


def test_our_customer_number_and_the_town_go_where_a_desk_asks(
    marit: SealPacket, dunholm: str
) -> None:
    version = marit.sites.get("quay-street").version
    marit.sites.change("quay-street", version, town="Quillmere", state="Marshire")
    text = text_of("telephone-or-page").replace("dunholm-lifts", "dunholm-page")
    body = 'body: {Customer: "{vendor.customer_number}", Town: "{site.town}, {site.state}", '
    marit.put_sheet(text.replace("body: {", body))
    number = marit.packets.note("The lift stands", "It stands.", asset=dunholm).number
    marit.packets.change(number, desk="dunholm-page")
    marit.packets.answer(number, floor="3", inside="yes")
    letter = marit.packets.letter(number)
    assert letter.body["Customer"] == "DL-20931"
    assert letter.body["Town"] == "Quillmere, Marshire"


def test_a_hand_over_says_what_is_next(
    marit: SealPacket, teo: SealPacket, told: PacketShown
) -> None:
    given = marit.packets.hand_over(told.number, "teo", "Ring them at nine.")
    assert given.handed is not None
    assert (given.owner, given.handed.by, given.handed.to, given.handed.note) == (
        "teo", "marit", "teo", "Ring them at nine.",
    )  # fmt: skip
    assert teo.packets.take_over(told.number).handed is None


def test_the_same_access_is_granted_once(marit: SealPacket, told: PacketShown) -> None:
    until = datetime.now(UTC) + timedelta(hours=2)
    marit.packets.grant_access(told.number, "their fitter", "the machine room", until)
    with pytest.raises(Refused) as caught:
        marit.packets.grant_access(told.number, "their fitter", "the machine room", until)
    assert caught.value.code == "granted-before"


def test_whom_the_desk_is_told_to_speak_to_is_named_in_the_words(
    marit: SealPacket, told: PacketShown
) -> None:
    words = "Ines is on site now, and Pauli Brandreth has left."
    before = marit.packets.comment(told.number, words).messages[-1]
    assert before.outgoing is not None
    assert not before.outgoing.startswith("Ines")
    after = marit.packets.change_contact(told.number, "ines", words).messages[-1]
    assert after.outgoing is not None
    assert after.outgoing.startswith("Ines is on site now, and [person:")
