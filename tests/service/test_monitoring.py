"""What whoever runs the house sees of it: the log's lines, probes, measures."""

from __future__ import annotations

import json
import re
import socket
import subprocess
import sys
from pathlib import Path
from typing import Any

import httpx
import pytest
from prometheus_client.parser import text_string_to_metric_families as families

from sealpacket.client import NoWorker, SealPacket, polling
from sealpacket.client.models import PacketShown
from sealpacket.demo.cluster import free_port, wait_for_port
from sealpacket.demo.house import RunningHouse
from sealpacket.web.app import CONSOLE_PAGES
from tests.conftest import ARRAY, NOTE, ROOT, authorization, until

HOUSE = {"PROXIES": "0"}
PROCESSES = 2


def lines(house: RunningHouse, log: str = "service") -> list[dict[str, Any]]:
    """The lines of one process's log; each has to be JSON."""
    text = (house.folder / "log" / f"{log}.log").read_text()
    return [json.loads(line) for line in text.splitlines()]


def measures(text: str) -> dict[tuple[str, tuple[tuple[str, str], ...]], float]:
    """Samples by name and labels."""
    return {
        (sample.name, tuple(sorted(sample.labels.items()))): sample.value
        for family in families(text)
        for sample in family.samples
    }


@pytest.fixture
def web(house: RunningHouse) -> httpx.Client:
    """Somebody who is not signed in."""
    return httpx.Client(base_url=house.address)


def test_every_process_says_that_it_starts_and_how(house: RunningHouse) -> None:
    for log, what in (("service", "service starts"), ("worker", "worker starts")):
        (line,) = [one for one in lines(house, log) if one["event"] == what]
        assert line["version"] and line["database"].startswith("127.0.0.1:")
        assert "DATABASE_URL" in line["settings"]
        assert "DESKS" in line["settings"]
        url = house.environment()["SEALPACKET_DATABASE_URL"]
        assert url not in json.dumps(line)


def test_a_request_has_one_line_with_names_and_no_value(
    house: RunningHouse, marit: SealPacket, lodged: PacketShown
) -> None:
    answer = httpx.get(
        f"{house.address}/api/v1/packets/{lodged.number}?secret=Tawny-Kestrel-7",
        headers={"X-Request-ID": "from-the-proxy.1", **authorization(marit)},
    )
    assert answer.headers["X-Request-ID"] == "from-the-proxy.1"
    (line,) = until(
        lambda: [one for one in lines(house) if one.get("request") == "from-the-proxy.1"]
    )
    assert line["event"] == "request" and line["route"] == "/api/v1/packets/<number>"
    assert line["packet"] == lodged.number and line["status"] == answer.status_code
    assert "Tawny-Kestrel-7" not in json.dumps(lines(house))


def test_a_problem_names_its_request(web: httpx.Client) -> None:
    for path in ("/api/v1/packets", "/api/v1/nothing"):
        answer = web.get(path, headers={"X-Request-ID": "not good; at all"})
        assert answer.json()["request_id"] == answer.headers["X-Request-ID"]
        assert re.fullmatch(r"[0-9a-f]{16}", answer.headers["X-Request-ID"])
    refused = web.get(f"/{'x' * 5000}")
    assert refused.status_code == 414
    assert refused.json()["request_id"] == refused.headers["X-Request-ID"]


def test_a_refused_sign_in_is_logged_with_the_account(
    house: RunningHouse, web: httpx.Client
) -> None:
    for name in ("marit", "My-Passw0rd-in-the-wrong-field"):
        wrong = web.post("/api/v1/sign-in", json={"name": name, "password": "no, this is not it"})
        assert wrong.status_code == 401
    refused = until(lambda: [one for one in lines(house) if one["event"] == "sign-in refused"])
    assert {one["account"] for one in refused} == {"marit", "unknown"}
    assert "Passw0rd" not in json.dumps(refused)
    counted = measures(web.get("/metrics").text)
    assert counted["sealpacket_failed_sign_ins_total", (("reason", "wrong"),)] >= 2


def test_jobs_have_lines_with_their_packet(house: RunningHouse, lodged: PacketShown) -> None:
    done = until(
        lambda: [
            one
            for one in lines(house, "worker")
            if one["event"] == "job" and one["task"] == "lodge_packet"
        ]
    )
    assert all(one["job"] and one["packet"] and one["outcome"] == "done" for one in done)


def test_probes_say_what_is_there(house: RunningHouse, web: httpx.Client) -> None:
    assert web.get("/healthz").json() == {"alive": True}
    ready = web.get("/readyz")
    assert ready.status_code == 200 and all(ready.json().values()), ready.text
    version = web.get("/version").json()
    assert version["tables"] == max(
        p.name[:4] for p in (ROOT / "src/sealpacket/store/migrations/versions").glob("0*")
    )
    assert any(one["event"] == "request" for one in lines(house))
    assert not [one for one in lines(house) if one.get("route") in ("/healthz", "/readyz")]


def test_a_house_that_cannot_serve_is_not_ready(house: RunningHouse, web: httpx.Client) -> None:
    key = house.folder / "keys/seal.jwk"
    kept = key.read_bytes()
    key.write_bytes(b"no key")
    try:
        answer = web.get("/readyz")
    finally:
        key.write_bytes(kept)
    assert answer.status_code == 503
    assert answer.json() == {
        "ready": False, "database": True, "tables": True, "keys": False, "files": True, "worker": True,
    }  # fmt: skip


def test_measures_are_for_monitors(web: httpx.Client, lodged: PacketShown) -> None:
    counted = [measures(web.get("/metrics").text) for _ in range(6)]
    found = counted[-1]
    assert found["sealpacket_worker_present", ()] == 1
    assert found["sealpacket_packets", (("state", "lodged"),)] >= 1
    assert found["sealpacket_exhibits", (("state", "ready"),)] >= 1
    assert found["sealpacket_leak_checks", (("found", "nothing"),)] >= 1
    assert found["sealpacket_database_reachable", ()] == 1
    # Two processes answer in turn: what they counted is one number, which only grows.
    asked = (
        "sealpacket_request_seconds_count",
        (("method", "GET"), ("route", "/metrics"), ("status", "200")),
    )
    numbers = [one.get(asked, 0) for one in counted]
    assert numbers == sorted(numbers) and numbers[-1] >= 4
    for path in ("/metrics", "/version"):
        assert web.get(path, headers={"X-Forwarded-For": "203.0.113.9"}).status_code == 404


def test_only_the_console_s_addresses_are_pages(web: httpx.Client) -> None:
    assert web.get("/packets/P-0001/thread").status_code == 200
    nothing = web.get("/metricz")
    assert nothing.status_code == 404 and nothing.json()["code"] == "not-found"
    page = web.get("/wp-login.php", headers={"Accept": "text/html"})
    assert page.status_code == 404 and "text/html" in page.headers["Content-Type"]


def test_the_console_s_addresses_are_known_to_the_service() -> None:
    routes = (ROOT / "console/src/frame/routes.tsx").read_text()
    kinds = (ROOT / "console/src/pages/register/kinds.tsx").read_text()
    begun = re.findall(r'path="/([a-z-]*)', routes) + re.findall(r'plural: "([a-z-]+)"', kinds)
    assert set(begun) == set(CONSOLE_PAGES)


def test_a_worker_shows_its_measures(house: RunningHouse, tmp_path: Path) -> None:
    port, log = free_port(), tmp_path / "log"
    command = [sys.executable, "-m", "sealpacket.service", "work", "--monitor", str(port)]
    with log.open("wb") as out:
        process = subprocess.Popen(command, env=house.environment(), stderr=out)
    try:
        assert wait_for_port(port)
        assert "sealpacket_job_seconds" in httpx.get(f"http://127.0.0.1:{port}/metrics").text
    finally:
        process.terminate()
        assert process.wait(60) == 0
    events = [json.loads(line)["event"] for line in log.read_text().splitlines()]
    assert events[0] == "worker starts" and "worker ends" in events
    with socket.create_server(("127.0.0.1", 0)) as taken:
        number = str(taken.getsockname()[1])
        again = subprocess.run(
            [*command[:-1], number],
            env=house.environment(),
            capture_output=True,
            text=True,
            check=False,
        )
    assert again.returncode == 2
    assert f"Nothing can listen at 127.0.0.1:{number}" in again.stderr


def test_whoever_waits_is_told_that_no_worker_runs(
    house: RunningHouse, marit: SealPacket, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(polling, "WORKER_EVERY", 1.0)
    packet = marit.packets.note("No worker", NOTE, asset=ARRAY)
    (tmp_path / "array.cfg").write_text("hostname lib-array-01\n")
    house.end("worker")
    try:
        marit.exhibits.add(packet.number, tmp_path / "array.cfg")
        with pytest.raises(NoWorker, match="No worker runs"):
            marit.packets.wait(packet.number)
    finally:
        house.begin("worker")
    assert marit.packets.wait(packet.number).exhibits[0].state == "ready"
