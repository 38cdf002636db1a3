"""Reading what a desk answers: JSON, XML or labelled lines as one tree, its parts by JSONPath (RFC 9535)."""

from __future__ import annotations

import json
from collections.abc import Iterable
from typing import Any

from pydantic import BaseModel, ConfigDict

from sealpacket.core.controls import without_controls
from sealpacket.core.errors import Invalid
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.sending import StatusWord
from sealpacket.core.sheets.writing.mail import read_labels
from sealpacket.core.sheets.writing.xml import to_tree


class _Value(BaseModel):
    model_config = ConfigDict(frozen=True)


class Refusal(_Value):
    """One reason for which the desk refused, with what to do."""

    code: str
    text: str
    cure: str
    act: str


class Message(_Value):
    """One message of the desk's; `asks` if it waits for our answer."""

    id: str
    text: str
    at: str
    asks: bool


class CaseNews(_Value):
    """How a case stands at the desk."""

    status: str
    life: str
    turn: str
    messages: tuple[Message, ...]
    told: dict[str, str] = {}


_LARGEST = 8 << 20


def read_reply(sheet: Sheet, data: bytes) -> Any:
    """What a desk sent, as one tree; None if it cannot be read as what the sheet says.

    Control characters, which no record takes, become U+FFFD.
    """
    if len(data) > _LARGEST:
        return None
    try:
        match sheet.replies.read:
            case "json":
                tree = json.loads(data)
            case "xml":
                tree = to_tree(data)
            case "labels":
                tree = read_labels(data.decode("utf-8", "replace"))
        return without_controls(tree)
    except (ValueError, RecursionError, Invalid):
        return None


def read_ours(sheet: Sheet, body: Any) -> str:
    """Our own number in something that a desk sent of its own accord; empty if there is none."""
    return str(_first(sheet.replies.ours, body) or "") if sheet.replies.ours else ""


def has_reference(sheet: Sheet, body: Any) -> bool:
    """Whether an answer of the desk's holds its reference."""
    return body is not None and _first(sheet.replies.reference, body) not in (None, "")


def _first(path: str, body: Any) -> Any:
    import jsonpath

    try:
        match = jsonpath.match(path, body)
    except jsonpath.JSONPathError:
        return None
    return None if match is None else match.obj


def _all(path: str, body: Any) -> list[Any]:
    import jsonpath

    try:
        found = list(jsonpath.findall(path, body))
    except jsonpath.JSONPathError:
        return []
    return [inner for item in found for inner in (item if isinstance(item, list) else [item])]


def read_reference(sheet: Sheet, body: Any) -> str:
    """The desk's reference. Raises Invalid if its answer holds none."""
    reference = _first(sheet.replies.reference, body)
    if reference in (None, ""):
        raise Invalid(
            f"{sheet.name} took the packet but gave no reference.",
            "Ask the desk by telephone, and check replies.reference in its sheet.",
            code="no-reference",
        )
    return str(reference)


def read_refusals(sheet: Sheet, body: Any) -> tuple[Refusal, ...]:
    """The desk's reasons, each with the cure that the sheet knows."""
    rules = sheet.replies.refusals
    found: list[Refusal] = []
    for item in _all(rules.each, body) if body is not None else []:
        code, text = str(_first(rules.code, item) or "unknown"), str(_first(rules.text, item) or "")
        cure = rules.cures.get(code)
        found.append(
            Refusal(
                code=code,
                text=text,
                cure=cure.sentence
                if cure
                else "Read the desk's reason, mend the packet and lodge it again.",
                act=cure.act if cure else "",
            )
        )
    return tuple(found)


def read_case(sheet: Sheet, body: Any) -> CaseNews:
    """Status and messages of a case. An unknown status word keeps the case with the vendor, and says the word.

    A mail without the desk's own labels is somebody's free words: it waits for us, whatever it says.
    """
    status = str(_first(sheet.replies.status, body) or "")
    refused = any(
        _first(sheet.replies.refusals.code, item)
        for item in _all(sheet.replies.refusals.each, body)
    )
    unlabelled = sheet.replies.by == "mail" and not status and not refused
    word = sheet.replies.words.get(status, StatusWord(life="lodged", turn="vendor"))
    rules = sheet.replies.messages
    messages = tuple(
        Message(
            id=str(_first(rules.id, item)),
            text=_with_files(
                str(_first(rules.text, item) or ""), _all(rules.files, item) if rules.files else ()
            ),
            at=str(_first(rules.at, item) or ""),
            asks=unlabelled or _truth(_first(rules.asks, item)),
        )
        for item in _all(rules.each, body)
    )
    told = {
        one.label: str(value)
        for one in sheet.replies.told
        if (value := _first(one.take, body)) not in (None, "")
    }
    return CaseNews(status=status, life=word.life, turn=word.turn, messages=messages, told=told)


def _with_files(text: str, names: Iterable[Any]) -> str:
    """The text, and below it the names of what is attached."""
    told = [f"[attached: {name}]" for name in names]
    return "\n\n".join(part for part in (text, "\n".join(told)) if part)


def _truth(value: Any) -> bool:
    if isinstance(value, str):
        return value.strip().lower() not in ("", "no", "none", "nothing", "false", "0")
    return bool(value)
