"""A desk that says no without a word that its sheet knows: its status tells what to do."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any

import pytest

from sealpacket.client import SealPacket
from sealpacket.core.sheets import load_sheet, refused
from sealpacket.demo.house import RunningHouse
from sealpacket.demo.world import sheet_text
from tests.conftest import ARRAY, GOOD_ANSWERS, NOTE, lodge


class _Refusing(BaseHTTPRequestHandler):
    status = 401

    def do_POST(self) -> None:
        self.rfile.read(int(self.headers.get("Content-Length", 0)))
        self.send_response(self.status)
        self.send_header("Content-Length", "0")
        self.end_headers()

    def do_GET(self) -> None:
        self.do_POST()

    def do_PUT(self) -> None:
        self.do_POST()

    def log_message(self, format: str, *args: Any) -> None:
        """Nothing."""


@pytest.fixture(scope="module")
def refusing(house: RunningHouse) -> Iterator[type[_Refusing]]:
    """In the place of Tarnfell's desk one that refuses everything by its status alone."""
    house.end("stand-in tarnfell")
    server = ThreadingHTTPServer(("127.0.0.1", house.standin_ports["tarnfell"]), _Refusing)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield _Refusing
    server.shutdown()
    server.server_close()
    house.begin("stand-in tarnfell")


@pytest.mark.parametrize(
    ("status", "said", "cure"),
    [
        (401, "does not accept our sign-in", "Nothing of the packet is wrong"),
        (403, "does not accept our sign-in", "the secret of its login"),
        (404, "has nothing at the address", "SEALPACKET_DESKS"),
        (413, "does not take so much", "Take an exhibit out"),
        (418, "gave no reason that can be read", "Ask the desk"),
    ],
)
def test_the_status_of_a_refusal_says_what_to_do(
    marit: SealPacket, refusing: type[_Refusing], status: int, said: str, cure: str
) -> None:
    refusing.status = status
    noted = marit.packets.note("Volumes on the array are slow", NOTE, asset=ARRAY)
    marit.packets.answer(noted.number, **GOOD_ANSWERS)
    packet = lodge(marit, noted.number)
    assert packet.life == "refused"
    (reason,) = packet.refusals
    assert said in reason.text
    assert f"(HTTP {status})" in reason.text
    assert cure in reason.cure


def test_what_the_desk_says_beside_it_is_told() -> None:
    text = sheet_text("tarnfell-support")
    fact = "replies:\n  facts: [{label: Open case of the same unit, path: $.existing}]"
    sheet = load_sheet(text.replace("replies:", fact, 1))
    (reason,) = refused(sheet, {"existing": "OC-2026-004711"}, 409)
    assert "Open case of the same unit: OC-2026-004711." in reason.text
