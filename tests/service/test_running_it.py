"""docs/running.md as it stands: its backup and restore, and its proxy."""

from __future__ import annotations

import os
import re
import shutil
import ssl
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import httpx
import psycopg
import pytest
from psycopg import sql
from sqlalchemy import URL, make_url

from sealpacket.client import SealPacket, make_token
from sealpacket.client.models import PacketShown
from sealpacket.core.packet import verify_bag
from sealpacket.demo.cluster import binaries, free_port, wait_for_port
from sealpacket.demo.house import RunningHouse
from tests.conftest import ROOT
from tests.service.test_sealing_and_lodging import fetch, key_of
from tests.some import certificate

PAGE = (ROOT / "docs/running.md").read_text()


def block(heading: str, language: str) -> str:
    """The first block of a language under a heading."""
    part = PAGE.split(f"\n## {heading}\n", 1)[1]
    found = re.search(rf"```{language}\n(.*?)```", part, re.DOTALL)
    assert found is not None
    return found[1]


def shell(text: str, **variables: str) -> subprocess.CompletedProcess[str]:
    """Run a block of the page as whoever runs the house would."""
    path = f"{Path(sys.executable).parent}:{binaries()}:{os.environ['PATH']}"
    rest = {k: v for k, v in os.environ.items() if not k.startswith("SEALPACKET_")}
    return subprocess.run(
        ["bash", "-euo", "pipefail", "-c", text], env={**rest, **variables, "PATH": path},
        capture_output=True, text=True, check=False,
    )  # fmt: skip


def elsewhere(house: RunningHouse) -> tuple[str, str]:
    """An empty database beside the house's own: its address for the owner, and for the service."""
    name = f"restored_{os.getpid()}"
    owner = make_url(house.cluster.owner_url)
    with psycopg.connect(plain(owner.set(database="postgres")), autocommit=True) as connection:
        connection.execute(sql.SQL("CREATE DATABASE {}").format(sql.Identifier(name)))
    urls = (
        make_url(url).set(database=name)
        for url in (house.cluster.owner_url, house.cluster.service_url)
    )
    first, second = (url.render_as_string(hide_password=False) for url in urls)
    return first, second


def plain(url: str | URL) -> str:
    """An address as PostgreSQL's own programs take it."""
    return make_url(url).set(drivername="postgresql").render_as_string(hide_password=False)


@pytest.fixture
def serving() -> Iterator[list[subprocess.Popen[bytes]]]:
    """Processes that end with the test."""
    processes: list[subprocess.Popen[bytes]] = []
    yield processes
    for process in processes:
        process.terminate()
        process.wait(20)


def serve(processes: list[subprocess.Popen[bytes]], environment: dict[str, str]) -> int:
    """Start a service; gives its port."""
    port = free_port()
    command = [
        sys.executable,
        "-m",
        "sealpacket.service",
        "serve",
        "--port",
        str(port),
        "--workers",
        "1",
    ]
    processes.append(subprocess.Popen(command, env=environment, stderr=subprocess.DEVNULL))
    assert wait_for_port(port)
    return port


def test_a_backup_becomes_a_house_elsewhere(
    house: RunningHouse, marit: SealPacket, lodged: PacketShown, tmp_path: Path,
    serving: list[subprocess.Popen[bytes]],
) -> None:  # fmt: skip
    bag = fetch(marit, lodged.number, tmp_path).read_bytes()
    copy = marit.exhibits.fetch_outgoing(lodged.number, "array.cfg", tmp_path / "copy").read_bytes()
    backup, restored = str(tmp_path / "backup"), tmp_path / "restored"
    done = shell(
        block("Backup", "sh"), BACKUP=backup, BLOBS=str(house.folder / "blobs"), KEYS=str(house.folder / "keys"),
        DATABASE=plain(house.cluster.owner_url),
    )  # fmt: skip
    assert done.returncode == 0, done.stderr

    owner, service = elsewhere(house)
    environment = {
        **house.environment(owner=True), "SEALPACKET_OWNER_URL": owner, "SEALPACKET_DATABASE_URL": service,
        "SEALPACKET_BLOBS": (restored / "blobs").as_uri(), "SEALPACKET_KEY_FILE": str(restored / "keys/master.key"),
        "SEALPACKET_SEAL_KEY_FILE": str(restored / "keys/seal.jwk"),
    }  # fmt: skip
    places = {"BACKUP": backup, "BLOBS": str(restored / "blobs"), "KEYS": str(restored / "keys")}
    done = shell(block("Restore", "sh"), **{**environment, **places, "DATABASE": plain(owner)})
    assert done.returncode == 0, done.stdout + done.stderr
    assert re.search(r"\d+ custody entries and \d+ files looked at, 0 faults", done.stdout), (
        done.stdout
    )

    address = f"http://127.0.0.1:{serve(serving, {**environment, 'SEALPACKET_ADDRESS': 'http://127.0.0.1'})}"
    again = SealPacket(
        address, make_token(address, "marit", house.sign_ins["marit"], "restored").token
    )
    assert again.verify_custody().broken_at is None
    path = fetch(again, lodged.number, tmp_path)
    assert path.read_bytes() == bag
    assert verify_bag(path, key_of(again)).faults == []
    assert (
        again.exhibits.fetch_outgoing(lodged.number, "array.cfg", tmp_path / "third").read_bytes()
        == copy
    )
    assert again.exhibits.open_legend(lodged.number, reason="trying the backup").placeholders

    files = [path for path in (restored / "blobs").rglob("*") if path.is_file()]
    data = files[0].read_bytes()
    files[0].write_bytes(data[:-1] + bytes([data[-1] ^ 1]))
    files[1].unlink()
    broken = shell("sealpacket-service check", **environment)
    assert broken.returncode == 4
    assert files[0].name in broken.stderr or files[1].name in broken.stderr
    assert re.search(r"[12] faults?\.", broken.stdout)


def test_the_proxy_of_the_page_passes_everything_through(
    house: RunningHouse, tmp_path: Path, serving: list[subprocess.Popen[bytes]]
) -> None:
    nginx = shutil.which("nginx", path=f"{os.environ['PATH']}:/usr/sbin")
    assert nginx, "nginx is missing: run tools/setup test"
    front = free_port()
    where = f"https://127.0.0.1:{front}"
    back = serve(
        serving, {**house.environment(), "SEALPACKET_ADDRESS": where, "SEALPACKET_PROXIES": "1"}
    )
    chain, key = certificate(tmp_path)
    server = (ROOT / "ops/root/etc/nginx/sites-available/sealpacket").read_text()
    for theirs, ours in (
        ("listen 443 ssl", f"listen 127.0.0.1:{front} ssl"), ("packets.example", "127.0.0.1"),
        ("/etc/ssl/certs/ssl-cert-snakeoil.pem", str(chain)), ("/etc/ssl/private/ssl-cert-snakeoil.key", str(key)),
        ("127.0.0.1:8400", f"127.0.0.1:{back}"),
    ):  # fmt: skip
        assert theirs in server
        server = server.replace(theirs, ours)
    temporary = "".join(f"  {name}_temp_path {tmp_path}/{name};\n"
                        for name in ("client_body", "proxy", "fastcgi", "uwsgi", "scgi"))  # fmt: skip
    whole = tmp_path / "nginx.conf"
    whole.write_text(f"daemon off;\npid {tmp_path}/pid;\nuser root;\nevents {{}}\nhttp {{\n  access_log off;\n"
                     f"{temporary}{server}}}\n")  # fmt: skip
    serving.append(subprocess.Popen([nginx, "-e", f"{tmp_path}/error.log", "-c", str(whole)]))
    assert wait_for_port(front), (tmp_path / "error.log").read_text()

    with httpx.Client(
        base_url=where, trust_env=False, verify=ssl.create_default_context(cafile=chain), timeout=60
    ) as browser:
        page = browser.get("/")
        assert page.headers["Strict-Transport-Security"].startswith("max-age=")
        right = {"name": "marit", "password": house.sign_ins["marit"]}
        entered = browser.post("/api/v1/sign-in", json=right)
        assert "Secure" in entered.headers["Set-Cookie"]
        token = {"X-CSRF-Token": entered.json()["csrf"]}
        noted = browser.post(
            "/api/v1/packets", json={"title": "Slow", "note": "Slow."}, headers=token
        ).json()
        log = b"peer 10.40.9.9 joined\n" * 500_000
        exhibits = f"/api/v1/packets/{noted['number']}/exhibits"
        browser.post(
            exhibits, json={"name": "a.log", "size": len(log)}, headers=token
        ).raise_for_status()
        sent = browser.put(f"{exhibits}/a.log/content", content=log, headers=token, timeout=60)
        assert sent.json()["size"] == len(log), sent.text
        wrong = {"name": "nobody-here", "password": "wrong-wrong-wrong"}
        said = [
            browser.post(
                "/api/v1/sign-in", json=wrong, headers={"X-Forwarded-For": f"203.0.113.{n}"}
            ).status_code
            for n in range(7)
        ]
        assert (said[0], said[-1]) == (401, 429)
