"""Many packets from one table: previewed, noted by the worker, corrected where they failed, lodged together."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest

from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import BatchShown
from tests.conftest import Standin

VENDOR = "hollowmere"
ACCOUNT = "HM-204471"
KIOSKS = [f"LK40-7731-{number:04d}" for number in range(926, 931)]


def rows(*assets: str) -> list[dict[str, object]]:
    return [
        {"asset": one, "note": "It is recalled by its maker.", "need": "question"} for one in assets
    ]


def noted(marit: SealPacket, title: str, *assets: str) -> BatchShown:
    return marit.batches.wait(marit.batches.note_batch(title, rows(*assets)).id)


def test_each_row_becomes_a_packet_and_a_failed_one_is_corrected(marit: SealPacket) -> None:
    batch = noted(marit, "Recall of the kiosks", *KIOSKS[:2], "LK40-0000", KIOSKS[2])
    assert (batch.noted, batch.failed, [row.state for row in batch.rows]) == (
        3, 1, ["noted", "noted", "failed", "noted"],
    )  # fmt: skip
    failed = batch.rows[2]
    assert "There is no asset LK40-0000" in failed.problem
    packet = marit.packets.get(batch.rows[0].packet)
    assert (packet.title, packet.asset and packet.asset.serial, packet.owner) == (
        "Recall of the kiosks", KIOSKS[0], "marit",
    )  # fmt: skip
    assert batch.rows[0].stops == len([one for one in packet.checks if one.level == "stop"])
    corrected = failed.row.model_copy(update={"asset": KIOSKS[3]}).model_dump(mode="json")
    marit.batches.retry_batch(batch.id, {3: corrected})
    again = marit.batches.wait(batch.id)
    assert (again.noted, again.failed, again.rows[2].row.asset) == (4, 0, KIOSKS[3])
    assert [row.packet for row in again.rows[:2]] == [row.packet for row in batch.rows[:2]]
    with pytest.raises(Refused, match="No row of it has failed"):
        marit.batches.retry_batch(batch.id)
    assert batch.id in [one.id for one in marit.batches.batches()]
    assert sum(entry.action == "packet noted" for entry in marit.custody(subject=f"packet {packet.number}")) == 1  # fmt: skip


def test_a_preview_says_what_would_become_of_each_and_notes_nothing(marit: SealPacket) -> None:
    before = len(list(marit.packets.list()))
    found = marit.batches.preview_batch(
        [
            *rows(KIOSKS[4], KIOSKS[4], "nothing-here"),
            {"asset": ACCOUNT, "need": "change", "answers": {"colour": "red"}},
        ]
    )
    assert [bool(one.problem) for one in found] == [False, False, True, True]
    assert (found[0].desk, found[0].hint) == ("Lumenlathe care", "2 rows are about it.")
    assert "does not ask colour" in found[3].problem
    assert len(list(marit.packets.list())) == before


def test_answers_that_the_desk_does_not_take_fail_their_row_alone(marit: SealPacket) -> None:
    body = [
        {"asset": ACCOUNT, "need": "change", "answers": {"level": "care"}},
        {"asset": ACCOUNT, "need": "change", "answers": {"level": "golden"}},
    ]
    batch = marit.batches.wait(marit.batches.note_batch("Another level", body).id)
    assert [row.state for row in batch.rows] == ["noted", "failed"]
    packet = marit.packets.get(batch.rows[0].packet)
    assert {one.id: one.answer.value for one in packet.questions}["level"] == "care"


def test_all_of_a_batch_are_sealed_and_lodged_together(
    marit: SealPacket, teo: SealPacket, desk: Standin
) -> None:
    answers = {"topic": "tax", "text": "Which tax is on the invoices of this account since May?"}
    body = [{"asset": ACCOUNT, "need": "question", "answers": answers} for _ in range(3)]
    batch = marit.batches.wait(marit.batches.note_batch("Tax on the invoices", body).id)
    numbers = [row.packet for row in batch.rows]
    with pytest.raises(Refused, match="needs the role releaser"):
        teo.packets.act_together("seal", numbers)
    assert [one.problem for one in marit.packets.act_together("seal", numbers)] == [""] * 3
    assert [one.problem for one in marit.packets.act_together("lodge", numbers)] == [""] * 3
    for number in numbers:
        marit.packets.wait(number)
    assert {row.life for row in marit.batches.batch(batch.id).rows} == {"lodged"}


def test_a_batch_has_rows_and_not_too_many(marit: SealPacket) -> None:
    with pytest.raises(Refused, match="1 to 1000 rows"):
        marit.batches.note_batch("Nothing", [])


def test_a_file_is_previewed_noted_and_tried_again(
    marit: SealPacket, cli: Callable[..., str], tmp_path: Path
) -> None:
    file = tmp_path / "recall.csv"
    file.write_text("asset,note\n" + "\n".join(f"{one},recalled" for one in (KIOSKS[0], "LK-0")))
    preview = cli(
        "batch", "note", str(file), "--title", "Recall", "--need", "question", "--preview"
    )
    assert "There is no asset LK-0" in " ".join(preview.split())
    said = cli("batch", "note", str(file), "--title", "Recall by file", "--need", "question")
    assert "1 packet noted, 1 failed" in said
    batch = next(one for one in marit.batches.batches() if one.title == "Recall by file")
    assert "Recall by file" in cli("batch", "list")
    said = cli("batch", "retry", batch.id, "--asset", f"2={KIOSKS[1]}")
    assert "2 packets noted, 0 failed" in said
    assert KIOSKS[1] in cli("batch", "show", batch.id)
