"""Devices of the demo world, simulated: a switch and a kiosk over SSH, an array over HTTPS. They know nothing of us.

    python -m sealpacket.standins.devices --folder var/devices --secret-file secret

The ports, the host keys and the certificate are in the folder's devices.json.
"""

from __future__ import annotations

import argparse
import asyncio
import ipaddress
import json
import ssl
import threading
from datetime import UTC, datetime, timedelta
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any

import asyncssh
from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import NameOID

SWITCH_SERIAL, ARRAY_SERIAL, KIOSK_SERIAL = "OBS4-551203", "TN9-44120-A", "LK40-7731-0926"


def _lines(host: str, words: str, hours: int = 30) -> str:
    """A log that ends now."""
    now = datetime.now(UTC).replace(microsecond=0)
    moments = [now - timedelta(minutes=minute) for minute in range(hours * 60, -1, -1)]
    return "".join(
        f"{at:%Y-%m-%dT%H:%M:%SZ} {host} {words} {number}\n" for number, at in enumerate(moments)
    )


def _kiosk_lines(hours: int = 30) -> str:
    """The kiosk's log: loans with readers' cards, and since an hour a card reader that is gone."""
    now = datetime.now(UTC).replace(microsecond=0)
    lines = []
    for minute in range(hours * 60, -1, -1):
        said = f"loan card={_card(minute)} item={10_000_000 + minute} ok"
        if minute < 60:
            said = f"ERROR E417 card reader on port 3 not answering, retry {60 - minute}"
        at = now - timedelta(minutes=minute)
        lines.append(f"{at:%Y-%m-%dT%H:%M:%SZ} br01-kiosk1 lendd[211]: {said}\n")
    return "".join(lines)


def _card(number: int) -> str:
    """A reader's card: 14 digits, the last of them a check digit (ISO/IEC 7812-1)."""
    body = f"2116{number * 104_729 % 10**9:09d}"
    total = sum(
        digit if place % 2 else digit * 2 - 9 * (digit > 4)
        for place, digit in enumerate(map(int, body))
    )
    return f"{body}{-total % 10}"


def _switch_says(command: str) -> tuple[str, int]:
    """The answer of the switch, and its result code."""
    match " ".join(command.split()):
        case "print model":
            return (
                f"Model: OB-S48\nSerial number: {SWITCH_SERIAL}\nRelease: 11.2.4\nUptime: 41 days\n",
                0,
            )
        case "print port counters":
            rows = (
                f"{port:>4} {port * 7919:>14} {port * 104729:>14} {port % 5:>6}"
                for port in range(1, 49)
            )
            return "port             in            out errors\n" + "\n".join(rows) + "\n", 0
        case "print full report":
            whole = "".join(_switch_says(f"print {part}")[0] for part in ("model", "port counters"))
            return whole + "end of report\n", 0
        case "print log":
            return _lines("kw-switch1", "ports: counters read, round"), 0
        case "print flood":
            return "x" * 79 + "\n", -1
        case "print nothing":
            return "", 0
        case "print hang":
            return "", -2
        case _:
            return f"% Unknown command: {command}\n", 1


class _Server(asyncssh.SSHServer):
    """Lets in one user with one password."""

    def __init__(self, user: str, secret: str) -> None:
        self._user, self._secret = user, secret

    def begin_auth(self, username: str) -> bool:
        return True

    def password_auth_supported(self) -> bool:
        return True

    def validate_password(self, username: str, password: str) -> bool:
        return username == self._user and password == self._secret


async def _answer(process: asyncssh.SSHServerProcess[str]) -> None:
    said, code = _switch_says(process.command or "")
    if code == -2:
        await asyncio.sleep(3600)
    while code == -1:
        process.stdout.write(said * 1000)
        await process.stdout.drain()
    process.stdout.write(said)
    process.exit(code)


def _fill_kiosk(folder: Path) -> None:
    (folder / "log").mkdir(parents=True, exist_ok=True)
    (folder / "etc").mkdir(exist_ok=True)
    (folder / "log/lendd.log").write_text(_kiosk_lines())
    (folder / "log/reader-selftest.txt").write_text("reader self-test\nresult E417\n")
    (folder / "etc/identity.txt").write_text(f"model LK-40\nserial {KIOSK_SERIAL}\nprogram 7.4.2\n")


class _Array(BaseHTTPRequestHandler):
    """The array's console."""

    token = ""
    protocol_version = "HTTP/1.1"

    def do_GET(self) -> None:
        if self.headers.get("Authorization") != f"Bearer {self.token}":
            self._send(401, b"no\n")
        elif self.path == "/v2/health":
            drives = [
                {"slot": slot, "state": "ok", "temperature": 31 + slot % 9} for slot in range(24)
            ]
            body = {
                "serial": ARRAY_SERIAL,
                "release": "7.4.2",
                "controllers": ["c0", "c1"],
                "drives": drives,
            }
            self._send(200, json.dumps(body).encode())
        elif self.path == "/v2/volumes":
            names = ("catalogue", "loans", "papers-1880", "maps")
            self._send(
                200, json.dumps([{"name": name, "latency_ms": 212.5} for name in names]).encode()
            )
        elif self.path == "/v2/events.log":
            self._send(200, _lines(f"c0 {ARRAY_SERIAL}", "cache flush done, round").encode())
        else:
            self._send(404, b"nothing here\n")

    def _send(self, status: int, body: bytes) -> None:
        self.send_response(status)
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def log_message(self, format: str, *args: Any) -> None:
        """Nothing is written down."""


def _certificate(folder: Path) -> tuple[Path, Path]:
    """A certificate for loopback that signs itself, and its key; the same as before, if there was one."""
    certificate, kept = folder / "array.pem", folder / "array-key.pem"
    if certificate.exists() and kept.exists():
        return certificate, kept
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "array console (sample)")])
    now = datetime.now(UTC)
    address = x509.IPAddress(ipaddress.ip_address("127.0.0.1"))
    made = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + timedelta(days=3650))
        .add_extension(x509.SubjectAlternativeName([address]), critical=False)
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .sign(key, hashes.SHA256())
    )
    certificate.write_bytes(made.public_bytes(serialization.Encoding.PEM))
    kept.touch(mode=0o600)
    kept.write_bytes(
        key.private_bytes(
            serialization.Encoding.PEM,
            serialization.PrivateFormat.PKCS8,
            serialization.NoEncryption(),
        )
    )
    return certificate, kept


def _host_key(folder: Path) -> asyncssh.SSHKey:
    """The host key of the devices; the same as before, if there was one."""
    path = folder / "host_key"
    if not path.exists():
        path.touch(mode=0o600)
        path.write_bytes(asyncssh.generate_private_key("ssh-ed25519").export_private_key())
    return asyncssh.import_private_key(path.read_bytes())


class Devices:
    """All three, on loopback. `ports` by name; `known_hosts` and `certificate` are files that let them be trusted."""

    def __init__(self, folder: Path, secret: str) -> None:
        self.folder, self._secret = folder, secret
        self.ports: dict[str, int] = {}
        self.known_hosts, self.certificate = folder / "known_hosts", folder / "array.pem"
        self._loop = asyncio.new_event_loop()
        self._servers: list[asyncssh.SSHAcceptor] = []
        self._thread = threading.Thread(target=self._loop.run_forever, daemon=True)

    def start(self) -> Devices:
        """Start them."""
        self.folder.mkdir(parents=True, exist_ok=True)
        _fill_kiosk(self.folder / "kiosk")
        self._thread.start()
        asyncio.run_coroutine_threadsafe(self._start_ssh(), self._loop).result(60)
        self._start_array()
        (self.folder / "devices.json").write_text(json.dumps(self.ports) + "\n")
        return self

    def stop(self) -> None:
        """Stop them."""
        self._array.shutdown()
        self._array.server_close()
        asyncio.run_coroutine_threadsafe(self._stop_ssh(), self._loop).result(30)
        self._loop.call_soon_threadsafe(self._loop.stop)
        self._thread.join(10)

    async def _stop_ssh(self) -> None:
        for server in self._servers:
            server.close()
        own = asyncio.current_task()
        others = [task for task in asyncio.all_tasks() if task is not own]
        for task in others:
            task.cancel()
        await asyncio.gather(*others, return_exceptions=True)

    async def _start_ssh(self) -> None:
        key = _host_key(self.folder)
        secret, kiosk = self._secret, str(self.folder / "kiosk")
        switch = await asyncssh.listen(
            "127.0.0.1", 0, server_host_keys=[key], process_factory=_answer,
            server_factory=lambda: _Server("reader", secret),
        )  # fmt: skip
        files = await asyncssh.listen(
            "127.0.0.1", 0, server_host_keys=[key], server_factory=lambda: _Server("service", secret),
            sftp_factory=lambda chan: asyncssh.SFTPServer(chan, chroot=kiosk.encode()), allow_scp=False,
        )  # fmt: skip
        self._servers += [switch, files]
        self.ports |= {"switch": switch.get_port(), "kiosk": files.get_port()}
        public = key.export_public_key().decode().strip()
        (self.folder / "host_key.pub").write_text(f"{public}\n")
        self.known_hosts.write_text(
            "".join(f"[127.0.0.1]:{self.ports[name]} {public}\n" for name in ("switch", "kiosk"))
        )

    def _start_array(self) -> None:
        certificate, key = _certificate(self.folder)
        handler = type("Array", (_Array,), {"token": self._secret})
        self._array = ThreadingHTTPServer(("127.0.0.1", 0), handler)
        context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
        context.load_cert_chain(certificate, key)
        self._array.socket = context.wrap_socket(self._array.socket, server_side=True)
        self.ports["array"] = self._array.server_address[1]
        threading.Thread(target=self._array.serve_forever, daemon=True).start()


def main() -> None:
    """Run them until they are stopped."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--folder", type=Path, required=True)
    parser.add_argument("--secret-file", type=Path, required=True)
    arguments = parser.parse_args()
    (arguments.folder / "devices.json").unlink(missing_ok=True)
    devices = Devices(arguments.folder, arguments.secret_file.read_text().strip()).start()
    print(json.dumps(devices.ports), flush=True)
    try:
        threading.Event().wait()
    finally:
        devices.stop()


if __name__ == "__main__":
    main()
