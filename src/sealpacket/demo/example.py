"""The stories of the demo world, played unattended against a fresh house: `make example`.

Any step that fails ends it with 1.
"""

from __future__ import annotations

import shutil
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path

from sealpacket.client import SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.demo import evidence, stories, year
from sealpacket.demo.cluster import Cluster
from sealpacket.demo.endings import Endings, need
from sealpacket.demo.house import HouseError, RunningHouse
from sealpacket.demo.stories import ARRAY

YEAR = 24
MUST_NOT_LEAVE = (
    b"10.40.20.1", b"teo.valcourt@", b".quillmere.example", b"thrush-In-the-9-reeds", b"q1llmere-ro", b"BEGIN OPENSSH",
    b"TN9-44121-B", b"Harrowgate",
)  # fmt: skip


class Play:
    """The scenario, step by step, through the client library as a program would."""

    def __init__(
        self, house: RunningHouse, client: SealPacket, folder: Path, log_size: int
    ) -> None:
        self.house, self.client, self.folder, self.log_size = house, client, folder, log_size
        self.number = ""

    def steps(self) -> Iterator[tuple[str, Callable[[], str]]]:
        """Every step with its words."""
        yield f"Play {YEAR} packets of the year before, and see how they went", self.year
        yield "Find the array by serial, model, host name and site", self.find
        yield "Note what happened and name the array", self.note
        yield "Rule on its cover", self.rule
        yield "Answer what the register could not", self.answer
        yield (
            f"Drop in a {self.log_size // 1_000_000} MB controller log and the configuration",
            self.add_evidence,
        )
        yield "See what the log says", self.summary
        yield "Look at what is masked", self.review
        yield "Read the checks", self.check
        yield "Seal", self.seal
        yield "Verify the bag offline", self.verify
        yield "Lodge", self.lodge
        yield "Lodge once more", self.lodge_again
        yield "See what Tarnfell asks, and answer", self.follow
        yield from Endings(self.house, self.client, self.folder, lambda: self.packet.number).steps()
        yield "Verify the custody log", self.custody

    def year(self) -> str:
        year.fill(self.house, YEAR)
        parts = {one.part: one.rows for one in self.client.overview().parts}
        settled = sum(
            n.value or 0 for row in parts["flow"] for n in row.numbers if n.name == "settled"
        )
        need(settled >= YEAR / 2, f"only {settled:.0f} of them are settled")
        asked = parts["questions"][0]
        need(asked.numbers[1].value, f"{asked.name} has asked nothing")
        first = self.client.packets.list(life="settled", sort="created_at", most=1)
        age = (datetime.now(UTC) - next(iter(first)).created_at).days
        need(age > 90, f"the first of them is only {age} days old")
        return f"{settled:.0f} settled, the first {age} days ago; {asked.name} asked most"

    def find(self) -> str:
        for query in (
            "TN9-44120-A",
            "tarnfell 9",
            "bs-array-a-c1",
            "book store array a",
            "TN9-44l20-A",
        ):
            found = self.client.find(query, kind="asset").groups
            need(
                any(one.name == evidence.SERIAL for group in found for one in group.items),
                f"“{query}” does not find the array",
            )
        return "found five ways, once with a mistyped serial"

    def note(self) -> str:
        packet = stories.note(self.client, ARRAY)
        self.number = packet.number
        return f"{packet.number}, for {packet.desk_name}, through {packet.login}"

    def rule(self) -> str:
        ruling = self.packet.ruling
        need(ruling and ruling.holds and ruling.route == "support", "the array is not covered")
        need(
            ruling and len(ruling.passed_over) == 3, "the passed-over candidates are not all there"
        )
        return f"contract {ruling.contract}: {' '.join(ruling.reasons)}" if ruling else ""

    def answer(self) -> str:
        packet = stories.give_answers(self.client, self.number, ARRAY)
        typed = sum(bool(question.answer.typed) for question in packet.questions)
        filled = sum(bool(question.answer.source) for question in packet.questions)
        need(typed <= 5, f"{typed} answers had to be typed")
        return f"{typed} typed, {filled} taken from the register"

    def add_evidence(self) -> str:
        files = {**ARRAY.files, "controller.log": stories.controller_log(self.log_size)}
        packet = stories.add_files(self.client, self.number, replace(ARRAY, files=files))
        need(
            all(exhibit.state == "ready" for exhibit in packet.exhibits),
            "an exhibit was not redacted",
        )
        counts = {e.name: sum(e.counts.values()) for e in packet.exhibits}
        return ", ".join(f"{count} values masked in {name}" for name, count in counts.items())

    def summary(self) -> str:
        began = datetime.now(UTC) - timedelta(hours=3)
        self.client.packets.change(self.number, began_at=began.isoformat())
        found = self.client.exhibits.summarise(self.number, "controller.log")
        clocks = sorted(found.writers, key=lambda one: one.ahead)
        need(len(clocks) == 2, f"its two clocks are not told apart: {clocks}")
        minutes = (clocks[1].ahead - clocks[0].ahead) / 60
        need(abs(minutes - 47) < 0.1, f"one clock is told to be {minutes} minutes behind, not 47")
        need(found.issues, "the known issue is not found")
        issue = found.issues[0]
        new = [one.text for one in found.messages if "new" in one.marks]
        need(any("E-3312" in text for text in new), "E-3312 is not told as new around the event")
        return (
            f"{found.lines:,} lines; {clocks[0].name} is {minutes:.0f} minutes behind; "
            f"known: {issue.title}, {issue.count:,} times"
        )

    def review(self) -> str:
        for exhibit in self.packet.exhibits:
            copy = self.client.exhibits.fetch_outgoing(
                self.number, exhibit.name, self.folder / exhibit.name
            )
            text = copy.read_bytes()
            for original in MUST_NOT_LEAVE:
                need(
                    original not in text,
                    f"{original!r} stands in the outgoing copy of {exhibit.name}",
                )
            need(
                evidence.SERIAL.encode() in text,
                f"the array's own serial is gone from {exhibit.name}",
            )
            copy.unlink()
        found = self.client.exhibits.review(self.number, "array.cfg", kind="secret")
        masked = [
            span.placeholder for line in found.lines for span in line.spans if span.kind == "secret"
        ]
        return f"none of {len(MUST_NOT_LEAVE)} known secrets is left; a password reads {masked[0]}"

    def check(self) -> str:
        checks = self.packet.checks
        stops = [check.sentence for check in checks if check.level == "stop"]
        need(not stops, f"it is stopped: {stops}")
        return f"{len(checks)} checks, nothing stops it"

    def seal(self) -> str:
        seal = self.client.packets.seal(self.number).seal
        need(seal, "there is no seal")
        return (
            f"{seal.files} files, {seal.octets:,} bytes, tag manifest {seal.tag_manifest[:16]}…"
            if seal
            else ""
        )

    def verify(self) -> str:
        bag = self.client.packets.fetch_bag(self.number, self.folder / f"{self.number}.zip")
        key = self.folder / "seal-keys.jwks"
        key.write_text(self.client.seal_keys().model_dump_json())
        done = subprocess.run(
            [sys.executable, "-m", "sealpacket.cli.main", "verify", str(bag), "--key", str(key)],
            capture_output=True,
            text=True,
            check=False,
        )
        need(done.returncode == 0, done.stderr)
        return done.stdout.splitlines()[0]

    def lodge(self) -> str:
        self.client.packets.lodge(self.number)
        packet = self.client.packets.wait(self.number)
        need(packet.reference, f"there is no reference: {packet.status_text}")
        return f"Tarnfell calls it {packet.reference}"

    def lodge_again(self) -> str:
        before = self.packet.reference
        packet = self.client.packets.lodge(self.number)
        need(packet.reference == before, "a second case was made")
        return f"still {packet.reference}, no second case"

    def follow(self) -> str:
        asked = stories.wait_for(self.client, self.number, lambda packet: packet.turn == "ours")
        question = asked.messages[-1].text
        self.client.packets.reply(self.number, "Both controllers run 7.4.2.")
        stories.wait_for(self.client, self.number, _is_answered)
        return f"“{question}” — answered, it is their turn"

    def custody(self) -> str:
        chain = self.client.verify_custody()
        need(chain.holds, chain.reason)
        return f"{chain.entries} entries, whole"

    @property
    def packet(self) -> PacketShown:
        """The current packet."""
        return self.client.packets.get(self.number)


def _is_answered(packet: PacketShown) -> bool:
    return packet.turn == "vendor" and all(message.sent for message in packet.messages)


def play(house: RunningHouse, folder: Path, log_size: int = 30_000_000) -> int:
    """Play every step, with a log of the given size in bytes. Returns the exit code."""
    with house.client() as client:
        run = Play(house, client, folder, log_size)
        for place, (words, step) in enumerate(run.steps(), 1):
            begun = time.monotonic()
            print(f"{place:2}  {words} …", flush=True)
            try:
                found = step()
            except Exception as error:
                print(f"    failed: {error}", file=sys.stderr)
                return 1
            print(f"    {found}  ({time.monotonic() - begun:.1f} s)", flush=True)
        print(
            f"\nThe sealed bag is {folder / (run.number + '.zip')}, its keys {folder / 'seal-keys.jwks'}."
        )
    return 0


def run() -> None:
    """`python -m sealpacket.demo.example FOLDER`."""
    folder = Path(sys.argv[1] if len(sys.argv) > 1 else "var/example").absolute()
    Cluster.at(folder / "house" / "postgres").remove()
    shutil.rmtree(folder, ignore_errors=True)
    folder.mkdir(parents=True)
    print("A fresh house is being started …", flush=True)
    try:
        with RunningHouse(folder / "house") as house:
            code = play(house, folder)
    except HouseError as problem:
        print(problem, file=sys.stderr)
        code = 1
    finally:
        Cluster.at(folder / "house" / "postgres").remove()
        shutil.rmtree(folder / "house", ignore_errors=True)
    raise SystemExit(code)


if __name__ == "__main__":
    run()
