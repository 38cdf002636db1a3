"""After the reference: answers question by question, files that follow, acts at the desk, and who looks after it."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest

from sealpacket.app.context import AppContext
from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import AskedShown, PacketShown
from sealpacket.store.models import AccessGrant
from tests.conftest import ARRAY, Tarnfell, add, until


def open_questions(packet: PacketShown) -> list[AskedShown]:
    return [one for message in packet.messages for one in message.questions if one.open]


def sent(client: SealPacket, number: str) -> PacketShown:
    """The packet once nothing of ours is on its way any more."""

    def all_sent() -> PacketShown | None:
        packet = client.packets.get(number)
        return packet if all(m.sent or m.failure for m in packet.messages) else None

    return until(all_sent)


def asked(client: SealPacket, lodged: PacketShown, desk: Tarnfell, *texts: str) -> PacketShown:
    for text in texts:
        desk.steer(case=lodged.reference, ask=text)
    return client.packets.follow(lodged.number)


def possible(packet: PacketShown) -> set[str]:
    return {one.act for one in packet.acts if one.possible}


def test_each_question_is_ticked_off_by_itself(
    marit: SealPacket, teo: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    packet = asked(marit, lodged, tarnfell, "Which firmware?", "Since when?")
    first, second = open_questions(packet)
    half = marit.packets.reply(packet.number, "Both run 7.4.2.", questions=[first.id])
    assert [one.text for one in open_questions(half)] == ["Since when?"]
    assert half.turn == "ours", "one question still waits"
    with pytest.raises(Refused) as caught:
        teo.packets.reply(packet.number, "They run 7.4.2.", questions=[first.id])
    assert (caught.value.code, "marit" in caught.value.detail) == ("answered-before", True)
    done = teo.packets.reply(packet.number, "Since Monday.", questions=[second.id])
    assert (done.turn, open_questions(done)) == ("vendor", [])
    assert {one.by for m in done.messages for one in m.questions} == {"marit", "teo"}


def test_a_comment_answers_nothing(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    packet = asked(marit, lodged, tarnfell, "Which firmware?")
    after = marit.packets.comment(packet.number, "We look it up.")
    assert (after.turn, len(open_questions(after))) == ("ours", 1)
    gone = marit.packets.dismiss_question(packet.number, open_questions(after)[0].id)
    assert open_questions(gone) == []


def test_files_follow_redacted_under_the_same_legend(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell, tmp_path: Path
) -> None:
    bag = marit.packets.get(lodged.number).seal
    packet = add(
        marit,
        lodged.number,
        tmp_path / "b.log",
        b"host bs-array-b.quillmere.example at 10.40.20.21\n",
    )
    later = next(one for one in packet.exhibits if one.name == "b.log")
    assert (later.later, later.sent, later.state) == (True, False, "ready")
    marit.packets.reply(packet.number, "Here is the log of the other one.", files=["b.log"])
    after = sent(marit, packet.number)
    assert after.messages[-1].files == ["b.log"]
    assert after.seal == bag, "what was sealed stays as it was"
    case = tarnfell.case(lodged.reference)
    assert case["more"] == ["b.log"]
    uploads = [one for one in tarnfell.look()["uploads"].items() if one[1]["name"] == "b.log"]
    content = (tarnfell.house.folder / "standins/tarnfell/uploads" / uploads[-1][0]).read_bytes()
    assert (b"10.40.20.21" in content, b"host" in content) == (False, True)
    with pytest.raises(Refused) as caught:
        marit.packets.comment(packet.number, "Once more.", files=["b.log"])
    assert caught.value.code == "sent-before"
    with pytest.raises(Refused) as caught:
        marit.exhibits.remove(packet.number, "b.log")
    assert caught.value.code == "sent-before"


def test_a_file_that_the_desk_does_not_take_stays_here(
    marit: SealPacket, lodged: PacketShown, tmp_path: Path
) -> None:
    add(marit, lodged.number, tmp_path / "photo.bin.dat", b"text that is no log\n")
    with pytest.raises(Refused) as caught:
        marit.packets.comment(lodged.number, "", files=["photo.bin.dat"])
    assert caught.value.code == "ending"
    assert marit.packets.get(lodged.number).messages == []


def test_the_acts_of_a_desk_arrive_as_its_sheet_says(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    number = lodged.number
    marit.packets.change_severity(number, "3", "It is better now.")
    marit.packets.change_contact(number, "ines", "Ines is on call.")
    marit.packets.change_told(number, ["pauli", "teo"])
    after = sent(marit, number)
    assert [m.failure for m in after.messages] == ["", "", ""]
    case = tarnfell.case(lodged.reference)
    assert case["body"]["case"]["priority"] == "3"
    assert case["body"]["case"]["contact"]["name"] == "Ines Harrowgate"
    words = [one["text"] for one in case["messages"] if one["from"] == "customer"]
    assert words == [
        "Please keep these people informed from now on: "
        "pauli.brandreth@quillmere.example, teo.valcourt@quillmere.example."
    ]


def test_a_severity_whose_duties_nobody_meets_is_stopped(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    with pytest.raises(Refused) as caught:
        marit.packets.change_severity(lodged.number, "1", "It stands still now.")
    assert (caught.value.code, "Ines Harrowgate" in caught.value.remedy) == ("duty", True)
    named = marit.packets.change_contact(lodged.number, "ines").messages[-1]
    assert (named.act, named.about) == ("contact", "Ines Harrowgate")
    raised = marit.packets.change_severity(lodged.number, "1").messages[-1]
    assert (raised.act, bool(raised.about)) == ("severity", True)


def test_escalation_waits_until_the_rule_allows_it(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    assert "escalate" in possible(marit.packets.get(lodged.number))
    with pytest.raises(Refused) as caught:
        marit.packets.escalate(lodged.number, "Two more branches wait.")
    assert caught.value.code == "too-early"


def test_an_answer_is_contested_accepted_rated_and_opened_again(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    number, reference = lodged.number, lodged.reference
    assert not {"accept", "contest", "rate", "open_again"} & possible(marit.packets.get(number))
    with pytest.raises(Refused) as caught:
        marit.packets.accept(number)
    assert caught.value.code == "no-answer"
    tarnfell.steer(case=reference, state="REMEDY_SENT", say="Replace the cable.")
    assert {"accept", "contest"} <= possible(marit.packets.follow(number))
    assert marit.packets.contest(number, "The cable is new.").turn == "vendor"
    sent(marit, number)
    assert tarnfell.case(reference)["state"] == "OPEN"
    tarnfell.steer(case=reference, state="REMEDY_SENT", say="Replace the board.")
    marit.packets.follow(number)
    marit.packets.accept(number, "That was it.")
    sent(marit, number)
    assert marit.packets.follow(number).life == "settled"
    over = marit.packets.settle(number, cause="A broken board.", cure="It was replaced.")
    assert (over.life, over.cause, over.turn) == ("settled", "A broken board.", "none")
    assert marit.packets.rate(number, 4, "Quick.").messages[-1].about == "4 of 5"
    sent(marit, number)
    assert tarnfell.case(reference)["stars"] == 4
    again = marit.packets.open_again(number, "It is back.")
    assert (again.life, again.turn, again.cause) == ("lodged", "vendor", "")
    sent(marit, number)
    assert tarnfell.case(reference)["reopened"] == "It is back."
    assert marit.packets.follow(number).life == "lodged"


def test_what_the_desk_refuses_is_said_and_becomes_our_turn(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    tarnfell.steer(refuse="closed")
    marit.packets.comment(lodged.number, "One thing more.")
    after = sent(marit, lodged.number)
    assert "The desk does not take this message" in after.messages[-1].failure
    assert "Have it opened again" in after.messages[-1].failure
    assert after.turn == "ours"
    gone = marit.packets.take_back(lodged.number, after.messages[-1].id)
    assert (gone.messages[-1].taken_back, gone.turn) == (True, "vendor")


def test_what_has_not_gone_yet_is_taken_back(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    packet = asked(marit, lodged, tarnfell, "Which firmware?")
    marit.packets.reply(packet.number, "7.4.2")
    after = sent(marit, packet.number)
    with pytest.raises(Refused) as caught:
        marit.packets.take_back(packet.number, after.messages[-1].id)
    assert caught.value.code == "sent-before"


def test_somebody_else_looks_after_it(
    marit: SealPacket, teo: SealPacket, noted: PacketShown
) -> None:
    assert noted.owner == "marit"
    assert marit.packets.hand_over(noted.number, "teo", "The log is missing.").owner == "teo"
    assert teo.packets.take_over(noted.number).owner == "teo"
    with pytest.raises(Refused) as caught:
        marit.packets.hand_over(noted.number, "nobody-here")
    assert "preparer" in caught.value.remedy


def test_a_call_is_recorded(marit: SealPacket, lodged: PacketShown) -> None:
    at = datetime.now(UTC) - timedelta(minutes=20)
    packet = marit.packets.record_call(
        lodged.number, "Which firmware do both run?", at=at, spoke_to="Rowan Ash", asks=True
    )
    call = packet.messages[-1]
    assert (call.how, call.by, call.asks, packet.turn) == ("call", "Rowan Ash", True, "ours")
    with pytest.raises(Refused):
        marit.packets.record_call(lodged.number, "Soon.", at=datetime.now(UTC) + timedelta(days=1))


def test_a_packet_follows_one_that_is_over(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    with pytest.raises(Refused):
        marit.packets.follow_up(lodged.number)
    tarnfell.steer(case=lodged.reference, state="CLOSED", say="Solved.")
    marit.packets.follow(lodged.number)
    marit.packets.settle(lodged.number, cause="A worn cable.")
    after = marit.packets.follow_up(lodged.number, note="It is back since noon.")
    assert (after.follows, after.title) == (lodged.number, lodged.title)
    assert "A worn cable." in after.note
    assert marit.packets.get(lodged.number).followed_by == [after.number]


def test_access_to_our_systems_has_an_end(
    marit: SealPacket, lodged: PacketShown, inside: AppContext
) -> None:
    now = datetime.now(UTC)
    with pytest.raises(Refused):
        marit.packets.grant_access(lodged.number, "R. Ash", "array A", now + timedelta(days=365))
    packet = marit.packets.grant_access(
        lodged.number, "R. Ash", "array A", now + timedelta(hours=2), asked="by telephone"
    )
    (one,) = packet.access
    assert (one.granted_by, one.overdue) == ("marit", False)
    assert one.id in [found.id for found in marit.packets.list_access(asset=ARRAY)]
    with inside.database.transaction() as session:
        session.get_one(AccessGrant, one.id).until_at = now - timedelta(minutes=1)
    assert one.id in [found.id for found in marit.today().access_overdue]
    over = marit.packets.end_access(one.id, "switched off")
    assert (over.access[0].ended_by, over.access[0].ended_how) == ("marit", "switched off")
    assert one.id not in [found.id for found in marit.today().access_overdue]
    with pytest.raises(Refused) as caught:
        marit.packets.end_access(one.id)
    assert caught.value.code == "ended-before"
    acts = [entry.action for entry in marit.custody(f"packet {lodged.number}", limit=20)]
    assert {"access granted", "access ended"} <= set(acts)


def test_a_replacement_takes_the_place_and_the_cover_of_what_was_broken(
    marit: SealPacket, teo: SealPacket
) -> None:
    marit.assets.add(
        vendor="tarnfell", product="TN9", serial="TN9-44190-X", name="Spare", site="book-store"
    )
    entitlement = marit.entitlements.get("TSE-301877")
    marit.entitlements.change(
        entitlement.id,
        entitlement.version,
        serials=[*entitlement.serials, "TN9-44190-X"],
    )
    packet = marit.packets.note(
        "The spare array is dead", "It shows no light.", asset="TN9-44190-X"
    )
    due = datetime.now(UTC).date() + timedelta(days=3)
    sent = marit.packets.note_shipment(
        packet.number, "to_vendor", "The dead one", tracking="MF-1", due_on=due
    )
    assert sent.shipments[0].id in [one.id for one in marit.today().shipments_due]
    arrived = marit.packets.receive_shipment(sent.shipments[0].id)
    assert arrived.shipments[0].arrived_on is not None
    with pytest.raises(Refused):
        teo.packets.swap_serial(packet.number, "TN9-44191-X")
    swapped = marit.packets.swap_serial(packet.number, "TN9-44191-X")
    assert swapped.asset and swapped.asset.retired
    old, new = marit.assets.get("TN9-44190-X"), marit.assets.get("TN9-44191-X")
    assert (old.status, new.status, new.site) == ("retired", "in_use", "book-store")
    assert marit.coverage("TN9-44191-X", "fault").entitlement == "TSE-301877"
    entry = marit.custody(subject=f"packet {packet.number}")[0]
    assert (entry.action, entry.detail["new"]) == ("serial swapped", "TN9-44191-X")


@pytest.mark.parametrize("shipped", [True, False], ids=["shipped", "installed"])
def test_a_replacement_does_not_begin_the_warranty_anew(marit: SealPacket, shipped: bool) -> None:
    """36 months, of which 30 are over: six are left, whoever stands there now."""
    serial = f"TN9-4430{int(shipped)}-W"
    began = (datetime.now(UTC).date() - timedelta(days=30 * 30)).isoformat()
    dates = {"shipped_on": began} if shipped else {"installed_on": began}
    marit.assets.add(vendor="tarnfell", product="TN9", serial=serial, name="Spare", **dates)
    before = marit.coverage(serial, "return")
    assert before.route == "warranty"
    packet = marit.packets.note("The spare is dead", "No light.", asset=serial)
    marit.packets.swap_serial(packet.number, f"{serial}2")
    after = marit.coverage(f"{serial}2", "return")
    assert (after.route, after.ends_on) == ("warranty", before.ends_on)
