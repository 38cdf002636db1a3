"""The stories of the demo world: notes, answers and files of its packets, and the steps that they go through."""

from __future__ import annotations

import re
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from sealpacket.client import SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.demo import evidence

ARRAY_NOTE = (
    "Volumes on the book-store array are slow since this morning. Catalogue searches time out in all branches; "
    "nothing was changed since the release 7.4.2 in October."
)
Writer = Callable[[Path], Path]


class StepFailed(Exception):
    """A step did not find what it has to find."""


@dataclass(frozen=True)
class Story:
    """One packet: about which asset, what is noted, what the register cannot answer, and which files belong to it.

    An answer such as `today 07:40`, `-2d 02:10` or `+7d` is a moment or a day counted from now.
    """

    title: str
    note: str
    asset: str
    answers: dict[str, str] = field(default_factory=dict)
    need: str = "fault"
    files: dict[str, Writer] = field(default_factory=dict)


def controller_log(size: int) -> Writer:
    """Write the array's log, of about the given number of bytes."""
    return lambda path: evidence.write_controller_log(path, size)


ARRAY = Story(
    "Volumes on the book-store array are slow", ARRAY_NOTE, evidence.SERIAL,
    {
        "category": "volume/latency", "severity": "2", "began_at": "today 07:40",
        "impact": "Catalogue searches take half a minute in all 14 branches; lending goes on.",
        "tried": "Moved the catalogue volume to controller 0: no change. Paused the replica: no change.",
    },
    files={"controller.log": controller_log(30_000_000), "array.cfg": evidence.write_configuration},
)  # fmt: skip
SHELF = Story(
    "Controller 1 of the shelf array restarts",
    "Controller 1 of the shelf array at Quay Street has restarted four times since this morning. Nothing was changed.",
    "TN4-20933-C",
    {
        **ARRAY.answers,
        "category": "controller/restart",
        "impact": "Backups pause for minutes; lending goes on.",
    },
)
DRIVE = Story(
    "Array B reports a failed drive", "Drive 14 of array B failed during the night; the spare has taken over.",
    "TN9-44121-B",
    {**ARRAY.answers, "category": "drive/failed", "severity": "3", "impact": "None yet: the spare drive is in use.",
     "tried": "Reseated the drive: it fails again."},
)  # fmt: skip
FIREWALL = Story(
    "The firewall does not start", "After the update of last night the edge firewall does not boot its image.",
    "OBF2-118804", {"kind": "sw_fault", "effect": "degraded"},
)  # fmt: skip
SWITCH = Story(
    "Ports 12 to 24 lose their link", "Ports 12 to 24 of the switch lose their link every few minutes since the night.",
    "OBS4-551203", {"kind": "hw_fault", "effect": "degraded", "reply_by": "mail", "contact": "teo"},
)  # fmt: skip
KIOSK = Story(
    "Card reader of the kiosk is dead",
    "The card reader of the kiosk at Harrow Road has been dead since opening time. A restart did not help; "
    "nothing was changed.",
    "LK40-7731-0929", {"error_code": "E417", "enter": "yes", "since": "today 08:40"},
    files={"service.log": evidence.write_kiosk_log},
)  # fmt: skip
KIOSK_BY_KIT = Story(
    "Card reader of kiosk 1 is dead",
    "The card reader of kiosk 1 at Fennel Lane is dead since opening time. Nothing was changed; a restart was tried.",
    "LK40-7731-0926", {"enter": "yes"},
)  # fmt: skip
NEIGHBOUR = Story(
    "Card reader dead since opening", "The kiosk at Fennel Lane reads no cards.", "LK40-7731-0927",
    files={"service-screen.png": evidence.write_kiosk_screen},
)  # fmt: skip
BACKUP = Story(
    "Backup of the catalogue fails", "The catalogue job fails since Saturday night. Nothing was changed before.",
    "PW-LIC-5520", {"area": "backup/fails", "impact": "endangered", "since": "-2d 02:10"},
)  # fmt: skip
UPGRADE = Story(
    "Help with the upgrade on a Saturday", "Two days of help to bring all agents to 9.4, at the book store.",
    "PW-LIC-5520", {"service": "on-site", "days": "2 days", "wanted": "+7d"}, need="help",
)  # fmt: skip
CORES = Story(
    "Cores for the failover test", "The failover test of December, until the new year.", "HM-204471",
    {
        "wanted": "north-1 | general cores | 64 | 160\nnorth-2 | general cores | 0 | 96\n"
        "west-1 | memory cores | 16 | 64",
        "by": "+16d", "told": "teo", "purpose": "The failover test of December.",
    },
    need="capacity",
)  # fmt: skip
PLAN = """count,size,resource,region,when
4,8,general cores,north-1,
6,16,general cores,north-2,north-1 lost
1,12,memory cores,west-1,
"""
"""A failover plan that does not fit."""
LEVEL = Story(
    "A higher level of service", "For the opening of the branch at Mill Green.", "HM-204471",
    {"level": "extended", "from_day": "+14d", "purpose": "The branch at Mill Green opens.", "terms": "yes"},
    need="change",
)  # fmt: skip
BATTERY = Story(
    "Battery of the UPS alarms", "The battery alarm is on since the power cut of Sunday; the self-test failed.",
    "SW3K-70455",
    {"what": "battery", "since": "-6d", "load": "2 kVA", "goods": "Battery SB-12 | 4 | 24", "safe": "yes"},
    need="return",
)  # fmt: skip
OTHER_BATTERY = Story(
    "UPS of the book store beeps", "The UPS of the book store beeps every minute.", "SW3K-61008",
)  # fmt: skip


_COUNTED = re.compile(r"(?:today|([+-]\d+)d)(?: (\d\d):(\d\d))?")


def answer(text: str, now: datetime) -> str:
    """An answer with its day or moment counted from now: `today 07:40`, `-2d 02:10`, `+7d`.

    If the hour of today has not come yet, it is yesterday's.
    """
    match = _COUNTED.fullmatch(text)
    if match is None:
        return text
    day = now + timedelta(days=int(match[1] or 0))
    if match[2] is None:
        return f"{day:%Y-%m-%d}"
    moment = day.replace(hour=int(match[2]), minute=int(match[3]))
    return f"{moment if match[1] or moment <= now else moment - timedelta(days=1):%Y-%m-%dT%H:%M+00:00}"


def note(client: SealPacket, story: Story) -> PacketShown:
    """Note what happened, and name the asset."""
    return client.packets.note(story.title, story.note, asset=story.asset, need=story.need)


def give_answers(
    client: SealPacket, number: str, story: Story, *, but: tuple[str, ...] = ()
) -> PacketShown:
    """Answer what the register could not."""
    now = datetime.now(UTC)
    given = {name: answer(text, now) for name, text in story.answers.items() if name not in but}
    return client.packets.answer(number, **given)


def add_files(client: SealPacket, number: str, story: Story, *, wait: bool = True) -> PacketShown:
    """Add the story's files; `wait` until their outgoing copies are made."""
    with TemporaryDirectory() as folder:
        for name, write in story.files.items():
            client.exhibits.add(number, write(Path(folder, name)))
    return client.packets.wait(number) if wait else client.packets.get(number)


def prepare(client: SealPacket, story: Story) -> str:
    """A packet with everything that its desk wants; its number."""
    number = note(client, story).number
    give_answers(client, number, story)
    add_files(client, number, story)
    return number


def lodge(client: SealPacket, number: str) -> PacketShown:
    """Seal and lodge a packet, and wait until its desk has answered or refused."""
    client.packets.seal(number)
    client.packets.lodge(number)
    return client.packets.wait(number)


def wait_for(
    client: SealPacket, number: str, so: Callable[[PacketShown], Any], seconds: float = 180
) -> PacketShown:
    """Ask the desk again and again until its answer has come. Raises StepFailed."""
    end = time.monotonic() + seconds
    packet = client.packets.get(number)
    while time.monotonic() < end:
        if packet.life in ("lodged", "answered") and packet.follow_state != "asking":
            packet = client.packets.follow(number)
        if so(packet):
            return packet
        time.sleep(0.3)
        packet = client.packets.get(number)
    raise StepFailed(
        f"the desk did not do its part in time: {number} is {packet.life}, {packet.status_text}"
    )
