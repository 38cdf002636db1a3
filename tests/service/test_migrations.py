"""What an older house kept is still there after an upgrade."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path

import pytest
from alembic import command
from sqlalchemy import Connection, create_engine, text

from sealpacket.core.sheets import Sheet, load_sheet
from sealpacket.core.sheets.reading import SheetText, plain_tree
from sealpacket.demo.cluster import Cluster
from sealpacket.store.migrate import alembic_config


@pytest.fixture
def database(tmp_path: Path) -> Iterator[Connection]:
    """An empty database of its own."""
    cluster = Cluster.at(tmp_path / "postgres", durable=False)
    cluster.start()
    engine = create_engine(cluster.owner_url)
    try:
        with engine.begin() as connection:
            yield connection
    finally:
        engine.dispose()
        cluster.remove()


def insert(database: Connection, table: str, **values: object) -> None:
    """One row, as an older version wrote it."""
    columns, marks = ", ".join(values), ", ".join(f":{name}" for name in values)
    database.execute(text(f"INSERT INTO {table} ({columns}) VALUES ({marks})"), values)  # noqa: S608


def insert_packet(
    database: Connection, ident: str, cases: list[dict[str, object]], told: dict[str, str]
) -> None:
    insert(
        database, "packet", id=ident, number=ident, version=1, created_at="2026-11-01", updated_at="2026-11-01",
        title="x", note="", need="fault", life="lodged", turn="vendor", noted_by="marit", answers="{}",
        placeholder_key_sealed=b"x", lodge_words="", desk_status="", bag_blob="b", cases=json.dumps(cases),
        told=json.dumps(told),
    )  # fmt: skip


def test_cases_in_a_list_become_rows_and_messages_find_theirs(database: Connection) -> None:
    command.upgrade(alembic_config(database), "0013")
    one = {
        "case": {"label": "", "body": 1},
        "reference": "TS-1",
        "status": "OPEN",
        "life": "answered",
        "turn": "ours",
    }
    north = {"case": {"label": "north"}, "reference": "HM-1", "status": "new", "life": "lodged"}
    west = {"case": {"label": "west"}, "reference": None, "status": "", "life": ""}
    insert_packet(database, "P-1", [one], {"RMA": "R-1"})
    insert_packet(database, "P-2", [north, west], {"Granted (north)": "160"})
    for ident, packet, desk_id, by in (
        ("a", "P-1", "m1", "Tarnfell"), ("b", "P-1", None, "marit"), ("c", "P-2", "north/m1", "Hollowmere (north)"),
        ("d", "P-2", None, "marit (west)"),
    ):  # fmt: skip
        direction = "in" if desk_id else "out"
        insert(database, "message", id=ident, packet_id=packet, desk_id=desk_id, direction=direction, text="x",
               asks=False, by=by, at="2026-11-02")  # fmt: skip
    command.upgrade(alembic_config(database), "head")
    cases = database.execute(
        text(
            "SELECT packet_id, place, label, written, sent, reference, desk_status, life, turn, desk_facts"
            " FROM packet_case ORDER BY 1, 2"
        )
    ).all()
    assert [tuple(case) for case in cases] == [
        (
            "P-1",
            0,
            "",
            {"label": "", "body": 1},
            True,
            "TS-1",
            "OPEN",
            "answered",
            "ours",
            {"RMA": "R-1"},
        ),
        (
            "P-2",
            0,
            "north",
            {"label": "north"},
            True,
            "HM-1",
            "new",
            "lodged",
            None,
            {"Granted": "160"},
        ),
        ("P-2", 1, "west", {"label": "west"}, False, None, "", None, None, {}),
    ]
    messages = database.execute(
        text(
            "SELECT m.id, c.packet_id, c.label, m.desk_id, m.by FROM message m"
            " JOIN packet_case c ON c.id = m.case_id ORDER BY 1"
        )
    ).all()
    assert [tuple(message) for message in messages] == [
        ("a", "P-1", "", "m1", "Tarnfell"), ("b", "P-1", "", None, "marit"),
        ("c", "P-2", "north", "m1", "Hollowmere"), ("d", "P-2", "west", None, "marit"),
    ]  # fmt: skip


def test_stored_sheets_are_converted(database: Connection) -> None:
    command.upgrade(alembic_config(database), "0016")
    old = (Path(__file__).parent.parent / "core/version_1.yaml").read_text("utf-8")
    insert(
        database,
        "vendor",
        id="v",
        version=1,
        created_at="2026-11-01",
        updated_at="2026-11-01",
        key="old",
        name="Old",
        sells_paid_help=False,
        notes="",
    )
    insert(database, "desk", id="d", key="old-desk", name="Old desk", vendor_id="v")
    body = json.dumps(plain_tree(SheetText(old).tree))
    insert(
        database,
        "desk_sheet",
        id="1",
        desk_id="d",
        number=1,
        body=body,
        text=old,
        created_at="2026-11-01",
    )
    insert(
        database,
        "desk_sheet",
        id="2",
        desk_id="d",
        number=2,
        body=body,
        text="",
        created_at="2026-11-01",
    )
    command.upgrade(alembic_config(database), "0017")
    rows = database.execute(text("SELECT body, text FROM desk_sheet ORDER BY number")).all()
    sheets = [Sheet.model_validate(stored) for stored, _ in rows]
    assert sheets[0] == sheets[1] == load_sheet(rows[0][1])
    assert sheets[0].sheet == 2
    assert rows[1][1] == ""
