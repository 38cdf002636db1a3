"""What is kept from one look to the next: never older than what it was made from."""

from __future__ import annotations

import random
from collections.abc import Callable
from pathlib import Path

import pytest
from sqlalchemy import func, select, text

from sealpacket.app.context import AppContext
from sealpacket.client import SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.store.models import Asset, Base, Person, RegisterChange
from sealpacket.store.models import register as register_models
from sealpacket.store.register_cache import (
    KEPT,
    REGISTER_TABLES,
    forget_old_changes,
    of_register,
    revision_of,
)
from tests.conftest import ARRAY, OTHER_ARRAY, add, stops
from tests.some import SEED


def test_every_table_of_the_register_notes_its_changes(inside: AppContext) -> None:
    of_the_register = {
        table.name
        for table in Base.metadata.tables.values()
        if table.name in vars(register_models)
        or any(
            getattr(one, "__tablename__", "") == table.name
            for one in vars(register_models).values()
        )
    }
    assert of_the_register <= REGISTER_TABLES
    with inside.database.transaction() as session:
        found = session.scalars(
            text("SELECT tgrelid::regclass::text FROM pg_trigger WHERE tgname = 'note_change'")
        )
        assert set(found) == REGISTER_TABLES


def test_a_session_that_has_written_reads_afresh(inside: AppContext) -> None:
    def names() -> list[str]:
        return of_register(session, ("names of people",), lambda: list(session.scalars(query)))

    query = select(Person.name).order_by(Person.key)
    with inside.database.transaction() as session:
        before = names()
    with inside.database.transaction() as session:
        session.execute(Person.__table__.update().values(name=Person.name + " x"))
        assert names() == [f"{one} x" for one in before]
        assert revision_of(session) is None
        session.rollback()
    with inside.database.transaction() as session:
        assert names() == before, "what was undone was never kept"
        ines = session.scalars(select(Person).where(Person.key == "ines")).one()
        ines.phone = ines.phone
        session.flush()
        assert names() == before


def test_a_change_of_one_is_seen_by_the_next(inside: AppContext) -> None:
    query = select(func.count()).select_from(Asset).where(Asset.notes == "changed")

    def count() -> int:
        with inside.database.transaction() as session:
            return of_register(session, ("changed",), lambda: session.scalar(query) or 0)

    assert count() == 0
    with inside.database.transaction() as session:
        session.scalars(select(Asset).limit(1)).one().notes = "changed"
    assert count() == 1
    with inside.database.transaction() as session:
        session.execute(text("UPDATE asset SET notes = '' WHERE notes = 'changed'"))
    assert count() == 0, "the database notes what SQLAlchemy does not see"


def test_a_transaction_is_noted_once(inside: AppContext) -> None:
    def noted() -> int:
        with inside.database.transaction() as session:
            return session.scalar(select(func.max(RegisterChange.id))) or 0

    before = noted()
    with inside.database.transaction() as session:
        for _ in range(3):
            session.execute(text("UPDATE person SET name = name WHERE key = 'ines'"))
        with session.begin_nested():
            session.execute(text("UPDATE site SET name = name"))
    assert noted() == before + 1
    with inside.database.transaction() as session:
        nested = session.begin_nested()
        session.execute(text("UPDATE site SET name = name"))
        nested.rollback()
        session.execute(text("UPDATE person SET name = name WHERE key = 'ines'"))
    assert noted() > before + 1, "what was undone has not been noted for good"


def test_noted_changes_do_not_pile_up(inside: AppContext) -> None:
    for _ in range(3):
        with inside.database.transaction() as session:
            session.execute(text("UPDATE person SET name = name WHERE key = 'ines'"))
    with inside.database.transaction() as session:
        session.add_all(RegisterChange(id=-1 - one) for one in range(KEPT + 5))
    with inside.database.transaction() as session:
        assert forget_old_changes(session) >= 5
    with inside.database.transaction() as session:
        assert session.scalar(select(func.count()).select_from(RegisterChange)) == KEPT
        assert forget_old_changes(session) == 0


@pytest.mark.parametrize("turn", range(3))
def test_today_counts_the_stops_that_a_packet_has(
    marit: SealPacket, noted: PacketShown, tmp_path: Path, turn: int
) -> None:
    """After each of many acts, of drafts, exhibits, decisions and the register."""
    chance = random.Random(f"{SEED} kept {turn}")
    number = noted.number

    def rename(asset: str, **fields: object) -> None:
        marit.assets.change(asset, marit.assets.get(asset).version, **fields)

    def contract(starts_on: str) -> None:
        found = marit.contracts.get("T-2210")
        marit.contracts.change("T-2210", found.version, starts_on=starts_on)

    begins = str(marit.contracts.get("T-2210").starts_on)
    acts: list[Callable[[], object]] = [
        lambda: marit.packets.answer(number, category="volume/latency", severity="2"),
        lambda: marit.packets.answer(number, category=None, severity=None),
        lambda: marit.packets.answer(number, impact="Searches take half a minute.", tried="Nothing yet."),
        lambda: marit.packets.answer(number, began_at="2026-11-20T07:40+00:00"),
        lambda: add(marit, number, tmp_path / f"{chance.random()}.log", b"2026-11-20 07:40:00 slow\n"),
        lambda: marit.packets.change(number, title=f"Slow, {chance.random():.3f}"),
        lambda: marit.packets.change(number, asset=chance.choice((ARRAY, OTHER_ARRAY))),
        lambda: marit.packets.tried(number, "Restarted it", "no change"),
        lambda: rename(ARRAY, software_version=f"7.4.{chance.randrange(9)}"),
        lambda: contract(chance.choice((begins, "2026-12-24"))),
    ]  # fmt: skip
    for _ in range(12):
        chance.choice(acts)()
        shown = marit.packets.wait(number)
        today = {one.number: one.stops for one in marit.today().ours}
        assert today[number] == len(stops(shown))
        assert {one.number: one.stops for one in marit.today().ours} == today
    contract(begins)
