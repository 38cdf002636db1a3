"""The demo: its world, its evidence, the example, and the worker's round of open cases."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from pathlib import Path

import pytest

from sealpacket.app.context import AppContext
from sealpacket.client import ClientError, SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.demo import evidence, example, morning, stories, world
from sealpacket.demo.house import RunningHouse
from sealpacket.services.packets.follow import cases
from sealpacket.services.packets.lodge import health
from tests.conftest import Tarnfell, until

TODAY = date(2026, 11, 23)


@pytest.mark.parametrize(
    ("text", "expected"),
    [("+38d", "2026-12-31"), ("-12d", "2026-11-11"), ("-4y", "2022-11-23"), ("-4y+9d", "2022-12-02"),
     ("2026-01-01", "2026-01-01"), ("Mo–Fr", "Mo–Fr")],
)  # fmt: skip
def test_days_are_counted_from_the_day_of_loading(text: str, expected: str) -> None:
    assert world.day(text, TODAY) == expected


def test_the_world_is_invented_throughout() -> None:
    text = str(world.world())
    for person in world.world()["people"]:
        assert person["mail"].endswith("@quillmere.example")
        assert person["phone"].startswith("+44 1632 960")
    for line in text.split():
        if "@" in line:
            assert "quillmere.example" in line


def test_the_evidence_is_the_same_every_time_but_for_its_hour(tmp_path: Path) -> None:
    until = datetime(2026, 11, 23, 9, tzinfo=UTC)
    logs = [
        evidence.write_controller_log(tmp_path / name, size=300_000, until=until).read_bytes()
        for name in "ab"
    ]
    assert logs[0] == logs[1]
    assert 300_000 <= len(logs[0]) < 310_000
    assert logs[0].splitlines()[-1].startswith((b"2026-11-23T08:59", b"2026-11-23T08:12"))
    assert b"E-3312 write latency" in logs[0]


def test_the_example_plays_to_its_end(
    house: RunningHouse,
    devices: RunningHouse,
    tarnfell: Tarnfell,
    tmp_path: Path,
    capsys: pytest.CaptureFixture[str],
) -> None:
    tarnfell.steer(ask_after=1)
    assert example.play(house, tmp_path, log_size=600_000) == 0
    said = capsys.readouterr().out
    assert "Tarnfell calls it TS-" in said
    assert "5 typed, 8 taken from the register" in said
    assert list(tmp_path.glob("P-*.zip"))


def test_the_example_fails_where_a_step_fails(
    house: RunningHouse, tmp_path: Path, capsys: pytest.CaptureFixture[str],
    monkeypatch: pytest.MonkeyPatch,
) -> None:  # fmt: skip
    def fails(*_: object) -> None:
        raise stories.StepFailed("the year cannot be played")

    monkeypatch.setattr(example.year, "fill", fails)
    assert example.play(house, tmp_path) == 1
    said = capsys.readouterr()
    assert "failed: the year cannot be played" in said.err
    assert "Find the array" not in said.out, "it ends there"


def test_the_worker_looks_at_every_open_case(
    inside: AppContext, marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    tarnfell.steer(case=lodged.reference, ask="Which firmware do both controllers run?")
    cases.follow_all(inside)
    packet = marit.packets.get(lodged.number)
    assert (packet.turn, packet.messages[0].text) == (
        "ours",
        "Which firmware do both controllers run?",
    )


def test_one_desk_that_is_away_stops_nothing(
    inside: AppContext, marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    before = marit.packets.get(lodged.number)
    tarnfell.steer(down=True)
    cases.follow_all(inside)
    after = marit.packets.get(lodged.number)
    assert (after.life, after.turn, after.messages) == (before.life, before.turn, before.messages)
    assert after.followed_at
    tarnfell.steer(down=False, case=lodged.reference, state="CLOSED")
    # Other tests' packets at the same desk may have closed it: a person wants it tried now.
    with inside.database.transaction() as session:
        health.open_for_one(session, "tarnfell")

    def is_settled() -> bool:
        cases.follow_all(inside)
        return marit.packets.get(lodged.number).life == "settled"

    assert until(is_settled)


def test_uploads_announced_long_ago_are_forgotten(
    inside: AppContext, marit: SealPacket, noted: PacketShown
) -> None:
    from sqlalchemy import text

    from sealpacket.services.packets import exhibits

    marit._wire.send(
        "POST", f"/packets/{noted.number}/exhibits", json={"name": "never.log", "size": 5}
    )
    assert exhibits.forget_broken_uploads(inside) == 0
    with inside.database.transaction() as session:
        session.execute(
            text(
                "UPDATE exhibit SET created_at = now() - interval '7 hours' WHERE name = 'never.log'"
            )
        )
    assert exhibits.forget_broken_uploads(inside) == 1
    assert marit.packets.get(noted.number).exhibits == []


def test_a_morning_leaves_work_at_every_desk_and_in_every_state(
    house: RunningHouse, marit: SealPacket
) -> None:
    statement = marit.statements.list(limit=200).items[-1]
    numbers = morning.play(house, log_size=300_000)
    about = {marit.packets.get(number).number: marit.packets.get(number) for name, number in numbers.items()
             if name != "import"}  # fmt: skip
    assert {packet.desk for packet in about.values()} == {*world.DESKS, "thornbeck-service"}
    lives = {"drafting", "sealed", "lodged", "answered", "settled", "refused", "withdrawn"}
    assert {packet.life for packet in about.values()} == lives
    assert any(exhibit.state == "held" for packet in about.values() for exhibit in packet.exhibits)
    asks = about[numbers["asks back"]]
    assert (asks.turn, asks.messages[-1].asks) == ("ours", True)
    assert 0 < marit.statements.get(statement.id).undecided < statement.undecided
    assert any(document.state == "read" for document in marit.order_documents.list().items)
    assert numbers["refused"] in morning.where_to_look(numbers)


def test_no_answer_is_a_moment_to_come() -> None:
    early = datetime(2026, 11, 23, 6, 0, tzinfo=UTC)
    assert stories.answer("today 07:40", early) == "2026-11-22T07:40+00:00"
    assert stories.answer("today 07:40", early.replace(hour=9)) == "2026-11-23T07:40+00:00"
    assert stories.answer("+7d", early) == "2026-11-30"
    assert stories.answer("-none", early) == "-none"


def test_a_slow_start_is_waited_for_with_a_word(
    house: RunningHouse, monkeypatch: pytest.MonkeyPatch
) -> None:
    told: list[str] = []
    slow = RunningHouse(house.folder, tell=told.append)
    slow.port = house.port
    tries = iter([False, False, True])

    def health(_: SealPacket) -> None:
        if not next(tries):
            raise ClientError("It does not answer.", "Wait.")

    monkeypatch.setattr(SealPacket, "health", health)
    monkeypatch.setattr("sealpacket.demo.house.TOLD_EVERY", 0)
    slow._wait()
    assert len(told) == 2
    assert "still starting" in told[0]


def test_a_clock_that_was_set_back_stops_no_desk(
    inside: AppContext, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Nor does a year that is played after today's calls."""
    slept: list[float] = []
    monkeypatch.setattr(health.time, "sleep", slept.append)
    with inside.database.transaction() as session:
        kept = health._locked(session, "ovenbird-support")
        kept.free_at = datetime.now(UTC) + timedelta(days=300)
    health._wait_for_minute(inside, "ovenbird-support", 0.1)
    assert 0 < slept[0] <= 600
    with inside.database.transaction() as session:
        health._locked(session, "ovenbird-support").free_at = None
