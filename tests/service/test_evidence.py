"""What exhibits hold: looked at when they come, judged with the packet, summarised and cut."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest

from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import PacketShown
from tests.conftest import add

START = (datetime.now(UTC) - timedelta(hours=30)).replace(minute=0, second=0, microsecond=0)
BEGAN = START + timedelta(hours=27)


def log(host: str = "br01-kiosk2", hours: int = 29, first: datetime = START) -> bytes:
    lines = [
        f"{first + timedelta(minutes=minute):%Y-%m-%dT%H:%M:%SZ} {host} lendd[{minute}]: card {minute} kept"
        for minute in range(hours * 60)
    ]
    lines.insert(-59, f"{lines[-60][:20]} {host} lendd[9]: ERROR E0417 card reader lost")
    return ("\n".join(lines) + "\n").encode()


@pytest.fixture
def kiosk(marit: SealPacket) -> PacketShown:
    return marit.packets.note(
        "Card reader stays dark", "Cards are not read.", asset="LK40-7731-0927", began_at=BEGAN
    )


def faults(packet: PacketShown) -> set[str]:
    return {check.code for check in packet.checks if check.code.startswith("evidence-")}


def test_a_log_of_the_right_hours_and_machine_is_what_the_desk_wants(
    marit: SealPacket, kiosk: PacketShown, tmp_path: Path
) -> None:
    packet = marit.packets.answer(kiosk.number, request="repair")
    assert [one.state for one in packet.evidence] == ["missing"]
    packet = add(marit, kiosk.number, tmp_path / "lendd.log", log())
    assert [(one.state, one.exhibit) for one in packet.evidence] == [("present", "lendd.log")]
    exhibit = packet.exhibits[0]
    assert (exhibit.first_at, exhibit.faults, exhibit.has_summary) == (START, [], True)
    assert not faults(packet)


@pytest.mark.parametrize(
    ("content", "code", "said"),
    [
        (b"\n \n\n", "empty", "holds nothing but blank space"),
        (b"time,level,message\n", "evidence-empty", "holds a header and nothing else"),
        (log(first=START + timedelta(hours=28), hours=1), "evidence-wrong-hours", "covers"),
        (log(host="br01-kiosk1"), "evidence-wrong-machine", "is from br01-kiosk1"),
        (log() + log()[:70], "evidence-truncated", "ends in the middle of a line"),
    ],
)  # fmt: skip
def test_what_is_wrong_with_evidence_is_said(
    marit: SealPacket, kiosk: PacketShown, tmp_path: Path, content: bytes, code: str, said: str
) -> None:
    marit.packets.answer(kiosk.number, request="repair")
    packet = add(marit, kiosk.number, tmp_path / "lendd.log", content)
    check = next(one for one in packet.checks if one.code == code)
    assert said in check.sentence
    assert check.target == "lendd.log"
    assert packet.evidence[0].state == "faulty"


def test_a_summary_tells_what_is_new_around_the_moment_when_it_began(
    marit: SealPacket, kiosk: PacketShown, tmp_path: Path
) -> None:
    marit.known_issues.put(
        "reader-lost",
        title="Card reader lost",
        pattern="E0417 card reader",
        advice="Reseat its cable.",
    )
    add(marit, kiosk.number, tmp_path / "lendd.log", log())
    when = START + timedelta(hours=28)
    found = marit.exhibits.summarise(
        kiosk.number, "lendd.log", when - timedelta(hours=1), when + timedelta(hours=1)
    )
    new = [message.text for message in found.messages if "new" in message.marks]
    assert new == ["* lendd[*]: ERROR E0417 card reader lost"]
    assert [issue.advice for issue in found.issues] == ["Reseat its cable."]
    marit.known_issues.remove("reader-lost")
    assert "reader-lost" not in {one.key for one in marit.known_issues.list()}


def test_only_some_hours_of_a_log_are_kept(
    marit: SealPacket, kiosk: PacketShown, tmp_path: Path
) -> None:
    add(marit, kiosk.number, tmp_path / "lendd.log", log())
    begin, end = BEGAN - timedelta(minutes=30), BEGAN + timedelta(minutes=30)
    with pytest.raises(Refused) as caught:
        marit.exhibits.cut(
            kiosk.number, "lendd.log", begin - timedelta(days=9), end - timedelta(days=9)
        )
    assert "no lines" in str(caught.value)
    marit.exhibits.cut(kiosk.number, "lendd.log", begin, end)
    packet = marit.packets.wait(kiosk.number)
    exhibit = packet.exhibits[0]
    assert (exhibit.first_at, exhibit.last_at, exhibit.state) == (begin, end, "ready")
    assert exhibit.size < len(log()) / 20


def test_a_file_without_times_has_no_summary(
    marit: SealPacket, kiosk: PacketShown, tmp_path: Path
) -> None:
    add(marit, kiosk.number, tmp_path / "kiosk.cfg", b"serial = LK40-7731-0927\n")
    for act in (marit.exhibits.summarise, lambda *names: marit.exhibits.cut(*names, START, BEGAN)):
        with pytest.raises(Refused) as caught:
            act(kiosk.number, "kiosk.cfg")
        assert caught.value.code == "no-summary"


def test_when_it_began_is_read_from_the_note(marit: SealPacket) -> None:
    yesterday = datetime.now(UTC).date() - timedelta(days=1)
    packet = marit.packets.note("Kiosk dark", "Dark since yesterday 09:00.", asset="LK40-7731-0927")
    assert packet.began_read is not None
    assert packet.began_read.words == "since yesterday 09:00"
    assert packet.began_read.at.date() == yesterday
    packet = marit.packets.change(packet.number, began_at=packet.began_read.at.isoformat())
    assert (packet.began_read, packet.began_at is not None) == (None, True)
    with pytest.raises(Refused) as caught:
        marit.packets.change(packet.number, began_at="2999-01-01T00:00:00Z")
    assert "future" in str(caught.value)


def test_a_settled_packet_teaches_a_known_issue(marit: SealPacket, kiosk: PacketShown) -> None:
    with pytest.raises(Refused) as caught:
        marit.known_issues.put("x", title="X", pattern="E1", packet=kiosk.number)
    assert caught.value.code == "not-settled"
    with pytest.raises(Refused) as caught:
        marit.known_issues.put("x", title="X", pattern="(")
    assert "no regular expression" in str(caught.value)
