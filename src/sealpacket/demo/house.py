"""A complete house on this machine: database, stand-ins, worker and service, started and stopped in order."""

from __future__ import annotations

import fcntl
import json
import os
import secrets
import signal
import socket
import ssl
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import IO, Any

import httpx

from sealpacket.client import ClientError, SealPacket
from sealpacket.demo import world
from sealpacket.demo.cluster import Cluster, ClusterError, free_port, wait_for_port


@dataclass(frozen=True)
class StandIn:
    """A vendor's simulated desk: its key, and its address with {port}. `control` if that is at a port of its own."""

    desk: str
    address: str = "http://127.0.0.1:{port}"
    control: bool = False


STANDINS = {
    "tarnfell": StandIn("tarnfell-support"),
    "ovenbird": StandIn("ovenbird-support"),
    "lumenlathe": StandIn("lumenlathe-care", "mailto:care@lumenlathe.example", control=True),
    "pellwick": StandIn("pellwick-intake"),
    "hollowmere": StandIn("hollowmere-requests"),
    "saddlewick": StandIn("saddlewick-claims", "sftp://127.0.0.1:{port}", control=True),
}
"""By vendor. The program of each is in sealpacket.standins under the vendor's name."""
CLIENT = "seal-packet"
"""The client ID of this service at the provider."""
MAIL_GATE = "cases@quillmere.example"
"""Where desks answer by mail."""
DRAFT_GATE = "packets@quillmere.example"
"""Where the library's own people write to have a packet noted."""
_NO_TLS = ssl.SSLContext(ssl.PROTOCOL_TLS_CLIENT)
"""For calls without TLS: reading whom this machine trusts takes longer than most of them."""
_WORDS = (
    "alder", "barley", "cinder", "dapple", "ember", "fennel", "gannet", "heather", "indigo", "juniper", "kestrel",
    "linden", "marram", "nettle", "orchard", "pebble", "quarry", "rowan", "sorrel", "thistle", "umber", "vetch",
    "willow", "yarrow",
)  # fmt: skip


_HOLLOWMERE = {
    "items": "$.reports[*]", "sort": "$.kind", "summary": "$.text", "begins": "$.from", "ends": "$.until",
    "updated": "$.changed",
}  # fmt: skip
"""Where Hollowmere's page of health has what."""
LONGEST_START, TOLD_EVERY = 900, 10
"""Seconds for which a start may go on, and after which a word is said of it, each time."""


class HouseError(Exception):
    """The house cannot be started; the message says what to do."""


class RunningHouse:
    """Everything that the service needs, in one folder. Use as a context manager."""

    def __init__(
        self,
        folder: Path,
        *,
        port: int = 0,
        console: Path | None = None,
        settings: dict[str, str] | None = None,
        durable: bool = True,
        devices: bool = True,
        provider: bool = True,
        processes: int = 2,
        popen: Callable[..., subprocess.Popen[bytes]] = subprocess.Popen,
        tell: Callable[[str], None] = lambda words: None,
    ) -> None:
        """Without `devices` no simulated device is started, without `provider` no OpenID provider; `processes` is the
        number that serve the API.

        `popen` starts all processes and takes what subprocess.Popen does. `tell` is given a word while starting takes
        long.
        """
        self.folder = folder.absolute()
        self.console = console
        self.cluster = Cluster.at(self.folder / "postgres", durable=durable)
        self.port = port
        self.standin_ports: dict[str, int] = {}
        self.control_ports: dict[str, int] = {}
        self.mail_port = self.gate_port = 0
        self.notes: list[str] = []
        self._extra = settings or {}
        self._devices = devices
        self.provider_port = -1 if provider else 0
        self._processes_of_service = processes
        self._popen, self._tell = popen, tell
        self._processes: list[tuple[str, subprocess.Popen[bytes]]] = []
        self._lock: IO[str] | None = None
        self._socket: socket.socket | None = None

    @property
    def address(self) -> str:
        """Where the service is."""
        return f"http://127.0.0.1:{self.port}"

    @property
    def mail_folder(self) -> Path:
        """The folder where the simulated mail server stores mail."""
        return self.folder / "standins" / "mail"

    @property
    def sign_ins(self) -> dict[str, str]:
        """Passwords of the demo's accounts by name."""
        path = self.folder / "sign-ins.json"
        found: dict[str, str] = json.loads(path.read_text()) if path.exists() else {}
        return found

    def __enter__(self) -> RunningHouse:
        try:
            self.start()
        except BaseException:
            self.stop()
            raise
        return self

    def __exit__(self, *_error: object) -> None:
        self.stop()

    def start(self) -> None:
        """Start what is needed, in order; load the demo world into an empty house."""
        self.folder.mkdir(parents=True, exist_ok=True, mode=0o755)
        self._take_lock()
        (self.folder / "log").mkdir(exist_ok=True, mode=0o750)
        self._choose_port()
        if (self.cluster.folder / "data" / "postmaster.pid").exists():
            self.cluster.stop()
        try:
            self.cluster.start()
        except ClusterError as problem:
            raise HouseError(str(problem)) from problem
        self._make_keys()
        self.mail_port, self.gate_port = free_port(), free_port()
        for name, standin in STANDINS.items():
            self.standin_ports[name] = free_port()
            self.control_ports[name] = free_port() if standin.control else self.standin_ports[name]
            self._start_standin(name)
        self._start_mail()
        if self.provider_port:
            self.provider_port = free_port()
            self._start_provider()
        if self._devices:
            self._start_devices()
        self._migrate()
        self._choose_passwords()
        self.begin("worker")
        self._start_service()
        self._start_gate()
        self._know_hosts()
        self._wait()
        self._load_world()
        if self._devices:
            self._reach_devices()

    def stop(self, *, at_once: bool = False) -> None:
        """End every process that was started, the database last; `at_once`: without letting them finish anything."""
        for name, process in reversed(self._processes):
            if at_once:
                process.kill()
            else:
                _end(name, process)
        for _, process in self._processes:
            process.wait()
        self._processes.clear()
        if self.cluster.password:
            self.cluster.stop("immediate" if at_once else "fast")
        if self._socket is not None:
            self._socket.close()
            self._socket = None
        if self._lock is not None:
            self._lock.close()
            self._lock = None

    def ended(self) -> str | None:
        """The name of a process that has ended unexpectedly, if one has."""
        return next((name for name, process in self._processes if process.poll() is not None), None)

    def end(self, name: str) -> None:
        """End one process by name, to see how the others take it."""
        for place, (known, process) in enumerate(self._processes):
            if known == name:
                _end(name, process)
                del self._processes[place]
                return
        raise KeyError(name)

    def kill(self, name: str) -> None:
        """End one process by name without a warning (SIGKILL), as when its machine loses power."""
        for place, (known, process) in enumerate(self._processes):
            if known == name:
                process.kill()
                process.wait(timeout=15)
                del self._processes[place]
                return
        raise KeyError(name)

    def begin(self, name: str) -> None:
        """Restart a process that ended or was killed, or start one more: worker, service, mail gate or a stand-in."""
        match name:
            case _ if name.split(maxsplit=1)[0] == "worker":  # "worker 2" is one more of them
                self._start(name, "-m", "sealpacket.service", "work")
            case "service":
                self._start_service()
            case "mail gate":
                self._start_gate()
                wait_for_port(self.gate_port)
            case "stand-in provider":
                self._start_provider()
                wait_for_port(self.provider_port)
            case "stand-in mail":
                self._start_mail()
                wait_for_port(self.mail_port)
            case _:
                desk = name.removeprefix("stand-in ")
                self._start_standin(desk)
                wait_for_port(self.standin_ports[desk])

    def steer(self, vendor: str, **wish: Any) -> None:
        """Act as a vendor's staff: change the mood of its stand-in, or what it does with a case."""
        self._control(vendor, "POST", json=wish)

    def look_at(self, vendor: str) -> dict[str, Any]:
        """The state of a vendor's stand-in."""
        found: dict[str, Any] = self._control(vendor, "GET").json()
        return found

    def _control(self, vendor: str, method: str, **arguments: Any) -> httpx.Response:
        address = f"http://127.0.0.1:{self.control_ports[vendor]}/control"
        return httpx.request(
            method, address, trust_env=False, verify=_NO_TLS, timeout=30, **arguments
        ).raise_for_status()

    def client(self, name: str = "marit") -> SealPacket:
        """The client library, signed in as one of the demo's people."""
        from sealpacket.client import make_token

        return SealPacket(
            self.address, make_token(self.address, name, self.sign_ins[name], "demo").token
        )

    def environment(self, *, owner: bool = False) -> dict[str, str]:
        """The settings of the service, as environment variables. Only migrations get the `owner`'s role."""
        desks = {
            STANDINS[name].desk: STANDINS[name].address.format(port=p)
            for name, p in self.standin_ports.items()
        }
        settings = {
            "DATABASE_URL": self.cluster.service_url,
            "KEY_FILE": str(self.folder / "keys" / "master.key"),
            "SEAL_KEY_FILE": str(self.folder / "keys" / "seal.jwk"),
            "BLOBS": (self.folder / "blobs").as_uri(),
            "DESKS": json.dumps(desks),
            "STAND_INS": json.dumps(desks),
            "HEALTH_FEEDS": json.dumps(self._health_feeds()),
            "ORGANISATION": "Quillmere County Libraries",
            "MAIL_GATE": MAIL_GATE,
            "KNOWN_HOSTS": str(self.folder / "known_hosts"),
            "ADDRESS": self.address,
            "MAIL": f"smtp+plain://127.0.0.1:{self.mail_port}",
            "MAIL_FROM": "seal.packet@quillmere.example",
            "DRAFT_GATE": DRAFT_GATE,
            "DRAFT_SENDERS": json.dumps(["quillmere.example"]),
            "DEVICES": json.dumps(["127.0.0.0/8"]),
            **(self._provider_settings() if self.provider_port else {}),
            **({"OWNER_URL": self.cluster.owner_url} if owner else {}),
            **({"CONSOLE": str(self.console)} if self.console else {}),
            **self._extra,
        }
        kept = {k: v for k, v in os.environ.items() if not k.startswith("SEALPACKET_")}
        return {
            **kept,
            **{f"SEALPACKET_{name}": value for name, value in settings.items()},
            "PYTHONUNBUFFERED": "1",
        }

    def _health_feeds(self) -> dict[str, object]:
        """Where vendors report trouble and maintenance: in Atom, and one in JSON of its own."""
        feeds: dict[str, object] = {
            vendor: f"http://127.0.0.1:{port}/health.atom"
            for vendor, port in self.control_ports.items()
        }
        if "hollowmere" in self.control_ports:
            address = f"http://127.0.0.1:{self.control_ports['hollowmere']}/health.json"
            feeds["hollowmere"] = {"address": address, "mapping": _HOLLOWMERE}
        return feeds

    def _take_lock(self) -> None:
        path = self.folder / "running"
        file = path.open("a+")
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            file.seek(0)
            where = file.read().strip()
            file.close()
            raise HouseError(
                f"Another copy already runs from {self.folder}{f', at {where}' if where else ''}. "
                "Use that one, or end it with Ctrl-C where it was started."
            ) from None
        self._lock = file

    def _choose_port(self) -> None:
        """Take a port now and for good: another house that starts at the same moment cannot have it as well."""
        self._socket = _listening(self.port) if self.port else None
        if self._socket is None:
            taken, self._socket = self.port, _listening(0)
            if self._socket is None:
                raise HouseError(
                    "There is no free port on this machine. End something that uses one."
                )
            self.port = self._socket.getsockname()[1]
            if taken:
                self.notes.append(
                    f"Port {taken} is taken by another program, so this copy uses {self.port}."
                )
        if self._lock is not None:
            self._lock.truncate(0)
            self._lock.write(self.address)
            self._lock.flush()

    def _make_keys(self) -> None:
        if not (self.folder / "keys" / "seal.jwk").exists():
            self._service("new-keys", str(self.folder / "keys"))
        for name in (*STANDINS, "devices", "provider"):
            path = self.folder / "keys" / f"{name}.token"
            if not path.exists():
                path.touch(mode=0o600)
                path.write_text(secrets.token_urlsafe(24))

    def _migrate(self) -> None:
        self._service("migrate")

    def _choose_passwords(self) -> None:
        path = self.folder / "sign-ins.json"
        if not path.exists():
            path.touch(mode=0o600)
            names = [account["name"] for account in world.world()["accounts"]]
            made = {name: "-".join(secrets.choice(_WORDS) for _ in range(5)) for name in names}
            path.write_text(json.dumps(made, indent=1) + "\n")

    def _load_world(self) -> None:
        """Fill an empty house: the keeper's account first, who loads the register, then everybody's."""
        done = self.folder / "loaded"
        if done.exists():
            return
        first, *others = world.world()["accounts"]
        row = {**first, "person": None, "password": self.sign_ins[first["name"]]}
        self._service("accounts", stdin=json.dumps([row]))
        with self.client() as house:
            if next(house.vendors.list(most=1), None) is None:
                tokens = {
                    name: (self.folder / "keys" / f"{name}.token").read_text()
                    for name in (*STANDINS, "devices")
                }
                count = world.load(house, tokens, self._certificates())
                self.notes.append(
                    f"The demo world is loaded: {count} records of Quillmere County Libraries."
                )
            house.accounts.change(first["name"], person=first["person"])
            there = {account.name for account in house.accounts.list()}
            for one in others:
                name = one["name"]
                if name not in there:
                    house.accounts.add(
                        name, self.sign_ins[name], one["roles"], person=one["person"]
                    )
        done.touch()

    def _service(self, *arguments: str, stdin: str = "") -> None:
        with tempfile.TemporaryFile("w+") as given, tempfile.TemporaryFile("w+") as said:
            given.write(stdin)
            given.seek(0)
            process = self._popen(
                [sys.executable, "-m", "sealpacket.service", *arguments],
                env=self.environment(owner=arguments[0] == "migrate"),
                stdin=given,
                stdout=said,
                stderr=said,
                start_new_session=True,
            )
            if process.wait():
                said.seek(0)
                raise HouseError(f"sealpacket-service {arguments[0]} failed: {said.read()[-800:]}")

    def _start(self, name: str, *arguments: str, sockets: tuple[int, ...] = ()) -> None:
        path = self.folder / "log" / f"{name.replace(' ', '-')}.log"
        path.touch(mode=0o640)
        with path.open("ab") as log:
            process = self._popen(
                [sys.executable, *arguments],
                env=self.environment(),
                stdin=subprocess.DEVNULL,
                stdout=log,
                stderr=log,
                start_new_session=True,
                pass_fds=sockets,
            )
        self._processes.append((name, process))

    def _start_mail(self) -> None:
        """The house's mail server; what is for a vendor that has one goes on to it."""
        self._start(
            "stand-in mail",
            "-m",
            "sealpacket.standins.mail",
            "--port",
            str(self.mail_port),
            "--folder",
            str(self.mail_folder),
            "--route",
            f"lumenlathe.example=127.0.0.1:{self.standin_ports['lumenlathe']}",
        )

    def start_devices(self) -> None:
        """Start the simulated devices of a house that was started without them."""
        self._start_devices()
        self._reach_devices()

    def _start_devices(self) -> None:
        folder = self.folder / "standins" / "devices"
        folder.mkdir(parents=True, exist_ok=True)
        secret = str(self.folder / "keys" / "devices.token")
        self._start(
            "stand-in devices",
            "-m",
            "sealpacket.standins.devices",
            "--folder",
            str(folder),
            "--secret-file",
            secret,
        )

    def _reach_devices(self) -> None:
        """Register the ports of the simulated devices, which change with each start."""
        ports = json.loads(self._published("devices", "devices.json"))
        host_key = self._published("devices", "host_key.pub").strip()
        authority = self._published("devices", "array.pem")
        with self.client() as house:
            for serial, way in world.reached(ports, host_key, authority).items():
                house.reach.put(serial, "127.0.0.1", **way)

    def _start_service(self) -> None:
        if self._socket is None:
            raise HouseError("The house has no port yet.")
        number = self._socket.fileno()
        self._start(
            "service",
            "-m",
            "sealpacket.service",
            "serve",
            "--socket",
            str(number),
            "--workers",
            str(self._processes_of_service),
            sockets=(number,),
        )

    def _start_gate(self) -> None:
        self._start(
            "mail gate", "-m", "sealpacket.service", "receive", "--port", str(self.gate_port)
        )

    def _start_standin(self, desk: str) -> None:
        self._start(
            f"stand-in {desk}",
            "-m",
            f"sealpacket.standins.{desk}",
            "--port",
            str(self.standin_ports[desk]),
            "--folder",
            str(self.folder / "standins" / desk),
            "--token-file",
            str(self.folder / "keys" / f"{desk}.token"),
            "--control-port",
            str(self.control_ports[desk]),
            "--answers-to",
            f"127.0.0.1:{self.gate_port}",
            "--calls",
            f"{self.address}/hooks/{STANDINS[desk].desk}",
        )

    def _start_provider(self) -> None:
        """The library's OpenID provider."""
        self._start(
            "stand-in provider",
            "-m",
            "sealpacket.standins.provider",
            "--port",
            str(self.provider_port),
            "--client",
            self.address,
            "--secret-file",
            str(self.folder / "keys" / "provider.token"),
        )

    @property
    def provider(self) -> str:
        """The address of the library's OpenID provider."""
        return f"http://127.0.0.1:{self.provider_port}"

    def _provider_settings(self) -> dict[str, str]:
        """How people of the library sign in by it."""
        return {
            "OIDC_ISSUER": self.provider,
            "OIDC_CLIENT_ID": CLIENT,
            "OIDC_CLIENT_SECRET_FILE": str(self.folder / "keys" / "provider.token"),
            "OIDC_LABEL": "Quillmere",
            "OIDC_ROLES": json.dumps(
                {"groups": {"library-it": ["preparer"], "library-leads": ["releaser", "keeper"]}}
            ),
        }

    def _know_hosts(self) -> None:
        """The host key of the desk that is reached by SFTP, as an administrator would have noted it."""
        key = self._published("saddlewick", "host.pub").split()
        line = f"[127.0.0.1]:{self.standin_ports['saddlewick']} {key[0]} {key[1]}\n"
        (self.folder / "known_hosts").write_text(line)

    def _certificates(self) -> dict[str, str]:
        """By desk, the certificate that its vendor has published."""
        return {"pellwick-intake": self._published("pellwick", "certificate.pem")}

    def _published(self, vendor: str, name: str) -> str:
        """The public file of a stand-in, as soon as it exists."""
        path = self.folder / "standins" / vendor / name
        end = time.monotonic() + 30
        while not path.exists() or not path.read_text().endswith("\n"):
            if time.monotonic() > end:
                raise HouseError(
                    f"The stand-in of {vendor} did not start; see {self.folder / 'log'}."
                )
            time.sleep(0.05)
        return path.read_text()

    def _wait(self) -> None:
        """Wait for the service as long as its processes live: machines are slow when they do something else as well."""
        begun = time.monotonic()
        told = begun
        house = SealPacket(self.address)
        while (now := time.monotonic()) < begun + LONGEST_START:
            with suppress(ClientError):
                house.health()
                return
            gone = self.ended()
            if gone:
                log = self.folder / "log" / f"{gone.replace(' ', '-')}.log"
                raise HouseError(
                    f"The {gone} ended at once. Its last words, in {log}:\n{log.read_text()[-1500:]}"
                )
            if now - told > TOLD_EVERY:
                told = now
                self._tell(f"The service is still starting, after {now - begun:.0f} seconds …")
            time.sleep(0.2)
        raise HouseError(
            f"The service has not answered for {LONGEST_START // 60} minutes; see {self.folder / 'log'}."
        )


def _listening(port: int) -> socket.socket | None:
    """A socket that listens at a loopback port (0: a free one), unless another one does."""
    made = socket.socket()
    made.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        made.bind(("127.0.0.1", port or free_port()))
        made.listen(64)
    except OSError:
        made.close()
        return None
    return made


def _end(name: str, process: subprocess.Popen[Any]) -> None:
    if process.poll() is not None:
        return
    process.send_signal(signal.SIGINT if name == "worker" else signal.SIGTERM)
    try:
        process.wait(timeout=15)
    except subprocess.TimeoutExpired:
        process.kill()
        process.wait(timeout=5)
