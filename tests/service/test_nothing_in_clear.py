"""Nothing of an original stands in the database, in the logs, or in any answer to somebody who may not see originals."""

from __future__ import annotations

import gzip
import io
import json
import re
import subprocess
import zipfile

import pytest

from sealpacket.client import SealPacket, make_token
from sealpacket.client.models import PacketShown
from sealpacket.demo.cluster import binaries
from sealpacket.demo.house import RunningHouse
from tests import plain_http
from tests.conftest import add, reference_of

PLANTED = "Hunter2-Zebra"
TELLS = f"password={PLANTED}"
LINE = f"2026-11-29T20:05:40Z ERROR pumpd[12] valve 7 timed out after 3000 ms; {TELLS}"


def _zip(**files: str) -> bytes:
    held = io.BytesIO()
    with zipfile.ZipFile(held, "w") as archive:
        for name, text in files.items():
            archive.writestr(name, text)
    return held.getvalue()


EVIDENCE: dict[str, bytes] = {
    "one.log": f"{LINE}\n".encode(),
    "few.log": f"2026-11-29T20:05:39Z INFO pumpd[12] valve 7 opens\n{LINE}\n".encode(),
    "cut.log": (f"{LINE}\n" * 40 + f"2026-11-29T20:06 [output truncated at {TELLS}]\n").encode(),
    "part.log": (f"{LINE}\n" * 40 + LINE[:-3]).encode(),
    "refused.txt": f"sh: login {TELLS}: command not found\n".encode(),
    "asked.txt": f"pump7# show key {TELLS}\nAccess denied for {TELLS}\n".encode(),
    "head.csv": f"time,level,{TELLS}\n".encode(),
    "answer.json": json.dumps({"user": "x", "password": PLANTED}).encode()[:-1],
    "answer.xml": f"<a><password>{PLANTED}</password>".encode(),
    "host.txt": f"hostname: br01-kiosk2.{PLANTED}.example\n{TELLS}\n".encode() * 30,
    "packed.log.gz": gzip.compress(f"{LINE}\n".encode() * 30),
    "packed.zip": _zip(**{"inner.log": f"{LINE}\n", f"{PLANTED}.txt": "x"}),
    "broken.zip": _zip(inner=LINE)[:60] + TELLS.encode(),
    "broken.pdf": f"%PDF-1.7 {TELLS}".encode(),
    "unknown.bin": bytes(range(32)) * 40 + TELLS.encode(),
}


@pytest.fixture(scope="module")
def packet(house: RunningHouse, marit: SealPacket, tmp_path_factory: pytest.TempPathFactory) -> PacketShown:  # fmt: skip
    """A draft with all of it."""
    noted = marit.packets.note("The reader stays dark", "x", asset="LK40-7731-0927")
    folder = tmp_path_factory.mktemp("evidence")
    for name, content in EVIDENCE.items():
        shown = add(marit, noted.number, folder / name, content)
    assert {one.state for one in shown.exhibits} <= {"ready", "held"}
    assert {one.name for one in shown.exhibits} == EVIDENCE.keys()
    return shown


def found(text: str) -> list[str]:
    """Where the planted value stands, with what is around it."""
    return [text[max(0, m.start() - 90) : m.end()] for m in re.finditer(f"(?i){PLANTED}", text)]


def test_no_dump_of_the_database_holds_it(house: RunningHouse, packet: PacketShown) -> None:
    address = house.cluster.owner_url.replace("+psycopg", "")
    command = [str(binaries() / "pg_dump"), "--dbname", address, "--data-only"]
    dump = subprocess.run(command, capture_output=True, check=True).stdout.decode()
    assert packet.number in dump
    assert found(dump) == []


def test_no_log_of_the_house_holds_it(house: RunningHouse, packet: PacketShown) -> None:
    for path in (house.folder / "log").iterdir():
        assert found(path.read_text(errors="replace")) == [], path.name


def test_no_answer_to_a_reader_holds_it(
    house: RunningHouse, marit: SealPacket, packet: PacketShown
) -> None:
    marit.accounts.add("wanda", "a-long-enough-password", ["reader"])
    token = make_token(house.address, "wanda", "a-long-enough-password", "looking").token
    asset = packet.asset.id if packet.asset else ""
    answered = 0
    with plain_http.client(
        base_url=house.address, headers={"Authorization": f"Bearer {token}"}
    ) as reader:  # fmt: skip
        for path, operations in reference_of(house)["paths"].items():
            if "get" not in operations:
                continue
            names = list(EVIDENCE) if "{name}" in path else [""]
            for name in names:
                wanted = {"number": packet.number, "name": name, "handle": asset, "page": "1"}
                filled = re.sub(r"\{(\w+)\}", lambda m: wanted.get(m[1], "x"), path)  # noqa: B023
                answer = reader.get(filled)
                answered += answer.status_code == 200
                assert found(answer.text) == [], filled
    assert answered > 25
