"""Every part of every sheet that ships, misspelt, dropped, doubled or swapped: nothing changes what is sent in silence.

A mutation either is a stop, or what is sent stays the same, or the preview shows the difference. Each run tries another
part of them (SEALPACKET_SEED); `make fuzz` tries all.
"""

from __future__ import annotations

import copy
from collections.abc import Iterator
from typing import Any

import pytest

from sealpacket.core.sheets import (
    Fact,
    Facts,
    Sheet,
    answers_for,
    cases_of,
    has_stops,
    lint,
    load_sheet,
    sample_packet,
    sample_values,
    write_case,
)
from sealpacket.core.sheets.explained import explain
from sealpacket.core.sheets.lint.language import words_at
from sealpacket.core.sheets.reading import Place, SheetText, plain_tree
from sealpacket.core.sheets.sampling import sample_facts
from sealpacket.core.sheets.yaml_text import sheet_yaml
from sealpacket.demo.world import DESKS, OTHER_DESKS, sheet_text
from tests.some import some_of

Tree = dict[str, Any]
_SEEDS = 2


def kinds_of(sheet: Sheet) -> Iterator[dict[str, str]]:
    for kind in sheet.kinds:
        yield {"packet.need": kind.need, "ruling.route": kind.routes[0]}


def draft_of(sheet: Sheet, seed: int, known: dict[str, str]) -> tuple[dict[str, str], Facts]:
    """What was typed into a sample, and the facts that fill in the rest of it."""
    answers = [one for one in sample_packet(sheet, seed, known).answers if one.shown and one.value]
    facts = sample_facts(sheet, known) | {
        one.fact: Fact(value=one.value, source="a sample")
        for one in answers
        if one.fixed and one.fact
    }
    return {one.question: str(one.value) for one in answers if one.typed}, facts


class Original:
    """A sheet as it ships, the packets that were drafted with it, and what is sent of them."""

    def __init__(self, desk: str) -> None:
        self.tree: Tree = plain_tree(SheetText(sheet_text(desk)).tree)
        self.sheet = load_sheet(sheet_text(desk))
        self.drafts = [
            draft_of(self.sheet, seed, known)
            for known in kinds_of(self.sheet)
            for seed in range(_SEEDS)
        ]
        self.sent, self.shown = self.sent_by(self.sheet), shown_of(self.sheet)

    def sent_by(self, sheet: Sheet) -> Any:
        """All that leaves for these very packets, and how."""
        found: list[Any] = [sheet.send, sheet.attachments, sheet.redaction]
        for typed, facts in self.drafts:
            answers = answers_for(sheet, typed, facts)
            for case in cases_of(sheet, sample_values(sheet, answers, facts)):
                written = write_case(sheet, case)
                found.append((case.label, written.text, written.documents))
        return found


def shown_of(sheet: Sheet) -> Any:
    """What a preview shows, with one seed and another."""
    found: list[Any] = [explain(sheet)]
    for known in kinds_of(sheet):
        for seed in range(_SEEDS):
            sample = sample_packet(sheet, seed, known)
            found += [(a.question, a.value, a.source, a.because) for a in sample.answers if a.shown]
            for one in sample.cases:
                written = write_case(sheet, one)
                found.append((one.label, written.text, [*written.documents]))
    return found


def places(node: Any, place: Place = ()) -> Iterator[Place]:
    """Every name and item of a tree."""
    entries = (
        node.items()
        if isinstance(node, dict)
        else enumerate(node)
        if isinstance(node, list)
        else ()
    )
    for name, inner in entries:
        yield (*place, name)
        yield from places(inner, (*place, name))


def group_of(tree: Tree, place: Place) -> Any:
    for part in place[:-1]:
        tree = tree[part]  # type: ignore[index]
    return tree


def misspelt(name: str) -> str:
    """Two letters changed over, or one more."""
    return (
        f"{name[0]}{name[2]}{name[1]}{name[3:]}"
        if len(name) > 3 and name[1] != name[2]
        else f"{name}x"
    )


def mutated(tree: Tree, place: Place, how: str) -> Tree | None:
    """The tree with one part changed; None where that part cannot be changed so."""
    tree = copy.deepcopy(tree)
    group, name = group_of(tree, place), place[-1]
    if how == "dropped":
        del group[name]
        return tree
    if how == "misspelt" and isinstance(group, dict):
        kept = [(misspelt(str(k)) if k == name else k, v) for k, v in group.items()]
        group.clear()
        group.update(kept)
        return tree
    if how == "swapped" and not isinstance(group[name], dict | list):
        others = [
            v
            for k, v in (group.items() if isinstance(group, dict) else enumerate(group))
            if k != name
        ]
        others = [v for v in others if not isinstance(v, dict | list) and v != group[name]]
        value = group[name]
        group[name] = others[0] if others else not value if isinstance(value, bool) else f"{value}x"
        return tree
    return None


ORIGINALS: dict[str, Original] = {}


def original(desk: str) -> Original:
    if desk not in ORIGINALS:
        ORIGINALS[desk] = Original(desk)
    return ORIGINALS[desk]


@pytest.mark.parametrize("how", ["misspelt", "dropped", "swapped"])
@pytest.mark.parametrize("desk", [*DESKS, *OTHER_DESKS])
def test_nothing_changes_what_is_sent_in_silence(desk: str, how: str) -> None:
    first = original(desk)
    silent: list[Any] = []
    for place in some_of([*places(first.tree)], 50):
        tree = mutated(first.tree, place, how)
        if tree is None:
            continue
        sheet, found = lint(sheet_yaml(tree))
        if sheet is None or has_stops(found):
            assert all(one.sentence and one.line for one in found)
            continue
        if how == "misspelt":
            known = words_at(place[:-1], first.tree)
            assert str(place[-1]) not in known, (place, "a word of the language is misspelt")
        if first.sent_by(sheet) != first.sent and shown_of(sheet) == first.shown:
            silent.append(place)
    assert silent == []


@pytest.mark.parametrize("desk", [*DESKS, *OTHER_DESKS])
def test_a_name_that_is_written_twice_is_a_stop(desk: str) -> None:
    text = sheet_text(desk)
    read = SheetText(text)
    lines = text.splitlines(keepends=True)
    for place in some_of([one for one in read.places if len(one) < 4], 12):
        name, value = read.range_of(place, name=True), read.range_of(place)
        indent = " " * (name.column - 1)
        first = lines[name.line - 1]
        if first[: name.column - 1].strip(" -") or value.line != value.end_line:
            continue
        double = f"{indent}{first[name.column - 1 :]}"
        changed = "".join([*lines[: name.line], double, *lines[name.line :]])
        assert "doubled" in {one.code for one in lint(changed)[1]}, place


def test_every_sheet_is_the_same_when_it_is_written_anew() -> None:
    for desk in (*DESKS, *OTHER_DESKS):
        first = original(desk)
        assert load_sheet(sheet_yaml(first.tree)) == first.sheet
