"""Fields of a mail with labelled lines, from a sample of one."""

from __future__ import annotations

import email
import email.policy
import re
from email.message import EmailMessage

from sealpacket.core.sheets.beginning.fields import Begun, Field, kind_of_value

_LABELLED = re.compile(r"([A-Za-z][A-Za-z0-9 /_-]{0,40}?)[ \t]*:[ \t]*(.*)")
_HEAD = re.compile(r"(?i)(from|to|subject|date|message-id|received|mime-version|return-path)$")


def from_mail(text: str) -> Begun:
    """The labels of the lines, and the lines around them. A sample may have the heads of a mail or not."""
    subject = ""
    message = email.message_from_string(text, policy=email.policy.default)
    if message["Subject"] and isinstance(message, EmailMessage):
        body = message.get_body(("plain",))
        subject, text = str(message["Subject"]), str(body.get_content()) if body is not None else ""
    lines = text.splitlines()
    fields: dict[str, Field] = {}
    first = last = None
    for number, line in enumerate(lines):
        match = _LABELLED.fullmatch(line.strip())
        if match and not _HEAD.match(match[1]) and match[1] not in fields:
            first, last = number if first is None else first, number
            kind = kind_of_value(match[2].strip())
            fields[match[1]] = Field(
                match[1],
                kind=kind if kind != "boolean" else "text",
                required=bool(match[2].strip()),
            )
    write = {"subject": "{packet.title} ({asset.serial})"}
    if first is not None and last is not None:
        write |= _around(lines, first, last)
    notes: dict[tuple[str | int, ...], str] = {
        ("write", "subject"): f"as the desk wants it; the sample has “{subject}”"
        if subject
        else "as the desk wants it"
    }
    return Begun("mail", [*fields.values()], write, files=True, notes=notes)


def _around(lines: list[str], first: int, last: int) -> dict[str, str]:
    """The line right before the block and the one right after it, if they look like marks."""
    found = {}
    for name, place in (("first_line", first - 1), ("last_line", last + 1)):
        line = lines[place].strip() if 0 <= place < len(lines) else ""
        if re.fullmatch(r"[=*#-]{2,}.{0,60}[=*#-]{2,}|\[[^\]]{1,60}\]", line):
            found[name] = line
    return found
