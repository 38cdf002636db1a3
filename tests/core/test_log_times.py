"""Times in logs: each form of a corpus is recognised, and every line of it read to the second."""

from __future__ import annotations

import os
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

import pytest

from sealpacket.core.evidence.times import Reader, recognise
from tests.core.log_makers import NOT_IN, PLACES, WRITERS, make_log
from tests.some import in_batches

CORPUS = Path(__file__).parent / "time_formats" / "corpus.txt"


@dataclass
class Block:
    """One form: lines, and the time that each tells (None: none of its own)."""

    name: str
    near: datetime | None
    boot: datetime | None
    lines: list[str]
    told: list[datetime | None]


def blocks() -> list[Block]:
    found: list[Block] = []
    for row in CORPUS.read_text().splitlines():
        if row.startswith("== "):
            found.append(Block(row[3:], datetime(2026, 12, 1, tzinfo=UTC), None, [], []))
        elif row.startswith("near: "):
            found[-1].near = datetime.fromisoformat(row[6:]).replace(tzinfo=UTC)
        elif row.startswith("boot: "):
            found[-1].boot = datetime.fromisoformat(row[6:])
        elif " => " in row:
            line, _, said = row.rpartition(" => ")
            found[-1].lines.append(line)
            found[-1].told.append(None if said == "-" else datetime.fromisoformat(said))
    return found


@pytest.mark.parametrize("forms", in_batches(blocks()))
def test_every_line_of_a_form_is_read_to_the_second(forms: list[Block]) -> None:
    for block in forms:
        form = recognise(block.lines, block.near)
        assert form is not None, block.name
        reader = Reader(form, block.boot)
        assert [reader.moment(line) for line in block.lines] == block.told, block.name


@pytest.mark.parametrize("writer", sorted(WRITERS))
def test_made_up_logs_are_read_to_the_second(writer: str) -> None:
    seed = int(os.environ["SEALPACKET_SEED"])
    for place in sorted(PLACES):
        if (writer, place) in NOT_IN:
            continue
        made = make_log(writer, place, seed)
        form = recognise(made.lines, made.near)
        assert form is not None, made.lines[:3]
        reader = Reader(form)
        for line, told in zip(made.lines, made.told, strict=True):
            read = reader.moment(line)
            assert (read and read.replace(microsecond=0)) == told, (line, form)
