"""A case as a mail: its subject, words, and the block of labelled lines; and reading such a block again."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Any

from sealpacket.core.sheets.conversion import plain
from sealpacket.core.sheets.sending import AsMail
from sealpacket.core.sheets.writing.cases import Case


@dataclass(frozen=True)
class Letter:
    """Subject and text of a mail."""

    subject: str
    text: str


def letter_of(write: AsMail, case: Case) -> Letter:
    """The mail of a case. A value of several lines goes on in lines that begin with a blank, as in RFC 5322."""
    lines = [case.opening.strip(), ""] if case.opening.strip() else []
    lines += [write.first_line] if write.first_line else []
    for label, value in case.body.items():
        first, *more = _plain_lines(value)
        lines.append(f"{label}: {first}".rstrip())
        lines += [f"  {line}" for line in more]
    lines += [write.last_line] if write.last_line else []
    return Letter(subject=case.subject, text="\n".join(lines) + "\n")


def _plain_lines(value: Any) -> list[str]:
    return [line.rstrip() for line in plain(value).splitlines()] or [""]


_LABELLED = re.compile(r"([A-Za-z][A-Za-z0-9 /_-]{0,40}?)[ \t]*:[ \t]*(.*)")


def read_labels(text: str) -> dict[str, Any]:
    """The labelled lines at the beginning of a text, by label in small letters; what comes after them is `text`.

    A line that begins with a blank goes on with the one before. Quoted lines (`>`) are left out. A value such as
    `late - It came too late` is also there in its two parts, as `reason_code` and `reason_words`.
    """
    found: dict[str, Any] = {}
    lines = [line for line in text.replace("\r\n", "\n").split("\n") if not line.startswith(">")]
    last, rest = "", len(lines)
    for place, line in enumerate(lines):
        match = _LABELLED.fullmatch(line)
        if match:
            last = match[1].strip().lower().replace(" ", "_")
            found.setdefault(last, match[2].strip())
        elif last and line[:1] in (" ", "\t") and line.strip():
            found[last] += "\n" + line.strip()
        elif line.strip() or last:
            rest = place
            if line.strip() or found:
                break
    for label, value in list(found.items()):
        code, dash, words = value.partition(" - ")
        if dash and re.fullmatch(r"[A-Za-z0-9_]{1,40}", code):
            found |= {f"{label}_code": code, f"{label}_words": words}
    found["text"] = "\n".join(lines[rest:]).strip()
    return found
