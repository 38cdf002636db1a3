"""How a sheet describes a desk's replies: where values are in them, and what its words mean."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field, StringConstraints
from pydantic_core import PydanticCustomError

from sealpacket.core.sheets.asking import Part

JsonPath = str
WORDS = "words"
"""The keyword, in place of a path, for reading a status from the words of a message."""
Act = Literal[
    "reopen", "lodge", "mend_asset", "mend_login", "use_login", "open_ruling", "open_desks"
]
"""Remedies of a refusal: take the packet back to drafting, lodge it again, correct the asset or the login, use
another login, look at the ruling, or correct the sheet."""


class Status(Part):
    """The meaning of one of the desk's status words."""

    life: Literal["lodged", "answered", "settled", "refused"] = Field(
        description="How far the case is: taken, answered, over, or not taken."
    )
    turn: Literal["ours", "vendor"] = Field(description="Who has to do something next.")
    settle_after_days: int = Field(
        0,
        ge=0,
        le=365,
        description="Of a desk that never closes a case (`settled_by: us`): after how many working days we settle it; "
        "Today says when they are over. 0: at any time.",
    )


_STATUSES = {
    "lodged": {"life": "lodged", "turn": "vendor"},
    "asked": {"life": "lodged", "turn": "ours"},
    "answered": {"life": "answered", "turn": "ours"},
    "settled": {"life": "settled", "turn": "vendor"},
    "refused": {"life": "refused", "turn": "ours"},
}


def _in_full(value: Any) -> Any:
    if not isinstance(value, str):
        return value
    if value not in _STATUSES:
        expected = ", ".join(f"'{word}'" for word in _STATUSES)
        raise PydanticCustomError("literal_error", "not a status", {"expected": expected})
    return _STATUSES[value]


StatusMeaning = Annotated[
    Status,
    BeforeValidator(
        _in_full,
        json_schema_input_type=Literal["lodged", "asked", "answered", "settled", "refused"]
        | Status,
    ),
]
"""One word where the turn follows from it (`asked`: lodged, and our turn), or life and turn."""


class Messages(Part):
    """Where messages are in the desk's answer about a case."""

    list: JsonPath = Field(description="Where the messages are.")
    id: JsonPath = Field("", description="Its id; empty: its text and time identify it.")
    text: JsonPath = Field(description="The words of one.")
    at: JsonPath = Field("", description="When it was written; empty: when we read it.")
    author: JsonPath = Field("", description="Who wrote it; empty: the desk.")
    asks: JsonPath = Field(
        "", description="Whether it waits for our answer; empty: the status says it."
    )
    files: JsonPath | None = Field(
        None, description="The attachments of a message: the files, or only their names."
    )
    file_name: JsonPath = Field(
        "", description="Of a file: its name; empty: `files` gives the names."
    )
    file_at: JsonPath = Field(
        "",
        description="Of a file: where it is at the desk. It is fetched from there, signed in as the login, and kept.",
    )


class Remedy(Part):
    """The remedy of a refusal."""

    remedy: str = Field(description="In a sentence: Compare the serial with the label.")
    act: Act | None = Field(
        None, description="An act that can be done at once, offered as a button."
    )


class Refusals(Part):
    """Where the reasons are in a refusal, and the remedy of each."""

    list: JsonPath = Field(description="Where the reasons are.")
    code: JsonPath = Field(
        "",
        description="The code of one, or the path of the field that it is about; empty: http-409, by the status of the "
        "answer.",
    )
    text: JsonPath = Field(description="Its words.")
    opening: str = Field("", max_length=120, description="Words before them: Open already as")
    remedies: dict[str, Remedy] = Field(
        default_factory=dict,
        description="By code; a name that ends in * serves every code that begins so: contact.*",
    )


class DeskFact(Part):
    """Something else that the desk says, such as an RMA or a tracking number."""

    label: str = Field(max_length=60, description="Our name for it.")
    path: JsonPath = Field(description="Its path.")
    means: Literal["", "carrier", "tracking", "serial", "return_by"] = Field(
        "",
        description="Of a shipment, which takes it from here: of one to us, and the serial of the replacement; of one "
        "to the vendor, until which day it has to be back (as in ISO 8601).",
    )


CONSEQUENCE_FIELDS: Mapping[str, frozenset[str]] = {
    "entitlement": frozenset({"level", "hours", "ends_on"}),
    "contract": frozenset({"ends_on", "notice_on"}),
    "asset": frozenset({"software_version", "registered_on"}),
}
"""By kind of record, the fields that an answer of a desk may change."""


class Consequence(Part):
    """A change of the register that follows when the desk grants what was asked; a keeper takes it."""

    what: str = Field(max_length=120, description="In words: the new level of service.")
    when: tuple[str, ...] = Field(
        min_length=1, description="Words of its status with which it is granted."
    )
    record: Literal["entitlement", "contract", "asset"] = Field(
        description="The record that changes: of the ruling, or the packet’s asset."
    )
    field: str = Field(
        max_length=40,
        description="Its field: level, hours or ends_on of an entitlement; ends_on or notice_on of a contract; "
        "software_version or registered_on of an asset.",
    )
    take: str = Field(
        max_length=120,
        description="The new value: answers.level is an answer of ours, facts.Granted a fact of the desk.",
    )
    words: dict[str, str] = Field(
        default={}, description="By value, its word in the register; else the label of the choice."
    )
    from_on: str = Field(
        "",
        max_length=120,
        description="The day from which it counts, such as answers.from_day; empty: the day of the answer.",
    )


class TextPart(Part):
    """A value inside a text, such as a reference in a subject: found by a pattern with named groups."""

    example: str = Field(
        min_length=1,
        max_length=400,
        description="Such a text, as the desk writes it: [PW-88123] Fault of LB-2207. The pattern has to find all of "
        "its parts in it.",
    )
    at: JsonPath = Field(description="The path of the text: $.mail.subject")
    pattern: str = Field(
        max_length=400,
        description="RE2 with named groups. What (?P<paper>PW-[0-9]{5}) finds is read at $.parts.paper; of several "
        "patterns with the same name the first that finds something counts.",
    )


class Replies(Part):
    """How the desk answers. What it says is read as one tree (see `read`), and its parts by JSONPath (RFC 9535)."""

    arrive: Literal["polling", "webhook", "mail", "folder", "hand"] = Field(
        "polling",
        description="We ask; it calls us (and we ask as well); it writes; it leaves papers in a folder; "
        "a person enters what it says.",
    )
    read: Literal["json", "xml", "labels", "pairs", "csv"] = Field(
        "json",
        description="labels: lines such as `Case: 12`, the text after them under `text`; pairs: KEY=value; "
        "csv: rows under `rows`, by heading.",
    )
    parts: tuple[TextPart, ...] = Field(
        (),
        max_length=20,
        description="Values inside texts. They join the tree under `parts`, where every path can read them.",
    )
    reference: JsonPath = Field(
        "", description="The path of its reference; by hand a person enters it."
    )
    reference_form: str = Field(
        "",
        max_length=200,
        description="RE2 that matches a complete reference of the desk; entered ones are checked.",
    )
    reference_example: str = Field(
        "", max_length=60, description="A reference as it may be, shown beside the field."
    )
    our_number: JsonPath = Field(
        "", description="The path of our own number, in what a desk sends unasked."
    )
    match: tuple[Literal["our_number", "in_reply_to", "references", "subject", "name"], ...] = (
        Field(
            (),
            description="How a mail or paper finds its packet, beside our number: by the mail that it answers, "
            "by our number in its subject, or in the file's name.",
        )
    )
    number_in: str = Field(
        "",
        max_length=200,
        description="Of subject and name: RE2 with one group that is our number; empty: our number as it is.",
    )
    status: JsonPath = Field(
        "",
        description="The path of the status word; `words`: the first of `statuses` that its latest message or the "
        "subject of its mail holds, whatever its capitals. By hand it is always looked for in what is entered.",
    )
    statuses: dict[str, StatusMeaning] = Field(
        default_factory=dict,
        description="The meaning of each word; one that is not listed is shown, and waits for us.",
    )
    settled_by: Literal["desk", "us"] = Field(
        "desk", description="us: the desk never says that a case is over; we settle it."
    )
    consequences: tuple[Consequence, ...] = Field(
        (),
        max_length=20,
        description="Changes of the register that follow when it grants something.",
    )
    messages: Messages | None = Field(None, description="Its messages, if it writes any.")
    refusals: Refusals | None = Field(None, description="Its refusals, if it gives reasons.")
    refusals_by_status: dict[
        Annotated[str, StringConstraints(pattern=r"^4[0-9]{2}$")], Refusals
    ] = Field(
        default_factory=dict,
        max_length=20,
        description="Over HTTP: the path of its reasons by the status of the answer, if other than in `refusals`.",
    )
    facts: tuple[DeskFact, ...] = Field((), description="Further facts: an RMA, a tracking number.")
    signature: str = Field(
        "",
        max_length=60,
        description="Of a webhook: the header with the HMAC-SHA256 (hex) of its body.",
    )
