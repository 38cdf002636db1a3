"""Sample packets made from a sheet alone."""

from __future__ import annotations

import pytest

from sealpacket.core.sheets import answer_fault, known_for, load_sheet, sample_packet
from sealpacket.core.sheets.sampling import SAMPLE_PEOPLE, sample_facts
from sealpacket.demo.world import sheet_text

DESKS = ["tarnfell-support", "ovenbird-support"]


@pytest.mark.parametrize("desk", DESKS)
def test_every_sample_answers_all_that_is_required_and_in_its_form(desk: str) -> None:
    sheet = load_sheet(sheet_text(desk))
    for seed in range(150):
        sample = sample_packet(sheet, seed)
        known = known_for(sample.answers, sample_facts(sheet), SAMPLE_PEOPLE)
        for answer in sample.answers:
            question = sheet.question(answer.question)
            assert question is not None
            assert not (answer.shown and answer.required and answer.value is None), (seed, answer)
            if answer.value is not None:
                assert answer_fault(question, answer.value, known) is None, (seed, answer)


@pytest.mark.parametrize("desk", DESKS)
def test_samples_reach_every_choice_and_every_question(desk: str) -> None:
    sheet = load_sheet(sheet_text(desk))
    seen = {
        (a.question, a.value)
        for seed in range(300)
        for a in sample_packet(sheet, seed).answers
        if a.shown and a.value
    }
    for question in sheet.questions:
        for path, _ in question.leaves():
            assert (question.id, path) in seen
        assert question.id in {name for name, _ in seen}


def test_the_same_seed_is_the_same_packet_and_known_facts_are_taken() -> None:
    sheet = load_sheet(sheet_text("ovenbird-support"))
    assert sample_packet(sheet, 7) == sample_packet(sheet, 7)
    assert sample_packet(sheet, 7) != sample_packet(sheet, 8)
    assert (
        sample_packet(sheet, 7, {"asset.serial": "OBS4-551203"}).body["serial_no"] == "OBS4-551203"
    )


def test_what_is_hidden_is_not_written() -> None:
    sheet = load_sheet(sheet_text("ovenbird-support"))
    questions = [
        sample
        for seed in range(80)
        if (sample := sample_packet(sheet, seed)).body["kind"] == "how_to"
    ]
    assert questions
    assert all(
        "os_version" not in sample.body and "since" not in sample.body for sample in questions
    )
