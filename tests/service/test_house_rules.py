"""The house itself: the custody log, least rights, the committed reference, migrations, and bad days."""

from __future__ import annotations

import json
import os
import shutil
import socket
import subprocess
import sys
from pathlib import Path

import psycopg
import pytest
from openapi_spec_validator import validate

from sealpacket.client import Refused, SealPacket, make_token
from sealpacket.client.models import PacketShown
from sealpacket.demo.cluster import Cluster, ClusterError, free_port
from sealpacket.demo.house import HouseError, RunningHouse
from sealpacket.web.api import PARTS
from tests import plain_http
from tests.conftest import ROOT, add, reference_of, until


@pytest.fixture
def token(house: RunningHouse) -> str:
    """A token of Marit's."""
    return make_token(house.address, "marit", house.sign_ins["marit"], "house rules").token


def owner(house: RunningHouse) -> psycopg.Connection[tuple[object, ...]]:
    """The database as the owner of its tables."""
    return psycopg.connect(house.cluster.owner_url.replace("+psycopg", ""))


def service_role(house: RunningHouse) -> psycopg.Connection[tuple[object, ...]]:
    """The database as the service sees it."""
    return psycopg.connect(house.cluster.service_url.replace("+psycopg", ""))


@pytest.mark.parametrize(
    "statement",
    ["UPDATE custody_entry SET hash = 'x'", "DELETE FROM custody_entry", "TRUNCATE custody_entry",
     "DROP TABLE packet", "CREATE TABLE mine (x int)", "ALTER TABLE packet ADD COLUMN x int"],
)  # fmt: skip
def test_the_service_has_no_right_to_do_this(house: RunningHouse, statement: str) -> None:
    with service_role(house) as connection, pytest.raises(psycopg.errors.InsufficientPrivilege):
        connection.execute(statement)  # type: ignore[call-overload]


@pytest.mark.parametrize(
    "statement",
    ["UPDATE custody_entry SET hash = 'x'", "DELETE FROM custody_entry", "TRUNCATE custody_entry"],
)
def test_even_the_owner_is_refused_a_change_of_the_log(house: RunningHouse, statement: str) -> None:
    with (
        owner(house) as connection,
        pytest.raises(psycopg.errors.RaiseException, match="append-only"),
    ):
        connection.execute(statement)  # type: ignore[call-overload]


def test_tampering_past_the_guard_is_found(house: RunningHouse, marit: SealPacket) -> None:
    assert marit.verify_custody().holds
    with owner(house) as connection:
        connection.execute("ALTER TABLE custody_entry DISABLE TRIGGER ALL")
        connection.execute(
            "UPDATE custody_entry SET entry = jsonb_set(entry, '{actor}', '\"nobody\"') WHERE seq = 3"
        )
    try:
        chain = marit.verify_custody()
        assert (chain.holds, chain.broken_at) == (False, 3)
    finally:
        with owner(house) as connection:
            connection.execute(
                "UPDATE custody_entry SET entry = jsonb_set(entry, '{actor}', '\"marit\"') WHERE seq = 3"
            )
            connection.execute("ALTER TABLE custody_entry ENABLE TRIGGER ALL")
    assert marit.verify_custody().holds


def test_many_writers_keep_one_chain(marit: SealPacket, teo: SealPacket) -> None:
    from concurrent.futures import ThreadPoolExecutor

    with ThreadPoolExecutor(8) as pool:
        numbers = list(
            pool.map(
                lambda n: (marit, teo)[n % 2].packets.note(f"Packet of writer {n}").number,
                range(24),
            )
        )
    assert len(set(numbers)) == 24
    assert marit.verify_custody().holds


def test_the_committed_reference_is_the_service_as_it_is(house: RunningHouse) -> None:
    served = reference_of(house)
    command = [sys.executable, str(ROOT / "tools/generate.py"), "--openapi"]
    made = json.loads(subprocess.run(command, capture_output=True, check=True).stdout)
    assert served == made == json.loads((ROOT / "docs/reference/openapi.json").read_text()), (
        "run `make generate`"
    )
    assert served["openapi"] == "3.1.0"
    validate(served)
    operations = [one for path in served["paths"].values() for one in path.values()]
    assert len({one["operationId"] for one in operations}) == len(operations) > 140
    assert all(len(one["description"]) > 30 for one in operations)


def test_the_committed_schema_and_models_are_current() -> None:
    sys.path.insert(0, str(ROOT / "tools"))
    try:
        import generate
    finally:
        sys.path.pop(0)
    assert (ROOT / "docs/reference/desk-sheet.schema.json").read_text() == generate.schema()
    assert (ROOT / "docs/reference/desk-sheet.md").read_text() == generate.sheet_reference.page()
    assert (ROOT / "src/sealpacket/client/models.py").read_text() == generate.models()
    assert (ROOT / "src/sealpacket/client/fields.py").read_text() == generate.fields()
    assert (ROOT / "src/sealpacket/client/aio.py").read_text() == generate.twin.twin()
    assert (ROOT / "console/src/sheets/language.json").read_text() == generate.language()


def test_migrations_make_the_tables_that_the_models_say(house: RunningHouse) -> None:
    from alembic import command
    from sqlalchemy import create_engine

    from sealpacket.store.migrate import alembic_config

    engine = create_engine(house.cluster.owner_url)
    with engine.begin() as connection:
        command.check(alembic_config(connection))
    engine.dispose()


@pytest.mark.parametrize(
    ("method", "path", "status"),
    [("GET", "/api/v1/nothing", 404), ("DELETE", "/api/v1/vendors", 405)],
)
def test_what_is_not_there_is_a_problem_too(
    house: RunningHouse, method: str, path: str, status: int
) -> None:
    answer = plain_http.request(method, house.address + path)
    assert answer.status_code == status
    assert answer.headers["Content-Type"] == "application/problem+json"
    assert answer.json()["remedy"]


@pytest.mark.parametrize(
    "name",
    [one.name for part in PARTS for one in part.operations if one.method == "GET" and "<" not in one.rule],
)  # fmt: skip
def test_a_filter_that_names_nothing_gets_a_declared_answer(
    house: RunningHouse, token: str, name: str
) -> None:
    operation = next(one for part in PARTS for one in part.operations if one.name == name)
    fields = getattr(operation.inputs.get("query"), "model_fields", {})
    for field in [one for one in fields if one not in ("wait", "limit")] or [""]:
        answer = plain_http.get(
            f"{house.address}/api/v1{operation.rule}",
            params={field: "P-9999"} if field else {},
            headers={"Authorization": f"Bearer {token}"},
        )
        assert answer.status_code in {operation.status, *operation.statuses}, (field, answer.text)


def test_a_body_that_is_too_large_is_refused_before_it_has_come(
    house: RunningHouse, token: str
) -> None:
    head = f"POST /api/v1/packets HTTP/1.1\r\nHost: x\r\nAuthorization: Bearer {token}\r\n"
    with socket.create_connection(("127.0.0.1", house.port), timeout=60) as line:
        line.sendall(
            f"{head}Content-Type: application/json\r\nContent-Length: {9 << 20}\r\n\r\n".encode()
        )
        line.sendall(b'{"title": "' + b"x" * 1000)
        assert line.recv(64).startswith(b"HTTP/1.1 413 ")


def test_a_worker_that_dies_does_not_lose_its_work(
    house: RunningHouse, marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    house.end("worker")
    (tmp_path / "a.log").write_text("client 10.40.1.1\n")
    marit.exhibits.add(noted.number, tmp_path / "a.log")
    assert marit.packets.get(noted.number).exhibits[0].state == "waiting"
    house.begin("worker")
    assert marit.packets.wait(noted.number).exhibits[0].state == "ready"


def test_a_stopped_database_is_told_and_nothing_is_lost(
    house: RunningHouse, marit: SealPacket
) -> None:
    title = "Noted just before the database stopped"
    number = marit.packets.note(title).number
    house.cluster.stop()
    try:
        with pytest.raises(Refused) as caught:
            marit.packets.note("Noted while it is stopped")
        assert (caught.value.status, caught.value.code) == (503, "database-unreachable")
        assert "start PostgreSQL" in caught.value.remedy
        page = plain_http.get(house.address)
        assert page.status_code == 200, "the console still comes, and says what is wrong"
    finally:
        house.cluster.serve()
    assert marit.packets.get(number).title == title
    assert "Noted while it is stopped" not in [one.title for one in marit.packets.list()]
    house.end("worker")
    house.begin("worker")


@pytest.mark.skipif(os.geteuid() != 0, reason="only root can mount a small disk")
def test_a_full_disk_is_told_and_leaves_nothing_half_done(tmp_path: Path) -> None:
    """The blob store on a disk of one megabyte."""
    from sealpacket.core.errors import DiskFull
    from sealpacket.store.blobs import Blobs

    small = tmp_path / "small"
    small.mkdir()
    mounted = subprocess.run(
        ["mount", "-t", "tmpfs", "-o", "size=1m", "tmpfs", str(small)],
        check=False,
        capture_output=True,
    )
    if mounted.returncode:
        pytest.skip("this machine does not let us mount a small disk")
    try:
        blobs = Blobs(small.as_uri(), lambda: b"k" * 32)
        kept = blobs.put([b"small"])
        with pytest.raises(DiskFull) as caught:
            blobs.put(b"x" * 100_000 for _ in range(50))
        assert "Make room" in caught.value.remedy
        assert [path.name for path in small.rglob("*") if path.is_file()] == [kept.name]
        assert blobs.read_all(kept.name) == b"small"
    finally:
        subprocess.run(["umount", str(small)], check=True)


def test_a_write_past_the_limit_is_a_full_disk(tmp_path: Path) -> None:
    """The same on any machine: the process may not write files of more than 100 kB."""
    program = (
        "import resource, signal; from pathlib import Path; from sealpacket.store.blobs import Blobs\n"
        "from sealpacket.core.errors import DiskFull\n"
        "signal.signal(signal.SIGXFSZ, signal.SIG_IGN)\n"
        "resource.setrlimit(resource.RLIMIT_FSIZE, (100_000, 100_000))\n"
        f"folder = Path({str(tmp_path)!r})\n"
        "try:\n    Blobs(folder.as_uri(), lambda: b'k' * 32).put(b'x' * 50_000 for _ in range(9))\n"
        "except DiskFull as full:\n    print(full.code, [p for p in folder.rglob('*') if p.is_file()])\n"
    )
    done = subprocess.run(
        [sys.executable, "-c", program], capture_output=True, text=True, check=False
    )
    assert done.stdout.strip() == "disk-full []", done.stderr


def test_a_lost_blob_is_told(
    house: RunningHouse, marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    before = {p for p in (house.folder / "blobs").rglob("*") if p.is_file()}
    add(marit, noted.number, tmp_path / "a.log", b"client 10.40.1.1\n")
    fresh = {p for p in (house.folder / "blobs").rglob("*") if p.is_file()} - before
    moved = [(path, path.with_suffix(".away")) for path in fresh]
    for path, away in moved:
        path.rename(away)
    with pytest.raises(Refused) as caught:
        marit.exhibits.review(noted.number, "a.log")
    assert (caught.value.status, caught.value.code) == (503, "blob-lost")
    for path, away in moved:
        away.rename(path)
    assert marit.exhibits.review(noted.number, "a.log").findings == 1


def test_a_second_copy_from_the_same_folder_is_told_where_the_first_is(house: RunningHouse) -> None:
    with pytest.raises(HouseError, match=f"Another copy already runs.*at {house.address}"):
        RunningHouse(house.folder).start()


def test_a_taken_port_is_said_and_another_one_used(house: RunningHouse, tmp_path: Path) -> None:
    second = RunningHouse(tmp_path, port=house.port)
    second._choose_port()
    assert second.port != house.port
    assert second.notes == [
        f"Port {house.port} is taken by another program, so this copy uses {second.port}."
    ]


def test_the_cluster_keeps_its_data_and_ends_cleanly() -> None:
    import tempfile

    folder = Path(tempfile.mkdtemp(prefix="sealpacket-cluster-"))
    folder.chmod(0o755)
    cluster = Cluster.at(folder / "pg")
    try:
        cluster.start()
        with psycopg.connect(cluster.owner_url.replace("+psycopg", "")) as connection:
            connection.execute("CREATE TABLE kept AS SELECT 1 AS x")
        with pytest.raises(ClusterError, match="already running"):
            Cluster.at(folder / "pg").start()
        cluster.stop()
        log = cluster.folder / "log"  # its last line is written when its lock is gone already
        assert until(lambda: "database system is shut down" in log.read_text())
        again = Cluster.at(folder / "pg")
        again.start()
        with psycopg.connect(again.owner_url.replace("+psycopg", "")) as connection:
            assert connection.execute("SELECT x FROM kept").fetchone() == (1,)
        again.stop()
    finally:
        cluster.remove()
        shutil.rmtree(folder, ignore_errors=True)


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"SEALPACKET_KEY_FILE": "/nowhere/key"}, "cannot be read"),
        ({"SEALPACKET_DATABASE_URL": ""}, "SEALPACKET_DATABASE_URL is not valid."),
    ],
)
def test_the_service_does_not_start_without_what_it_needs(
    house: RunningHouse, change: dict[str, str], says: str
) -> None:
    environment = {**house.environment(), **change}
    done = subprocess.run(
        [sys.executable, "-m", "sealpacket.service", "account", "x", "--role", "reader"], env=environment,
        input="a-long-password\n", capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert done.returncode != 0
    assert says in done.stderr


def test_keys_are_made_once_and_for_the_owner_only(tmp_path: Path, house: RunningHouse) -> None:
    for _ in range(2):
        house._service("new-keys", str(tmp_path / "keys"))
    contents = {path.name: path.read_text() for path in (tmp_path / "keys").iterdir()}
    assert set(contents) == {"master.key", "seal.jwk"}
    assert all(path.stat().st_mode & 0o777 == 0o600 for path in (tmp_path / "keys").iterdir())
    house._service("new-keys", str(tmp_path / "keys"))
    assert contents == {path.name: path.read_text() for path in (tmp_path / "keys").iterdir()}


def test_a_free_port_is_free() -> None:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", free_port()))
