"""Updates to a desk that has a case: the acts after the reference, and how each is written for it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Literal, get_args

from pydantic import Field

from sealpacket.core.sheets.asking import Part
from sealpacket.core.sheets.bodies import Group
from sealpacket.core.sheets.rendering import fill

UpdateKind = Literal[
    "comment",
    "severity",
    "escalate",
    "contact",
    "told",
    "accept",
    "contest",
    "rate",
    "close",
    "open_again",
]
"""An act after the reference: a comment or files, another severity, an escalation by the desk's rule, another
contact, other people to keep informed, accepting or contesting the proposed answer, a rating, closing, reopening."""
TELLS: tuple[UpdateKind, ...] = get_args(UpdateKind)

_WORDS: dict[UpdateKind, str] = {
    "comment": "{message.text}",
    "severity": "Please set the severity of {message.reference} to “{act.label}”. {message.text}",
    "escalate": "We ask you to escalate {message.reference}: {act.trigger}. {message.text}",
    "contact": "Please speak to {act.name} from now on ({act.mail}, {act.phone}). {message.text}",
    "told": "Please keep these people informed from now on: {act.people}. {message.text}",
    "accept": "We accept your answer to {message.reference}; it can be closed. {message.text}",
    "contest": "Your answer to {message.reference} does not solve it. {message.text}",
    "rate": "We rate the help with {message.reference} {act.rating} of 5. {message.text}",
    "close": "Please close {message.reference}; we need no more help with it. {message.text}",
    "open_again": "Please open {message.reference} again. {message.text}",
}
"""The default text of an update, if the sheet has none of its own."""


class UpdateRule(Part):
    """How one act is written for this desk."""

    path: str = Field(
        "",
        pattern=r"^(/.*)?$",
        description="Over HTTP: where it goes, with {reference}, and {message.text} or what belongs to the act in it: "
        "/cases/{reference}?why={message.text}. Empty: it goes as an answer, with `words`.",
    )
    method: Literal["POST", "PUT", "PATCH", "DELETE"] = Field(
        "POST", description="Over HTTP: the method. Without a body none is sent."
    )
    body: Group = Field(
        default_factory=dict, description="Over HTTP: what is sent: {take: act.level}."
    )
    root: str = Field(
        "answer",
        pattern=r"^[A-Za-z_][A-Za-z0-9_.-]{0,60}$",
        description="Of XML: the outermost element.",
    )
    words: str = Field(
        "",
        max_length=1000,
        description="Elsewhere: what is written, with {message.text} and what belongs to the act.",
    )
    within_days: int = Field(
        0,
        ge=0,
        le=3650,
        description="For open_again: number of days after the end in which it is possible; 0: always.",
    )


def words_of(
    rules: Mapping[UpdateKind, UpdateRule], act: UpdateKind, values: Mapping[str, Any]
) -> str:
    """The text of an update: the sheet's own, or the default."""
    own = rules[act].words if act in rules else ""
    return fill(own or _WORDS[act], values).strip()
