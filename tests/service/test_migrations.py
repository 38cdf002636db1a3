"""What a house of the first release kept is there after an upgrade to this one."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from alembic import command
from sqlalchemy import Connection, create_engine, func, inspect, select, text
from sqlalchemy.orm import Session

from sealpacket.core.coverage import Ruling
from sealpacket.core.sheets import Case, Sheet
from sealpacket.demo.cluster import Cluster
from sealpacket.store.migrate import alembic_config
from sealpacket.store.models import Base, CustodyEntry, Packet

RENAMED = {"vault_secret": "safe_secret"}
PARTS = ("packet_delivery", "packet_following", "packet_legend", "packet_line")
"""Tables with a row of each packet, once columns of it."""
ROWS = Path(__file__).with_name("first_release.sql").read_text("utf-8")


@pytest.fixture
def database(tmp_path: Path) -> Iterator[Connection]:
    """A database of the first release, with rows of it."""
    cluster = Cluster.at(tmp_path / "postgres", durable=False)
    cluster.start()
    engine = create_engine(cluster.owner_url)
    try:
        with engine.begin() as connection:
            command.upgrade(alembic_config(connection), "0001")
            connection.exec_driver_sql(ROWS.replace("%", "%%"))
            yield connection
    finally:
        engine.dispose()
        cluster.remove()


def counts(database: Connection) -> dict[str, int]:
    """How many rows each table has, of those that have any."""
    found = {
        RENAMED.get(name, name): database.scalar(
            select(func.count()).select_from(text(f'"{name}"'))
        )
        for name in inspect(database).get_table_names()
        if RENAMED.get(name, name) in Base.metadata.tables
    }
    return {name: count for name, count in found.items() if count}


def test_the_first_release_is_upgraded_with_its_rows(database: Connection) -> None:
    before = counts(database)
    assert len(before) == 20
    command.upgrade(alembic_config(database), "head")
    before |= dict.fromkeys(PARTS, before["packet"])
    assert counts(database) == before
    command.check(alembic_config(database))

    session = Session(database)
    for mapper in Base.registry.mappers:
        assert len(session.scalars(select(mapper.class_)).all()) == before.get(
            mapper.class_.__tablename__, 0
        )
    packet = session.scalars(select(Packet)).one()
    assert (packet.number, packet.life, packet.turn) == ("P-0001", "lodged", "ours")
    assert (packet.delivery.state, packet.delivery.tried) == ("done", 1)
    assert packet.following.state is None and packet.following.followed_at
    assert packet.legend.placeholder_key_sealed and packet.legend.key_sealed
    assert packet.asset and packet.asset.serial == "TN9-44120-A"
    assert packet.login and packet.login.person and packet.login.person.key == "marit"
    assert packet.sheet and Sheet.model_validate(packet.sheet.body).desk == "tarnfell-support"
    assert Ruling.model_validate(packet.ruling).contract == "T-2210"
    assert [Case.model_validate(case.written).label for case in packet.cases] == [""]
    assert packet.reference == packet.cases[0].reference
    assert [exhibit.name for exhibit in packet.exhibits] == ["array.cfg"]
    (question,) = packet.messages[0].open_questions
    assert question.text == "Which firmware do both controllers run?"
    entries = session.scalars(select(CustodyEntry).order_by(CustodyEntry.seq)).all()
    assert [two.previous for two in entries[1:]] == [one.hash for one in entries[:-1]]
