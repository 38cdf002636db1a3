"""Linting how a case is written: every fact and answer it takes has to be there, every document to be sound."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from datetime import UTC, datetime
from difflib import get_close_matches
from typing import Any

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets.facts import FACTS, MESSAGE
from sealpacket.core.sheets.forms import FORMS
from sealpacket.core.sheets.lint.findings import Level, Place, Told
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.rendering import BRACES
from sealpacket.core.sheets.sending import AsMail, AsPdf, AsXml
from sealpacket.core.sheets.writing.envelope import read_certificate
from sealpacket.core.sheets.writing.pdf import field_names
from sealpacket.core.sheets.writing.xml import schema_of


def lint_writing(sheet: Sheet) -> Iterator[Told]:
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
    sent |= _used_elsewhere(sheet)
    for number, question in enumerate(sheet.questions):
        if question.id not in sent and not (question.form == "consent" and question.must_agree):
            yield (
                "warn",
                "never-sent",
                ("questions", number),
                f"{question.id} is asked and never sent.",
            )
    yield from _documents(sheet)


def _used_elsewhere(sheet: Sheet) -> set[str]:
    """Questions that the desk gets without their being written: they cut, rank or are asked for before."""
    used = {rule.question for rule in sheet.before}
    if sheet.split is not None:
        used.add(sheet.split.question)
    if sheet.severity is not None:
        used |= {sheet.severity.question, sheet.severity.impact, sheet.severity.urgency}
    return used


def _mapped(sheet: Sheet, take: Mapping[str, Any], ident: str, place: Place) -> Iterator[Told]:
    question = sheet.question(ident)
    if (
        question
        and question.choices
        and isinstance(take.get("map"), Mapping)
        and "otherwise" not in take
    ):
        missing = [path for path, _ in question.leaves() if path not in take["map"]]
        if missing:
            yield (
                "warn",
                "unmapped",
                place,
                f"What becomes of {', '.join(missing[:4])} is not said.",
            )


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
                    yield (
                        "stop",
                        "pdf-field",
                        ("write", "body", name),
                        f"The form has no field {name}.",
                    )
            if not names:
                yield "stop", "pdf-blank", ("write", "blank"), "The blank has no fields to fill."
    except Invalid as fault:
        yield (
            "stop",
            fault.code,
            ("write", "xsd" if isinstance(write, AsXml) else "blank"),
            f"{fault} {fault.remedy}",
        )
    if sheet.attachments.encrypt_to:
        try:
            read_certificate(sheet.attachments.encrypt_to, datetime.now(UTC))
        except Invalid as fault:
            level: Level = "warn" if fault.code == "certificate-ended" else "stop"
            yield level, fault.code, ("attachments", "encrypt_to"), f"{fault} {fault.remedy}"


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
            yield (
                "stop",
                "unknown-fact",
                place,
                f"{path} takes an answer that the sheet does not ask for.",
            )
        elif len(parts) > 2 and (parts[2] not in FORMS[question.form].parts or len(parts) > 3):
            yield (
                "stop",
                "unknown-fact",
                place,
                f"{path}: {question.id} has no {'.'.join(parts[2:])}.",
            )

    def _row_fault(self, parts: list[str], place: Place) -> Iterator[Told]:
        table = self._sheet.write.table if isinstance(self._sheet.write, AsPdf) else None
        name = (
            table.rows
            if table and "table" in place
            else self._sheet.split.question
            if self._sheet.split
            else ""
        )
        question = self._sheet.question(name)
        columns = {column.id for column in question.columns} if question else set()
        if question is None:
            yield (
                "stop",
                "unknown-fact",
                place,
                f"{'.'.join(parts)}: the sheet is not split by rows.",
            )
        elif len(parts) != 2 or parts[1] not in columns | {"number", "value"}:
            yield (
                "stop",
                "unknown-fact",
                place,
                f"{question.id} has no column {'.'.join(parts[1:])}.",
            )


def _like(path: str) -> str:
    near = get_close_matches(path, [*FACTS, *MESSAGE], 1)
    return f"Is it {near[0]}?" if near else "docs/desk-sheets.md names all there are."
