"""Linting the documents of a desk: its schema, its form, its certificate, and the fields that are written into them."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from datetime import UTC, datetime

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets.bodies import ESCAPE, walk
from sealpacket.core.sheets.lint.findings import Fault, is_it, nearest, stop, warn
from sealpacket.core.sheets.lint.known import bodies_of
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.placing import written_by
from sealpacket.core.sheets.reading import Place
from sealpacket.core.sheets.sending import AsPdf, AsXml
from sealpacket.core.sheets.writing.envelope import read_certificate
from sealpacket.core.sheets.writing.pdf import FormField, fields_of
from sealpacket.core.sheets.writing.xml import element_order, schema_of


def lint_documents(sheet: Sheet) -> Iterator[Fault]:
    """The desk's own schema, blank or certificate."""
    write = sheet.write
    try:
        if isinstance(write, AsXml):
            schema_of(write.xsd)
            yield from _elements(sheet, write)
        if isinstance(write, AsPdf):
            yield from _fields(sheet, fields_of(write.blank))
    except Invalid as fault:
        where = "xsd" if isinstance(write, AsXml) else "blank"
        yield stop(fault.code, ("write", where), fault.detail, fault.remedy)
    if sheet.attachments.encrypt_to:
        try:
            read_certificate(sheet.attachments.encrypt_to, datetime.now(UTC))
        except Invalid as fault:
            tell = warn if fault.code == "certificate-ended" else stop
            yield tell(fault.code, ("attachments", "encrypt_to"), fault.detail, fault.remedy)


def _fields(sheet: Sheet, names: Mapping[str, FormField]) -> Iterator[Fault]:
    if not names:
        yield stop(
            "pdf-blank",
            ("write", "blank"),
            "The blank has no fields to fill.",
            "Ask the desk for its form with fields.",
        )
        return
    for place, name in _written_names(sheet):
        if name not in names:
            near = nearest(name, names)
            yield stop(
                "pdf-field",
                place,
                f"The form has no field {name}.",
                is_it(near, f"It has {', '.join([*names][:20])}."),
                word=name,
                near=near,
                name=place[0] == "write",
            )
    yield from _sent_values(sheet, names)


def _sent_values(sheet: Sheet, names: Mapping[str, FormField]) -> Iterator[Fault]:
    """Checks that a form's tick box or choice can hold the value of an answer."""
    for number, question in enumerate(sheet.questions):
        place: Place = ("questions", number, "sends" if question.form == "consent" else "choices")
        sent = question.translation or ({"yes": "yes"} if question.form == "consent" else {})
        for name, take in written_by(question):
            if name not in names or (take.map is None and question.form != "consent"):
                continue
            for value in sent.values():
                try:
                    names[name].held(value)
                except ValueError as fault:
                    yield stop(
                        "pdf-value",
                        place,
                        f"The form's field {name} cannot hold what is sent: {fault}.",
                        "Send what the form calls it.",
                        word=value,
                    )


def _written_names(sheet: Sheet) -> Iterator[tuple[Place, str]]:
    for name in sheet.write.body:
        yield ("write", "body", name), name.removeprefix(ESCAPE)
    for need, body in sheet.write.bodies.items():
        for name in body:
            yield ("write", "bodies", need, name), name.removeprefix(ESCAPE)
    for number, question in enumerate(sheet.questions):
        for name, _ in written_by(question):
            yield ("questions", number, "to"), name


def _elements(sheet: Sheet, write: AsXml) -> Iterator[Fault]:
    """Every element that is written has to be in the schema."""
    order = element_order(write.xsd, write.root)
    if not order:
        yield stop(
            "xsd-root",
            ("write", "root"),
            f"The schema has no element {write.root}.",
            "Name the outermost element.",
            word=write.root,
        )
        return
    for number, question in enumerate(sheet.questions):
        for name, _ in written_by(question):
            yield from _element(order, tuple(name.split(".")), ("questions", number, "to"))
    for begin, body in bodies_of(sheet):
        for place, _node in walk(body, ()):
            path = tuple(
                str(one) for one in place if not isinstance(one, int) and one not in _OPERANDS
            )
            yield from _element(order, path, (*begin, *place))


_XML_NAME = re.compile(r"@?[A-Za-z_][A-Za-z0-9_.-]*")
_OPERANDS = {"value", "otherwise", "items", "parts"}


def _element(
    order: Mapping[tuple[str, ...], Sequence[str]], path: tuple[str, ...], place: Place
) -> Iterator[Fault]:
    """A stop if the last name of a path is no element within the one above it, or no name at all."""
    if path and path[-1] != "#text" and not _XML_NAME.fullmatch(path[-1]):
        yield stop(
            "xml-name",
            place,
            f"“{path[-1]}” is no name of an element or attribute.",
            "A path such as case.since.@day names elements, @attributes or #text.",
            word=path[-1],
        )
        return
    names = [one for one in path if not one.startswith(("@", "#"))]
    if not names or path[-1] != names[-1] or tuple(names[:-1]) not in order:
        return
    allowed = order[tuple(names[:-1])]
    if names[-1] not in allowed:
        near = nearest(names[-1], allowed)
        there = f"There are {', '.join(allowed)}." if allowed else "It holds no elements."
        yield stop(
            "no-element",
            place,
            f"The schema has no element {names[-1]} there.",
            is_it(near, there),
            word=names[-1],
            near=near,
            name=place[0] == "write",
        )
