"""A desk's questions are learnt: a draft answers them before they are asked, and its sheet can have them."""

from __future__ import annotations

from collections.abc import Iterator

import pytest

from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import PacketShown
from tests.conftest import ARRAY, GOOD_ANSWERS, Tarnfell, lodge

WAYS = (
    "Which multipath policy do the hosts have?",
    "Please send us the multipath policy of the hosts.",
    "What is the multipath policy of your hosts?",
)


@pytest.fixture(scope="module")
def asked_three_times(marit: SealPacket) -> list[str]:
    return []


@pytest.fixture
def draft(marit: SealPacket, tarnfell: Tarnfell, asked_three_times: list[str]) -> PacketShown:
    """A draft like three packets about which Tarnfell has asked the same."""
    while len(asked_three_times) < len(WAYS):
        number = marit.packets.note(
            "Volumes are slow", "It stops each night at two.", asset=ARRAY
        ).number
        marit.packets.answer(number, **GOOD_ANSWERS)
        reference = lodge(marit, number).reference
        tarnfell.steer(case=reference, ask=WAYS[len(asked_three_times)])
        marit.packets.follow(number)
        marit.packets.reply(number, "Round robin.")
        asked_three_times.append(number)
    number = marit.packets.note("Volumes are slow again", "Since this morning.", asset=ARRAY).number
    return marit.packets.answer(number, **GOOD_ANSWERS)


def test_what_was_asked_before_is_offered(draft: PacketShown) -> None:
    (one,) = draft.foreseen
    assert one.text in WAYS
    assert one.because == "It was asked in 3 of 3 packets of this product and category."
    assert one.cost_hours is not None


def test_an_answer_goes_into_the_note_and_out(marit: SealPacket, draft: PacketShown) -> None:
    (one,) = draft.foreseen
    answered = marit.packets.answer_foreseen(draft.number, one.id, "Round robin, on 10.40.3.3.")
    assert answered.note == f"Since this morning.\n\n{one.text} Round robin, on 10.40.3.3."
    assert answered.foreseen == []
    letter = marit.packets.letter(draft.number)
    symptom = next(text for text in letter.texts if "Round robin" in text.outgoing)
    assert "10.40.3.3" not in symptom.outgoing
    with pytest.raises(Refused, match="not offered"):
        marit.packets.answer_foreseen(draft.number, one.id, "Again.")


def test_what_was_typed_in_the_place_of_the_note_gets_it(
    marit: SealPacket, draft: PacketShown
) -> None:
    marit.packets.answer(draft.number, symptom="All volumes of the array answer slowly.")
    shown = marit.packets.answer_foreseen(draft.number, draft.foreseen[0].id, "Round robin.")
    symptom = next(one for one in shown.questions if one.id == "symptom")
    assert symptom.answer.value is not None
    assert symptom.answer.value.endswith("Round robin.")
    assert shown.note == "Since this morning."


def test_one_that_does_not_matter_is_dismissed(marit: SealPacket, draft: PacketShown) -> None:
    assert marit.packets.answer_foreseen(draft.number, draft.foreseen[0].id).foreseen == []
    assert marit.packets.get(draft.number).foreseen == []


def test_what_the_note_says_is_not_asked(marit: SealPacket, draft: PacketShown) -> None:
    told = marit.packets.change(
        draft.number, note="The hosts have the multipath policy round robin."
    )
    assert told.foreseen == []


@pytest.fixture
def sheet(marit: SealPacket) -> Iterator[str]:
    """The sheet of Tarnfell's desk, which is as before afterwards."""
    before = marit.desk("tarnfell-support").yaml
    yield before
    marit.put_sheet(before)


def test_a_keeper_puts_it_into_the_sheet(
    marit: SealPacket, teo: SealPacket, draft: PacketShown, sheet: str
) -> None:
    before = marit.desk("tarnfell-support")
    with pytest.raises(Refused):
        teo.ask_first("tarnfell-support", WAYS[0])
    ask = "Which cable leads to the shelf?"
    after = marit.ask_first("tarnfell-support", ask, ["fault"])
    assert after.version == before.version + 1
    shown = marit.desk("tarnfell-support")
    assert shown.yaml.startswith(sheet.rstrip()), "nothing else is changed"
    with pytest.raises(Refused, match="has this question already"):
        marit.ask_first("tarnfell-support", "To the shelf leads which cable?")
    second = marit.ask_first("tarnfell-support", "Which lamp is amber?")
    assert second.version == after.version + 1
    fresh = marit.packets.note("A shelf is lost", "Since this morning.", asset=ARRAY)
    offered = {one.text: one for one in fresh.foreseen}
    assert offered[ask].asked_in is None
    assert offered[ask].because == "Its sheet says so."
    question = marit.packets.note("How is it done?", "A question.", asset=ARRAY, need="question")
    assert ask not in [one.text for one in question.foreseen]
    assert "Which lamp is amber?" in [one.text for one in question.foreseen]
    with pytest.raises(Refused, match="no desk nobody"):
        marit.ask_first("nobody", ask)
