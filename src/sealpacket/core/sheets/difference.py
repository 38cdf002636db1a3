"""The changes that a newer sheet makes to a packet drafted with an older one."""

from __future__ import annotations

from collections.abc import Mapping

from pydantic import BaseModel, ConfigDict

from sealpacket.core.sheets.answers import answer_fault
from sealpacket.core.sheets.asking import Question
from sealpacket.core.sheets.forms import Known
from sealpacket.core.sheets.model import Sheet


class SheetDifference(BaseModel):
    """One thing that is other. `answer` is what was typed and cannot be kept."""

    model_config = ConfigDict(frozen=True)

    what: str
    sentence: str
    answer: str = ""


def differences(
    old: Sheet, new: Sheet, typed: Mapping[str, str], known: Known
) -> tuple[SheetDifference, ...]:
    """Questions that are new, gone or changed, typed answers that are dropped, and other changes."""
    found: list[SheetDifference] = []
    before, after = old.by_name, new.by_name
    for ident, question in after.items():
        if ident not in before:
            found.append(SheetDifference(what="asked", sentence=f"Asked anew: {question.ask}"))
        elif question != before[ident]:
            found.append(
                SheetDifference(what="changed", sentence=_changed(before[ident], question))
            )
    for ident, question in before.items():
        if ident not in after:
            found.append(SheetDifference(what="gone", sentence=f"No longer asked: {question.ask}"))
    for ident in dropped(new, typed, known):
        known_as = after.get(ident) or before.get(ident)
        ask = known_as.ask if known_as else ident
        found.append(
            SheetDifference(
                what="dropped",
                sentence=f"What was answered cannot stay: {ask}",
                answer=typed[ident],
            )
        )
    for name, words in _PARTS.items():
        if getattr(old, name) != getattr(new, name):
            found.append(SheetDifference(what=name, sentence=words))
    return tuple(found)


_PARTS = {
    "kinds": "The kinds of request that it takes are others.",
    "requirements": "What has to be so before sending is other.",
    "severity": "The severity scale is another.",
    "evidence": "It wants to see other evidence.",
    "attachments": "Its limits for attachments are others.",
    "split": "It wants the packet split otherwise.",
    "write": "The packet is written otherwise.",
    "send": "It is sent in another way.",
    "replies": "Its replies are read otherwise.",
    "hours": "Its hours are others.",
}


def dropped(new: Sheet, typed: Mapping[str, str], known: Known) -> list[str]:
    """The questions whose typed answer the newer sheet does not take."""
    asked = new.by_name
    return [
        ident
        for ident, value in typed.items()
        if ident not in asked
        or (asked[ident].choices and answer_fault(asked[ident], value, known) is not None)
    ]


def _changed(old: Question, new: Question) -> str:
    if old.ask != new.ask:
        return f"Asked in other words: {new.ask}"
    if old.form != new.form:
        return f"Answered in another form ({new.form} instead of {old.form}): {new.ask}"
    if old.choices != new.choices:
        return f"Other choices: {new.ask}"
    if old.required != new.required:
        return f"{'Required now' if new.required else 'No longer required'}: {new.ask}"
    return f"Other limits or sources: {new.ask}"
