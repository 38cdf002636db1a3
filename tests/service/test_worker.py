"""The worker: it survives its database, and what one redaction does to its memory concerns no other."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

import pytest
from PIL import Image

from sealpacket.client import SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.demo.house import RunningHouse
from tests import plain_http
from tests.conftest import add, until


def process_of(house: RunningHouse, name: str) -> subprocess.Popen[bytes]:
    return next(process for known, process in house._processes if known == name)


def started_again(house: RunningHouse, how: str) -> None:
    """Stop the database and start it again at the same port."""
    house.cluster.stop(how)
    house.cluster.serve()


def write_big(folder: Path) -> Path:
    """A log whose redaction takes seconds, so that something can happen meanwhile."""
    path = folder / "big.log"
    path.write_bytes(b"client 10.40.1.1 asked for a page and got it, as ever\n" * 600_000)
    return path


@pytest.mark.parametrize("how", ["fast", "immediate"])
def test_the_worker_survives_a_restart_of_its_database(
    house: RunningHouse, marit: SealPacket, noted: PacketShown, tmp_path: Path, how: str
) -> None:
    worker = process_of(house, "worker")
    started_again(house, how)
    packet = add(marit, noted.number, tmp_path / "a.log", b"client 10.40.1.1\n")
    assert packet.exhibits[0].state == "ready"
    assert worker.poll() is None
    assert until(lambda: marit.health().worker)


def test_a_redaction_that_the_database_left_is_done_again(
    house: RunningHouse, marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    marit.exhibits.add(noted.number, write_big(tmp_path))
    until(lambda: marit.packets.get(noted.number).exhibits[0].state == "redacting", longest=0.1)
    started_again(house, "immediate")
    assert marit.packets.wait(noted.number).exhibits[0].state == "ready"


def test_that_no_worker_is_there_is_told(house: RunningHouse, marit: SealPacket) -> None:
    house.end("worker")
    try:
        assert not marit.today().worker
        health = plain_http.get(f"{house.address}/api/v1/health")
        assert (health.status_code, health.json()["worker"], health.json()["database"]) == (
            200,
            False,
            True,
        )
    finally:
        house.begin("worker")
    assert until(lambda: marit.today().worker)


def children_of(parent: int) -> Iterator[int]:
    for entry in Path("/proc").iterdir():
        if entry.name.isdigit():
            try:
                stat = (entry / "stat").read_text()
            except OSError:
                continue
            if int(stat.rsplit(")", 1)[1].split()[1]) == parent:
                yield int(entry.name)


def test_a_redaction_that_dies_three_times_is_held_and_says_so(
    house: RunningHouse, marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    worker = process_of(house, "worker")
    marit.exhibits.add(noted.number, write_big(tmp_path))

    def kill_until_it_ends() -> bool:
        for server in children_of(worker.pid):
            for child in children_of(server):
                with suppress(ProcessLookupError):
                    os.kill(child, signal.SIGKILL)
        state = marit.packets.get(noted.number).exhibits[0].state
        return state not in ("waiting", "redacting")

    assert until(kill_until_it_ends, longest=0.1)
    exhibit = marit.packets.get(noted.number).exhibits[0]
    assert "failed three times" in exhibit.reason
    assert worker.poll() is None, "the worker itself goes on"
    (tmp_path / "small.log").write_text("client 10.40.1.1\n")
    marit.exhibits.add(noted.number, tmp_path / "small.log")
    assert {e.name: e.state for e in marit.packets.wait(noted.number).exhibits}[
        "small.log"
    ] == "ready"


def test_a_worker_that_is_told_to_stop_leaves_its_redaction_to_the_next(
    house: RunningHouse, marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    marit.exhibits.add(noted.number, write_big(tmp_path))
    until(lambda: marit.packets.get(noted.number).exhibits[0].state == "redacting", longest=0.1)
    worker = process_of(house, "worker")
    house.end("worker")
    assert worker.returncode == 0
    house.begin("worker")
    assert marit.packets.wait(noted.number).exhibits[0].state == "ready"


def test_a_redaction_that_wants_too_much_memory_is_held(
    house: RunningHouse, marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    """A picture of a few kilobytes that takes hundreds of megabytes to look at, with the least memory that can be set."""
    house.end("worker")
    try:
        Image.new("RGB", (9000, 4400), "white").save(tmp_path / "plan.png")
        marit.exhibits.add(noted.number, tmp_path / "plan.png")
        ident = marit.packets.get(noted.number).exhibits[0].id
        program = f"from sealpacket.jobs import child; child.redact({ident!r}, 200_000_000)"
        subprocess.run(
            [sys.executable, "-c", program],
            env=house.environment(),
            check=True,
            capture_output=True,
        )
        exhibit = marit.packets.get(noted.number).exhibits[0]
        assert exhibit.state == "held"
        assert "more memory" in exhibit.reason
    finally:
        house.begin("worker")
