"""Linting a desk sheet: everything that is wrong or unwise in it, each with its place in the text."""

from __future__ import annotations

import re
import zoneinfo
from collections.abc import Iterator, Mapping, Sequence
from datetime import UTC, datetime
from difflib import get_close_matches
from typing import Any, Literal

import jsonpath
import re2
import yaml
from pydantic import BaseModel, ConfigDict, ValidationError

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets.answers import answer_fault
from sealpacket.core.sheets.asking import Choice, Condition, Question
from sealpacket.core.sheets.facts import FACTS, MESSAGE
from sealpacket.core.sheets.forms import FORMS, Known
from sealpacket.core.sheets.hours import span_fault
from sealpacket.core.sheets.model import Sheet, place_of, read_yaml
from sealpacket.core.sheets.rendering import BRACES
from sealpacket.core.sheets.sending import AsMail, AsPdf, AsXml, ByMail, BySftp, HttpJson, HttpXml, OverHttp
from sealpacket.core.sheets.writing.envelope import read_certificate
from sealpacket.core.sheets.writing.pdf import field_names
from sealpacket.core.sheets.writing.xml import schema_of

Level = Literal["stop", "warn", "hint"]
Place = tuple[str | int, ...]
MOST = 200


class Finding(BaseModel):
    """One thing to mend: `place` is the path in the sheet, `line` where it stands in the text (from 1)."""

    model_config = ConfigDict(frozen=True)

    level: Level
    code: str
    place: str
    line: int
    sentence: str


def lint(text: str) -> tuple[Sheet | None, list[Finding]]:
    """The sheet, if it can be read as one, and everything found in it, in the order of the text."""
    try:
        body = read_yaml(text)
    except Invalid as fault:
        line = int(fault.facts.get("line", 1))
        return None, [Finding(level="stop", code=fault.code, place="", line=line, sentence=f"{fault} {fault.way_out}")]
    lines = _lines(text)

    def finding(level: Level, code: str, place: Place, sentence: str) -> Finding:
        return Finding(
            level=level, code=code, place=".".join(map(str, place)), line=_line_of(lines, place), sentence=sentence
        )

    try:
        sheet = Sheet.model_validate(body)
    except ValidationError as error:
        found = []
        for item in error.errors()[:MOST]:
            place = place_of(item["loc"])
            found.append(finding("stop", "shape", place, f"{item['msg']}."))
        return None, sorted(found, key=_order)
    told = [finding(*item) for item in _all(sheet)][:MOST]
    return sheet, sorted(told, key=_order)


def has_stops(found: Sequence[Finding]) -> bool:
    """Whether something found keeps the sheet from being used."""
    return any(finding.level == "stop" for finding in found)


def _order(finding: Finding) -> tuple[int, str]:
    return finding.line, finding.place


def _lines(text: str) -> dict[Place, int]:
    """By path, the line on which each part of the sheet begins."""
    found: dict[Place, int] = {}

    def walk(node: yaml.Node, place: Place) -> None:
        found[place] = node.start_mark.line + 1
        if isinstance(node, yaml.MappingNode):
            for key, value in node.value:
                walk(value, (*place, str(key.value)))
                found[(*place, str(key.value))] = key.start_mark.line + 1
        elif isinstance(node, yaml.SequenceNode):
            for number, item in enumerate(node.value):
                walk(item, (*place, number))

    whole = yaml.compose(text, Loader=getattr(yaml, "CSafeLoader", yaml.SafeLoader))
    if whole is not None:
        walk(whole, ())
    return found


def _line_of(lines: Mapping[Place, int], place: Place) -> int:
    """The line of a place, or of the nearest part around it."""
    while place and place not in lines:
        place = place[:-1]
    return lines.get(place, 1)


Told = tuple[Level, str, Place, str]


def _all(sheet: Sheet) -> Iterator[Told]:
    asked: dict[str, Question] = {}
    for number, question in enumerate(sheet.questions):
        yield from _question(question, ("questions", number), asked)
        asked[question.id] = question
    yield from _kinds(sheet)
    yield from _severity(sheet, asked)
    yield from _evidence(sheet, asked)
    yield from _writing(sheet)
    yield from _sending(sheet)
    yield from _replies(sheet)
    yield from _limits(sheet)
    yield from _opening(sheet)


def _question(question: Question, place: Place, asked: Mapping[str, Question]) -> Iterator[Told]:
    for name in ("required", "shown", "fixed"):
        condition = getattr(question, name)
        if isinstance(condition, Condition):
            yield from _condition(condition, (*place, name), asked)
    broken = _broken_pattern(question.pattern)
    if broken:
        yield "stop", "pattern", (*place, "pattern"), broken
    elif question.pattern and not question.example:
        yield "hint", "no-example", (*place, "pattern"), f"{question.id} has a pattern and no example of it."
    elif question.example and question.form not in ("person", "people", "state"):
        fault = answer_fault(question, question.example, Known())
        if fault:
            yield "stop", "example", (*place, "example"), f"The example is no answer: {fault}"
    yield from _bounds(question, place, asked)
    yield from _choices(question.choices, (*place, "choices"))
    leaves = {path for path, _ in question.leaves()}
    for number, prefill in enumerate(question.prefill):
        here = (*place, "prefill", number)
        if prefill.take not in FACTS:
            yield "stop", "unknown-fact", (*here, "take"), f"There is no fact {prefill.take}. {_like(prefill.take)}"
        for value in (prefill.map or {}).values():
            if leaves and value not in leaves:
                yield "stop", "no-choice", (*here, "map"), f"{question.id} has no choice {value}."


def _bounds(question: Question, place: Place, asked: Mapping[str, Question]) -> Iterator[Told]:
    if question.at_least > question.at_most:
        yield "stop", "limits", (*place, "at_least"), "The fewest characters are more than the most."
    if question.lowest is not None and question.highest is not None and question.lowest > question.highest:
        yield "stop", "limits", (*place, "lowest"), "The lowest number is above the highest."
    ids = {column.id for column in question.columns}
    for number, column in enumerate(question.columns):
        for name in (column.more_than, column.highest_by.column if column.highest_by else ""):
            if name and name not in ids:
                yield "stop", "no-column", (*place, "columns", number), f"There is no column {name}."
    if question.form == "state" and question.country not in asked and question.country not in FACTS:
        yield "stop", "no-country", (*place, "country"), f"{question.country} is no earlier question and no fact."


def _broken_pattern(pattern: str | None) -> str:
    """RE2 takes time in proportion to the text, whatever the pattern: none can run for ever."""
    try:
        re2.compile(pattern or "", _QUIET)
    except re2.error as error:
        return f"{pattern} is no pattern of RE2: {error}."
    return ""


_REGULAR = re.compile(r"\b(match|search)\s*\(|=~")
"""JSONPath's own patterns are not RE2's: what a desk sends could keep one busy for ever."""


def _options() -> Any:
    options = re2.Options()
    options.log_errors = False
    return options


_QUIET = _options()


def _condition(condition: Condition, place: Place, asked: Mapping[str, Question]) -> Iterator[Told]:
    if condition.question is not None:
        looked_at = asked.get(condition.question)
        if looked_at is None:
            yield (
                "stop", "asked-later", place,
                f"This looks at {condition.question}, which is asked later: put that question before this one.",
            )  # fmt: skip
        elif looked_at.choices and condition.one_of:
            paths = {path for path, _ in looked_at.leaves()}
            groups = {"/".join(path.split("/")[:depth]) for path in paths for depth in range(1, path.count("/") + 1)}
            for value in condition.one_of:
                if value not in paths | groups:
                    yield "stop", "no-choice", (*place, "one_of"), f"{looked_at.id} has no choice {value}."
    if condition.fact is not None and condition.fact not in FACTS:
        yield "stop", "unknown-fact", (*place, "fact"), f"There is no fact {condition.fact}. {_like(condition.fact)}"
    says = (condition.one_of, condition.answered, condition.at_least)
    if (condition.question or condition.fact) and all(one is None for one in says):
        looked = condition.question or condition.fact
        yield "stop", "empty-condition", place, f"This looks at {looked} and says nothing of it."
    for name in ("all", "any", "none"):
        for number, inner in enumerate(getattr(condition, name) or ()):
            yield from _condition(inner, (*place, name, number), asked)


def _choices(choices: Sequence[Choice], place: Place) -> Iterator[Told]:
    seen: set[str] = set()
    for number, choice in enumerate(choices):
        if choice.value in seen:
            yield "stop", "twice", (*place, number), f"{choice.value} can be chosen twice."
        if "/" in choice.value:
            yield "stop", "slash", (*place, number, "value"), f"“{choice.value}” must not hold a slash."
        seen.add(choice.value)
        yield from _choices(choice.choices, (*place, number, "choices"))


def _kinds(sheet: Sheet) -> Iterator[Told]:
    seen: set[str] = set()
    for number, kind in enumerate(sheet.kinds):
        if kind.need in seen:
            yield "stop", "twice", ("kinds", number), f"The kind {kind.need} is described twice."
        seen.add(kind.need)
    for number, question in enumerate(sheet.questions):
        for place, choice in _with_needs(question.choices, ("questions", number, "choices")):
            strange = [need for need in choice.needs if need not in seen]
            if strange:
                yield (
                    "warn",
                    "no-kind",
                    (*place, "needs"),
                    f"{choice.value} is for {strange[0]}, which is no kind here.",
                )
    for number, rule in enumerate(sheet.before):
        if rule.need == "purpose" and not rule.question:
            yield "stop", "no-question", ("before", number), "Say in `question` which question asks for the purpose."


def _with_needs(choices: Sequence[Choice], place: Place) -> Iterator[tuple[Place, Choice]]:
    for number, choice in enumerate(choices):
        if choice.needs:
            yield (*place, number), choice
        yield from _with_needs(choice.choices, (*place, number, "choices"))


def _severity(sheet: Sheet, asked: Mapping[str, Question]) -> Iterator[Told]:
    rule = sheet.severity
    if rule is None or rule.set_by != "computed":
        return
    levels = {level.value for level in rule.levels}
    impacts = {path for path, _ in asked[rule.impact].leaves()}
    urgencies = {path for path, _ in asked[rule.urgency].leaves()}
    for impact in sorted(impacts):
        row = rule.table.get(impact, {})
        for urgency in sorted(urgencies - set(row)):
            yield "stop", "no-severity", ("severity", "table"), f"What is {impact} with {urgency} is not said."
        for urgency, level in row.items():
            if level not in levels or urgency not in urgencies:
                yield (
                    "stop", "no-choice", ("severity", "table", impact),
                    f"{urgency}: {level} is no answer or no level of the scale.",
                )  # fmt: skip
    for impact in sorted(set(rule.table) - impacts):
        yield "stop", "no-choice", ("severity", "table", impact), f"{rule.impact} has no choice {impact}."


def _evidence(sheet: Sheet, asked: Mapping[str, Question]) -> Iterator[Told]:
    for number, rule in enumerate(sheet.evidence):
        place = ("evidence", number)
        if isinstance(rule.when, Condition):
            yield from _condition(rule.when, (*place, "when"), asked)
        broken = _broken_pattern(rule.names)
        if broken:
            yield "stop", "pattern", (*place, "names"), broken
        allowed = sheet.attachments.endings
        if rule.required and allowed and rule.endings and not set(rule.endings) & set(allowed):
            yield (
                "stop",
                "never-there",
                (*place, "endings"),
                "It is required, and no such file is taken.",
            )


def _writing(sheet: Sheet) -> Iterator[Told]:
    sent: set[str] = set()
    known = _Known(sheet)
    bodies: list[tuple[Any, Place]] = [(sheet.write.body, ("write", "body"))]
    if isinstance(sheet.write, AsPdf) and sheet.write.table:
        bodies.append((sheet.write.table.columns, ("write", "table", "columns")))
        sent.add(sheet.write.table.rows)
    for body, begin in bodies:
        for place, take in _takes(body, begin):
            yield from known.fault(str(take["take"]), place)
            parts = str(take["take"]).split(".")
            if parts[0] == "answers" and len(parts) > 1:
                sent.add(parts[1])
                yield from _mapped(sheet, take, parts[1], place)
    texts = [*_braced(sheet), *(found for body, begin in bodies for found in _texts(body, begin))]
    for place, text in texts:
        for match in BRACES.finditer(text):
            head, _, rest = match[1].partition(".")
            sent.add(rest.split(".")[0] if head == "answers" else "")
            yield from known.fault(match[1], place)
    if sheet.split is not None:
        sent.add(sheet.split.question)
    if sheet.severity is not None:
        sent |= {sheet.severity.question, sheet.severity.impact, sheet.severity.urgency}
    sent |= {rule.question for rule in sheet.before}
    for number, question in enumerate(sheet.questions):
        if question.id not in sent and not (question.form == "consent" and question.must_agree):
            yield "warn", "never-sent", ("questions", number), f"{question.id} is asked and never sent."
    yield from _documents(sheet)


def _mapped(sheet: Sheet, take: Mapping[str, Any], ident: str, place: Place) -> Iterator[Told]:
    question = sheet.question(ident)
    if question and question.choices and isinstance(take.get("map"), Mapping) and "otherwise" not in take:
        missing = [path for path, _ in question.leaves() if path not in take["map"]]
        if missing:
            yield "warn", "unmapped", place, f"What becomes of {', '.join(missing[:4])} is not said."


def _documents(sheet: Sheet) -> Iterator[Told]:
    """The desk's own schema, blank or certificate."""
    write = sheet.write
    try:
        if isinstance(write, AsXml):
            schema_of(write.xsd)
        if isinstance(write, AsPdf):
            names = field_names(write.blank)
            for name in write.body:
                if name not in names:
                    yield "stop", "pdf-field", ("write", "body", name), f"The form has no field {name}."
            if not names:
                yield "stop", "pdf-blank", ("write", "blank"), "The blank has no fields to fill."
    except Invalid as fault:
        yield "stop", fault.code, ("write", "xsd" if isinstance(write, AsXml) else "blank"), f"{fault} {fault.way_out}"
    if sheet.attachments.encrypt_to:
        try:
            read_certificate(sheet.attachments.encrypt_to, datetime.now(UTC))
        except Invalid as fault:
            level: Level = "warn" if fault.code == "certificate-ended" else "stop"
            yield level, fault.code, ("attachments", "encrypt_to"), f"{fault} {fault.way_out}"


def _braced(sheet: Sheet) -> Iterator[tuple[Place, str]]:
    """Texts of the sheet in which paths may stand in braces."""
    write = sheet.write
    if isinstance(write, AsMail):
        yield ("write", "subject"), write.subject
        yield ("write", "opening"), write.opening
    if isinstance(write, AsPdf):
        yield ("write", "name"), write.name
        if write.table:
            yield ("write", "table", "name"), write.table.name
    if sheet.split is not None:
        yield ("split", "label"), sheet.split.label


def _takes(node: Any, place: Place) -> Iterator[tuple[Place, Mapping[str, Any]]]:
    if isinstance(node, Mapping):
        if "take" in node:
            yield place, node
            for name in ("each",):
                yield from _takes(node.get(name), (*place, name))
            return
        for key, inner in node.items():
            yield from _takes(inner, (*place, str(key)))
    elif isinstance(node, list | tuple):
        for number, inner in enumerate(node):
            yield from _takes(inner, (*place, number))


def _texts(node: Any, place: Place) -> Iterator[tuple[Place, str]]:
    if isinstance(node, Mapping):
        if set(node) == {"text"} and isinstance(node["text"], str):
            yield place, node["text"]
            return
        for key, inner in node.items():
            yield from _texts(inner, (*place, str(key)))
    elif isinstance(node, list | tuple):
        for number, inner in enumerate(node):
            yield from _texts(inner, (*place, number))


class _Known:
    """What the body of a sheet may take."""

    def __init__(self, sheet: Sheet) -> None:
        self._sheet = sheet

    def fault(self, path: str, place: Place) -> Iterator[Told]:
        """A stop if there is no such thing."""
        parts = path.split(".")
        if parts[0] == "answers":
            yield from self._answer_fault(path, parts, place)
        elif parts[0] == "item" and "each" in place:
            return
        elif parts[0] == "row":
            yield from self._row_fault(parts, place)
        elif path == "severity.level" and self._sheet.severity is not None:
            return
        elif path not in FACTS:
            yield "stop", "unknown-fact", place, f"There is no fact {path}. {_like(path)}"

    def _answer_fault(self, path: str, parts: list[str], place: Place) -> Iterator[Told]:
        question = self._sheet.question(parts[1]) if len(parts) > 1 else None
        if question is None:
            yield "stop", "unknown-fact", place, f"{path} takes an answer that the sheet does not ask for."
        elif len(parts) > 2 and (parts[2] not in FORMS[question.form].parts or len(parts) > 3):
            yield "stop", "unknown-fact", place, f"{path}: {question.id} has no {'.'.join(parts[2:])}."

    def _row_fault(self, parts: list[str], place: Place) -> Iterator[Told]:
        table = self._sheet.write.table if isinstance(self._sheet.write, AsPdf) else None
        name = table.rows if table and "table" in place else self._sheet.split.question if self._sheet.split else ""
        question = self._sheet.question(name)
        columns = {column.id for column in question.columns} if question else set()
        if question is None:
            yield "stop", "unknown-fact", place, f"{'.'.join(parts)}: the sheet is not split by rows."
        elif len(parts) != 2 or parts[1] not in columns | {"number", "value"}:
            yield "stop", "unknown-fact", place, f"{question.id} has no column {'.'.join(parts[1:])}."


def _like(path: str) -> str:
    near = get_close_matches(path, [*FACTS, *MESSAGE], 1)
    return f"Is it {near[0]}?" if near else "docs/desk-sheets.md names all there are."


def _sending(sheet: Sheet) -> Iterator[Told]:
    send = sheet.send
    if isinstance(send, OverHttp):
        for name in ("follow", "answer"):
            if "{reference}" not in getattr(send, name):
                yield (
                    "stop", "no-reference", ("send", name),
                    "The path needs {reference}, or every case would be the same.",
                )  # fmt: skip
        takes = list(_takes(send.answer_body, ("send", "answer_body")))
        for place, take in takes:
            if take["take"] not in MESSAGE:
                yield (
                    "stop",
                    "unknown-fact",
                    place,
                    f"An answer has only {', '.join(sorted(MESSAGE))}.",
                )
        if all(take["take"] != "message.text" for _, take in takes):
            yield "stop", "no-text", ("send", "answer_body"), "Nothing takes message.text: the answer would be empty."
    if isinstance(send, HttpJson) and send.uploads is None and sheet.attachments.most:
        yield "stop", "no-uploads", ("send",), "The desk takes attachments, and `uploads` does not say where."
    if isinstance(send, HttpXml) and not ("{reference}" in send.files and "{name}" in send.files):
        yield "stop", "no-reference", ("send", "files"), "The path needs {reference} and {name}."
    wanted = {"mail": "mail", "sftp": "drop"}.get(send.channel)
    if wanted and sheet.replies.by != wanted:
        yield "stop", "no-way-back", ("replies", "by"), f"By {send.channel} the desk answers by {wanted}."
    if not wanted and sheet.replies.by in ("mail", "drop"):
        yield "stop", "no-way-back", ("replies", "by"), f"By {send.channel} the desk answers by polling or webhook."
    if isinstance(send, ByMail | BySftp) and not sheet.replies.ours:
        yield "stop", "no-way-back", ("replies",), "Say in `ours` where the desk repeats our number."
    if sheet.replies.by == "webhook" and not sheet.replies.signature:
        yield "stop", "no-signature", ("replies",), "Say in `signature` which header signs what the desk sends."


def _replies(sheet: Sheet) -> Iterator[Told]:
    replies = sheet.replies
    paths: list[tuple[Place, str]] = [
        (("replies", "reference"), replies.reference),
        (("replies", "status"), replies.status),
    ]
    paths += [
        (("replies", "messages", name), getattr(replies.messages, name))
        for name in ("each", "id", "text", "at", "asks")
    ]
    paths += [(("replies", "refusals", name), getattr(replies.refusals, name)) for name in ("each", "code", "text")]
    paths += [(("replies", "told", number), one.take) for number, one in enumerate(replies.told)]
    paths += [(("replies", "ours"), replies.ours)] if replies.ours else []
    for place, path in paths:
        if _REGULAR.search(path):
            yield "stop", "jsonpath", place, f"{path} uses match or search: such patterns can run for ever on a reply."
        try:
            jsonpath.compile(path)
        except jsonpath.JSONPathError as error:
            yield "stop", "jsonpath", place, f"{path} is no JSONPath (RFC 9535): {error}."
    lives = {word.life for word in replies.words.values()}
    if "settled" not in lives:
        yield (
            "warn",
            "never-settled",
            ("replies", "words"),
            "No status word settles a case: it would stay open for ever.",
        )
    if not any(word.turn == "ours" for word in replies.words.values()):
        yield "hint", "never-ours", ("replies", "words"), "No status word makes it our turn: only messages that ask do."
    if not replies.refusals.cures:
        yield "hint", "no-cures", ("replies", "refusals"), "No refusal has a cure: say what to do about the usual ones."


def _limits(sheet: Sheet) -> Iterator[Told]:
    limits = sheet.attachments
    if limits.together < limits.each and not limits.naming.archive:
        yield "warn", "limits", ("attachments", "together"), "All together are fewer bytes than one alone may have."
    wrong = [ending for ending in limits.endings if not ending.startswith(".") or ending != ending.lower()]
    if wrong:
        yield (
            "stop",
            "endings",
            ("attachments", "endings"),
            f"Write endings as .log, in small letters: {', '.join(wrong)}.",
        )


def _opening(sheet: Sheet) -> Iterator[Told]:
    hours = sheet.hours
    if hours is None:
        return
    if hours.zone not in zoneinfo.available_timezones():
        yield "stop", "zone", ("hours", "zone"), f"“{hours.zone}” is not a time zone name."
    for day, span in hours.week.items():
        if span_fault(span):
            yield "stop", "hours", ("hours", "week", day), f"“{span}”: write it as 08:00-18:00."
