"""What people type, through the whole house: nothing that is planted reaches a desk, the bag or the logs."""

from __future__ import annotations

import io
import random
import re
import zipfile
from collections.abc import Iterator
from pathlib import Path

import pytest
from pypdf import PdfReader

from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import PacketShown, TypedShown
from sealpacket.demo.house import RunningHouse
from tests.conftest import ARRAY, GOOD_ANSWERS, NOTE, OTHER_ARRAY, Tarnfell, add, stops, until
from tests.some import SOON

DESKS = {
    "tarnfell": (ARRAY, "fault", GOOD_ANSWERS),
    "ovenbird": ("OBS4-551203", "fault", {"kind": "hw_fault", "effect": "degraded", "reply_by": "mail", "contact": "teo"}),
    "lumenlathe": (
        "LK40-7731-0929", "fault", {"error_code": "E417", "enter": "yes", "since": "2026-11-23T08:40+00:00"},
    ),
    "pellwick": (
        "PW-LIC-5520", "fault", {"area": "backup/fails", "impact": "endangered", "since": "2026-11-21T02:10+00:00"},
    ),
    "hollowmere": (
        "HM-204471", "capacity",
        {"wanted": "north-1 | general cores | 64 | 160", "by": SOON, "purpose": "The failover test."},
    ),
    "saddlewick": (
        "SW3K-70455", "return",
        {"what": "battery", "since": "2026-11-22", "load": "2 kVA", "goods": "Battery SB-12 | 4 | 24", "safe": "yes"},
    ),
}  # fmt: skip


def plants(r: random.Random) -> dict[str, tuple[str, str]]:
    """By kind, a value of this run alone and a text that holds it."""

    def digits(many: int) -> str:
        return "".join(r.choices("0123456789", k=many))

    letters = "".join(r.choices("bcdfghjkmnpqrstvwxyz", k=24))
    body = "4" + digits(14)
    total = sum(
        int(d) if n % 2 else (int(d) * 2 - 9 if d > "4" else int(d) * 2) for n, d in enumerate(body)
    )
    card = body + str(-total % 10)
    found = {
        "secret": (f"Sedge{digits(4)}-{letters[:6]}", "password: {}"),
        "token": (letters + digits(16), "Authorization: Bearer {}"),
        "card": (card, "card {}"),
        "national": (f"AB{digits(6)}C", "national insurance {}"),
        "birth": (f"{r.randint(10, 28)}/{r.randint(10, 12)}/19{r.randint(40, 99)}", "born {}"),
        "reader": (f"2116{digits(10)}", "reader card {}"),
        "mail": (f"{letters[:8]}@readers.example", "from {}"),
        "phone": (f"+44 1632 96{digits(4)}", "ring {}"),
        "ip": (f"10.40.{r.randint(1, 250)}.{r.randint(1, 250)}", "at {}"),
        "mac": (f"02:7a:{digits(2)}:{digits(2)}:{digits(2)}:{digits(2)}", "mac {}"),
        "host": (f"{letters[:6]}-sw{digits(2)}.quillmere.example", "on {}"),
        "person": (f"{letters[:6].title()} {letters[6:13].title()}", "patron: {}"),
        "user": (f"{letters[9:15]}{digits(2)}", "session opened for user {}"),
        "asset": (OTHER_ARRAY, "and {}"),
    }
    return {kind: (value, text.format(value)) for kind, (value, text) in found.items()}


def filled(marit: SealPacket, vendor: str, planted: dict[str, tuple[str, str]]) -> PacketShown:
    """A packet with planted values in its title, its note and every question that takes words; all decided."""
    serial, need, answers = DESKS[vendor]
    everything = "; ".join(text for _, text in planted.values())
    packet = marit.packets.note(f"Fault, {planted['host'][1]}, {planted['ip'][1]}", f"{NOTE} {everything}", asset=serial,
                                need=need)  # fmt: skip
    packet = marit.packets.answer(packet.number, **answers)
    short = iter(list(planted.values()) * 9)
    for question in packet.questions:
        if question.form not in ("text", "long", "steps", "rows") or question.answer.fixed:
            continue
        before = question.answer.value if question.answer.typed else None
        text = everything if question.max_length > 2 * len(everything) else next(short)[1]
        if question.form == "rows":
            text = "\n".join(
                line.replace("Battery", next(short)[1])
                for line in (question.answer.value or "").split("\n")
            )
        packet = marit.packets.answer(packet.number, **{question.id: text})
        packet = decided(marit, packet)
        if stops(packet):
            packet = marit.packets.answer(packet.number, **{question.id: before})
    return decided(marit, packet)


def decided(marit: SealPacket, packet: PacketShown) -> PacketShown:
    """Everything that stops because of what it is, masked by decision."""
    for text in marit.packets.letter(packet.number).texts:
        for part in text.parts:
            for value in part.masked if part.stops else []:
                marit.exhibits.decide(
                    packet.number, "mask", value.kind, value.original, reason="it was planted"
                )
    return marit.packets.get(packet.number)


def everything_in(folder: Path) -> str:
    """All bytes below a folder, archives and forms unpacked as well."""
    return "\n".join(
        part
        for path in sorted(folder.rglob("*"))
        if path.is_file()
        for part in read(path.name, path.read_bytes())
    )


def read(name: str, data: bytes) -> Iterator[str]:
    yield name
    yield data.decode("utf-8", "replace")
    if data.startswith(b"PK"):
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            for inner in archive.namelist():
                yield from read(inner, archive.read(inner))
    if data.startswith(b"%PDF"):
        reader = PdfReader(io.BytesIO(data))
        yield repr({name: field.value for name, field in (reader.get_fields() or {}).items()})
        yield "\n".join(page.extract_text() for page in reader.pages)


@pytest.mark.parametrize("vendor", sorted(DESKS))
def test_nothing_planted_in_any_question_reaches_the_desk_the_bag_or_the_logs(
    house: RunningHouse, marit: SealPacket, tmp_path: Path, vendor: str
) -> None:
    planted = plants(random.Random(f"{vendor} {house.folder}"))
    packet = filled(marit, vendor, planted)
    assert stops(packet) == []
    if packet.takes_files:
        (tmp_path / f"{planted['host'][0]}.log").write_text("all well\n")
        marit.exhibits.add(packet.number, tmp_path / f"{planted['host'][0]}.log")
        marit.packets.wait(packet.number)
    marit.packets.seal(packet.number)
    marit.packets.lodge(packet.number)
    done = marit.packets.wait(packet.number)
    assert done.life == "lodged", (done.status_text, done.refusals)
    until(
        lambda: (
            (now := marit.packets.get(packet.number)).reference
            or marit.packets.follow(now.number).reference
        )
    )
    marit.packets.fetch_bag(packet.number, tmp_path / "bag.zip")
    received = everything_in(house.folder / "standins" / vendor)
    if vendor == "lumenlathe":
        received += everything_in(house.mail_folder)
    assert packet.number in received
    places = {
        "desk": received, "logs": everything_in(house.folder / "log"),
        "bag": "\n".join(read("bag", (tmp_path / "bag.zip").read_bytes())),
    }  # fmt: skip
    values = {kind: value for kind, (value, _) in planted.items() if kind != "asset"}
    left = [
        (place, kind)
        for place, text in places.items()
        for kind, value in values.items()
        if value in text
    ]
    assert left == []
    assert OTHER_ARRAY not in places["bag"]


def part_with(text: TypedShown, value: str) -> object:
    return next(part for part in text.parts if any(one.original == value for one in part.masked))


def test_the_letter_shows_what_leaves_beside_what_was_typed(marit: SealPacket) -> None:
    packet = marit.packets.note(
        "Array at 10.40.20.11 is slow, seen from 10.40.3.7",
        f"{NOTE} admin password = Tr0ub4dor&3",
        asset=ARRAY,
    )
    letter = marit.packets.letter(packet.number)
    assert "Array at 10.40.20.11 is slow" in letter.cases[0].text, "the packet's own address"
    assert "10.40.3.7" not in letter.cases[0].text
    assert "Tr0ub4dor" not in letter.cases[0].text
    note = next(text for text in letter.texts if text.path == "packet.note")
    assert "".join(part.text for part in note.parts) == packet.note
    assert "".join(part.goes for part in note.parts) == note.outgoing
    assert part_with(note, "Tr0ub4dor&3").stops  # type: ignore[attr-defined]
    assert [c.sentence for c in packet.checks if c.code == "typed-secret"] == [
        "The note holds a password or another secret."
    ]


def test_decisions_hold_for_what_is_typed_as_for_exhibits(
    marit: SealPacket, answered: PacketShown
) -> None:
    number = answered.number
    packet = marit.packets.answer(
        number, tried="ping 10.40.20.11 from tarn-nas-02, password: Sedge-77-Heron"
    )
    assert stops(packet) == ["typed-secret"]
    with pytest.raises(Refused) as caught:
        marit.exhibits.decide(number, "keep", "secret", "Sedge-77-Heron", reason="it is needed")
    assert caught.value.code == "below-floor"
    marit.exhibits.decide(number, "mask", "secret", "Sedge-77-Heron", reason="it was changed since")
    assert stops(marit.packets.get(number)) == []
    marit.exhibits.decide(
        number, "keep", "ip", "10.40.20.11", reason="the desk looks for this path"
    )
    tried = next(text for text in marit.packets.letter(number).texts if text.question == "tried")
    assert tried.outgoing.startswith("ping 10.40.20.11 from [host:")
    assert [(one.value, one.reason) for one in tried.kept] == [
        ("10.40.20.11", "marit: the desk looks for this path")
    ]
    undone = next(d for d in marit.exhibits.decisions(number) if d.action == "mask")
    marit.exhibits.undo_decision(number, undone.id)
    assert stops(marit.packets.get(number)) == ["typed-secret"]


def test_a_value_has_one_placeholder_in_text_exhibit_and_legend(
    marit: SealPacket, answered: PacketShown, tmp_path: Path
) -> None:
    number = answered.number
    marit.packets.answer(number, tried="asked bs-esx-9.quillmere.example twice")
    add(marit, number, tmp_path / "array.log", b"path to bs-esx-9.quillmere.example lost\n")
    copy = marit.exhibits.fetch_outgoing(number, "array.log", tmp_path / "copy").read_text()
    label = re.findall(r"\[host:[a-z2-7]{10}\]", copy)[0]
    tried = next(text for text in marit.packets.letter(number).texts if text.question == "tried")
    assert tried.outgoing == f"asked {label} twice"
    found = {
        one.placeholder: one.value
        for one in marit.exhibits.open_legend(number, reason="to compare").placeholders
    }
    assert found[label] == "bs-esx-9.quillmere.example"


def test_what_only_an_exhibit_gives_away_is_masked_in_the_letter_too(
    marit: SealPacket, answered: PacketShown, tmp_path: Path
) -> None:
    """And the other way round: what only the note gives away is masked in the exhibits."""
    number = answered.number
    marit.packets.answer(
        number,
        tried="Otterpond-9x was set, then the login of wrenna12 worked",
        impact="user: kittiwake44",
    )
    add(
        marit,
        number,
        tmp_path / "array.cfg",
        b"password = Otterpond-9x\nlast change by kittiwake44\n",
    )
    letter = marit.packets.letter(number)
    assert "Otterpond-9x" not in letter.cases[0].text
    copy = marit.exhibits.fetch_outgoing(number, "array.cfg", tmp_path / "copy").read_text()
    assert "kittiwake44" not in copy
    with pytest.raises(Refused) as caught:
        marit.packets.seal(number)
    assert caught.value.facts["stops"] == ["typed-secret"]


def test_a_message_is_shown_before_it_is_sent_and_leaves_redacted(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    number, text = lodged.number, "It is 10.40.103.11 behind kw-fw-1.quillmere.example."
    shown = marit.packets.preview_reply(number, text)
    assert re.fullmatch(r"It is \[ip:[a-z2-7]{10}\] behind \[host:[a-z2-7]{10}\]\.", shown.outgoing)
    assert marit.packets.get(number).messages == lodged.messages, "a preview sends nothing"
    packet = marit.packets.reply(number, text)
    assert (packet.messages[-1].text, packet.messages[-1].outgoing) == (text, shown.outgoing)
    until(lambda: marit.packets.get(number).messages[-1].sent)
    assert shown.outgoing in str(tarnfell.cases()[str(lodged.reference)])
    assert "10.40.103.11" not in str(tarnfell.cases()[str(lodged.reference)])
    clear = marit.exhibits.open_legend(number, reason="to read it")
    assert "10.40.103.11" in {one.value for one in clear.placeholders}


def test_a_message_with_a_secret_is_not_sent_until_someone_decides(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    number, text = lodged.number, "root password: hunter2secret, try again"
    with pytest.raises(Refused) as caught:
        marit.packets.reply(number, text)
    assert caught.value.code == "typed-secret"
    assert "hunter2secret" not in caught.value.detail + caught.value.remedy
    assert len(marit.packets.get(number).messages) == len(lodged.messages)
    marit.exhibits.decide(
        number, "mask", "secret", "hunter2secret", reason="it is not theirs to know"
    )
    packet = marit.packets.reply(number, text)
    assert re.fullmatch(
        r"root password: \[secret:[a-z2-7]{10}\], try again", str(packet.messages[-1].outgoing)
    )
