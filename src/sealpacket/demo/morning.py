"""A morning in the middle of the work: packets at every desk and in every state, and what came in from vendors."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from pathlib import Path
from tempfile import TemporaryDirectory

from sealpacket.client import PageBox, SealPacket
from sealpacket.demo import evidence, stories
from sealpacket.demo.endings import LIFT
from sealpacket.demo.house import RunningHouse

KIOSK_LIST = """S/N;Part No;Label;Location;Installed;Colour
LK40-7731-0926;LK-40;Kiosk by the door;Fennel Lane;23.11.2023;red
LK40-7731-0930;LK-40;Kiosk 1;Kettle Wharf;01.12.2023;red
LK40-7731-0990;LK-40;Kiosk 2;Mill Green;31.10.2026;blue
LK40-7731-0991;LK-41;Kiosk 2;Bellfield;31.10.2026;blue
LK40-7731-0992;LK-40;Kiosk 2;Nowhere Lane;31.10.2026;blue
LK40-7731-0993;LK-40;Kiosk 3;Mill Green;31.02.2026;blue
"""
"""A list as a branch would send it, with rows that cannot be taken over."""


class Morning:
    """Plays the morning; `numbers` are the packets by what they are about."""

    def __init__(
        self,
        house: RunningHouse,
        marit: SealPacket,
        teo: SealPacket,
        ines: SealPacket,
        log_size: int,
    ) -> None:
        self._steer = house.steer
        self.marit, self.teo, self.ines = marit, teo, ines
        self.numbers: dict[str, str] = {}
        self._log_size = log_size

    def play(self) -> dict[str, str]:
        """All of it, one desk after the other."""
        self.health()
        self.picture()
        for act in (
            self.tarnfell,
            self.ovenbird,
            self.lumenlathe,
            self.pellwick,
            self.hollowmere,
            self.saddlewick,
            self.thornbeck,
        ):
            act()
        self.statement()
        self.list_of_kiosks()
        self.box()
        return self.numbers

    def picture(self) -> None:
        """The cover of a kiosk has lapsed. Reading the picture of its screen takes the worker a while."""
        self.numbers["not covered"] = number = stories.note(self.ines, stories.NEIGHBOUR).number
        stories.add_files(self.ines, number, stories.NEIGHBOUR, wait=False)

    def health(self) -> None:
        """A cloud region is to be worked on, and switches lose their clocks; the worker reads that in their feeds."""
        now = datetime.now(UTC).replace(minute=0, second=0, microsecond=0)
        work = now + timedelta(days=2)
        self._steer(
            "hollowmere",
            report={
                "id": "HMW-311",
                "kind": "work",
                "state": "planned",
                "title": "Power supply of north-2 is renewed",
                "text": "Machines move to the other hall one by one; each stops for about a minute.",
                "from": work.isoformat(),
                "until": (work + timedelta(hours=4)).isoformat(),
                "places": ["north-2"],
            },
        )
        self._steer(
            "ovenbird",
            report={
                "id": "OBH-72",
                "state": "Investigating",
                "title": "OB-F220 and OB-F240 lose their time",
                "text": "Clocks jump back after the time servers were moved; tunnels may fall.",
            },
        )

    def box(self) -> None:
        """A person has covered what no detector sees; the copy is being made again."""
        number = self.numbers["not covered"]
        self.ines.packets.wait(number)
        face = PageBox(1, 0.79, 0.16, 0.98, 0.55)
        self.ines.exhibits.draw_boxes(
            number, "service-screen.png", [face], reason="a reader's face"
        )

    def tarnfell(self) -> None:
        """One desk asks back, one packet was refused, and one is being prepared, with something held in it."""
        self.numbers["asks back"] = number = stories.prepare(self.marit, stories.SHELF)
        reference = stories.lodge(self.marit, number).reference
        self._steer("tarnfell", case=reference, ask="Which firmware do both controllers run?")
        stories.wait_for(self.marit, number, lambda packet: packet.turn == "ours")

        self.numbers["refused"] = number = stories.prepare(self.teo, stories.DRIVE)
        self._steer("tarnfell", refuse="not_entitled")
        stories.lodge(self.marit, number)
        self._steer("tarnfell", refuse=None)

        self.numbers["being prepared"] = number = stories.note(self.marit, stories.ARRAY).number
        stories.give_answers(self.marit, number, stories.ARRAY, but=("severity", "began_at"))
        with TemporaryDirectory() as folder:
            dump = Path(folder, "controller-1.dump")
            dump.write_bytes(bytes(range(256)) * 64)  # nobody can look into it, so it is held
            self.marit.exhibits.add(number, evidence.write_configuration(Path(folder, "array.cfg")))
            self.marit.exhibits.add(
                number, stories.controller_log(self._log_size)(Path(folder, "controller.log"))
            )
            self.marit.exhibits.add(number, dump)
        self.marit.packets.wait(number)

    def ovenbird(self) -> None:
        """The login lacks the contract of the firewall; the switch has its answer."""
        self.numbers["not tied"] = number = stories.note(self.teo, stories.FIREWALL).number
        stories.give_answers(self.teo, number, stories.FIREWALL)

        self.numbers["answered"] = number = stories.prepare(self.teo, stories.SWITCH)
        reference = stories.lodge(self.marit, number).reference
        self._steer(
            "ovenbird", case=reference, state="Solved", say="Update to 12.1.0.9; it cures the link."
        )
        stories.wait_for(self.marit, number, lambda packet: packet.life == "answered")

    def lumenlathe(self) -> None:
        """A part is on its way to a kiosk."""
        self.numbers["part sent"] = number = stories.prepare(self.ines, stories.KIOSK)
        stories.lodge(self.ines, number)
        packet = stories.wait_for(self.ines, number, lambda packet: packet.reference)
        self._steer("lumenlathe", case=packet.reference, ship="MF-99-1204")
        stories.wait_for(self.ines, number, lambda packet: packet.desk_status == "PARTS SENT")

    def pellwick(self) -> None:
        """A fault that is settled, and help on a Saturday that is sealed and waits to be lodged."""
        self.numbers["settled"] = number = stories.prepare(self.marit, stories.BACKUP)
        reference = stories.lodge(self.marit, number).reference
        self._steer(
            "pellwick", case=reference, say="The agent's certificate had lapsed.", state="done"
        )
        stories.wait_for(self.marit, number, lambda packet: packet.life == "settled")

        self.numbers["sealed"] = number = stories.prepare(self.marit, stories.UPGRADE)
        self.marit.packets.seal(number)

    def hollowmere(self) -> None:
        """Of three regions one is granted, and one is asked about."""
        self.numbers["three regions"] = number = stories.prepare(self.teo, stories.CORES)
        first, second, _ = (case.reference for case in stories.lodge(self.marit, number).cases)
        self._steer("hollowmere", case=first, state="granted", granted=160)
        self._steer("hollowmere", case=second, ask="From which day?")
        stories.wait_for(self.marit, number, lambda packet: packet.cases[1].turn == "ours")

    def saddlewick(self) -> None:
        """A battery is on its way under warranty; another claim was taken back."""
        self.numbers["claimed"] = number = stories.prepare(self.ines, stories.BATTERY)
        stories.lodge(self.ines, number)
        stories.wait_for(self.ines, number, lambda packet: packet.reference)
        self._steer("saddlewick", case=number, ship="MF-77-0031")
        stories.wait_for(
            self.ines, number, lambda packet: "Tracking" in str(packet.cases[0].desk_facts)
        )

        self.numbers["withdrawn"] = number = stories.note(self.ines, stories.OTHER_BATTERY).number
        self.ines.packets.withdraw(number, "It was a loose cable.")

    def thornbeck(self) -> None:
        """A lift is being entered on its vendor's page by hand."""
        self.numbers["by hand"] = number = stories.prepare(self.ines, LIFT)
        self.ines.packets.seal(number)
        self.ines.packets.lodge(number)
        for label in ("Unit number", "Building"):
            self.ines.packets.tick_field(number, label)

    def statement(self) -> None:
        """The vendor's statement is half decided."""
        *_, statement = self.marit.statements.list(
            limit=200
        ).items  # the demo world's is the oldest
        self.marit.statements.wait(statement.id)
        rows = list(self.marit.statements.differences(statement.id))
        for row in rows[: len(rows) // 2]:
            self.marit.statements.decide(
                statement.id, [row.number], "ours", "The register was checked in spring."
            )

    def list_of_kiosks(self) -> None:
        """A branch's list of kiosks is previewed."""
        with TemporaryDirectory() as folder:
            path = Path(folder, "kiosks-2026.csv")
            path.write_text(KIOSK_LIST)
            begun = self.marit.imports.begin("asset", path, fixed={"vendor": "lumenlathe"})
        self.numbers["import"] = self.marit.imports.wait(begun.id).id


def play(house: RunningHouse, log_size: int = 3_000_000) -> dict[str, str]:
    """Play the morning in a house with a fresh demo world; the packets' numbers by what they are about."""
    with house.client("marit") as marit, house.client("teo") as teo, house.client("ines") as ines:
        return Morning(house, marit, teo, ines, log_size).play()


def where_to_look(numbers: dict[str, str]) -> str:
    """The first morning of the demo: packets worth opening first."""
    return (
        f"Look first at Today, then at {numbers['being prepared']} (a packet in the making, something is held),\n"
        f"{numbers['asks back']} (Tarnfell asks), {numbers['refused']} (refused), "
        f"{numbers['by hand']} (entered by hand),\n"
        f"{numbers['not covered']} (why there is no cover) and {numbers['three regions']} (one packet, three cases).\n"
        "Imports has an order document, a vendor statement half decided and a list to be taken over."
    )
