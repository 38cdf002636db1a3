"""Sealing and lodging: nothing goes while something stops it, no second case, nothing lost when the desk says no."""

from __future__ import annotations

import json
import time
import zipfile
from collections.abc import Callable
from pathlib import Path

import pytest

from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.core.packet import SealKeys, verify_bag
from sealpacket.demo.house import RunningHouse
from tests.conftest import ARRAY, GOOD_ANSWERS, NOTE, Tarnfell, add, stops, until


def fetch(client: SealPacket, number: str, folder: Path) -> Path:
    """The sealed bag on disk."""
    return client.packets.fetch_bag(number, folder / f"{number}.zip")


def key_of(client: SealPacket) -> SealKeys:
    """The public seal key."""
    return SealKeys.read(client.seal_keys().model_dump_json())


def test_what_stops_a_packet_stops_its_seal(marit: SealPacket, noted: PacketShown) -> None:
    with pytest.raises(Refused) as caught:
        marit.packets.seal(noted.number)
    assert caught.value.code == "stops-left"
    assert caught.value.facts["stops"] == ["unanswered"] * 3
    assert "How bad is it?" in caught.value.remedy


def test_a_preparer_cannot_seal(teo: SealPacket, answered: PacketShown) -> None:
    with pytest.raises(Refused) as caught:
        teo.packets.seal(answered.number)
    assert caught.value.code == "not-allowed"


def test_a_sealed_bag_verifies_and_holds_no_original(
    marit: SealPacket, sealed: PacketShown, tmp_path: Path
) -> None:
    path = fetch(marit, sealed.number, tmp_path)
    verdict = verify_bag(path, key_of(marit))
    assert verdict.holds, verdict.faults
    with zipfile.ZipFile(path) as archive:
        names = {name.split("/", 1)[1] for name in archive.namelist()}
        assert names >= {"data/case.json", "data/ruling.json", "data/redaction-report.json", "data/answers.json",
                         "data/exhibits/array.cfg", "bagit.txt", "manifest-sha256.txt"}  # fmt: skip
        everything = b"".join(archive.read(name) for name in archive.namelist())
        report = json.loads(archive.read(f"{sealed.number}/data/redaction-report.json"))
        case = json.loads(archive.read(f"{sealed.number}/data/case.json"))
    assert b"thrush-in-the-reeds" not in everything
    assert report["exhibits"][0]["counts"] == {"secret": 1}
    assert report["exhibits"][0]["leak_check"] == {"found": 0, "searched": 1, "too_short": 0}
    assert case == marit.packets.letter(sealed.number).body


def test_a_sealed_packet_is_frozen(marit: SealPacket, sealed: PacketShown, tmp_path: Path) -> None:
    (tmp_path / "late.log").write_text("late\n")
    for act in (
        lambda: marit.packets.answer(sealed.number, severity="3"),
        lambda: marit.packets.change(sealed.number, title="Another title"),
        lambda: marit.exhibits.add(sealed.number, tmp_path / "late.log"),
        lambda: marit.exhibits.remove(sealed.number, "array.cfg"),
        lambda: marit.packets.seal(sealed.number),
    ):
        with pytest.raises(Refused) as caught:
            act()
        assert caught.value.code == "not-drafting"
    assert {q.answer.source for q in sealed.questions} > {None}, "answers keep where they came from"


def test_a_later_change_of_the_register_does_not_change_what_was_sealed(
    marit: SealPacket, sealed: PacketShown, tmp_path: Path
) -> None:
    before = fetch(marit, sealed.number, tmp_path).read_bytes()
    person = marit.people.get("marit")
    changed = marit.people.change("marit", person.version, hours="Mo–Th")
    try:
        assert marit.packets.get(sealed.number).ruling == sealed.ruling
        assert fetch(marit, sealed.number, tmp_path).read_bytes() == before
    finally:
        marit.people.change("marit", changed.version, hours=person.hours)


def test_opened_again_it_can_be_mended_and_sealed_anew(
    marit: SealPacket, sealed: PacketShown
) -> None:
    packet = marit.packets.reopen(sealed.number)
    assert (packet.life, packet.seal) == ("drafting", None)
    assert stops(packet) == []
    assert sum(q.answer.typed for q in packet.questions) == len(GOOD_ANSWERS)
    marit.packets.answer(sealed.number, severity="3")
    again = marit.packets.seal(sealed.number)
    assert again.seal
    assert sealed.seal
    assert again.seal.tag_manifest != sealed.seal.tag_manifest


def test_an_unsealed_packet_has_no_bag_and_cannot_be_lodged(
    marit: SealPacket, answered: PacketShown, tmp_path: Path
) -> None:
    for act in (
        lambda: fetch(marit, answered.number, tmp_path),
        lambda: marit.packets.lodge(answered.number),
    ):
        with pytest.raises(Refused) as caught:
            act()
        assert caught.value.code == "not-sealed"
    assert list(tmp_path.iterdir()) == [], "nothing half-written stays"


def test_the_desk_gets_the_case_and_the_outgoing_copies_only(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell, house: RunningHouse
) -> None:
    case = tarnfell.cases()[str(lodged.reference)]["body"]
    assert case["case"] == marit.packets.letter(lodged.number).body["case"]
    attachment = case["attachments"][0]
    ident = attachment["upload"].rsplit("/", 1)[-1]
    received = (house.folder / "standins/tarnfell/uploads" / ident).read_bytes()
    assert b"thrush" not in received
    assert b"password = [secret:" in received
    assert (lodged.life, lodged.turn) == ("lodged", "vendor")


def test_a_repeated_lodge_makes_no_second_case(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    before = set(tarnfell.cases())
    assert marit.packets.lodge(lodged.number).reference == lodged.reference
    assert set(tarnfell.cases()) == before


def test_a_lodge_whose_answer_was_lost_makes_no_second_case(
    house: RunningHouse, marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    """As after a power cut between the desk's answer and our note of it: the worker tries again with the same key."""
    import psycopg

    before = set(tarnfell.cases())
    with psycopg.connect(house.cluster.owner_url.replace("+psycopg", "")) as connection:
        connection.execute(
            "UPDATE packet SET life = 'sealed', reference = NULL WHERE number = %s",
            (lodged.number,),
        )
        connection.execute(
            "UPDATE packet_delivery SET state = NULL"
            " WHERE packet_id = (SELECT id FROM packet WHERE number = %s)",
            (lodged.number,),
        )
        connection.execute(
            "UPDATE packet_case SET reference = NULL, sent = false, life = NULL"
            " WHERE packet_id = (SELECT id FROM packet WHERE number = %s)",
            (lodged.number,),
        )
    marit.packets.lodge(lodged.number)
    assert marit.packets.wait(lodged.number).reference == lodged.reference
    assert set(tarnfell.cases()) == before


@pytest.mark.parametrize(
    "code", ["unknown_serial", "not_entitled", "bad_category", "nobody_at_night", "something_new"]
)
def test_a_refusal_says_what_to_do_and_loses_nothing(
    marit: SealPacket, sealed: PacketShown, tarnfell: Tarnfell, code: str
) -> None:
    tarnfell.steer(refuse=code)
    marit.packets.lodge(sealed.number)
    refused = marit.packets.wait(sealed.number)
    assert (refused.life, refused.turn, refused.reference) == ("refused", "ours", None)
    assert refused.refusals[0].code == code
    assert refused.refusals[0].cure
    assert refused.status_text.startswith("Refused by Tarnfell Storage")
    assert refused.number in [p.number for p in marit.today().ours]
    reopened = marit.packets.reopen(sealed.number)
    assert [e.name for e in reopened.exhibits] == ["array.cfg"]
    assert [q.answer.value for q in reopened.questions] == [
        q.answer.value for q in sealed.questions
    ]
    marit.packets.seal(sealed.number)
    marit.packets.lodge(sealed.number)
    lodged = marit.packets.wait(sealed.number)
    assert lodged.reference
    assert f"Refused: {refused.refusals[0].text.rstrip('.')}." in [
        message.text for message in lodged.messages
    ]


def test_the_desks_own_checks_are_read(marit: SealPacket, tarnfell: Tarnfell) -> None:
    """A serial that we believe covered and the desk does not know: its reason, its words, our cure."""
    serial = f"TN9-{time.time_ns() % 90_000 + 10_000}-Z"
    marit.assets.add(vendor="tarnfell", product="TN9", serial=serial, site="book-store")
    entitlement = marit.entitlements.get("TSE-301877")
    marit.entitlements.change(
        entitlement.id, entitlement.version, serials=[*entitlement.serials, serial]
    )
    packet = marit.packets.note("Unknown array is slow", NOTE, asset=serial)
    marit.packets.answer(packet.number, **GOOD_ANSWERS)
    marit.packets.seal(packet.number)
    marit.packets.lodge(packet.number)
    refused = marit.packets.wait(packet.number)
    assert refused.refusals[0].code == "unknown_serial"
    assert serial in refused.refusals[0].text
    assert "Compare the serial with the label" in refused.refusals[0].cure


def test_a_wrong_token_is_told_as_such(
    marit: SealPacket, sealed: PacketShown, tarnfell: Tarnfell
) -> None:
    login = marit.logins.list(vendor="tarnfell", query="marit").__next__()
    wrong = marit.logins.change(login.id, login.version, secret="not-the-token")
    try:
        marit.packets.lodge(sealed.number)
        refused = marit.packets.wait(sealed.number)
        assert refused.refusals[0].code == "bad_token"
        assert "current token" in refused.refusals[0].cure
    finally:
        marit.logins.change(login.id, wrong.version, secret=tarnfell.token)


def test_a_desk_that_is_down_is_tried_again_by_itself(
    marit: SealPacket, sealed: PacketShown, tarnfell: Tarnfell
) -> None:
    tarnfell.steer(down=True)
    marit.packets.lodge(sealed.number)
    seen = wait_for(
        marit, sealed.number, lambda packet: "Waiting for the desk" in packet.lodge_status_text
    )
    assert seen.next_try_at is not None
    assert (seen.life, seen.lodge_state) == ("sealed", "queued")
    tarnfell.steer(down=False)
    assert until(lambda: marit.packets.get(sealed.number).reference)


def test_an_upload_that_broke_off_goes_on_where_it_was(
    house: RunningHouse,
    marit: SealPacket,
    answered: PacketShown,
    tarnfell: Tarnfell,
    tmp_path: Path,
) -> None:
    content = b"".join(b"%07d queue depth latency flush\n" % n for n in range(300_000))
    add(marit, answered.number, tmp_path / "big.log", content)
    marit.packets.seal(answered.number)
    uploads = house.folder / "standins/tarnfell/uploads"
    earlier = set(uploads.iterdir())
    tarnfell.steer(slow=0.3)
    marit.packets.lodge(answered.number)
    until(
        lambda: any(
            4_000_000 <= path.stat().st_size < len(content)
            for path in set(uploads.iterdir()) - earlier
        )
    )
    house.end("stand-in tarnfell")
    begun = {path.name for path in set(uploads.iterdir()) - earlier}
    house.begin("stand-in tarnfell")
    reference = until(lambda: marit.packets.get(answered.number).reference)
    attachment = tarnfell.case(reference)["body"]["attachments"][0]
    assert attachment["upload"].rsplit("/", 1)[-1] in begun, (
        "the upload was continued, not begun again"
    )
    assert (uploads / attachment["upload"].rsplit("/", 1)[-1]).read_bytes() == content


def test_a_desk_without_a_configured_address_gets_nothing(marit: SealPacket) -> None:
    from sealpacket.demo.world import sheet_text

    text = sheet_text("tarnfell-support").replace(
        "desk: tarnfell-support", "desk: a-tarnfell-unknown"
    )
    text = text.replace("  - {need: fault, routes: [support]}\n", "").replace(
        "{need: question,", "{need: change,"
    )
    marit.put_sheet(text.replace("map: {fault: FAULT, question: QUERY}", "map: {change: FAULT}"))
    entitlement = marit.entitlements.get("TSE-301877")
    marit.entitlements.change(
        entitlement.id, entitlement.version, needs=["fault", "question", "change"]
    )
    packet = marit.packets.note("Change of level", NOTE, asset=ARRAY, need="change")
    assert packet.desk == "a-tarnfell-unknown"
    marit.packets.answer(packet.number, **GOOD_ANSWERS)
    marit.packets.seal(packet.number)
    with pytest.raises(Refused) as caught:
        marit.packets.lodge(packet.number)
    assert caught.value.code == "desk-address"
    assert marit.packets.get(packet.number).life == "sealed"


def test_a_desk_that_gives_no_reference_is_told_and_not_asked_again(
    marit: SealPacket, sealed: PacketShown, tarnfell: Tarnfell
) -> None:
    tarnfell.steer(mute=True)
    try:
        marit.packets.lodge(sealed.number)
        packet = marit.packets.wait(sealed.number)
    finally:
        tarnfell.steer(mute=False)
    assert (packet.life, packet.lodge_state) == ("sealed", "stalled")
    assert "gave no reference" in packet.lodge_status_text


def test_what_is_on_its_way_cannot_be_opened_again(
    marit: SealPacket, sealed: PacketShown, tarnfell: Tarnfell
) -> None:
    tarnfell.steer(slow=1.5)
    marit.packets.lodge(sealed.number)
    with pytest.raises(Refused) as caught:
        marit.packets.reopen(sealed.number)
    assert caught.value.code == "not-reopenable"
    assert marit.packets.wait(sealed.number).reference


def wait_for(client: SealPacket, number: str, so: Callable[[PacketShown], bool]) -> PacketShown:
    """The packet, as soon as it is so."""
    return until(lambda: packet if so(packet := client.packets.get(number)) else None)


def test_a_question_of_the_desks_is_our_turn_and_can_be_answered(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    reference = str(lodged.reference)
    tarnfell.steer(case=reference, ask="Which firmware do both controllers run?")
    packet = marit.packets.follow(lodged.number)
    assert (packet.turn, packet.desk_status) == ("ours", "OVER_TO_YOU")
    assert packet.status_text == "Tarnfell Storage asks: “Which firmware do both controllers run?”"
    assert lodged.number in [p.number for p in marit.today().ours]
    assert len(marit.packets.follow(lodged.number).messages) == 1, "a message comes in once"
    marit.packets.reply(lodged.number, "Both run 7.4.2.", key="reply-" + lodged.number)
    marit.packets.reply(lodged.number, "Both run 7.4.2.", key="reply-" + lodged.number)
    wait_for(marit, lodged.number, lambda p: all(m.sent for m in p.messages))
    said = [m["text"] for m in tarnfell.cases()[reference]["messages"] if m["from"] == "customer"]
    assert said == ["Both run 7.4.2."]
    packet = marit.packets.follow(lodged.number)
    assert (packet.turn, packet.life) == ("vendor", "lodged")
    assert lodged.number in [p.number for p in marit.today().theirs]


@pytest.mark.parametrize(
    ("state", "life", "turn"),
    [
        ("REMEDY_SENT", "answered", "ours"),
        ("CLOSED", "settled", "none"),
    ],
)
def test_status_words_become_life_and_turn(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell, state: str, life: str, turn: str
) -> None:
    tarnfell.steer(case=lodged.reference, state=state, say="See our note.")
    packet = marit.packets.follow(lodged.number)
    assert (packet.life, packet.turn, packet.desk_status) == (life, turn, state)
    assert packet.messages[-1].text == "See our note."


def test_what_the_desk_attaches_is_told_with_its_message(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    tarnfell.steer(case=lodged.reference, say="Try this.", attach=["path-check.txt", "notes.pdf"])
    packet = marit.packets.follow(lodged.number)
    names = [one.name for one in packet.messages[-1].received]
    assert (packet.messages[-1].text, names) == ("Try this.", ["path-check.txt", "notes.pdf"])


def test_a_case_that_its_desk_opens_again_comes_back(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    tarnfell.steer(case=lodged.reference, state="CLOSED", say="Solved.")
    assert marit.packets.follow(lodged.number).life == "settled"
    tarnfell.steer(
        case=lodged.reference, state="OPEN", ask="It is back on our side: is it on yours?"
    )
    packet = marit.packets.follow(lodged.number)
    assert (packet.life, packet.turn) == ("lodged", "ours")
    assert lodged.number in [p.number for p in marit.today().ours]


def test_an_answer_waits_for_a_desk_that_is_away(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    tarnfell.steer(down=True)
    packet = marit.packets.reply(lodged.number, "Here is more.")
    assert not packet.messages[-1].sent
    with pytest.raises(Refused) as caught:
        marit.packets.follow(lodged.number)
    assert caught.value.code == "desk-away"
    tarnfell.steer(down=False)
    wait_for(marit, lodged.number, lambda now: now.messages[-1].sent)


def test_only_an_open_case_can_be_followed_or_answered(
    marit: SealPacket, noted: PacketShown
) -> None:
    for act in (
        lambda: marit.packets.follow(noted.number),
        lambda: marit.packets.reply(noted.number, "hello"),
    ):
        with pytest.raises(Refused) as caught:
            act()
        assert caught.value.code == "not-lodged"


def test_every_step_is_in_the_custody_log(
    marit: SealPacket, lodged: PacketShown, tmp_path: Path
) -> None:
    fetch(marit, lodged.number, tmp_path)
    actions = [entry.action for entry in reversed(marit.custody(f"packet {lodged.number}"))]
    assert actions == [
        "packet noted", "questions answered", "exhibit announced", "exhibit received", "exhibit redacted",
        "packet sealed", "lodging asked for", "packet lodged", "bag fetched",
    ]  # fmt: skip
    text = json.dumps([entry.model_dump(mode="json") for entry in marit.custody(limit=500)])
    assert "thrush-in-the-reeds" not in text
    assert marit.verify_custody().holds


def test_no_request_waits_for_a_desk(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    tarnfell.steer(slow=3)
    packets = [marit.packets.follow(lodged.number, wait=False) for _ in range(3)]
    assert {packet.follow_state for packet in packets} == {"asking"}
    tarnfell.steer(slow=0)
    assert marit.packets.wait(lodged.number).follow_state is None


def test_what_is_over_is_nobodys_turn(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    tarnfell.steer(case=lodged.reference, state="CLOSED", say="Solved.")
    assert marit.packets.follow(lodged.number).turn == "none"
    assert lodged.number not in [packet.number for packet in marit.packets.list(turn="vendor")]
    with pytest.raises(Refused) as caught:
        marit.packets.reply(lodged.number, "One more thing.")
    assert "Lodge it first" not in caught.value.remedy
