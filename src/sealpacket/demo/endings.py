"""Stories played from the reference to the settled end: an array, a kiosk, a firewall, a battery, and a lift."""

from __future__ import annotations

import re
import time
from collections.abc import Callable, Iterator
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path

from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.demo import stories
from sealpacket.demo.house import RunningHouse
from sealpacket.demo.stories import StepFailed

_LONGEST = 300
"""Seconds to wait for the worker to read a feed."""
_CARD = re.compile(r"card=\d{14}\b")
"""A reader's card as a kiosk's log writes it."""
LIFT = stories.Story(
    "Lift stops beside the floor",
    "The lift at Quay Street stops a hand's breadth above the first floor since this morning.",
    "TB-2207-C",
    {"inside": "no", "state": "level", "since": "today 07:40", "caller": "ines"},
)


def need(fact: object, words: str) -> None:
    """Fail the step unless it is so."""
    if not fact:
        raise StepFailed(words)


class Endings:
    """Plays on where the first part of the example has ended; `array` is its packet."""

    def __init__(
        self, house: RunningHouse, client: SealPacket, folder: Path, array: Callable[[], str]
    ) -> None:
        self.house, self.client, self.folder, self._array = house, client, folder, array

    def steps(self) -> Iterator[tuple[str, Callable[[], str]]]:
        """Every step with its words."""
        self._announce_work()
        yield "Send Tarnfell the log of the other controller", self.array_files
        yield "Contest its first answer, accept the second, and settle", self.array_end
        yield (
            "Collect from the kiosk by its kit, and lodge by mail; its neighbour's cover has lapsed",
            self.kiosk,
        )
        yield "Lodge the firewall's fault: the login lacks the contract", self.firewall
        yield "Claim the UPS battery under warranty, to its return", self.battery
        yield "Enter the lift's fault on Thornbeck's page by hand", self.lift
        yield "Ask Hollowmere for a higher level, and take it into the register", self.level
        yield "Help on a Saturday, paid with the units that lapse first", self.units
        yield "See what the vendors report before asking", self.health
        yield "A failover plan: ask for what is missing, and take what is granted", self.capacity
        yield "A recall of all card readers from one table", self.recall

    def array_files(self) -> str:
        number = self._array()
        path = self.folder / "controller-b.log"
        path.write_text("08:41 bs-array-b.quillmere.example at 10.40.20.21: queue depth 212\n" * 40)
        self.client.exhibits.add(number, path)
        ready = self.client.packets.wait(number)
        masked = sum(next(e for e in ready.exhibits if e.name == path.name).counts.values())
        self.client.packets.comment(number, "The log of controller B.", files=[path.name])
        path.unlink()
        self._sent(number)
        return f"{masked} values masked in it, under the legend of the packet"

    def array_end(self) -> str:
        number = self._array()
        reference = self.client.packets.get(number).reference
        answered = {"case": reference, "state": "REMEDY_SENT"}
        self.house.steer("tarnfell", **answered, say="Restart controller 1.")
        stories.wait_for(self.client, number, lambda packet: packet.life == "answered")
        self.client.packets.contest(number, "It was restarted twice: no change.")
        self._sent(number)
        self.house.steer("tarnfell", **answered, say="The clock of controller 1 was an hour off.")
        stories.wait_for(self.client, number, lambda packet: packet.life == "answered")
        self.client.packets.accept(number, "That was it.")
        self._sent(number)
        return self._settled(number, "The clock of controller 1.", "It follows the time server.")

    def kiosk(self) -> str:
        neighbour = stories.note(self.client, stories.NEIGHBOUR)
        ruling = neighbour.ruling
        need(ruling and not ruling.holds, "the neighbour's cover has not lapsed")
        self.client.packets.withdraw(neighbour.number, "Its cover has lapsed; it is renewed first.")
        number = stories.note(self.client, stories.KIOSK_BY_KIT).number
        began = datetime.now(UTC) - timedelta(minutes=59)
        self.client.packets.change(number, began_at=began.isoformat())
        self.client.packets.tried(number, "Switched it off for a minute", "The reader stays dark")
        self._collect(number)
        stories.give_answers(self.client, number, stories.KIOSK_BY_KIT)
        stories.lodge(self.client, number)
        reference = self._reference(number)
        self.house.steer("lumenlathe", case=reference, ask="Does the light of the reader blink?")
        stories.wait_for(self.client, number, lambda packet: packet.turn == "ours")
        self.client.packets.reply(number, "It blinks red, three times.")
        self._sent(number)
        self.house.steer("lumenlathe", case=reference, ship="MF-99-1204")
        self.house.steer(
            "lumenlathe", case=reference, state="SOLVED", say="The reader is replaced."
        )
        stories.wait_for(self.client, number, lambda packet: packet.life == "answered")
        self.client.packets.accept(number)
        self._settled(number, "A broken card reader.", "It was replaced.")
        return (
            "its log came by a kit, which also read the error code; no reader's card left the house"
        )

    def _collect(self, number: str) -> None:
        """Have the worker run the kiosk's kit, and make sure that no reader's card goes out."""
        kit = next(iter(self.client.kits.offered(number)))
        need(not kit.hindrance, kit.hindrance)
        run = self.client.kits.collect(number, kit.name, kit.number)
        run = self.client.kits.wait(number, run.id)
        need([one.state for one in run.outcomes] == ["got"] * 3, f"the kit brought {run.outcomes}")
        packet = self.client.packets.wait(number)
        code = next(one.answer for one in packet.questions if one.id == "error_code")
        need(code.value == "E417", "the kit did not answer the error code")
        copy = self.folder / "lendd.log"
        self.client.exhibits.fetch_outgoing(number, "lendd.log", copy)
        need(not _CARD.search(copy.read_text()), "a reader's card is left in the outgoing copy")
        copy.unlink()

    def firewall(self) -> str:
        number = stories.note(self.client, stories.FIREWALL).number
        stories.give_answers(self.client, number, stories.FIREWALL)
        self.client.packets.answer(number, reply_by="mail", contact="teo")
        packet = self.client.packets.get(number)
        stops = [check.sentence for check in packet.checks if check.level == "stop"]
        need(stops, "nothing stops it, though its login lacks the contract")
        name = "marit.oswin@quillmere.example"
        if name not in [login.name for login in packet.logins]:
            token = (self.house.folder / "keys/ovenbird.token").read_text()
            self.client.logins.add(
                vendor="ovenbird", name=name, person="marit", contracts=["4471"], secret=token
            )
        self.client.packets.change(number, login=name)
        stories.lodge(self.client, number)
        reference = self._reference(number)
        self.house.steer("ovenbird", case=reference, state="Solved", say="Load image 12.1.0.9.")
        stories.wait_for(self.client, number, lambda packet: packet.life == "answered")
        self.client.packets.accept(number)
        self._settled(number, "A broken image.", "Image 12.1.0.9 was loaded.")
        return f"“{stops[0]}” Through Marit's login it goes, and is settled"

    def battery(self) -> str:
        number = stories.prepare(self.client, stories.BATTERY)
        stories.lodge(self.client, number)
        rma = self._reference(number)
        back = (datetime.now(UTC).date() + timedelta(days=14)).isoformat()
        self.house.steer("saddlewick", case=number, ship="MF-77-0031", return_by=back)
        shipped = stories.wait_for(
            self.client, number, lambda packet: "Tracking number" in packet.cases[0].desk_facts
        )
        tracking = shipped.cases[0].desk_facts["Tracking number"]
        parcel = self.client.packets.note_shipment(number, "to_vendor", "The old battery")
        need(str(parcel.shipments[0].due_on) == back, "the day of the old battery is not known")
        self.client.packets.accept(number, "The new battery has come.")
        self._settled(number, "An aged battery.", "It was replaced under warranty.")
        return f"{rma}, with tracking number {tracking}; the old battery goes back by {back}"

    def lift(self) -> str:
        number = stories.prepare(self.client, replace(LIFT, files={}))
        self.client.packets.seal(number)
        self.client.packets.lodge(number)
        guide = self.client.packets.hand_guide(number)
        for field in guide.cases[0].fields:
            self.client.packets.tick_field(number, field.label)
        try:
            self.client.packets.enter_reference(number, "40311")
        except Refused as refused:
            need(refused.code == "reference-form", refused.detail)
        self.client.packets.enter_reference(number, "26/40311", spoke_to="the page")
        asked = self.client.packets.take_reply(
            number, "Could you tell us the code of the machine room?", by="Thornbeck"
        )
        need(asked.turn == "ours", "its question is not seen")
        after = self.client.packets.reply(number, "Ines opens it.")
        self.client.packets.pass_on(number, after.messages[-1].id)
        self.client.packets.settle(number, cause="A worn switch.", cure="It was replaced.")
        return f"{len(guide.cases[0].fields)} fields, 26/40311; a mistyped number was noticed"

    def level(self) -> str:
        number = stories.prepare(self.client, stories.LEVEL)
        reference = stories.lodge(self.client, number).reference
        self.house.steer("hollowmere", case=reference, state="granted")
        packet = stories.wait_for(self.client, number, lambda packet: packet.consequences)
        offered = packet.consequences[0]
        taken = self.client.packets.take_consequence(number, offered.id).consequences[0]
        found = self.client.entitlements.get(taken.handle)
        need(found.level == "Extended care", f"its level is {found.level}")
        self.client.packets.accept(number, "Thank you.")
        self._sent(number)
        return f"{taken.name}: {offered.now} until then, {found.level} from {found.starts_on}"

    def units(self) -> str:
        before = self.client.lots.unit_balance(vendor="pellwick")
        number = stories.prepare(self.client, stories.UPGRADE)
        reference = stories.lodge(self.client, number).reference
        held = self.client.lots.unit_balance(vendor="pellwick").held - before.held
        need(held == 4, f"it holds {held} units")
        self.house.steer("pellwick", case=reference, state="done")
        packet = stories.wait_for(self.client, number, lambda packet: packet.life == "settled")
        (used,) = packet.units
        need(used.state == "used", f"its units are {used.state}")
        left = self.client.lots.unit_balance(vendor="pellwick").left
        return f"{used.units} units of lot {used.lot}, which lapses first; {left} are left"

    def _announce_work(self) -> None:
        """Hollowmere plans work; the worker reads that within a minute, while other steps are played."""
        begins = datetime.now(UTC) + timedelta(days=1)
        self.house.steer(
            "hollowmere",
            report={
                "id": "HMW-9",
                "kind": "work",
                "state": "planned",
                "title": "New disks in west-1",
                "places": ["west-1"],
                "from": begins.isoformat(timespec="seconds"),
            },
        )

    def health(self) -> str:
        for _ in range(_LONGEST):
            told = self.client.notices.vendor_health(asset="HM-204471").items
            if told:
                break
            time.sleep(1)
        need(told and told[0].state == "planned", "the planned work is not known")
        return f"{told[0].vendor_name}: {told[0].title}, {told[0].state}"

    def capacity(self) -> str:
        limits, plan = self.client.limits, stories.PLAN
        found = limits.plan_capacity("hollowmere", plan, headroom=10)
        wanted = [
            {"region": one.region, "resource": one.resource, "wanted": one.ask}
            for one in found.lines
            if one.ask
        ]
        day = datetime.now(UTC).date() + timedelta(days=16)
        number = limits.ask_capacity("HM-204471", wanted, purpose=found.purpose, by=day).number
        cases = stories.lodge(self.client, number).cases
        for case in cases:
            self.house.steer("hollowmere", case=case.reference, state="granted")
        packet = stories.wait_for(
            self.client, number, lambda packet: len(packet.consequences) == len(cases)
        )
        for one in packet.consequences:
            self.client.packets.take_consequence(number, one.id)
        need(limits.plan_capacity("hollowmere", plan).fits, "the plan does not fit yet")
        return f"{len(wanted)} limits were missing; all are granted, and the plan fits"

    def recall(self) -> str:
        kiosks = [one.serial for one in self.client.assets.list(vendor="lumenlathe", most=12)]
        rows = [
            {"asset": serial, "note": "Its card reader is recalled.", "need": "question"}
            for serial in kiosks
        ]
        batches = self.client.batches
        done = batches.wait(batches.note_batch("Recall of the card readers", rows).id)
        need(done.failed == 0, f"{done.failed} rows failed")
        return f"{done.noted} packets by one table, called {done.id}"

    def _reference(self, number: str) -> str:
        packet = stories.wait_for(self.client, number, lambda packet: packet.reference)
        return packet.reference or ""

    def _sent(self, number: str) -> None:
        packet = stories.wait_for(
            self.client, number, lambda packet: all(m.sent or m.failure for m in packet.messages)
        )
        need(not packet.messages[-1].failure, packet.messages[-1].failure)

    def _settled(self, number: str, cause: str, cure: str) -> str:
        self._sent(number)
        packet: PacketShown = stories.wait_for(
            self.client, number, lambda packet: packet.life == "settled"
        )
        packet = self.client.packets.settle(number, cause=cause, cure=cure)
        return f"{packet.number} is settled: {packet.cause} {packet.cure}"
