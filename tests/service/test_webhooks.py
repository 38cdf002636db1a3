"""Webhooks: events are posted in order, signed, again until they are taken, and refusals are put aside."""

from __future__ import annotations

import base64
import hashlib
import hmac
import json
import socket
import threading
from collections.abc import Iterator
from http.server import BaseHTTPRequestHandler, HTTPServer
from typing import Any

import pytest

from sealpacket.app.context import AppContext
from sealpacket.client import Refused, SealPacket
from sealpacket.demo.house import RunningHouse
from sealpacket.services import webhooks
from sealpacket.store.models import Webhook
from tests.conftest import until

LISTENING = socket.create_server(("127.0.0.1", 0))
BASE = f"http://127.0.0.1:{LISTENING.getsockname()[1]}"
HOUSE = {"WEBHOOK_ADDRESSES": json.dumps([BASE])}


class Receiver:
    """A receiver of events, by path; `moods` are the statuses of its next answers, 204 when there are none."""

    def __init__(self) -> None:
        self.taken: dict[str, list[dict[str, Any]]] = {}
        self.heads: dict[str, list[dict[str, str]]] = {}
        self.moods: dict[str, list[int]] = {}
        receiver = self

        class Handler(BaseHTTPRequestHandler):
            def do_POST(self) -> None:
                body = self.rfile.read(int(self.headers["Content-Length"]))
                moods = receiver.moods.get(self.path, [])
                status = moods.pop(0) if moods else 204
                if status < 300:
                    given = {**json.loads(body), "raw": body}
                    receiver.taken.setdefault(self.path, []).append(given)
                    head = {name.lower(): value for name, value in self.headers.items()}
                    receiver.heads.setdefault(self.path, []).append(head)
                self.send_response(status)
                self.send_header("Content-Length", "0")
                self.end_headers()

            def log_message(self, *_: object) -> None:
                pass

        self.server = HTTPServer(LISTENING.getsockname(), Handler, bind_and_activate=False)
        self.server.socket.close()
        self.server.socket = LISTENING
        threading.Thread(target=self.server.serve_forever, daemon=True).start()


@pytest.fixture(scope="module")
def receiver() -> Iterator[Receiver]:
    made = Receiver()
    yield made
    made.server.shutdown()


def seqs(receiver: Receiver, path: str) -> list[int]:
    return [one["seq"] for one in receiver.taken.get(path, [])]


def soon(app: AppContext, name: str) -> None:
    """Have a receiver tried at once, not after its pause."""
    with app.database.transaction() as session:
        session.get_one(Webhook, name).next_try_at = None


def test_events_come_signed_and_in_order(marit: SealPacket, receiver: Receiver) -> None:
    made = marit.webhooks.add("board", f"{BASE}/board")
    number = marit.packets.note("The array loses a shelf").number
    marit.packets.withdraw(number, "It was the cable.")
    wanted = ["packet noted", "packet withdrawn"]

    def actions() -> list[str]:
        taken = receiver.taken.get("/board", [])
        return [one["action"] for one in taken if one["packet"] == number]

    until(lambda: actions() == wanted)
    found = seqs(receiver, "/board")
    assert found == sorted(set(found))
    assert all(one["packet"] for one in receiver.taken["/board"]), "only events of packets"
    key = base64.b64decode(made.secret.removeprefix("whsec_"))
    for event, head in zip(receiver.taken["/board"], receiver.heads["/board"], strict=True):
        assert head["webhook-id"] == f"event-{event['seq']}"
        signed = f"{head['webhook-id']}.{head['webhook-timestamp']}.".encode() + event["raw"]
        right = base64.b64encode(hmac.new(key, signed, hashlib.sha256).digest()).decode()
        assert head["webhook-signature"] == f"v1,{right}"
    shown = {one.name: one for one in marit.webhooks.list()}["board"]
    assert (shown.trouble, shown.refused) == ("", 0)
    assert "secret" not in shown.model_dump()
    marit.webhooks.remove("board")
    assert "board" not in {one.name for one in marit.webhooks.list()}


def test_one_that_is_not_well_gets_all_in_order_later(
    inside: AppContext, marit: SealPacket, receiver: Receiver
) -> None:
    receiver.moods["/ill"] = [503] * 1000
    marit.webhooks.add("ill", f"{BASE}/ill")
    number = marit.packets.note("The array is ill").number
    until(lambda: {one.name: one for one in marit.webhooks.list()}["ill"].trouble)
    marit.packets.withdraw(number, "It was the cable.")
    before = {one.name: one for one in marit.webhooks.list()}["ill"]
    assert before.waiting >= 2
    assert before.next_try_at is not None
    assert "503" in before.trouble
    assert seqs(receiver, "/ill") == []
    receiver.moods["/ill"].clear()
    soon(inside, "ill")
    until(lambda: len(seqs(receiver, "/ill")) >= 2)
    assert seqs(receiver, "/ill") == sorted(set(seqs(receiver, "/ill")))
    assert {one.name: one for one in marit.webhooks.list()}["ill"].trouble == ""


def test_a_refused_event_is_put_aside_and_sent_again(
    inside: AppContext, marit: SealPacket, receiver: Receiver
) -> None:
    receiver.moods["/picky"] = [400] * webhooks.REFUSALS
    marit.webhooks.add("picky", f"{BASE}/picky")
    number = marit.packets.note("The array is refused").number
    marit.packets.withdraw(number, "It was the cable.")

    def refused() -> list[Any]:
        soon(inside, "picky")
        return marit.webhooks.refused("picky")

    (aside,) = until(refused)
    assert aside.event.action == "packet noted"
    assert "400" in aside.reason
    until(lambda: len(seqs(receiver, "/picky")) == 1)
    assert marit.webhooks.resend("picky", aside.event.seq).again
    until(lambda: not marit.webhooks.refused("picky"))
    assert aside.event.seq in seqs(receiver, "/picky")
    with pytest.raises(Refused) as gone:
        marit.webhooks.resend("picky", aside.event.seq)
    assert gone.value.status == 404


def test_being_away_does_not_count_as_a_refusal(
    inside: AppContext, marit: SealPacket, receiver: Receiver
) -> None:
    receiver.moods["/away"] = [503] * webhooks.REFUSALS + [400]
    marit.webhooks.add("away", f"{BASE}/away")
    marit.packets.note("The array is away")

    def taken() -> list[int]:
        soon(inside, "away")
        return seqs(receiver, "/away")

    until(taken)
    assert receiver.moods["/away"] == []
    assert marit.webhooks.refused("away") == []

    def refusals() -> int:
        with inside.database.transaction() as session:
            return session.get_one(Webhook, "away").refusals

    until(lambda: refusals() == 0)


def test_an_address_that_is_no_longer_allowed_is_its_trouble(
    inside: AppContext, marit: SealPacket
) -> None:
    marit.webhooks.add("moved", f"{BASE}/moved")
    with inside.database.transaction() as session:
        session.get_one(Webhook, "moved").address = "http://other.example/moved"
    marit.packets.note("The array has moved")

    def trouble() -> str:
        return {one.name: one for one in marit.webhooks.list()}["moved"].trouble

    until(trouble)
    assert trouble() == "The house allows no webhook to http://other.example/moved."


@pytest.mark.parametrize(
    "address",
    [
        "http://169.254.169.254/latest",
        "{base}.evil.example/x",
        "{base}@evil.example/",
        "{base}/../x",
        "http://127.0.0.1:1/x",
    ],
)
def test_only_allowed_addresses(marit: SealPacket, address: str) -> None:
    with pytest.raises(Refused) as refused:
        marit.webhooks.add("elsewhere", address.format(base=BASE))
    assert refused.value.status == 422
    assert "elsewhere" not in {one.name for one in marit.webhooks.list()}


def test_only_admins(marit: SealPacket, house: RunningHouse) -> None:
    teo = house.client("teo")
    with pytest.raises(Refused) as refused:
        teo.webhooks.list()
    assert refused.value.status == 403
