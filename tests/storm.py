"""Packets to all desks while everything around them is killed or stopped: nothing is lost, nothing done twice."""

from __future__ import annotations

import json
import random
import threading
import time
from collections import Counter
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from email.message import EmailMessage
from email.utils import format_datetime

from sealpacket.app.context import AppContext
from sealpacket.client import ClientError, SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.core.errors import ProblemError, Unavailable
from sealpacket.demo import stories
from sealpacket.demo.house import STANDINS, RunningHouse
from sealpacket.services.packets.inbound_mail.route import Post
from sealpacket.services.packets.lodge.reply_addresses import reply_address

STORIES = {
    "tarnfell": stories.DRIVE, "ovenbird": stories.SWITCH, "lumenlathe": stories.KIOSK, "pellwick": stories.BACKUP,
    "hollowmere": stories.CORES, "saddlewick": stories.BATTERY,
}  # fmt: skip
CLOSED = {
    "tarnfell": "CLOSED", "ovenbird": "Closed", "lumenlathe": "CLOSED", "pellwick": "done", "hollowmere": "closed",
    "saddlewick": "CLOSED",
}  # fmt: skip


@dataclass
class Storm:
    """Seals packets, lodges them, and lets faults come; a person's patience is a `try_now` now and then."""

    house: RunningHouse
    client: SealPacket
    seed: int
    numbers: dict[str, str] = field(default_factory=dict)
    faults: Counter[str] = field(default_factory=Counter)
    patience: float = 480
    """Seconds after the last fault in which everything has to be at its end."""

    def prepare(self, count: int, vendors: Sequence[str] = tuple(STORIES)) -> None:
        """Seal so many packets, to the desks of these vendors in turn."""
        wanted = [vendors[place % len(vendors)] for place in range(count)]
        with ThreadPoolExecutor(3) as threads:
            numbers = list(threads.map(self._sealed, wanted))
        self.numbers |= dict(zip(numbers, wanted, strict=True))

    def _sealed(self, vendor: str) -> str:
        story, now = STORIES[vendor], datetime.now(UTC)
        noted = self.client.packets.note(
            story.title, story.note, need=story.need, asset=story.asset
        )
        answers = {name: stories.answer(text, now) for name, text in story.answers.items()}
        self.client.packets.answer(noted.number, **answers)
        self.client.packets.seal(noted.number)
        return noted.number

    def lodge_in(self, faults: int) -> None:
        """Lodge all, while so many faults come; each is mended after a moment."""
        lodging = threading.Thread(target=self.lodge_all, daemon=True)
        lodging.start()
        chance = random.Random(self.seed)
        acts: list[Callable[[random.Random], str]] = [
            self._kill_worker, self._kill_after_an_answer, self._kill_desk, self._shut_desk, self._kill_database,
            self._kill_service,
        ]  # fmt: skip
        for _ in range(faults):
            time.sleep(chance.uniform(0.1, 0.8))
            self.faults[chance.choices(acts, weights=(3, 4, 3, 2, 1, 1))[0](chance)] += 1
        lodging.join(self.patience)

    def lodge_all(self) -> None:
        """Lodge all of them, one after the other."""
        for number in self.numbers:
            self._patiently(self.client.packets.lodge, number)

    def _patiently(self, act: Callable[[str], object], number: str) -> None:
        for _ in range(200):
            try:
                act(number)
                return
            except ClientError:  # the service or its database is away just now
                time.sleep(0.3)

    def _kill_worker(self, chance: random.Random) -> str:
        self.house.kill("worker")
        time.sleep(chance.uniform(0, 0.3))
        self.house.begin("worker")
        return "worker killed"

    def _kill_after_an_answer(self, chance: random.Random) -> str:
        """Kill the worker at the moment at which a desk has written a case down."""
        files = [self.house.folder / "standins" / vendor / "desk.json" for vendor in STORIES]
        before = [path.stat().st_mtime_ns if path.exists() else 0 for path in files]
        end = time.monotonic() + 3
        while time.monotonic() < end:
            now = [path.stat().st_mtime_ns if path.exists() else 0 for path in files]
            if now != before:
                self.house.kill("worker")
                self.house.begin("worker")
                return "worker killed after a desk's answer"
        return self._kill_worker(chance)

    def _kill_desk(self, chance: random.Random) -> str:
        name = f"stand-in {chance.choice([*STANDINS])}"
        self.house.kill(name)
        time.sleep(chance.uniform(0, 0.5))
        self.house.begin(name)
        return "desk killed"

    def _shut_desk(self, chance: random.Random) -> str:
        vendor = chance.choice([*STANDINS])
        self.house.steer(vendor, down=True)
        time.sleep(chance.uniform(0.2, 0.8))
        self.house.steer(vendor, down=False)
        return "desk shut"

    def _kill_database(self, chance: random.Random) -> str:
        self.house.cluster.stop("immediate")
        time.sleep(chance.uniform(0, 0.5))
        self.house.cluster.serve()
        return "database killed"

    def _kill_service(self, chance: random.Random) -> str:
        self.house.kill("service")
        time.sleep(chance.uniform(0, 0.3))
        self.house.begin("service")
        return "service killed"

    def until_all(self, so: Callable[[PacketShown], bool]) -> dict[str, str]:
        """Wait until it is so for every packet; those of which it is not in time, and how they stand."""
        left, end = dict.fromkeys(self.numbers, ""), time.monotonic() + self.patience
        while left and time.monotonic() < end:
            for number in sorted(left):
                with suppress(ClientError):
                    packet = self.client.packets.get(number)
                    left[number] = _standing(packet)
                    if so(packet):
                        del left[number]
                    elif packet.next_try_at is not None:
                        self.client.packets.try_now(number)
                    elif packet.lodge_state == "stalled":
                        self.client.packets.lodge(number)
                    elif packet.life in ("lodged", "answered") and packet.follow_state != "asking":
                        self.client.packets.follow(number, wait=False)
            time.sleep(0.5)
        return left

    def count_at_desks(self) -> dict[str, list[str]]:
        """By packet, the references of its cases at its desk."""
        found: dict[str, list[str]] = {number: [] for number in self.numbers}
        for vendor in STORIES:
            for reference, case in self.house.look_at(vendor)["cases"].items():
                text = json.dumps(case)
                for number, where in self.numbers.items():
                    if where == vendor and (f'"{number}"' in text or f">{number}<" in text):
                        found[number].append(str(case.get("rma", reference)))
        return found

    def close_all(self) -> None:
        """Every desk says that its cases are over."""
        for vendor, word in CLOSED.items():
            for reference in self.house.look_at(vendor)["cases"]:
                self.house.steer(vendor, case=reference, state=word)
        for number in self.numbers:
            self._patiently(lambda one: self.client.packets.follow(one, wait=False), number)


def _standing(packet: PacketShown) -> str:
    lodging = f"{packet.lodge_state}, {packet.lodge_status_text}, next try {packet.next_try_at}"
    cases = [f"{case.label} {case.reference} {case.life}" for case in packet.cases]
    return f"{packet.life}: {lodging}; {packet.follow_status_text}; {cases}"


def wanted(packet: PacketShown) -> int:
    """How many cases a packet has to have at its desk."""
    return len(packet.cases)


class Letters:
    """Replies of the desk by mail: each twice, some forged, in any order, taken in by several at once."""

    def __init__(self, client: SealPacket, inside: AppContext, numbers: Sequence[str]) -> None:
        self._client, self._inside, self.numbers = client, inside, numbers
        packets = {number: client.packets.get(number) for number in numbers}
        self._first = datetime.now(UTC) - timedelta(days=2)
        self._references = {number: packet.reference for number, packet in packets.items()}

    def write(self, each: int, forged: int, chance: random.Random) -> list[tuple[str, bytes]]:
        """So many replies to each packet, doubled, and so many to addresses that were never given out."""
        good = [(n, place) for n in self.numbers for place in range(each)] * 2
        letters = [(reply_address(self._inside, n), self._reply(n, place)) for n, place in good]
        letters += [
            (f"cases+{n.lower()}.{'a' * 16}@quillmere.example", self._reply(n, each + place))
            for n in self.numbers
            for place in range(forged)
        ]
        chance.shuffle(letters)
        return letters

    def _reply(self, number: str, place: int) -> bytes:
        reference = self._references[number]
        mail = EmailMessage()
        mail["From"], mail["Subject"] = "care@lumenlathe.example", f"Re: {reference}"
        mail["Message-ID"] = f"<{number}-{place}@lumenlathe.example>"
        mail["Date"] = format_datetime(self._first + timedelta(seconds=place))
        mail.set_content(f"Case: {reference}\nStatus: IN WORK\n\nReply {place} of {number}.\n")
        return mail.as_bytes()

    def take(self, letters: list[tuple[str, bytes]]) -> int:
        """Take them in, by four threads; gives how many were refused."""
        post = Post(self._inside)

        def one(letter: tuple[str, bytes]) -> bool:
            while True:
                try:
                    post.take(*letter)
                except Unavailable:
                    time.sleep(0.1)  # the mail server comes again
                except ProblemError:
                    return True
                else:
                    return False

        with ThreadPoolExecutor(4) as threads:
            return sum(threads.map(one, letters))

    def wrong(self, each: int) -> dict[str, list[str]]:
        """The packets that do not have each reply once, in its place, and what they have."""
        found = {}
        for number in self.numbers:
            messages = self._client.packets.get(number).messages
            texts = [m.text for m in messages if m.text.endswith(f"of {number}.")]
            if texts != [f"Reply {place} of {number}." for place in range(each)]:
                found[number] = texts
        return found
