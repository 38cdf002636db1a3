"""A case as the document that goes out."""

from __future__ import annotations

import json
from dataclasses import dataclass

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets.conversion import plain
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.sending import AsFields, AsForm, AsMail, AsPdf, AsXml
from sealpacket.core.sheets.writing.cases import Case
from sealpacket.core.sheets.writing.mail import letter_of
from sealpacket.core.sheets.writing.pdf import fill_form, form_values
from sealpacket.core.sheets.writing.table import csv_of
from sealpacket.core.sheets.writing.xml import to_xml, xsd_faults


@dataclass(frozen=True)
class Written:
    """`documents` by name, as bytes; `text` is the same to read; `subject` is a mail's."""

    documents: dict[str, bytes]
    text: str
    subject: str = ""


def write_case(sheet: Sheet, case: Case) -> Written:
    """Everything that is written of a case. The same case gives the same bytes. Raises Invalid for a faulty sheet."""
    write = sheet.write
    match write:
        case AsXml():
            document = to_xml(write.root, write.namespace, case.body, write.xsd)
            return Written({"case.xml": document}, document.decode())
        case AsMail():
            letter = letter_of(write, case)
            return Written(
                {"case.txt": letter.text.encode()},
                f"Subject: {letter.subject}\n\n{letter.text}",
                letter.subject,
            )
        case AsPdf():
            documents = {case.name: fill_form(write.blank, case.body)}
            held = form_values(write.blank, case.body)
            text = "".join(f"{name}: {value}\n" for name, value in held.items())
            if write.table is not None and case.list_name:
                listed = csv_of(list(write.table.columns), case.rows)
                documents[case.list_name] = listed
                text += "\n" + listed.decode().replace("\r\n", "\n")
            return Written(documents, text)
        case AsFields():
            lines = [
                case.opening,
                *(f"{name}: {plain(value)}" for name, value in case.body.items()),
            ]
            return Written({}, "".join(f"{line}\n" for line in lines if line))
        case AsForm():
            return Written(
                {}, "".join(f"{name}: {plain(value)}\n" for name, value in case.body.items())
            )
        case _:
            return Written({}, json.dumps(case.body, indent=2, ensure_ascii=False))


def written_faults(sheet: Sheet, case: Case) -> list[str]:
    """Faults of a case by the desk's own schema or form; empty if it is valid."""
    write = sheet.write
    match write:
        case AsXml():
            return xsd_faults(write.xsd, to_xml(write.root, write.namespace, case.body, write.xsd))
        case AsPdf():
            found = []
            for name, value in case.body.items():
                try:
                    form_values(write.blank, {name: value})
                except Invalid as fault:
                    found.append(fault.detail)
            return list(dict.fromkeys(found))
        case AsMail():
            return ["The subject is longer than 200 characters."] if len(case.subject) > 200 else []
        case _:
            return []
