"""Reading what a desk answers, by the paths of its sheet (JSONPath, RFC 9535)."""

from __future__ import annotations

from typing import Any

import jsonpath
from pydantic import BaseModel, ConfigDict

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets.model import Sheet, StatusWord


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


def _first(path: str, body: Any) -> Any:
    match = jsonpath.match(path, body)
    return None if match is None else match.obj


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
    for item in jsonpath.findall(rules.each, body) if body is not None else []:
        code, text = str(_first(rules.code, item) or "unknown"), str(_first(rules.text, item) or "")
        cure = rules.cures.get(code)
        found.append(
            Refusal(
                code=code,
                text=text,
                cure=cure.sentence if cure else "Read the desk's reason, mend the packet and lodge it again.",
                act=cure.act if cure else "",
            )
        )
    return tuple(found)


def read_case(sheet: Sheet, body: Any) -> CaseNews:
    """Status and messages of a case. An unknown status word keeps the case with the vendor, and says the word."""
    status = str(_first(sheet.replies.status, body) or "")
    word = sheet.replies.words.get(status, StatusWord(life="lodged", turn="vendor"))
    rules = sheet.replies.messages
    messages = tuple(
        Message(
            id=str(_first(rules.id, item)),
            text=str(_first(rules.text, item) or ""),
            at=str(_first(rules.at, item) or ""),
            asks=bool(_first(rules.asks, item)),
        )
        for item in jsonpath.findall(rules.each, body)
    )
    return CaseNews(status=status, life=word.life, turn=word.turn, messages=messages)
