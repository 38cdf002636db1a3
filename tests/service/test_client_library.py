"""The client library against a service that is away, busy, or another one."""

from __future__ import annotations

import json
import ssl
import threading
import time
from collections.abc import Iterator
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path

import pytest

from sealpacket.client import BadAnswer, ClientError, NoService, Refused, SealPacket, TlsFault
from sealpacket.demo.house import RunningHouse
from tests import plain_http
from tests.conftest import ARRAY, authorization

Reply = tuple[int, dict[str, str], bytes]
ME = json.dumps(
    {"name": "marit", "person": "Marit", "roles": [], "csrf": None, "version": "0"}
).encode()
JSON = {"Content-Type": "application/json"}
PROBLEM = {"Content-Type": "application/problem+json"}


class Stub(ThreadingHTTPServer):
    """A server that gives one reply after the other, and counts the requests."""

    replies: list[Reply]
    asked: int = 0


class _Handler(BaseHTTPRequestHandler):
    server: Stub

    def do_GET(self) -> None:
        self.server.asked += 1
        status, headers, body = self.server.replies.pop(0)
        self.send_response(status)
        for name, value in {**headers, "Content-Length": str(len(body))}.items():
            self.send_header(name, value)
        self.end_headers()
        self.wfile.write(body)

    def log_message(self, *_: object) -> None:
        pass


@pytest.fixture
def stub() -> Iterator[Stub]:
    server = Stub(("127.0.0.1", 0), _Handler)
    thread = threading.Thread(target=server.serve_forever)
    thread.start()
    yield server
    server.shutdown()
    thread.join()
    server.server_close()


def client_of(stub: Stub, **more: object) -> SealPacket:
    return SealPacket(f"http://127.0.0.1:{stub.server_port}", "token", **more)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    "reply",
    [
        (200, {"Content-Type": "text/html"}, b"<html>Sign in to the proxy</html>"),
        (302, {"Location": "https://proxy.example/"}, b""),
        (200, JSON, b'{"name": 5}'),
        (200, JSON, b"[]"),
    ],
)
def test_what_is_not_an_answer_of_ours_is_said_so(stub: Stub, reply: Reply) -> None:
    stub.replies = [reply]
    with (
        client_of(stub) as client,
        pytest.raises(BadAnswer, match="a proxy may have answered") as caught,
    ):
        client.me()
    assert isinstance(caught.value, ClientError)


def test_what_is_away_is_tried_again(stub: Stub) -> None:
    away: Reply = (503, PROBLEM, b'{"code": "database-unreachable"}')
    stub.replies = [away, (429, {**PROBLEM, "Retry-After": "1"}, b"{}"), (200, JSON, ME)]
    begin = time.monotonic()
    with client_of(stub) as client:
        assert client.me().name == "marit"
    assert (stub.asked, time.monotonic() - begin >= 1.5) == (3, True)
    stub.replies = [away]
    with client_of(stub, retries=0) as client, pytest.raises(Refused) as caught:
        client.me()
    assert caught.value.code == "database-unreachable"


def test_a_long_pause_is_left_to_the_caller(stub: Stub) -> None:
    stub.replies = [(429, {**PROBLEM, "Retry-After": "300"}, b'{"code": "too-many-tries"}')]
    with client_of(stub) as client, pytest.raises(Refused) as caught:
        client.me()
    assert (stub.asked, caught.value.retry_after) == (1, 300)


def test_a_certificate_that_is_not_trusted_has_its_own_words(stub: Stub, tmp_path: Path) -> None:
    key, chain = _certificate(tmp_path)
    server = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    server.load_cert_chain(chain, key)
    stub.socket = server.wrap_socket(stub.socket, server_side=True)
    address = f"https://127.0.0.1:{stub.server_port}"
    with SealPacket(address, "token") as client, pytest.raises(TlsFault, match="not trusted"):
        client.me()
    stub.replies = [(200, JSON, ME)]
    trusted = ssl.create_default_context(cafile=str(chain))
    with SealPacket(address, "token", verify=trusted) as client:
        assert client.me().name == "marit"


def _certificate(folder: Path) -> tuple[Path, Path]:
    from datetime import UTC, datetime, timedelta
    from ipaddress import ip_address

    from cryptography import x509
    from cryptography.hazmat.primitives import hashes, serialization
    from cryptography.hazmat.primitives.asymmetric import ec

    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(x509.NameOID.COMMON_NAME, "127.0.0.1")])
    now = datetime.now(UTC)
    made = (
        x509.CertificateBuilder()
        .subject_name(name).issuer_name(name).public_key(key.public_key()).serial_number(1)
        .not_valid_before(now - timedelta(days=1)).not_valid_after(now + timedelta(days=1))
        .add_extension(x509.SubjectAlternativeName([x509.IPAddress(ip_address("127.0.0.1"))]), False)
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), True)
        .sign(key, hashes.SHA256())
    )  # fmt: skip
    files = folder / "key.pem", folder / "chain.pem"
    files[0].write_bytes(
        key.private_bytes(
            serialization.Encoding.PEM,
            serialization.PrivateFormat.PKCS8,
            serialization.NoEncryption(),
        )
    )
    files[1].write_bytes(made.public_bytes(serialization.Encoding.PEM))
    return files


def test_nobody_at_the_address() -> None:
    with SealPacket("http://127.0.0.1:9", "token") as client, pytest.raises(NoService):
        client.me()


def test_threads_share_a_client(marit: SealPacket) -> None:
    names: list[str] = []

    def ask() -> None:
        for _ in range(5):
            names.append(marit.me().name)

    threads = [threading.Thread(target=ask) for _ in range(16)]
    for one in threads:
        one.start()
    for one in threads:
        one.join()
    assert names == ["marit"] * 80


def test_all_faults_come_at_once(house: RunningHouse, marit: SealPacket) -> None:
    headers = authorization(marit)
    address = f"{house.address}/api/v1"
    body = {"title": "x", "need": "nothing", "began_at": "yesterday", "colour": "red"}
    answer = plain_http.post(f"{address}/packets", headers=headers, json=body).json()
    faults = {one["pointer"]: one["remedy"] for one in answer["faults"]}
    assert faults.pop("/need").startswith("Send 'fault', 'question', 'change', ")
    assert faults == {
        "/title": "Send at least 3 characters.",
        "/began_at": "Send it as 2026-11-23T08:40:00+00:00.",
        "/colour": "Leave it out.",
    }
    assert (answer["field"], answer["code"]) == ("title", "invalid")
    asset = {"serial": "", "status": "broken", "colour": "red"}
    answer = plain_http.post(f"{address}/assets", headers=headers, json=asset).json()
    assert {"/vendor", "/product", "/status", "/colour"} <= {
        one["pointer"] for one in answer["faults"]
    }


def test_a_replay_is_marked(house: RunningHouse, marit: SealPacket) -> None:
    headers = {
        **authorization(marit),
        "Idempotency-Key": "the same alert",
    }
    body = {"title": "Array A is slow", "asset": ARRAY}
    first, again = (
        plain_http.post(f"{house.address}/api/v1/packets", headers=headers, json=body)
        for _ in range(2)
    )
    assert first.json() == again.json()
    assert "Sealpacket-Replay" not in first.headers
    assert again.headers["Sealpacket-Replay"] == "true"
