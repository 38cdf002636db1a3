"""Evidence against what is wanted: of 300 made-up exhibits, none of the faults is missed and hardly one is blamed wrongly."""

from __future__ import annotations

from collections import Counter
from datetime import UTC, timedelta
from pathlib import Path
from random import Random

import pytest

from sealpacket.core.evidence.completeness import Expected, faults_of, last_restart
from sealpacket.core.evidence.inspection import Look, look_at
from tests.core.exhibit_makers import BEGAN, FAULTS, OWN, RESTART, make, owners
from tests.some import SEED

CODES = {
    "blank": "empty", "header": "empty", "refused": "empty", "hours": "wrong-hours", "machine": "wrong-machine",
    "restart": "before-restart", "truncated": "truncated", "marked": "truncated", "sent": "sent-before",
}  # fmt: skip
WANTED = Expected(
    now=BEGAN + timedelta(days=1), zone=UTC, began=BEGAN, before=timedelta(hours=24), after=timedelta(hours=1),
    asset=f"asset-{OWN}", asset_name="LK40-7731-0907",
)  # fmt: skip


@pytest.mark.parametrize(
    ("lines", "unsure"),
    [
        (["04/07/13-07:08:36 dropped", "04/07/13-07:08:37 dropped"], True),
        (["04/07/2026 07:08:36 up", "04/07/2026 07:08:37 down"], True),
        (["23/07/2026 07:08:36 up", "23/07/2026 07:08:37 down"], False),
        (["2026-04-07 07:08:36 up", "2026-04-07 07:08:37 down"], False),
    ],
)
def test_days_that_cannot_be_decided_are_asked_about(
    tmp_path: Path, lines: list[str], unsure: bool
) -> None:
    path = tmp_path / "gate.log"
    path.write_text("\n".join(lines * 12) + "\n")
    look, _ = look_at(path, owners)
    found = [one for one in faults_of("gate.log", look, WANTED) if one.code == "unsure-days"]
    assert [
        one.sentence.startswith("gate.log may have day and month swapped") for one in found
    ] == [True] * unsure


def test_no_fault_is_missed_and_hardly_one_blamed_wrongly(tmp_path: Path) -> None:
    r = Random(f"exhibits {SEED}")
    missed, wrong = [], []
    for number in range(30):
        for fault in FAULTS:
            name, content = make(fault, r)
            path = tmp_path / f"{number}-{fault}-{name}"
            path.write_bytes(content)
            look, _ = look_at(path, owners, near=BEGAN)
            wanted = Expected(
                **{
                    **vars(WANTED),
                    "sent": "P-0002" if fault == "sent" else "",
                    "restarted": RESTART if fault == "restart" else None,
                }
            )
            codes = {one.code for one in faults_of(name, look, wanted)}
            expected = CODES.get(fault)
            if expected and expected not in codes:
                missed.append((path.name, codes, content[-200:]))
            if codes - {expected}:
                wrong.append((path.name, codes, content[-200:]))
    assert not missed
    assert len(wrong) <= 3, wrong


@pytest.mark.parametrize(
    ("name", "content", "kind", "fault"),
    [
        ("a.png", b"\x89PNG\r\n\x1a\n" + b"x" * 90, "picture", "truncated"),
        ("a.pdf", b"%PDF-1.7\n" + b"x" * 90, "document", "truncated"),
        ("a.zip", b"PK\x03\x04" + b"x" * 90, "archive", "truncated"),
        ("a.xml", b"<?xml version='1.0'?><a><b>1</b>", "text", "truncated"),
        ("a.cfg", b"serial = LK40-7731-0907\nhost = a\n", "text", ""),
        ("a.json", b'{"volumes": [1, 2, 3]}', "text", ""),
        ("a.bin", bytes(range(256)) * 9, "other", ""),
    ],
)
def test_files_that_are_no_logs_are_looked_at(
    tmp_path: Path, name: str, content: bytes, kind: str, fault: str
) -> None:
    path = tmp_path / name
    path.write_bytes(content)
    look, summary = look_at(path, owners)
    assert (look.kind, summary) == (kind, None)
    assert bool(look.truncated) == (fault == "truncated")
    assert not look.empty


def test_hours_that_are_only_partly_there_are_said() -> None:
    look = Look(kind="log", first=BEGAN - timedelta(hours=2), last=BEGAN + timedelta(hours=2))
    fault = next(faults_of("a.log", look, WANTED))
    assert fault.code == "other-hours"
    assert fault.sentence == (
        "a.log covers 23 Nov 07:00 to 11:00; wanted is 22 Nov 09:00 to 23 Nov 10:00."
    )
    soon = Expected(**{**vars(WANTED), "now": BEGAN + timedelta(minutes=5), "before": timedelta()})
    late = Look(kind="log", first=BEGAN - timedelta(hours=2), last=BEGAN + timedelta(minutes=4))
    assert not list(faults_of("a.log", late, soon))


def test_a_restart_counts_only_from_evidence_of_the_same_machine() -> None:
    own = Look(
        kind="log", restarts=[RESTART], machines=[{"asset": "a", "name": "a", "itself": True}]
    )
    other = own.model_copy(update={"machines": [], "restarts": []})
    assert last_restart([own, other], "a") == RESTART
    assert last_restart([own], "b") is None


def test_each_machine_is_named_once_and_its_writer_first(tmp_path: Path) -> None:
    path = tmp_path / "a.log"
    lines = [
        f"2026-11-23T09:{n:02d}:00Z br07-kiosk1 session from br0{n % 9}-kiosk1" for n in range(60)
    ]
    path.write_text("\n".join(lines))
    look, _ = look_at(path, owners)
    assert Counter(one.itself for one in look.machines) == {True: 1, False: 8}
    assert look.machines[0].asset == "asset-7"
