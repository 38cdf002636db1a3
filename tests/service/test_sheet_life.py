"""A sheet is tried for a whole life on this machine, whether or not a stand-in ships for its desk."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

from sealpacket.app.context import AppContext
from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.core.sheets import load_sheet, sample_packet
from sealpacket.demo.world import DESKS, OTHER_DESKS, sheet_text
from sealpacket.services.packets.lodge.trial_course import play
from sealpacket.services.packets.workbench import find_packet
from sealpacket.store.models import DeskSheet
from tests.core.test_four_desks import text_of

GUIDE = (Path(__file__).parent.parent.parent / "docs/desk-sheets.md").read_text("utf-8")
EXAMPLES = [
    text
    for text in re.findall(r"```yaml\n(.*?)```", GUIDE.partition("## One example")[2], re.S)
    if text.startswith("sheet: 2")
]


def outcome(text: str) -> dict[str, bool | None]:
    sheet = load_sheet(text)
    return {step.act: step.ok for step in play(sheet, sample_packet(sheet, 1))}


@pytest.mark.parametrize("desk", [*DESKS, *OTHER_DESKS])
def test_every_sheet_that_ships_plays_to_its_end(desk: str) -> None:
    played = outcome(sheet_text(desk))
    assert False not in played.values()
    acts = {"lodge", "ask back", "answer", "solve", "settle", "refuse"}
    acts |= {act.replace("_", " ") for act in load_sheet(sheet_text(desk)).acts}
    assert {act for act, went in played.items() if went} >= acts - {"comment"}


@pytest.mark.parametrize("name", ["json-with-acts", "mail-in-words", "form-and-papers"])
def test_desks_of_strangers_play_every_act(name: str) -> None:
    played = outcome(text_of(name))
    assert False not in played.values()
    acts = {"lodge", "ask back", "answer", *load_sheet(text_of(name)).acts}
    assert {act for act, went in played.items() if went} >= acts


ANSWER = '{"ticket": {"no": "OC-2026-004711"}, "phase": "OPEN"}'
ERROR = '{"errors": [{"field": "/unit/serial", "why": "unknown unit"}]}'


@pytest.mark.parametrize(
    ("old", "new", "failing"),
    [
        ("", "", set()),
        ("$.phase", "$.state", {"status"}),
        ("SOLVED: answered", "SOVLED: answered", {"read solved.json"}),
        ("reference: $.ticket.no", "reference: $.ticket.nr", {"reference"}),
        ("list: $.errors[*]", "list: $.faults[*]", {"read 422-error.json"}),
    ],
)  # fmt: skip
def test_what_the_desk_has_really_said_shows_a_wrong_path(
    old: str, new: str, failing: set[str]
) -> None:
    text = text_of("json-with-acts")
    assert old in text
    sheet = load_sheet(text.replace(old, new))
    recorded = [
        ("answer.json", ANSWER),
        ("solved.json", ANSWER.replace("OPEN", "SOLVED")),
        ("422-error.json", ERROR),
    ]
    steps = play(sheet, sample_packet(sheet, 1), recorded)
    assert {one.act for one in steps if one.ok is False} == failing


def test_something_recorded_goes_with_a_trial(marit: SealPacket) -> None:
    trial = marit.try_sheet(text_of("json-with-acts"), recorded={"422-error.json": ERROR})
    assert trial.steps[-1].act == "read 422-error.json"
    assert "refused as /unit/serial" in trial.steps[-1].sentence


@pytest.mark.parametrize("text", EXAMPLES, ids=[text.split()[3] for text in EXAMPLES])
def test_the_examples_of_the_guide_play_to_their_end(text: str) -> None:
    assert False not in outcome(text).values()


@pytest.mark.parametrize("by", ["tus", "post", "put", "multipart"])
@pytest.mark.parametrize("sent", ["before", "after"])
def test_files_arrive_in_every_way(sent: str, by: str) -> None:
    listed = ", list_in: attachments" if sent == "before" else ""
    path = "/files/{name}" if sent == "before" else "/cases/{reference}/files/{name}"
    old = "{sent: before, by: tus, path: /uploads, list_in: attachments}"
    text = sheet_text("tarnfell-support").replace(
        old, f'{{sent: {sent}, by: {by}, path: "{path}"{listed}}}'
    )
    assert old not in text
    assert outcome(text)["lodge"] is True


@pytest.mark.parametrize(
    ("old", "new", "act", "words"),
    [
        ("reference: $.case.reference", "reference: $.case.number[1].x", "lodge", None),
        ("    asks: $.asks\n", "", "ask back", None),
        ("OVER_TO_YOU: asked", "OVER_TO_YOU: lodged", "ask back", None),
        
        ("reference: $.case.reference", "reference: $..reference", "begin", "No reply can be made up"),
    ],
)  # fmt: skip
def test_an_act_that_fails_says_why(old: str, new: str, act: str, words: str | None) -> None:
    text = sheet_text("tarnfell-support")
    changed = text.replace(old, new)
    sheet = load_sheet(changed)
    steps = {step.act: step for step in play(sheet, sample_packet(sheet, 1))}
    assert steps[act].ok is (words is None)
    assert words is None or words in steps[act].sentence


def test_a_trial_is_asked_for_and_waited_for(marit: SealPacket, teo: SealPacket) -> None:
    text = sheet_text("kestling-lines")
    trial = marit.try_sheet(text)
    assert (trial.done, trial.status_text) == (True, "It plays to its end.")
    assert [step.act for step in trial.steps][:3] == ["lodge", "ask back", "answer"]
    assert '"Which firmware does it run?"' in trial.steps[1].said
    mute = text.replace("asks: $.q", "").replace('"30": asked', '"30": lodged')
    failed = marit.try_sheet(mute)
    assert failed.status_text == "It fails: ask back."
    with pytest.raises(Refused, match="needs the role"):
        teo.try_sheet(text)


def test_replies_are_read_before_the_desk_ever_writes(marit: SealPacket) -> None:
    text = sheet_text("tarnfell-support")
    samples = {one.says: one.text for one in marit.preview_sheet(text).replies}
    assert list(samples) == ["OPEN", "OVER_TO_YOU", "REMEDY_SENT", "CLOSED", "refused"]
    asked, odd = marit.read_replies(text, {"a.json": samples["OVER_TO_YOU"], "b.json": "{}"})
    assert (asked.name, asked.reference, asked.news.turn) == ("a.json", "CASE-1001", "ours")
    assert asked.news.messages[0].asks
    assert odd.not_understood == ["Nothing that the sheet looks for is in it."]
    with pytest.raises(Refused, match="cannot be used"):
        marit.read_replies("sheet: 2", {"a": "b"})


def test_a_sheet_begins_with_what_the_vendor_has(marit: SealPacket) -> None:
    text = marit.begin_sheet("one.json", b'{"ticket": {"serial": "AB-1", "what": "It fails"}}')
    assert "prefill: asset.serial" in text
    with pytest.raises(Refused, match="Still to be confirmed"):
        marit.put_sheet(text)
    with pytest.raises(Refused, match="no fields"):
        marit.begin_sheet("a.txt", b"just words")


STRANGERS = sorted((Path(__file__).parent.parent / "core/strangers").glob("*.yaml"))


@pytest.mark.parametrize("path", STRANGERS, ids=[path.stem for path in STRANGERS])
def test_desks_that_nobody_knew_play_to_their_end(path: Path) -> None:
    claims = load_sheet(sheet_text("saddlewick-claims"))
    blank = "".join(claims.write.blank.split())  # type: ignore[union-attr]
    assert False not in outcome(path.read_text("utf-8").replace("BLANK", blank)).values()


def test_a_packet_is_settled_by_us_where_its_desk_never_says_so(
    marit: SealPacket, lodged: PacketShown, inside: AppContext
) -> None:
    with pytest.raises(Refused, match="settles cases itself"):
        marit.packets.settle(lodged.number)
    with inside.database.transaction() as session:
        packet = find_packet(session, lodged.number)
        assert packet.sheet is not None
        body = {
            **packet.sheet.body,
            "replies": {**packet.sheet.body["replies"], "settled_by": "us"},
        }
        older = DeskSheet(
            number=0, body=body, text=""
        )  # below every version, so that no other packet takes it
        packet.sheet.desk.sheets.append(older)
        session.flush()
        packet.sheet = older
    assert marit.packets.get(lodged.number).settled_by == "us"
    settled = marit.packets.settle(lodged.number)
    assert (settled.life, settled.turn) == ("settled", "none")
    marit.packets.follow(lodged.number)
    assert marit.packets.wait(lodged.number).life == "settled", (
        "the desk's OPEN does not open it again"
    )
    assert any(
        entry.action == "packet settled"
        for entry in marit.custody(f"packet {lodged.number}", limit=5)
    )
    assert marit.packets.settle(lodged.number, cause="A cable").cause == "A cable"
