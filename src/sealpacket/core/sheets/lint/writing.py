"""Linting how a case is written: every fact and answer it takes has to be there, every document to be sound."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Set
from typing import Any

from sealpacket.core.sheets.asking import Condition, Question
from sealpacket.core.sheets.bodies import ESCAPE, Conditional, Joined, Take, walk
from sealpacket.core.sheets.lint.conditions import lint_condition
from sealpacket.core.sheets.lint.documents import lint_documents
from sealpacket.core.sheets.lint.findings import Fault, is_it, nearest, stop, warn
from sealpacket.core.sheets.lint.known import Known, bodies_of
from sealpacket.core.sheets.lint.questions import layout_fault, type_fault
from sealpacket.core.sheets.lint.reachable import FACT_VALUES, Scope, values_of
from sealpacket.core.sheets.model import FLAT, Sheet
from sealpacket.core.sheets.placing import collisions, written_by
from sealpacket.core.sheets.reading import Place
from sealpacket.core.sheets.rendering import BRACES
from sealpacket.core.sheets.sending import AsFields, AsMail, AsPdf, ByHand, OverHttp

_ONE_BRACE = re.compile(r"\{[^{}\s]*\}?|\}")
_LIKE_A_PATH = re.compile(r"[a-z][a-z0-9_]*(\.[a-z0-9_]+)+")


def lint_writing(sheet: Sheet, scope: Scope) -> Iterator[Fault]:
    """Bodies, texts with braces, fields that questions write, and documents."""
    for place, body in bodies_of(sheet):
        known = Known(sheet, place, scope)
        yield from lint_body(body, place, known)
        if sheet.write.format in FLAT and not {"table", "subject"} & {*place}:
            yield from _nested(body, place)
    for place, text in _braced(sheet):
        yield from lint_text(text, place, Known(sheet, place, scope))
    yield from _targets(sheet)
    yield from _never_sent(sheet)
    if not any(sheet.bodies.values()):
        yield stop(
            "nothing",
            ("write",),
            "Nothing is written.",
            "Say in questions with `to`, or in `body`, what is.",
        )
    if isinstance(sheet.write, AsPdf) and sheet.write.table:
        yield from lint_condition(
            sheet.write.table.when, ("write", "table", "when"), sheet.by_name, scope
        )
        yield from _listed(sheet, sheet.write.table.rows)
    if isinstance(sheet.write, AsFields):
        yield from _ordered(sheet, sheet.write.order, ("write", "order"))
    if isinstance(sheet.send, ByHand):
        for number, way in enumerate(sheet.send.also):
            yield from _ordered(sheet, way.order, ("send", "also", number, "order"))
    yield from lint_documents(sheet)


def _ordered(sheet: Sheet, order: tuple[str, ...], place: Place) -> Iterator[Fault]:
    """Labels in the order that nothing writes."""
    written = {name for body in sheet.bodies.values() for name in body}
    for number, label in enumerate(order):
        if label not in written:
            near = nearest(label, written)
            yield stop(
                "unknown-field",
                (*place, number),
                f"Nothing is written into “{label}”.",
                is_it(near, "Name it in `to` of a question, or in `body`."),
                word=label,
                near=near,
            )


def _listed(sheet: Sheet, name: str) -> Iterator[Fault]:
    question = sheet.question(name)
    if question is not None and question.form != "rows":
        yield stop(
            "no-rows",
            ("write", "table", "rows"),
            f"{name} has no rows.",
            "Name a question of the form rows.",
        )


def lint_body(body: Any, begin: Place, known: Known) -> Iterator[Fault]:
    """Every node of a body: what it takes, its conditions and texts, and what looks like a slip."""
    for place, node in walk(body, begin):
        match node:
            case Take():
                yield from known.fault(node.take, (*place, "take"))
                yield from _take(node, place, known)
            case Conditional():
                yield from lint_condition(node.when, (*place, "when"), known.asked, known.scope)
            case Joined() | list() | tuple():
                continue
            case str():
                yield from lint_text(node, place, known)
            case Mapping():
                yield from _group(node, place, known)


def lint_text(text: str, place: Place, known: Known) -> Iterator[Fault]:
    """Facts in the braces of a text, braces that hold none, and a path that was meant to be taken."""
    for match in BRACES.finditer(text):
        if match[1]:
            yield from known.fault(match[1], place)
    rest = BRACES.sub("", text)
    for match in _ONE_BRACE.finditer(rest):
        yield stop(
            "brace",
            place,
            f"“{match[0]}” is no fact in braces.",
            "Write a path within, or {{ for a brace.",
            word=match[0],
        )
    if _LIKE_A_PATH.fullmatch(text) and not [*known.fault(text, place)]:
        yield stop(
            "not-taken",
            place,
            f"{text} would be sent as these very words.",
            f"Write {{take: {text}}}.",
            word=text,
            near=f"{{take: {text}}}",
        )


def _group(node: Mapping[str, Any], place: Place, known: Known) -> Iterator[Fault]:
    for name in node:
        if name in ("take", "when", "otherwise"):
            yield stop(
                "half-operator",
                (*place, name),
                f"`{name}` is mixed with names of the desk's.",
                f"A condition has `when` and `value`. A field of that name is written as '{ESCAPE}{name}'.",
                name=True,
            )
    words = set(Condition.model_fields)
    if node and set(node) <= words and ("question" in node or "fact" in node):
        near = nearest(str(place[-1]), ("when",))
        yield stop(
            "half-operator",
            place,
            f"`{place[-1]}` holds a condition and would be sent as it is.",
            "A condition is written as {when: …, value: …}.",
            name=True,
            word=str(place[-1]),
            near=near,
        )


def _take(node: Take, place: Place, known: Known) -> Iterator[Fault]:
    question, part = known.question_of(node.take)
    if node.map is not None:
        yield from _mapped(node, place, known, question if not part else None)
    if node.type is not None and question is not None and not part and node.items is None:
        yield from type_fault(question, node.type, (*place, "type"))
    if node.layout and question is not None and question.form not in ("date", "moment"):
        yield stop("type", (*place, "layout"), f"{question.id} is no date or moment.")
    elif node.layout:
        form = question.form if question is not None else _form_of(node.take)
        yield from layout_fault(node.layout, form, node.type, (*place, "layout"))
    given = [name for name in ("items", "map", "split", "type") if getattr(node, name) is not None]
    if len(given) > 1 and given != ["items", "map"]:
        yield stop(
            "both", place, f"{' and '.join(given)} cannot be used together.", "Keep one of them."
        )


def _form_of(path: str) -> str:
    """Whether a fact is a day or a moment, as its name says."""
    return "date" if path.endswith("_on") else "moment" if path.endswith("_at") else ""


def _mapped(node: Take, place: Place, known: Known, question: Question | None) -> Iterator[Fault]:
    values: Set[str] | None = None
    if question is not None:
        values = set(question.ways) or values_of(question)
    elif node.take == "packet.need":
        values = set(known.scope.needs)
    elif node.take in FACT_VALUES:
        values = set(FACT_VALUES[node.take])
    if values is None:
        return
    for name in node.map or {}:
        if name not in values:
            near = nearest(name, values)
            yield stop(
                "no-choice",
                (*place, "map", name),
                f"{node.take} is never {name}.",
                is_it(near, f"There are {', '.join(sorted(values)[:12])}."),
                word=name,
                near=near,
                name=True,
            )
    missing = sorted(values - set(node.map or {}))
    if missing and node.otherwise is None:
        yield warn(
            "unmapped",
            (*place, "map"),
            f"Nothing is written for {', '.join(missing[:4])}.",
            "Add what is sent for it, or `otherwise`.",
        )


def _nested(body: Mapping[str, Any], begin: Place) -> Iterator[Fault]:
    """A format with one text for each field takes no groups and no lists."""
    for name, node in body.items():
        for place, inner in walk(node, (*begin, name)):
            if isinstance(inner, Mapping):
                yield stop(
                    "nested",
                    place,
                    f"The field {name} has one text, and this is a group.",
                    "Join its parts: {parts: […], join: “, ”}.",
                )
                break


def _targets(sheet: Sheet) -> Iterator[Fault]:
    """Whether fields that questions write are free."""
    flat = sheet.write.format in FLAT
    templates = [sheet.write.body, *sheet.write.bodies.values()]
    taken: dict[str, str] = {}
    for number, question in enumerate(sheet.questions):
        place: Place = ("questions", number, "to")
        for template in templates:
            for name in collisions(template, question, flat=flat):
                yield stop(
                    "collision",
                    place,
                    f"{question.id} writes {name}, which the body writes too.",
                    "Take it out in one of the two.",
                    word=name,
                )
        for name, _ in written_by(question):
            other = next((o for path, o in taken.items() if _overlaps(path, name, flat=flat)), None)
            if other is not None:
                yield stop(
                    "collision",
                    place,
                    f"{question.id} writes {name}, which {other} writes too.",
                    "Take it out in one of the two.",
                    word=name,
                )
            taken[name] = question.id
        yield from _with_unit(sheet, question, place)


def _overlaps(one: str, other: str, *, flat: bool) -> bool:
    if flat or one == other:
        return one == other
    return one.startswith(f"{other}.") or other.startswith(f"{one}.")


def _with_unit(sheet: Sheet, question: Question, place: Place) -> Iterator[Fault]:
    if (
        sheet.write.format == "json"
        and question.form == "number"
        and question.units
        and question.type is None
        and "" in question.targets
    ):
        yield stop(
            "type",
            place,
            f"{question.id} has a unit, and its type is missing.",
            f"Add `type: number` for 3, or `type: text` for “3 {question.units[0]}”.",
        )


def _never_sent(sheet: Sheet) -> Iterator[Fault]:
    sent = {path.split(".")[1] for path in sheet.taken if path.startswith("answers.")}
    sent |= {rule.question for rule in sheet.requirements}
    if sheet.split is not None:
        sent.add(sheet.split.question)
    if sheet.severity is not None and sheet.severity.computed is not None:
        sent |= {sheet.severity.computed.impact, sheet.severity.computed.urgency}
    if isinstance(sheet.write, AsPdf) and sheet.write.table:
        sent.add(sheet.write.table.rows)
    for number, question in enumerate(sheet.questions):
        if question.id not in sent and not (question.form == "consent" and question.must_agree):
            yield warn(
                "never-sent",
                ("questions", number),
                f"{question.id} is asked and never sent.",
                "Say in `to` where it is written.",
            )


def _braced(sheet: Sheet) -> Iterator[tuple[Place, str]]:
    """Texts of the sheet, outside bodies, that may hold paths in braces."""
    write = sheet.write
    if isinstance(write, AsMail):
        if isinstance(write.subject, str):
            yield ("write", "subject"), write.subject
        yield ("write", "opening"), write.opening
    if isinstance(write, AsPdf):
        yield ("write", "name"), write.name
        if write.table:
            yield ("write", "table", "name"), write.table.name
    if sheet.split is not None:
        yield ("split", "label"), sheet.split.label
    if isinstance(sheet.send, ByHand):
        yield ("send", "opening"), sheet.send.opening
        for number, way in enumerate(sheet.send.also):
            yield ("send", "also", number, "opening"), way.opening
    yield ("attachments", "naming", "file"), sheet.attachments.naming.file
    yield ("attachments", "naming", "archive"), sheet.attachments.naming.archive


def lint_answer_body(sheet: Sheet, scope: Scope) -> Iterator[Fault]:
    """Lint the body of an answer, and of each file."""
    send = sheet.send
    if not isinstance(send, OverHttp):
        return
    place: Place = ("send", "answer_body")
    yield from lint_body(send.answer_body, place, Known(sheet, place, scope))
    takes = [node.take for _, node in walk(send.answer_body) if isinstance(node, Take)]
    texts = [node for _, node in walk(send.answer_body) if isinstance(node, str)]
    if (
        send.answer
        and "message.text" not in takes
        and not any("{message.text}" in t for t in texts)
    ):
        yield stop(
            "no-text",
            place,
            "Nothing takes message.text: the answer would be empty.",
            "Add {take: message.text}.",
        )
    for name in ("files", "more_files"):
        files = getattr(send, name)
        if files is not None:
            place = ("send", name, "entry")
            yield from lint_body(files.entry, place, Known(sheet, place, scope))


def lint_acts(sheet: Sheet, scope: Scope) -> Iterator[Fault]:
    """Lint how later updates are written for the desk."""
    over_http = isinstance(sheet.send, OverHttp)
    for act, rule in sheet.acts.items():
        place: Place = ("acts", act)
        yield from lint_body(rule.body, (*place, "body"), Known(sheet, place, scope))
        yield from lint_text(rule.words, (*place, "words"), Known(sheet, place, scope))
        if rule.path and not over_http:
            yield stop(
                "act-path",
                (*place, "path"),
                "Only a desk over HTTP has paths.",
                "Say in `words` what is written.",
                name=True,
            )
        if rule.path and rule.words:
            yield stop(
                "act-twice",
                (*place, "words"),
                "It is posted at its path, so nobody reads these words.",
                "Take `words` out, or `path`.",
                name=True,
            )
        if rule.body and not rule.path:
            yield stop(
                "act-path",
                place,
                "The destination of this body is missing.",
                "Add `path`, with {reference}.",
                name=True,
            )
