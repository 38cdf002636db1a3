"""The programs in docs/programs do what they say, and the second time nothing."""

from __future__ import annotations

import csv
import os
import subprocess
import sys
from pathlib import Path

import pytest

from sealpacket.client import SealPacket
from tests.conftest import ARRAY, GOOD_ANSWERS, ROOT, Tarnfell, token_of, until
from tests.journeys.terminal import BINARY

PROGRAMS = ROOT / "docs/programs"
LINES = {
    "alert.py": 30,
    "report.py": 10,
    "assets.py": 15,
    "mirror.py": 20,
    "alert.sh": 12,
    "alert-curl.sh": 14,
}


class Programs:
    """Runs a program as its reader would."""

    def __init__(self, marit: SealPacket) -> None:
        token = token_of(marit)
        self.environment = {
            **os.environ,
            "SEALPACKET_ADDRESS": marit._wire.address,
            "SEALPACKET_TOKEN": token,
            "PATH": f"{BINARY.parent}:{os.environ['PATH']}",
        }

    def run(self, name: str, *arguments: str, code: int = 0) -> str:
        path = PROGRAMS / name
        start = [sys.executable, str(path)] if name.endswith(".py") else [str(path)]
        done = subprocess.run(
            [*start, *arguments], capture_output=True, text=True, env=self.environment, check=False
        )
        assert done.returncode == code, done.stdout + done.stderr
        return done.stdout


@pytest.fixture
def programs(marit: SealPacket) -> Programs:
    return Programs(marit)


@pytest.mark.parametrize("name", sorted(LINES))
def test_they_are_short(name: str) -> None:
    lines = (PROGRAMS / name).read_text().splitlines()
    assert len([line for line in lines if line.strip()]) <= LINES[name]


def log_of(folder: Path) -> str:
    path = folder / "array.log"
    path.write_text("2026-11-23T08:40:00Z volume latency above limit\n")
    return str(path)


@pytest.mark.parametrize("name", ["alert.py", "alert.sh"])
def test_an_alert_goes_out_once(
    programs: Programs, marit: SealPacket, tarnfell: Tarnfell, tmp_path: Path, name: str
) -> None:
    reference = f"ALERT-{name}"
    answers = [f"{question}={answer}" for question, answer in GOOD_ANSWERS.items()]
    given = [
        reference,
        "Volumes answer slowly since this morning",
        ARRAY,
        log_of(tmp_path),
        *answers,
    ]
    out = programs.run(name, *given)
    (packet,) = marit.packets.list(our_reference=reference)
    assert out.split() == [packet.number, packet.reference]
    before = marit.packets.get(packet.number)
    programs.run(name, *given)
    after = marit.packets.get(packet.number)
    assert [one.number for one in marit.packets.list(our_reference=reference)] == [packet.number]
    assert (after.life, after.cases) == (before.life, before.cases)


def test_an_alert_by_curl_is_noted_once(
    programs: Programs, marit: SealPacket, tmp_path: Path
) -> None:
    given = ["ALERT-curl", "Volumes are slow", ARRAY, log_of(tmp_path)]
    number = programs.run("alert-curl.sh", *given).strip()
    assert [one.name for one in marit.packets.wait(number).exhibits] == ["array.log"]
    assert programs.run("alert-curl.sh", *given).strip() == number


def test_the_report_says_what_waits(programs: Programs, marit: SealPacket) -> None:
    number = marit.packets.note("Waiting for us").number
    (line,) = (line for line in programs.run("report.py").splitlines() if number in line)
    assert "marit" in line


def test_a_list_of_assets_is_brought_in_once(
    programs: Programs, marit: SealPacket, tmp_path: Path
) -> None:
    path = tmp_path / "assets.csv"
    with path.open("w", newline="") as file:
        rows = csv.writer(file)
        rows.writerow(["vendor", "product", "serial", "name"])
        rows.writerows(["tarnfell", "TN9", f"TN9-7{n:04}-A", f"Rack {n}"] for n in range(500))
    assert programs.run("assets.py", str(path)).startswith("500 new or changed")
    history = marit.assets.history("TN9-70007-A")
    assert programs.run("assets.py", str(path)).startswith("0 new or changed, 500 as before")
    assert marit.assets.history("TN9-70007-A") == history


def test_a_mirror_has_every_packet(programs: Programs, marit: SealPacket, tmp_path: Path) -> None:
    begin = marit.custody(limit=1)[0].seq
    (tmp_path / "last").write_text(str(begin))
    follower = subprocess.Popen(
        [sys.executable, PROGRAMS / "mirror.py", tmp_path], env=programs.environment
    )
    try:
        numbers = [marit.packets.note(f"Mirrored {n}").number for n in range(3)]
        for number in numbers:
            marit.packets.change(number, note="It is slow.")
        versions = {number: marit.packets.get(number).version for number in numbers}

        def mirrored() -> bool:
            files = [tmp_path / f"{number}.json" for number in numbers]
            texts = [one.read_text() if one.exists() else "" for one in files]
            return all(
                f'"version":{versions[number]},' in text
                for number, text in zip(numbers, texts, strict=True)
            )

        until(mirrored)
    finally:
        follower.kill()
        follower.wait()
