"""docs/installing.md as it stands, on a machine with its own systemd: install, restart, upgrade, uninstall."""

from __future__ import annotations

import json
import os
import re
import subprocess
from collections.abc import Iterator
from pathlib import Path
from typing import Any
from zipfile import ZipFile

import pytest

from tests.conftest import ROOT, until
from tests.machine import Machine

pytestmark = pytest.mark.timeout(900)
PAGE = (ROOT / "docs/installing.md").read_text()
HOUSE = "https://packets.quillmere.example"
PASSWORD = "tall-brass-lantern-49"
AS_JSON = ("--header", "Content-Type: application/json")


def commands(heading: str, block: int = 0) -> list[str]:
    """The commands of a block under a heading, the first of which is 0."""
    part = f"\n{PAGE}".split(f"\n{heading}\n", 1)[1]
    found: str = re.findall(r"```sh\n(.*?)```", part, re.DOTALL)[block]
    return found.strip().splitlines()


@pytest.fixture(scope="module")
def release(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A release of what is here; its native parts are those that the set-up has compiled of the same sources."""
    place = tmp_path_factory.mktemp("release") / "files"
    dirty = subprocess.run(
        ["git", "stash", "create"], cwd=ROOT, capture_output=True, text=True, check=True
    )
    revision = dirty.stdout.strip() or "HEAD"
    done = subprocess.run(
        [ROOT / "tools/release", place, revision], capture_output=True, text=True, check=False,
        env={**os.environ, "SEALPACKET_NATIVE": str(ROOT / "src")},
    )  # fmt: skip
    assert done.returncode == 0, done.stderr
    return place


@pytest.fixture(scope="module")
def bare(release: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Machine]:
    """A machine with Debian's packages, and the release in a folder."""
    machine = Machine(tmp_path_factory.mktemp("machine") / "place")
    try:
        machine.bring(release, "/root/release")
        # What Debian's packages do when they are installed; the set-up of the tests has kept them from that.
        machine.run("make-ssl-cert generate-default-snakeoil")
        machine.run("[ -e /etc/postgresql/*/main ] || pg_createcluster --start 15 main")
        machine.run("echo 127.0.0.1 packets.quillmere.example >>/etc/hosts")
        yield machine
    finally:
        machine.end()


@pytest.fixture(scope="module")
def installed(bare: Machine) -> Iterator[Machine]:
    """The same with the service, installed by the page; afterwards uninstalled by it."""
    follow(bare, commands("# Installing it on a server"))
    yield bare
    follow(bare, commands("## Uninstall"))
    left = bare.run(
        "find /etc /opt /usr/local /var /run -xdev -iname '*sealpacket*' -not -path '/var/log/*' -not -path '/var/tmp/*'; "
        "grep sealpacket /etc/passwd /etc/group; pgrep -fa /opt/sealpacket; true"
    )
    assert left.stdout == ""


def follow(machine: Machine, page: list[str]) -> None:
    """Type commands of the page, one after the other. What fetches packages has the network of this machine."""
    for command in page:
        done = machine.run(
            command, given=f"{PASSWORD}\n", outside="pip install" in command or "apt-get" in command
        )
        assert done.returncode == 0, (command, done.stdout, done.stderr)


def call(machine: Machine, path: str, *options: str, given: str = "") -> str:
    """What the service answers over https, to whoever is signed in by the cookies of a file."""
    quoted = " ".join(f"'{option}'" for option in options)
    done = machine.run(
        f"curl --silent --show-error --fail-with-body --insecure --cookie /root/jar --cookie-jar /root/jar {quoted} {HOUSE}{path}",
        given=given,
    )
    assert done.returncode == 0, (path, done.stdout, done.stderr)
    return done.stdout


def test_the_page_has_ten_commands_at_most() -> None:
    assert len(commands("# Installing it on a server")) <= 10


class Visitor:
    """Marit at her browser."""

    def __init__(self, machine: Machine) -> None:
        self._machine = machine
        right = json.dumps({"name": "marit", "password": PASSWORD})
        entered = call(machine, "/api/v1/sign-in", *AS_JSON, "--data", right)
        self.token = ("--header", f"X-CSRF-Token: {json.loads(entered)['csrf']}")

    def get(self, path: str) -> Any:
        return json.loads(call(self._machine, path))

    def post(self, path: str, value: dict[str, Any]) -> Any:
        said = call(
            self._machine, path, *AS_JSON, *self.token, "--data", "@-", given=json.dumps(value)
        )
        return json.loads(said)


def test_the_console_and_the_worker_are_there(installed: Machine) -> None:
    front = call(installed, "/")
    (script,) = re.findall(r'src="(/static/[^"]+\.js)"', front)
    assert "function" in call(installed, script)
    marit = Visitor(installed)
    noted = marit.post("/api/v1/packets", {"title": "The array stops", "note": "Each night."})
    packet = f"/api/v1/packets/{noted['number']}"
    log = "2026-11-29T20:05:40Z node[12] peer 10.40.9.9 joined; password=Hunter2-Zebra\n" * 100
    marit.post(f"{packet}/exhibits", {"name": "a.log", "size": len(log)})
    path = f"{packet}/exhibits/a.log"
    call(installed, f"{path}/content", *marit.token, "--upload-file", "-", given=log)
    until(lambda: marit.get(packet)["exhibits"][0]["state"] == "ready")
    assert "Hunter2-Zebra" not in call(installed, f"{path}/outgoing")
    looked = installed.run("sealpacket-service doctor")
    assert looked.returncode == 0, looked.stdout
    assert "wrong" not in looked.stdout


def test_the_second_before_a_mistake_comes_back(installed: Machine) -> None:
    heading = "## Going back to a moment"
    marit = Visitor(installed)
    marit.post("/api/v1/packets", {"title": "Before the backup", "note": "It stops."})
    follow(installed, commands(heading))
    follow(installed, commands(heading, 1))
    until(lambda: marit.get("/api/v1/health")["database"])
    kept = marit.post("/api/v1/packets", {"title": "After the backup", "note": "It stops."})
    clock = "runuser -u postgres -- psql --tuples-only --no-align --command="
    moment = installed.run(f"{clock}'SELECT now() + interval $$0.1 s$$'").stdout.strip()
    until(lambda: installed.run(f"{clock}\"SELECT now() > '{moment}'\"").stdout.strip() == "t")
    mistake = "UPDATE packet SET title = $$gone$$; TRUNCATE packet_line"
    done = installed.run(
        f"runuser -u postgres -- psql --quiet --dbname=sealpacket --command='{mistake}'"
    )
    assert done.returncode == 0, done.stderr
    assert marit.get("/api/v1/packets")["items"] == []

    back = commands(heading, 2)
    assert back[0].startswith("export MOMENT=")
    done = installed.run("\n".join([f"export MOMENT='{moment}'", *back[1:]]))
    assert done.returncode == 0, done.stdout + done.stderr
    assert re.search(r"\d+ custody entries and \d+ files looked at, 0 faults", done.stdout)
    titles = [one["title"] for one in Visitor(installed).get("/api/v1/packets")["items"]]
    assert kept["title"] in titles and "Before the backup" in titles and "gone" not in titles


def test_the_units_may_do_little(installed: Machine) -> None:
    for unit in ("serve", "work", "receive", "migrate"):
        looked = installed.run(
            f"systemd-analyze security --offline=false --threshold=30 sealpacket-{unit}.service"
        )
        assert looked.returncode == 0, looked.stdout
    owners = installed.run(
        "ps -eo user:20,args | grep [/]opt/sealpacket; stat -c '%a %U' /etc/sealpacket/keys/* /var/lib/sealpacket"
    ).stdout
    lines = owners.splitlines()
    assert len(lines) >= 5, owners
    assert all(re.match(r"sealpacket |(600|700) sealpacket$", line) for line in lines), owners


@pytest.mark.parametrize("heading", ["## Restart", "## Upgrade"])
def test_nobody_is_refused_meanwhile(installed: Machine, heading: str) -> None:
    load = f"""
        rm -f /root/stop /root/codes.*
        for one in 1 2 3; do
          while [ ! -e /root/stop ]; do
            curl --silent --insecure --output /dev/null --max-time 60 --write-out '%{{http_code}}\\n' {HOUSE}/api/v1/health || true
          done >/root/codes.$one &
        done
        wait
    """
    with subprocess.Popen(installed.command(load)) as running:
        try:
            until(lambda: len(installed.run("cat /root/codes.*").stdout.split()) > 20)
            follow(installed, commands(heading))
            until(lambda: json.loads(call(installed, "/api/v1/health"))["worker"])
        finally:
            installed.run("touch /root/stop")
        running.wait(120)
    codes = installed.run("cat /root/codes.*").stdout.split()
    assert set(codes) == {"200"}, sorted(codes)


def test_a_release_says_what_it_is_made_of(release: Path) -> None:
    names = sorted(path.name for path in release.iterdir())
    assert [re.sub(r"-\d.*?(\.\D+)$", r"\1", name) for name in names] == [
        "SHA256SUMS", "console.cdx.json", "python.cdx.json", "sealpacket.whl", "sealpacket.tar.gz", "sealpacket.txt",
    ]  # fmt: skip
    wheel = next(release.glob("*.whl"))
    files = " ".join(ZipFile(wheel).namelist())
    for wanted in (
        "web/console/index.html",
        "redact/_native",
        "evidence/_native",
        "libre2",
        "libb2",
    ):
        assert wanted in files, wanted
    for name, known in (("python", "flask"), ("console", "react")):
        parts = json.loads((release / f"{name}.cdx.json").read_text())["components"]
        assert known in {part["name"] for part in parts}
        assert all(part["version"] for part in parts)
