"""A year of packets before today: noted, lodged, asked back, answered and settled through the services, each act at the
time at which it would have been done.
"""

from __future__ import annotations

import heapq
import json
import os
import random
import subprocess
import sys
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Any

import httpx
import time_machine
from sqlalchemy import select, update
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import ProblemError
from sealpacket.core.life import AT_DESK, Life, Turn
from sealpacket.demo import stories
from sealpacket.demo.endings import LIFT
from sealpacket.demo.house import HouseError, RunningHouse
from sealpacket.demo.stories import Story
from sealpacket.services.notices import reading
from sealpacket.services.packets.draft import drafts
from sealpacket.services.packets.follow import acts, cases, messages, outbox, ownership
from sealpacket.services.packets.follow.entered import take_reply
from sealpacket.services.packets.lodge import by_hand, deliveries, waiting
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.services.packets.seal import seals
from sealpacket.settings import Settings
from sealpacket.store.models import Account, DeskHealth

PACKETS = 120
DAYS = 290
"""How many days back the year begins: most contracts of the demo world have run since then."""
CONTROL = "SEALPACKET_DEMO_CONTROL"
"""The variable with the ports by which stand-ins are steered, as JSON."""


@dataclass(frozen=True)
class Kind:
    """A kind of packet: its story, how it may be called, on which assets, by whom, and what its desk asks back."""

    story: Story
    titles: tuple[str, ...]
    assets: tuple[str, ...]
    by: str
    asks: tuple[str, ...]
    cures: tuple[tuple[str, str], ...]
    weight: int
    answer_hours: float
    repair_hours: float
    vendor: str = ""
    """The stand-in that ends its cases; empty: we end them."""
    ends: str = ""
    """The state in which the stand-in ends a case."""
    days: int = DAYS
    """How many days back the first may be: its contract has run since then."""


KINDS = (
    Kind(
        stories.SHELF,
        ("Controller 1 of the array restarts", "Controller 0 was restarted at night", "A controller restarts"),
        ("TN4-20933-C", "TN9-44120-A", "TN9-44121-B"), "marit",
        ("Which firmware do both controllers run?", "Since when does the controller restart?",
         "Was anything changed before?"),
        (("A worn fan.", "The controller was replaced."), ("Firmware 7.4.0.", "Update to 7.4.2.")),
        5, 3.0, 60.0, "tarnfell", "REMEDY_SENT",
    ),
    Kind(
        stories.DRIVE,
        ("The array reports a failed drive", "Drive 7 has failed", "The spare drive is in use"),
        ("TN9-44121-B", "TN9-44120-A"), "marit",
        ("Which firmware do both controllers run?", "Is the spare drive in use?"),
        (("A worn drive.", "The drive was replaced."),),
        4, 9.0, 70.0, "tarnfell", "CLOSED",
    ),
    Kind(
        stories.SWITCH,
        ("Ports 12 to 24 lose their link", "The uplink of the switch flaps", "Half of the ports are dark"),
        ("OBS4-551203",), "teo",
        ("Please send the output of the cable test.", "Which transceivers are in use?"),
        (("Image 12.0.9.", "Image 12.1.0.9 was loaded."), ("A bad cable.", "The cable was replaced.")),
        4, 5.0, 40.0, "ovenbird", "Solved",
    ),
    Kind(
        stories.BACKUP,
        ("Backup of the catalogue fails", "The job of the loans fails", "The agent of the book store is not reached"),
        ("PW-LIC-5520",), "marit",
        ("Which version does the agent run?",),
        (("A lapsed certificate.", "A new certificate was made."), ("A full disk.", "Old copies were removed.")),
        4, 6.0, 30.0, "pellwick", "done",
    ),
    Kind(
        LIFT,
        ("Lift stops beside the floor", "The doors of the lift do not close", "The lift does not come"),
        ("TB-2207-C",), "ines",
        ("Could you tell us the code of the machine room?",),
        (("A worn switch.", "It was replaced."), ("A stone in the rail.", "It was taken out.")),
        1, 4.0, 28.0, days=60,
    ),
)  # fmt: skip


class _Inline:
    """A queue without a worker: what is put in is done after the act, at the same moment."""

    def __init__(self) -> None:
        self._jobs: list[tuple[str, dict[str, Any]]] = []

    def __call__(
        self, session: Session, task: str, arguments: dict[str, Any], lock: str, wait: int = 0
    ) -> None:
        self._jobs.append((task, arguments))

    def drain(self, app: AppContext) -> None:
        """Do all that waits."""
        while self._jobs:
            task, given = self._jobs.pop(0)
            if task == waiting.LODGE:
                deliveries.deliver(app, given["packet"], given["tried"])
            elif task == waiting.SEND:
                outbox.send(app, given["packet"], given["tried"])


class Year:
    """Plays packets in the order of time, as if each moment were now."""

    def __init__(self, app: AppContext, queue: _Inline, control: dict[str, int], seed: int) -> None:
        self._app, self._queue, self._control = app, queue, control
        self._chance = random.Random(seed)  # noqa: S311 - it draws a story
        with app.database.transaction() as session:
            session.execute(update(DeskHealth).values(free_at=None))  # what was called today
            self._actors = {
                one.name: Actor(one.name, frozenset(one.roles), one.id, one.person_id)
                for one in session.scalars(select(Account))
            }

    def play(self, packets: int) -> int:
        """Play a number of packets; gives how many were lodged."""
        end = datetime.now(UTC) - timedelta(hours=12)
        waiting_for: list[tuple[datetime, int, Iterator[timedelta]]] = []
        weights = [kind.weight for kind in KINDS]
        for place in range(packets):
            kind = self._chance.choices(KINDS, weights)[0]
            back = timedelta(days=kind.days) * self._chance.random()
            moment = self._working_time(end - back)
            heapq.heappush(waiting_for, (moment, place, self._life(kind)))
        self.lodged = 0
        with time_machine.travel(end - timedelta(days=DAYS)) as clock:
            while waiting_for and waiting_for[0][0] < end:
                moment, place, life = heapq.heappop(waiting_for)
                clock.move_to(moment)
                with suppress(StopIteration):
                    heapq.heappush(waiting_for, (moment + next(life), place, life))
        for actor in self._actors.values():
            reading.mark(self._app, actor, (), everything=True, read=True)
        return self.lodged

    def _working_time(self, moment: datetime) -> datetime:
        """A time of the same day at which people note something; weekends are rare."""
        if moment.weekday() >= 5 and self._chance.random() < 0.8:
            moment -= timedelta(days=2)
        return moment.replace(hour=self._chance.randint(7, 16), minute=self._chance.randint(0, 59))

    def _hours(self, middle: float) -> timedelta:
        """Some time around a middle; seldom much more."""
        return timedelta(hours=middle * self._chance.lognormvariate(0, 0.6))

    def _life(self, kind: Kind) -> Iterator[timedelta]:
        """The steps of one packet; after each, how long until the next."""
        actor, chance, story = self._actors[kind.by], self._chance, kind.story
        title, asset = chance.choice(kind.titles), chance.choice(kind.assets)
        number = drafts.note(
            self._app, actor, title=title, text=story.note, need="fault", asset=asset
        ).number
        answers = {
            name: stories.answer(text, datetime.now(UTC)) for name, text in story.answers.items()
        }
        with suppress(ProblemError):  # a question that this asset does not have
            drafts.answer(self._app, actor, number, dict(answers))
        yield timedelta(minutes=chance.randint(10, 120))
        if chance.random() < 0.12:
            seals.withdraw(
                self._app,
                actor,
                number,
                chance.choice(("It was a loose cable.", "It went away by itself.")),
            )
            return
        if not self._lodge(number):
            return
        self.lodged += 1
        yield self._hours(kind.answer_hours)
        yield from self._talk(kind, number)
        yield self._hours(kind.repair_hours)
        yield from self._end(kind, number)

    def _lodge(self, number: str) -> bool:
        """Seal and lodge it; whether its desk has it."""
        marit = self._actors["marit"]
        try:
            seals.seal(self._app, marit, number)
            deliveries.lodge(self._app, marit, number)
        except ProblemError:
            return False  # it stays a draft with its stops
        self._queue.drain(self._app)
        shown = self._shown(number)
        if shown.by_hand and shown.life == Life.SEALED:
            guide = by_hand.hand_guide(self._app, number)
            for field in guide.cases[0].fields:
                by_hand.tick_field(self._app, marit, number, field.label)
            form = f"{datetime.now(UTC):%y}/{self._chance.randint(10_000, 99_999)}"
            by_hand.enter_reference(self._app, marit, number, form, spoke_to="the page")
        return self._shown(number).life in AT_DESK

    def _talk(self, kind: Kind, number: str) -> Iterator[timedelta]:
        """The desk answers, and often asks something first."""
        actor, chance = self._actors[kind.by], self._chance
        vendor = self._shown(number).vendor or "the desk"
        if chance.random() < 0.55:
            asked = chance.choice(kind.asks)
            take_reply(self._app, actor, number, text=asked, by=vendor, asks=True)
            yield self._hours(3)
            messages.reply(
                self._app,
                actor,
                number,
                chance.choice(("7.4.2 on both.", "Yes.", "Nothing was changed.")),
            )
            self._pass_on(actor, number)
        else:
            words = "We look into it and write again."
            take_reply(self._app, actor, number, text=words, by=vendor, asks=False)
        if chance.random() < 0.15:
            yield self._hours(6)
            ownership.record_call(
                self._app, actor, number, "They ask for the serial again.", spoke_to="the desk"
            )

    def _pass_on(self, actor: Actor, number: str) -> None:
        self._queue.drain(self._app)
        for message in self._shown(number).messages:
            if message.direction == "out" and message.how == "hand" and not message.sent:
                messages.pass_on(self._app, actor, number, message.id)

    def _end(self, kind: Kind, number: str) -> Iterator[timedelta]:
        """The desk ends it, or proposes an answer until we accept one; then we write down what it was."""
        actor, chance = self._actors[kind.by], self._chance
        cause, cure = chance.choice(kind.cures)
        self._look(kind, number, f"{cause} {cure}")
        if self._is_answered(number) and chance.random() < 0.15:
            acts.contest(self._app, actor, number, "It is as before.")
            self._pass_on(actor, number)
            yield self._hours(kind.answer_hours)
            self._look(kind, number, f"Please look once more: {cure}")
        if self._is_answered(number):
            if chance.random() < 0.5:
                acts.rate(self._app, actor, number, chance.choice((2, 3, 4, 4, 5)), "")
                self._pass_on(actor, number)
            acts.accept(self._app, actor, number, "That was it.")
            self._pass_on(actor, number)
            yield timedelta(minutes=10)
            cases.look(self._app, number)
        with suppress(ProblemError):  # its desk has not ended it yet
            ownership.settle(self._app, actor, number, cause=cause, cure=cure)

    def _look(self, kind: Kind, number: str, words: str) -> None:
        """The desk says something about a case and ends it, and we look; a desk that is reached by hand is left out."""
        if kind.vendor:
            reference = self._shown(number).reference
            self._steer(kind.vendor, case=reference, state=kind.ends, say=words)
            cases.look(self._app, number)
            self._queue.drain(self._app)

    def _is_answered(self, number: str) -> bool:
        shown = self._shown(number)
        return shown.life == Life.ANSWERED and shown.turn == Turn.OURS

    def _shown(self, number: str) -> PacketShown:
        return drafts.get(self._app, number)

    def _steer(self, vendor: str, **wish: Any) -> None:
        address = f"http://127.0.0.1:{self._control[vendor]}/control"
        httpx.post(address, json=wish, trust_env=False, timeout=30).raise_for_status()


def fill(house: RunningHouse, packets: int = PACKETS) -> None:
    """Play a year with a number of packets in a house with a fresh demo world. Raises HouseError if that fails.

    Its worker rests meanwhile, since it lives today.
    """
    house.end("worker")
    done = subprocess.run(
        [sys.executable, "-m", "sealpacket.demo.year", str(packets)],
        env={**house.environment(), CONTROL: json.dumps(house.control_ports)},
        capture_output=True,
        text=True,
        check=False,
    )
    house.begin("worker")
    if done.returncode:
        raise HouseError(f"The year could not be played: {done.stderr[-800:]}")


def main() -> None:
    """`python -m sealpacket.demo.year PACKETS`, with the settings of a house whose worker rests."""
    packets = int(sys.argv[1])
    queue = _Inline()
    app = AppContext(Settings(), queue)
    control = json.loads(os.environ[CONTROL])
    print(Year(app, queue, control, seed=2026).play(packets))


if __name__ == "__main__":
    main()
