"""Replies that are made up for a sheet say what they should when the sheet reads them."""

from __future__ import annotations

import pytest

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets import load_sheet, read_all, read_reply
from sealpacket.core.sheets.replying import Said, Saying, reply_for, status_for
from sealpacket.demo.world import DESKS, OTHER_DESKS, sheet_text


@pytest.mark.parametrize("desk", [*DESKS, *OTHER_DESKS])
def test_every_sheet_reads_what_is_said_to_it(desk: str) -> None:
    sheet = load_sheet(sheet_text(desk))
    for word, meaning in sheet.replies.statuses.items():
        if meaning.life == "refused":
            continue
        said = Said(
            id="m-1",
            text="Which firmware?" if meaning.turn == "ours" else "It is done.",
            at="2026-11-23T09:00:00+00:00",
            asks=meaning.turn == "ours",
        )
        number = "P-0012" if sheet.replies.our_number else ""
        saying = Saying(reference="REF-1", our_number=number, status=word, messages=(said,))
        found = read_all(sheet, read_reply(sheet, reply_for(sheet, saying)))
        assert (found.reference, found.our_number, found.not_understood) == ("REF-1", number, ())
        assert (found.news.life, found.news.turn) == (meaning.life, meaning.turn)
        assert [(one.text, one.asks) for one in found.news.messages] == [(said.text, said.asks)]


@pytest.mark.parametrize("desk", [*DESKS, *OTHER_DESKS])
def test_every_refusal_finds_its_remedy(desk: str) -> None:
    sheet = load_sheet(sheet_text(desk))
    assert sheet.replies.refusals is not None
    for code, remedy in sheet.replies.refusals.remedies.items():
        saying = Saying(
            status=status_for(sheet, "refused"), refused_as=code, refused_words="It is wrong."
        )
        found = read_all(sheet, read_reply(sheet, reply_for(sheet, saying)))
        assert [(one.code, one.text, one.cure, one.known) for one in found.refusals] == [
            (code, "It is wrong.", remedy.remedy, True)
        ]


def test_what_is_not_understood_is_told() -> None:
    sheet = load_sheet(sheet_text("tarnfell-support"))
    strange = reply_for(sheet, Saying(reference="R", status="PONDERING"))
    assert read_all(sheet, read_reply(sheet, strange)).not_understood == (
        "The status “PONDERING” is not listed: it is shown, and waits for us.",
    )
    assert read_all(sheet, read_reply(sheet, b"{}")).not_understood == (
        "Nothing that the sheet looks for is in it.",
    )
    assert read_all(sheet, read_reply(sheet, b"<html>")).not_understood == (
        "It cannot be read as JSON.",
    )
    odd = reply_for(sheet, Saying(refused_as="odd", refused_words="x"))
    assert "“odd” has no remedy" in read_all(sheet, read_reply(sheet, odd)).not_understood[0]


def test_a_path_that_is_too_odd_is_told() -> None:
    sheet = load_sheet(sheet_text("tarnfell-support").replace("$.case.reference", "$..reference"))
    with pytest.raises(Invalid, match="No reply can be made up"):
        reply_for(sheet, Saying(reference="R"))
