"""Linting what a sheet asks: questions, choices, conditions, kinds, severity and evidence."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

import re2

from sealpacket.core.sheets.answers import answer_fault
from sealpacket.core.sheets.asking import Choice, Question
from sealpacket.core.sheets.facts import FACTS
from sealpacket.core.sheets.forms import FORMS, Known
from sealpacket.core.sheets.forms.places import language_exists
from sealpacket.core.sheets.lint.conditions import known_value, lint_condition, no_choice, no_fact
from sealpacket.core.sheets.lint.findings import Fault, hint, is_it, nearest, stop, warn
from sealpacket.core.sheets.lint.reachable import Scope, values_of
from sealpacket.core.sheets.model import Computed, KeptQuestion, Severity, Sheet
from sealpacket.core.sheets.reading import Place

TYPES_OF_FORMS: dict[str, tuple[str, ...]] = {
    "number": ("number", "whole", "text"),
    "consent": ("boolean", "text"),
    "date": ("date", "text"),
    "moment": ("date", "time", "datetime", "text"),
    "choice": ("label", "text", "number", "whole", "boolean"),
    "tree": ("label", "text", "list"),
    "several": ("list", "text"),
    "steps": ("list", "text"),
    "long": ("list", "text"),
    "people": ("list", "text"),
}
"""By form of answer, what a desk may read it as; the others are texts."""


def lint_asked(sheet: Sheet, scope: Scope) -> Iterator[Fault]:
    """Everything that a sheet asks."""
    asked: dict[str, Question] = {}
    for number, question in enumerate(sheet.questions):
        yield from _question(question, ("questions", number), asked, scope)
        asked[question.id] = question
    yield from _kinds(sheet)
    yield from _severity(sheet, asked)
    yield from _evidence(sheet, asked, scope)
    yield from _kept(sheet)


def _question(
    question: Question, place: Place, asked: Mapping[str, Question], scope: Scope
) -> Iterator[Fault]:
    for name in ("shown", "required", "fixed"):
        condition = getattr(question, name)
        yield from lint_condition(condition, (*place, name), asked, scope)
    if question.shown is False:
        yield stop(
            "never", (*place, "shown"), f"{question.id} is never asked.", "Take the question out."
        )
    yield from _pattern(question, place)
    yield from _bounds(question, place, asked)
    yield from _choices(question.choices, (*place, "choices"))
    yield from _prefill(question, place, scope.needs)
    yield from _codes(question, place)
    yield from _target(question, place)
    yield from layout_fault(question.layout, question.form, question.type, (*place, "layout"))


def layout_fault(layout: str, form: str, kind: str | None, place: Place) -> Iterator[Fault]:
    """A stop where a day is written with a time of day, as with mm for the month."""
    if (form == "date" or kind == "date") and any(sign in layout for sign in "Hhms"):
        near = layout.replace("mm", "MM")
        yield stop(
            "layout",
            place,
            f"{layout} writes hours, minutes or seconds, and a date has none.",
            is_it(near, "MM is the month, mm are minutes."),
            word=layout,
            near=near,
        )


def _pattern(question: Question, place: Place) -> Iterator[Fault]:
    broken = broken_pattern(question.pattern)
    if broken:
        yield stop("pattern", (*place, "pattern"), broken, "Correct the pattern (RE2 syntax).")
    elif question.pattern and not question.example:
        yield hint(
            "no-example",
            (*place, "pattern"),
            f"{question.id} has a pattern and no example of it.",
            "Give one in `example`: people see it in the field.",
        )
    elif question.example and question.form not in ("person", "people", "state"):
        fault = answer_fault(question, question.example, Known())
        if fault:
            yield stop(
                "example",
                (*place, "example"),
                f"The example of {question.id} is no answer: {fault}",
            )


def _prefill(question: Question, place: Place, needs: Sequence[str]) -> Iterator[Fault]:
    values = values_of(question) if question.form != "several" else None
    leaves = set(question.ways) or values
    for number, prefill in enumerate(question.prefill):
        here = (*place, "prefill", number)
        if prefill.take not in FACTS:
            yield no_fact(prefill.take, here)
        for ours, theirs in (prefill.map or {}).items():
            yield from known_value(prefill.take, ours, (*here, "map"), needs)
            if leaves is not None and theirs not in leaves:
                yield no_choice(question, theirs, (*here, "map"), sorted(leaves))
            way = question.ways.get(theirs)
            wrong = [one for one in way.whole if one.needs and ours not in one.needs] if way else []
            if wrong and prefill.take == "packet.need":
                yield stop(
                    "no-kind",
                    (*here, "map"),
                    f"{theirs} is filled in for {ours}, and is only for {', '.join(wrong[0].needs)}.",
                    "Correct the map, or the needs of the choice.",
                    word=theirs,
                )


def _bounds(question: Question, place: Place, asked: Mapping[str, Question]) -> Iterator[Fault]:
    if question.min_length > question.max_length:
        yield stop(
            "limits", (*place, "min_length"), "The fewest characters are more than the most."
        )
    if (
        question.minimum is not None
        and question.maximum is not None
        and question.minimum > question.maximum
    ):
        yield stop("limits", (*place, "minimum"), "The lowest number is above the highest.")
    ids = [column.id for column in question.columns]
    for number, column in enumerate(question.columns):
        for name in (column.more_than, column.maximum_by.column if column.maximum_by else ""):
            if name and name not in ids:
                near = nearest(name, ids)
                yield stop(
                    "no-column",
                    (*place, "columns", number),
                    f"There is no column {name}.",
                    is_it(near),
                    word=name,
                    near=near,
                )
            elif name == column.more_than and name and not _is_number(question, name):
                yield stop(
                    "no-column",
                    (*place, "columns", number),
                    f"{column.id} is compared with {name}, no number.",
                    f"Write `number: true` at {name}.",
                    word=name,
                )
    yield from _country(question, place, asked)


def _is_number(question: Question, name: str) -> bool:
    return any(column.id == name and column.number for column in question.columns)


def _country(question: Question, place: Place, asked: Mapping[str, Question]) -> Iterator[Fault]:
    name = question.country or ""
    if question.form == "state" and name not in asked and name not in FACTS:
        near = nearest(name, [*asked, *FACTS])
        yield stop(
            "no-country",
            (*place, "country"),
            f"{name} is neither an earlier question nor a fact.",
            is_it(near),
            word=name,
            near=near,
        )


def _codes(question: Question, place: Place) -> Iterator[Fault]:
    """Countries and languages that do not exist."""
    for code in question.countries:
        if FORMS["country"].fault(Question(id="x", ask="x", form="country"), code, Known()):
            yield stop(
                "country",
                (*place, "countries"),
                f"{code} is no country by ISO 3166.",
                "Write two capital letters, such as GB.",
                word=code,
            )
    for code in question.languages:
        if not language_exists(code):
            yield stop(
                "language",
                (*place, "languages"),
                f"{code} is no language tag (BCP 47).",
                "Write it as en or de-CH.",
                word=code,
            )


def _target(question: Question, place: Place) -> Iterator[Fault]:
    """Whether its answer can be written as the sheet says."""
    for part in question.targets:
        about = f"An answer of the form {question.form}"
        yield from part_fault(question, part, (*place, "to", part), about, name=True)
    if question.type is not None:
        faults = [*type_fault(question, question.type, (*place, "type"))]
        yield from faults
        if not faults and not question.to:
            yield stop(
                "type",
                (*place, "type"),
                f"{question.id} has a type and no `to`.",
                "Say in `to` where the answer is written.",
            )


def part_fault(
    question: Question, part: str, place: Place, about: str, *, name: bool = False
) -> Iterator[Fault]:
    """A stop if an answer has no such part; the whole is no part."""
    parts = FORMS[question.form].parts
    if not part or part in parts:
        return
    near = nearest(part, parts)
    there = f"There are {', '.join(sorted(parts))}." if parts else "It has no parts."
    yield stop(
        "unknown-part",
        place,
        f"{about} has no {part}.",
        is_it(near, there),
        word=part,
        near=near,
        name=name,
    )


def type_fault(question: Question, kind: str, place: Place) -> Iterator[Fault]:
    """A stop if an answer cannot be read as that type."""
    fitting = TYPES_OF_FORMS.get(question.form, ("text",))
    if kind not in fitting:
        yield stop(
            "type",
            place,
            f"A {question.form} cannot be read as {kind}.",
            f"It is {', '.join(fitting)}.",
            word=kind,
        )


def broken_pattern(pattern: str | None) -> str:
    """RE2 takes time in proportion to the text, whatever the pattern: none can run for ever."""
    try:
        re2.compile(pattern or "", _QUIET)
    except re2.error as error:
        said = error.args[0] if error.args else ""
        reason = said.decode("utf-8", "replace") if isinstance(said, bytes) else str(said)
        return f"{pattern} is not a valid pattern ({reason})."
    return ""


def _options() -> Any:
    options = re2.Options()
    options.log_errors = False
    return options


_QUIET = _options()


def _choices(choices: Sequence[Choice], place: Place) -> Iterator[Fault]:
    seen: set[str] = set()
    for number, choice in enumerate(choices):
        if choice.value in seen:
            yield stop(
                "twice",
                (*place, number),
                f"{choice.value} can be chosen twice.",
                "Take one of them out.",
                word=choice.value,
            )
        if "/" in choice.value:
            yield stop(
                "slash",
                (*place, number, "value"),
                f"“{choice.value}” must not hold a slash.",
                "Write it without, and what is sent in `sends`.",
            )
        seen.add(choice.value)
        yield from _choices(choice.choices, (*place, number, "choices"))


def _kinds(sheet: Sheet) -> Iterator[Fault]:
    seen: set[str] = set()
    for number, kind in enumerate(sheet.kinds):
        if kind.need in seen:
            yield stop(
                "twice",
                ("kinds", number),
                f"The kind {kind.need} is described twice.",
                "Keep one of them.",
            )
        seen.add(kind.need)
    for number, question in enumerate(sheet.questions):
        for place, choice in _with_needs(question.choices, ("questions", number, "choices")):
            for need in [one for one in choice.needs if one not in seen]:
                near = nearest(need, seen)
                yield stop(
                    "no-kind",
                    (*place, "needs"),
                    f"{choice.value} is for {need}, which is not a kind here.",
                    is_it(near, f"There are {', '.join(sorted(seen))}."),
                    word=need,
                    near=near,
                )
    for need in sheet.write.bodies:
        if need not in seen:
            yield stop(
                "no-kind", ("write", "bodies", need), f"{need} is not a kind here.", name=True
            )
    for number, rule in enumerate(sheet.requirements):
        if rule.requirement == "purpose" and not rule.question:
            yield stop(
                "no-question",
                ("requirements", number),
                "A purpose needs its question.",
                "Say in `question` which question asks for it.",
            )


def _with_needs(choices: Sequence[Choice], place: Place) -> Iterator[tuple[Place, Choice]]:
    for number, choice in enumerate(choices):
        if choice.needs:
            yield (*place, number), choice
        yield from _with_needs(choice.choices, (*place, number, "choices"))


def _severity(sheet: Sheet, asked: Mapping[str, Question]) -> Iterator[Fault]:
    setting = [n for n, one in enumerate(sheet.questions) if one.sets == "severity"]
    for number in setting[1:]:
        yield stop(
            "twice",
            ("questions", number, "sets"),
            "Two questions set the severity.",
            "Keep `sets` at one of them.",
        )
    if setting and sheet.questions[setting[0]].form not in ("choice", "tree"):
        yield stop(
            "severity", ("questions", setting[0], "sets"), "Only a choice can set the severity."
        )
    rule = sheet.severity.computed if sheet.severity else None
    if sheet.severity is None or rule is None:
        return
    if setting:
        yield stop(
            "severity",
            ("severity", "computed"),
            "The severity is asked for and computed.",
            "Keep one of the two.",
        )
    yield from _table(sheet.severity, rule, asked)


def _table(severity: Severity, rule: Computed, asked: Mapping[str, Question]) -> Iterator[Fault]:
    """Whether each pair of answers has a level of the scale."""
    levels = {level.value for level in severity.levels}
    impacts, urgencies = set(asked[rule.impact].ways), set(asked[rule.urgency].ways)
    place: Place = ("severity", "computed", "table")
    for impact in sorted(set(rule.table) - impacts):
        yield no_choice(asked[rule.impact], impact, place, sorted(impacts))
    for impact in sorted(impacts):
        row = rule.table.get(impact, {})
        for urgency in sorted(urgencies - set(row)):
            yield stop("no-severity", place, f"The table has no level for {impact} with {urgency}.")
        for urgency, level in row.items():
            if urgency not in urgencies:
                yield no_choice(asked[rule.urgency], urgency, (*place, impact), sorted(urgencies))
            elif level not in levels:
                near = nearest(level, levels)
                yield stop(
                    "no-level",
                    (*place, impact, urgency),
                    f"There is no level {level}.",
                    is_it(near, f"There are {', '.join(sorted(levels))}."),
                    word=level,
                    near=near,
                )


def _evidence(sheet: Sheet, asked: Mapping[str, Question], scope: Scope) -> Iterator[Fault]:
    for number, rule in enumerate(sheet.evidence):
        place: Place = ("evidence", number)
        yield from lint_condition(rule.when, (*place, "when"), asked, scope)
        broken = broken_pattern(rule.names)
        if broken:
            yield stop("pattern", (*place, "names"), broken, "Correct the pattern (RE2 syntax).")
        allowed = sheet.attachments.endings
        if rule.required and allowed and rule.endings and not set(rule.endings) & set(allowed):
            yield stop(
                "never-there",
                (*place, "endings"),
                "It is required, and no such file is taken.",
                f"The desk takes {', '.join(allowed)}.",
            )
        if rule.required and not sheet.attachments.max_files:
            yield stop(
                "never-there", (*place, "required"), "It is required, and the desk takes no files."
            )


def _kept(sheet: Sheet) -> Iterator[Fault]:
    seen: set[str] = set()
    for number, one in enumerate(sheet.redaction.keep):
        name = one.question if isinstance(one, KeptQuestion) else one
        if name in seen:
            yield warn("twice", ("redaction", "keep", number), f"{name} is named twice.")
        seen.add(name)
