"""What comes after the reference, on the command line: the desk's people, our own, and what is on its way."""

from __future__ import annotations

import smtplib
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest

from sealpacket.channels.mail import compose
from sealpacket.client import SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.demo.house import DRAFT_GATE, RunningHouse
from tests.conftest import ARRAY, GOOD_ANSWERS, NOTE, Tarnfell, lodge, until
from tests.journeys.terminal import Terminal
from tests.some import SOON

LIFT = "TB-2207-C"


def sent(client: SealPacket, number: str) -> PacketShown:
    """The packet once nothing of ours is on its way any more."""

    def all_sent() -> PacketShown | None:
        packet = client.packets.get(number)
        return packet if all(m.sent or m.failure for m in packet.messages) else None

    return until(all_sent)


@pytest.fixture
def colleague(house: RunningHouse, tmp_path: Path) -> Terminal:
    """A terminal where Teo is signed in."""
    terminal = Terminal(tmp_path / "teo")
    terminal.run("sign-in", house.address, "teo", stdin=house.sign_ins["teo"] + "\n")
    return terminal


@pytest.fixture
def lift(marit: SealPacket) -> PacketShown:
    """A sealed packet to a desk that a person reaches."""
    packet = marit.packets.note(
        "Lift stops beside the floor", "It stops a hand's breadth too high.", asset=LIFT
    )
    marit.packets.answer(
        packet.number, inside="no", state="level", since="2026-11-20T07:40+00:00", caller="ines"
    )
    return marit.packets.seal(packet.number)


def test_a_colleague_looks_after_it_and_gives_it_back(
    shell: Terminal, colleague: Terminal, noted: PacketShown
) -> None:
    number = noted.number
    said = shell.run("packet", "hand-over", number, "teo", "The log is missing.")
    assert f"{number} is looked after by teo now." in said
    assert f"{number} is looked after by marit now." in shell.run("packet", "take-over", number)
    said = colleague.run("packet", "take-over", number)
    assert f"{number} is looked after by teo now." in said
    assert "preparer" in shell.run("packet", "hand-over", number, "nobody-here", code=1)


def test_what_is_no_question_waits_no_longer(
    shell: Terminal, marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    number = lodged.number
    tarnfell.steer(case=lodged.reference, ask="Which firmware?")
    tarnfell.steer(case=lodged.reference, ask="Since when?")
    assert "2. question: Since when?" in shell.run("packet", "follow", number)
    assert "There is no open question 3." in shell.run("packet", "no-question", number, "3", code=1)
    said = shell.run("packet", "no-question", number, "1")
    assert "1. question: Since when?" in said
    assert "question: Which firmware?" not in said
    shell.run("packet", "no-question", number, "1")
    assert not [one for m in marit.packets.get(number).messages for one in m.questions if one.open]


def test_what_the_desk_has_cannot_be_taken_back_and_what_it_refused_can(
    shell: Terminal, marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    number = lodged.number
    shell.run("packet", "comment", number, "It is the second volume.")
    sent(marit, number)
    assert "the desk has all of it" in shell.run("packet", "take-back", number, code=1)
    tarnfell.steer(refuse="closed")
    shell.run("packet", "comment", number, "It is the third volume.")
    assert sent(marit, number).messages[-1].failure
    shell.run("packet", "take-back", number)
    packet = marit.packets.get(number)
    assert (packet.messages[-1].taken_back, packet.turn) == (True, "vendor")


def test_what_is_told_a_desk_by_hand_is_passed_on_and_its_answer_taken_in(
    shell: Terminal, marit: SealPacket, lift: PacketShown, tmp_path: Path
) -> None:
    number = lift.number
    said = shell.run("packet", "lodge", number)
    assert "To be entered by hand" in said
    assert f"sealpacket packet hand {number}" in said
    shell.run("packet", "reference", number, "26/40711")
    assert "Nothing waits to be passed on." in shell.run("packet", "pass-on", number, code=1)
    shell.run("packet", "comment", number, "The door code is with Ines.")
    assert marit.packets.get(number).turn == "ours"
    shell.run("packet", "pass-on", number)
    assert marit.packets.get(number).turn == "vendor"
    said = shell.run(
        "packet", "take-reply", number, "Is somebody there at two?", "--by", "R. Ash", "--asks"
    )
    assert "Our turn." in said
    assert "R. Ash asks: Is somebody there at two?" in said
    mail = tmp_path / "answer.eml"
    mail.write_text(
        "From: Thornbeck service <service@thornbeck.example>\nTo: ines.harrowgate@quillmere.example\n"
        "Subject: Order 26/40711\nMessage-ID: <82@thornbeck.example>\n"
        "Date: Fri, 27 Nov 2026 10:12:00 +0000\n\nThe fitter was here.\n"
    )
    said = shell.run("packet", "take-reply", number, "--file", str(mail), "--no-question")
    assert "Thornbeck service <service@thornbeck.example> says: The fitter was here." in said


def test_a_case_is_closed_opened_again_and_followed_up(
    shell: Terminal, marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    number, reference = lodged.number, lodged.reference
    shell.run("packet", "close", number, "It was the cable.")
    sent(marit, number)
    assert "It was the cable." in tarnfell.case(reference)["messages"][-1]["text"]
    tarnfell.steer(case=reference, state="CLOSED", say="Closed as you asked.")
    shell.run("packet", "follow", number)
    assert "is settled." in shell.run("packet", "settle", number, "--cause", "A worn cable.")
    shell.run("packet", "open-again", number, "It is back.")
    sent(marit, number)
    assert tarnfell.case(reference)["reopened"] == "It is back."
    tarnfell.steer(case=reference, state="CLOSED", say="Solved.")
    shell.run("packet", "follow", number)
    shell.run("packet", "settle", number, "--cause", "A worn cable.")
    said = shell.run("packet", "follow-up", number, "Since noon.", "--title", "Slow again")
    assert "Slow again" in said
    assert marit.packets.get(number).followed_by[0] in said


def test_a_desk_that_is_back_is_tried_at_once(
    shell: Terminal, marit: SealPacket, sealed: PacketShown, tarnfell: Tarnfell
) -> None:
    number = sealed.number
    assert "Nothing of" in shell.run("packet", "try-now", number, code=1)
    tarnfell.steer(down=True)
    marit.packets.lodge(number)
    until(lambda: marit.packets.get(number).next_try_at)
    said = shell.run("packet", "cancel", number, code=1)
    assert "may be with the desk already" in said, "it has been tried, so the desk may have it"
    assert "Next try" in shell.run("packet", "try-now", number)
    tarnfell.steer(down=False)
    assert until(lambda: marit.packets.get(number).reference)


def test_what_has_not_gone_yet_is_cancelled_and_stays_sealed(
    house: RunningHouse, shell: Terminal, marit: SealPacket, sealed: PacketShown, tarnfell: Tarnfell
) -> None:
    number, cases = sealed.number, set(tarnfell.cases())
    assert "is not on its way" in shell.run("packet", "cancel", number, code=1)
    house.end("worker")
    try:
        marit.packets.lodge(number)
        assert f"{number}: Sealed" in shell.run("packet", "cancel", number)
    finally:
        house.begin("worker")
    packet = marit.packets.get(number)
    assert (packet.life, packet.lodge_state, packet.turn) == ("sealed", None, "ours")
    actions = [entry.action for entry in marit.custody(f"packet {number}", limit=2)]
    assert actions == ["lodging cancelled", "lodging asked for"]
    other = marit.packets.note("The worker is up again", "This is done after the cancelled try.")
    assert marit.packets.wait(other.number).number == other.number
    marit.packets.lodge(number)
    lodged = marit.packets.wait(number)
    assert set(tarnfell.cases()) - cases == {lodged.reference}, "it went once, and only when asked"


def test_access_has_its_end_and_a_part_takes_a_place(
    shell: Terminal, marit: SealPacket, lodged: PacketShown
) -> None:
    number = lodged.number
    until_at = f"{datetime.now(UTC) + timedelta(hours=2):%Y-%m-%dT%H:%M}"
    assert "No access is open." in shell.run("packet", "end-access", number, code=1)
    granted = shell.run("packet", "grant-access", number, "R. Ash", "array A", "--until", until_at)
    assert "R. Ash" in granted
    assert number in shell.run("packet", "access", "--asset", ARRAY)
    assert "switched off" in shell.run("packet", "end-access", number, "--how", "switched off")
    assert number not in shell.run("packet", "access")
    for who, what in (("R. Ash", "array A"), ("R. Ash", "array B"), ("L. Moss", "array B")):
        shell.run("packet", "grant-access", number, who, what, "--until", until_at)

    def still_in() -> list[tuple[str, str]]:
        found = marit.packets.get(number).access
        return [(one.who, one.what) for one in found if one.ended_at is None]

    assert "3 of the 3 open accesses" in shell.run("packet", "end-access", number, code=1)
    assert "2 of the 3 open accesses" in shell.run("packet", "end-access", number, "ash", code=1)
    assert "None of the 3 open" in shell.run("packet", "end-access", number, "oak", code=1)
    assert len(still_in()) == 3
    shell.run("packet", "end-access", number, "moss")
    assert still_in() == [("R. Ash", "array A"), ("R. Ash", "array B")]
    shell.run("packet", "end-access", number, "--all")
    assert still_in() == []

    serial = f"TN9-{datetime.now(UTC):%H%M%S}-S"
    marit.assets.add(vendor="tarnfell", product="TN9", serial=serial, site="book-store")
    broken = marit.packets.note("The spare array is dead", "It shows no light.", asset=serial)
    assert "0 shipments are like this." in shell.run("packet", "arrived", broken.number, code=1)
    shell.run("packet", "ship", broken.number, "Controller board", "--tracking", "MF-7")
    said = shell.run("packet", "arrived", broken.number, "MF-7", "--on", "2026-11-28")
    assert f"sealpacket packet swap-serial {broken.number} SERIAL" in said
    assert marit.packets.get(broken.number).shipments[0].arrived_on is not None
    swap = ("packet", "swap-serial", broken.number, f"{serial}-2")
    assert "Nothing was changed." in shell.run(*swap, stdin="n\n", code=1)
    assert f"{serial}-2 stands in the place of {serial}" in shell.run(*swap, "--yes")
    assert (marit.assets.get(serial).status, marit.assets.get(f"{serial}-2").status) == (
        "retired", "in_use",
    )  # fmt: skip


def test_what_is_known_already_ends_a_draft(shell: Terminal, marit: SealPacket) -> None:
    words = ("Mirror link retrains", "--asset", ARRAY, "--text", "E-3312 in the log")
    number = shell.json("packet", "note", *words)["number"]
    assert "mirror-link" in shell.run("packet", "similar", number)
    assert "Nothing like it is known." in shell.run(
        "packet", "similar", "--title", "A cormorant sits on the roof"
    )
    assert "Name a draft, or say --title." in shell.run("packet", "similar", code=1)
    assert "As in the article" in shell.run("packet", "solved", number, "--article", "mirror-link")
    assert marit.packets.get(number).life == "withdrawn"


def test_what_nobody_listed_is_named_in_one_step(shell: Terminal, marit: SealPacket) -> None:
    number = shell.json("packet", "note", "The scanner is dead")["number"]
    said = shell.run(
        "packet", "unlisted", number, "--vendor", "Redwater Scanners", "--model", "RW-7", "--serial", "RW7-1",
    )  # fmt: skip
    assert "RW-7 RW7-1" in said
    assert number in marit.assets.get("RW7-1").notes


def test_a_kind_of_value_is_left_out_and_the_decision_undone(
    shell: Terminal, tmp_path: Path
) -> None:
    number = shell.json("packet", "note", "Cards", "--asset", ARRAY)["number"]
    log = tmp_path / "a.log"
    log.write_text("belt runs\ncard 4111111111111111 read\nbelt stops\n")
    shell.run("exhibit", "add", number, str(log))
    assert "Nothing was decided." in shell.run("exhibit", "decisions", number)
    shell.run("exhibit", "leave-out", number, "card", "--reason", "no line about a card leaves")
    fetched = tmp_path / "sent.log"
    shell.run("exhibit", "fetch", number, "a.log", "--out", str(fetched))
    assert "4111" not in fetched.read_text()
    assert fetched.read_text().count("\n") < log.read_text().count("\n") + 1
    assert "read" not in fetched.read_text()
    (decision,) = shell.json("exhibit", "decisions", number)
    assert (decision["action"], decision["reason"]) == ("drop-line", "no line about a card leaves")
    shell.run("exhibit", "decisions", number, "--undo", decision["id"])
    shell.run("exhibit", "fetch", number, "a.log", "--out", str(fetched))
    assert "[card:" in fetched.read_text()


def test_accounts_tokens_and_kits_are_ended(
    house: RunningHouse, shell: Terminal, tmp_path: Path
) -> None:
    shell.run("account", "add", "temp", "--role", "reader", stdin="a-long-right-password\n")
    terminal = Terminal(tmp_path / "temp")
    words = ("sign-in", house.address, "temp")
    terminal.run(*words, stdin="a-long-right-password\n")
    assert "everything it was signed in with has ended" in shell.run("account", "disable", "temp")
    assert "has ended" in terminal.run("today", code=1)
    assert "temp: reader." in shell.run("account", "enable", "temp")
    terminal.run(*words, stdin="a-long-right-password\n")
    (token,) = terminal.json("token", "list")
    assert "The token is revoked." in terminal.run("token", "revoke", token["id"][:8])
    assert "has ended" in terminal.run("today", code=1)

    assert "kiosk" in shell.run("kit", "list")
    assert "is offered no more" in shell.run("kit", "retire", "lumenlathe-kiosk")
    assert "lumenlathe-kiosk" not in shell.run("kit", "list")


def test_what_belongs_nowhere_leaves_the_tray(
    house: RunningHouse, shell: Terminal, marit: SealPacket, tmp_path: Path
) -> None:
    number = marit.packets.note("Volumes are slow", NOTE, asset=ARRAY, ticket="IT-51001").number
    marit.packets.answer(number, **GOOD_ANSWERS)
    marit.packets.seal(number)
    for words in ("It is worse.", "A parcel came."):
        mail = compose("ines@quillmere.example", DRAFT_GATE, f"[IT-51001] {words}", words)
        with smtplib.SMTP("127.0.0.1", house.gate_port) as connection:
            connection.send_message(mail, "ines@quillmere.example", [DRAFT_GATE])
    listed = shell.json("tray", "list")
    places = {one["subject"]: place for place, one in enumerate(listed, 1)}
    worse, parcel = (str(places[f"[IT-51001] {w}"]) for w in ("It is worse.", "A parcel came."))
    assert "It is worse." in shell.run("tray", "list")
    shell.run("tray", "fetch", worse, "--out", str(tmp_path / "it.eml"))
    assert b"It is worse." in (tmp_path / "it.eml").read_bytes()
    said = shell.run("tray", "discard", parcel, "--reason", "It is the neighbour's.")
    assert "It is out of the tray." in said
    assert [one["subject"] for one in shell.json("tray", "list")] == ["[IT-51001] It is worse."]
    assert "There are 1 in the tray." in shell.run("tray", "discard", "2", "--reason", "x", code=1)


def test_what_is_used_often_is_pinned(shell: Terminal) -> None:
    assert "pinned" in shell.run("often-used", "pin", "asset", ARRAY)
    listed = shell.run("often-used", "list")
    assert "Assets" in listed and ARRAY in listed
    assert [one["pinned"] for one in shell.json("often-used", "list") if one["name"] == ARRAY] == [
        True
    ]
    assert "pinned" not in shell.run("often-used", "unpin", "asset", ARRAY)
    assert "nobody" in shell.run("often-used", "pin", "person", "nobody", code=1)


def test_hours_are_converted_once(shell: Terminal, marit: SealPacket) -> None:
    assert "12x6" in shell.run("entitlement", "unread-hours")
    refused = shell.run("entitlement", "convert-hours", "12x6", "soon", code=1)
    assert "does not say at which days" in refused
    done = shell.run("entitlement", "convert-hours", "12x6", "Mo–Sa 07:00–19:00")
    assert "12x6 is now Mo–Sa 07:00–19:00" in done
    assert "12x6" not in shell.run("entitlement", "unread-hours")


def test_what_follows_from_an_answer_is_taken_and_undone(
    shell: Terminal, marit: SealPacket, house: RunningHouse
) -> None:
    number = marit.packets.note("A higher level", "", asset="HM-204471", need="change").number
    marit.packets.answer(
        number, level="extended", from_day=SOON, purpose="The branch at Mill Green opens.", terms="yes",
    )  # fmt: skip
    lodged = lodge(marit, number)
    house.steer("hollowmere", case=lodged.reference, state="granted")
    until(lambda: marit.packets.follow(number).consequences)
    assert number in shell.run("packet", "consequences")
    taken = shell.run("packet", "take-consequence", number)
    assert "level of entitlement HCE-1180 is Extended care" in taken
    assert "taken" in shell.run("packet", "consequences", number)
    assert "It is undone" in shell.run("packet", "undo-consequence", number)
    assert "has no change number 2" in shell.run(
        "packet", "dismiss-consequence", number, "2", code=1
    )


def test_a_call_is_noted_as_unwished_and_what_came_is_sealed(
    shell: Terminal, marit: SealPacket, lodged: PacketShown, tmp_path: Path
) -> None:
    number = lodged.number
    assert "has no call" in shell.run("packet", "mark-unwished", number, code=1)
    shell.run("packet", "call", number, "They ask for the serial.")
    assert "although mail was asked for" in shell.run("packet", "mark-unwished", number)
    assert "although" not in shell.run("packet", "mark-unwished", number, "--wished")
    assert "Later bag 1" in shell.run("packet", "seal-later", number)
    first, later, keys = (tmp_path / name for name in ("1.zip", "2.zip", "keys.jwks"))
    shell.run("packet", "bag", number, "--out", str(first))
    shell.run("packet", "bag", number, "--later", "1", "--out", str(later))
    keys.write_text(marit.seal_keys().model_dump_json())
    said = shell.run("verify", str(first), str(later), "--key", str(keys))
    assert "Each later bag follows the one before it." in said
    assert "give that one, too" in shell.run("verify", str(later), "--key", str(keys))
