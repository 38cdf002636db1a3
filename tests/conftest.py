"""A whole house for each file of tests that needs one: real PostgreSQL, real processes, real sockets."""

from __future__ import annotations

import importlib
import os
import random
import time
from collections.abc import Callable, Iterator
from contextlib import ExitStack
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any, TypeVar

import httpx
import pytest
from hypothesis import settings as hypothesis_settings

from sealpacket.app.context import AppContext
from sealpacket.client import SealPacket, make_token, polling
from sealpacket.client.models import PacketShown
from sealpacket.demo.house import RunningHouse
from sealpacket.settings import Settings
from tests import contract, plain_http
from tests.houses import copied_house, shared_by_the_run

hypothesis_settings.register_profile("unhurried", deadline=None)
hypothesis_settings.load_profile("unhurried")
"""No test is about how long something takes: machines are noisy."""
polling.AT_ONCE, polling.FIRST = False, 0.3
"""Every look takes processor time from what is waited for, and that from all other tests."""

# Before the workers of this run start: they have the same order, and try the same part of the long lists.
os.environ.setdefault("SEALPACKET_SEED", str(random.randrange(1_000_000)))


@pytest.hookimpl(trylast=True)
def pytest_terminal_summary(terminalreporter: pytest.TerminalReporter) -> None:
    terminalreporter.write_line(
        "Order, examples and the parts of long lists follow from a seed; "
        f"for the same again: SEALPACKET_SEED={os.environ['SEALPACKET_SEED']}"
    )
    # Below all else: who reads only the end of the output reads why the run failed.
    for fault in contract.broken():
        terminalreporter.write_line(
            f"FAILED an answer that its operation does not declare: {fault}"
        )


def pytest_sessionfinish(session: pytest.Session) -> None:
    """A run fails if a service has answered in a way that its operation does not declare."""
    if not hasattr(session.config, "workerinput") and contract.broken():
        session.exitstatus = session.exitstatus or pytest.ExitCode.TESTS_FAILED


@pytest.hookimpl(trylast=True)
def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """What takes longest by file begins first: so no processor waits for another at the end."""
    folders = ("journeys", "service", "core")
    items.sort(key=lambda item: folders.index(item.path.parent.name))


ROOT = Path(__file__).parent.parent


@pytest.hookimpl(tryfirst=True)
def pytest_configure(config: pytest.Config) -> None:
    """Begin what the whole run has once; workers of pytest-xdist find it in the environment."""
    config.option.randomly_seed = int(os.environ["SEALPACKET_SEED"])
    config.option.hypothesis_seed = os.environ["SEALPACKET_SEED"]
    if not hasattr(config, "workerinput"):
        running = ExitStack()
        config.add_cleanup(running.close)
        wanted = any("tests/core" not in argument for argument in config.args)
        running.enter_context(shared_by_the_run(with_house=wanted))


ARRAY, OTHER_ARRAY, SHELF = "TN9-44120-A", "TN9-44121-B", "TN4-20933-C"
GOOD_ANSWERS = {
    "category": "volume/latency",
    "severity": "2",
    "began_at": "2026-11-20T07:40+00:00",
    "impact": "Catalogue searches take half a minute in all branches.",
    "tried": "Moved the catalogue volume: no change.",
}
Said = TypeVar("Said")
NOTE = "Volumes on the book-store array answer slowly since this morning; searches time out."


@pytest.fixture(scope="module")
def house(request: pytest.FixtureRequest) -> Iterator[RunningHouse]:
    """A house with the demo world in it, of the test's file alone.

    The file's HOUSE, if it has one, are settings of it, its PROCESSES how many serve the API; with PROVIDER the OpenID
    provider is there, too.
    """
    module = request.module
    _let_midnight_pass()
    settings, processes = getattr(module, "HOUSE", None), getattr(module, "PROCESSES", 1)
    with copied_house(settings, processes, provider=hasattr(module, "PROVIDER")) as running:
        yield running


def _let_midnight_pass() -> None:
    """No file begins in the last minutes of a day: what is due, ends or is counted in days would change under it."""
    now = datetime.now(UTC)
    left = datetime.combine(now.date() + timedelta(days=1), datetime.min.time(), UTC) - now
    if left < timedelta(minutes=3):
        time.sleep(left.total_seconds() + 1)


@pytest.fixture(scope="module")
def devices(house: RunningHouse) -> RunningHouse:
    """The same house with its stand-in devices: a switch, an array, a kiosk."""
    house.start_devices()
    return house


@pytest.fixture
def inside(house: RunningHouse, monkeypatch: pytest.MonkeyPatch) -> AppContext:
    """The same house, opened in this process as a worker does; what it puts into the queue is dropped."""
    importlib.import_module("sealpacket.services")  # listens to what sessions commit
    for name, value in house.environment().items():
        if name.startswith("SEALPACKET_"):
            monkeypatch.setenv(name, value)
    return AppContext(Settings(follow_every=0, console=None), lambda *_args, **_more: None)  # type: ignore[call-arg]


@pytest.fixture(scope="module")
def signed_in(house: RunningHouse) -> Callable[[str], SealPacket]:
    """A client of one of the demo's people, made once."""
    made: dict[str, SealPacket] = {}

    def client(name: str) -> SealPacket:
        if name not in made:
            made[name] = house.client(name)
        return made[name]

    return client


@pytest.fixture(scope="module")
def marit(signed_in: Callable[[str], SealPacket]) -> SealPacket:
    """Keeper, preparer and releaser."""
    return signed_in("marit")


@pytest.fixture(scope="module")
def teo(signed_in: Callable[[str], SealPacket]) -> SealPacket:
    """Preparer only."""
    return signed_in("teo")


@pytest.fixture(scope="module")
def pauli(signed_in: Callable[[str], SealPacket]) -> SealPacket:
    """Releaser and reader."""
    return signed_in("pauli")


class Standin:
    """A vendor's stand-in, steered from outside its desk."""

    def __init__(self, house: RunningHouse, vendor: str) -> None:
        self.house, self.vendor = house, vendor
        self.address = f"http://127.0.0.1:{house.standin_ports[vendor]}"
        self.token = (house.folder / f"keys/{vendor}.token").read_text()

    def steer(self, **wish: Any) -> None:
        """Change its mood, or what it does with a case."""
        self.house.steer(self.vendor, **wish)

    def look(self) -> dict[str, Any]:
        """All it knows."""
        return self.house.look_at(self.vendor)

    def case(self, reference: str | None) -> dict[str, Any]:
        """One of its cases."""
        found: dict[str, Any] = self.look()["cases"][reference]
        return found

    def good_mood(self) -> None:
        """Nothing is steered any more."""
        self.steer(down=False, slow=0, refuse=None, mute=False, refuse_region=None)


class Tarnfell(Standin):
    """Tarnfell's stand-in, and a customer of its own."""

    def __init__(self, house: RunningHouse) -> None:
        super().__init__(house, "tarnfell")

    def cases(self) -> dict[str, Any]:
        """All its cases by reference."""
        found: dict[str, Any] = self.look()["cases"]
        return found

    def call(self, method: str, path: str, **arguments: Any) -> httpx.Response:
        """Speak to it as a customer would."""
        headers = {"Authorization": f"Bearer {self.token}", **arguments.pop("headers", {})}
        return plain_http.request(
            method,
            self.address + path,
            headers=headers,
            **arguments,
        )


@pytest.fixture
def tarnfell(house: RunningHouse) -> Iterator[Tarnfell]:
    """Tarnfell's desk in a good mood, and back in it afterwards."""
    desk = Tarnfell(house)
    desk.steer(down=False, slow=0, refuse=None, ask_after=9999, mute=False)
    yield desk
    desk.steer(down=False, slow=0, refuse=None, ask_after=9999, mute=False)


@pytest.fixture
def cli(
    house: RunningHouse, marit: SealPacket, monkeypatch: pytest.MonkeyPatch
) -> Callable[..., str]:
    """Run a command as marit; gives its output."""
    from typer.testing import CliRunner

    from sealpacket.cli.program import build

    monkeypatch.setenv("SEALPACKET_ADDRESS", house.address)
    monkeypatch.setenv("SEALPACKET_TOKEN", token_of(marit))

    def run(*words: str) -> str:
        done = CliRunner().invoke(build(), list(words))
        assert done.exit_code == 0, done.output
        return done.output

    return run


@pytest.fixture
def noted(marit: SealPacket) -> PacketShown:
    """A fresh packet about array A, as noted."""
    return marit.packets.note("Volumes on the array are slow", NOTE, asset=ARRAY)


@pytest.fixture
def answered(marit: SealPacket, noted: PacketShown) -> PacketShown:
    """A packet with all that the desk wants to know."""
    return marit.packets.answer(noted.number, **GOOD_ANSWERS)


@pytest.fixture
def sealed(marit: SealPacket, answered: PacketShown, tmp_path: Path) -> PacketShown:
    """A sealed packet with one small exhibit."""
    add(
        marit,
        answered.number,
        tmp_path / "array.cfg",
        b"serial = TN9-44120-A\npassword = thrush-in-the-reeds\n",
    )
    return marit.packets.seal(answered.number)


@pytest.fixture
def lodged(marit: SealPacket, sealed: PacketShown, tarnfell: Tarnfell) -> PacketShown:
    """A packet that Tarnfell has taken."""
    marit.packets.lodge(sealed.number)
    packet = marit.packets.wait(sealed.number)
    assert packet.reference, packet.status_text
    return packet


def add(client: SealPacket, number: str, path: Path, content: bytes) -> PacketShown:
    """Write a file, add it as exhibit, and wait until it is redacted."""
    path.write_bytes(content)
    client.exhibits.add(number, path)
    return client.packets.wait(number)


def until(ask: Callable[[], Said], *, pause: float = 0.2, longest: float = 1.5) -> Said:
    """What `ask` says as soon as it says something; it is asked again after growing pauses (seconds)."""
    end = time.monotonic() + 240
    while not (said := ask()):
        assert time.monotonic() < end, f"still {said!r} after four minutes"
        time.sleep(pause)
        pause = min(pause * 1.5, longest)
    return said


def token_of(client: SealPacket) -> str:
    """The API token of a client, for programs and plain HTTP."""
    return client._wire._client.headers["Authorization"].removeprefix("Bearer ")


def authorization(client: SealPacket) -> dict[str, str]:
    """The header by which a client is signed in."""
    return {"Authorization": f"Bearer {token_of(client)}"}


def reference_of(house: RunningHouse) -> dict[str, Any]:
    """The OpenAPI reference as the service gives it to someone who is signed in."""
    token = make_token(
        house.address, "marit", house.sign_ins["marit"], "reading the reference"
    ).token
    headers = {"Authorization": f"Bearer {token}"}
    found: dict[str, Any] = plain_http.get(f"{house.address}/openapi.json", headers=headers).json()
    return found


def stops(packet: PacketShown) -> list[str]:
    """The codes of what stops a packet."""
    return [check.code for check in packet.checks if check.level == "stop"]


@pytest.fixture
def desk(request: pytest.FixtureRequest, house: RunningHouse) -> Iterator[Standin]:
    """The stand-in of the vendor that the test's module names as VENDOR, in a good mood again afterwards."""
    standin = Standin(house, request.module.VENDOR)
    yield standin
    standin.good_mood()


def lodge(client: SealPacket, number: str) -> PacketShown:
    """Seal a packet and lodge it; it is with its desk, or refused, or waits."""
    client.packets.seal(number)
    client.packets.lodge(number)
    return client.packets.wait(number)
