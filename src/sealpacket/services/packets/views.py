"""What is shown of packets."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from pydantic import BaseModel

from sealpacket.core.coverage import Ruling
from sealpacket.core.sheets import Answer, Check


class AssetBrief(BaseModel):
    """The thing a packet is about, in a line."""

    id: str
    serial: str
    name: str
    product: str
    vendor: str
    vendor_name: str
    site: str | None


class PacketBrief(BaseModel):
    """A packet in a list. `words` says in a sentence how it stands."""

    number: str
    title: str
    life: str
    turn: str
    need: str
    vendor: str | None
    asset: AssetBrief | None
    reference: str | None
    words: str
    created_at: datetime
    updated_at: datetime
    stops: int | None = None


class ChoiceShown(BaseModel):
    """One value that can be chosen; `path` is what an answer says."""

    path: str
    label: str
    words: str
    duties: list[str]
    above: list[str]


class QuestionShown(BaseModel):
    """One question of the desk's, with its answer as it stands."""

    id: str
    ask: str
    form: str
    guide: str
    at_most: int
    choices: list[ChoiceShown]
    answer: Answer
    fault: str | None


class ExhibitShown(BaseModel):
    """One exhibit. Sizes in bytes; `done` is how much is redacted; `counts` are findings by kind."""

    id: str
    name: str
    state: str
    size: int
    sha256: str | None
    outgoing_size: int | None
    outgoing_sha256: str | None
    done: int
    leaks: int
    reason: str
    released_by: str | None
    counts: dict[str, int]
    kept: dict[str, int]
    created_at: datetime


class MessageShown(BaseModel):
    """Something said between us and the desk."""

    id: str
    direction: str
    text: str
    asks: bool
    by: str
    at: datetime
    answered: bool
    sent: bool


class LoginBrief(BaseModel):
    """A login that could send this packet; `tied` to the ruling's contract or not."""

    name: str
    tied: bool
    chosen: bool


class PersonBrief(BaseModel):
    """A person who can be named."""

    key: str
    name: str
    on_call: bool


class SealShown(BaseModel):
    """The seal: when, by whom, and the SHA-256 (hex) of the tag manifest that it signs."""

    at: datetime
    by: str
    tag_manifest: str
    key: str
    files: int
    octets: int
    bag_sha256: str


class RefusalShown(BaseModel):
    """One reason of a desk's refusal, with what to do."""

    code: str
    text: str
    cure: str
    act: str


class PacketShown(PacketBrief):
    """A packet on the workbench: everything that is in it and everything that still stops it."""

    version: int
    note: str
    noted_by: str
    login: str | None
    logins: list[LoginBrief]
    desk: str | None
    desk_name: str | None
    sheet_version: int | None
    ruling: Ruling | None
    questions: list[QuestionShown]
    people: list[PersonBrief]
    exhibits: list[ExhibitShown]
    checks: list[Check]
    messages: list[MessageShown]
    seal: SealShown | None
    lodge_state: str | None
    lodge_words: str
    lodged_at: datetime | None
    desk_status: str
    followed_at: datetime | None
    refusals: list[RefusalShown]


class Letter(BaseModel):
    """The case as the desk will read it."""

    desk: str
    form: str
    body: Any


class Span(BaseModel):
    """A stretch of a line; `placeholder` is set where it is masked, `kind` says as what."""

    text: str
    kind: str | None = None
    placeholder: str | None = None


class ReviewLine(BaseModel):
    """One line of an exhibit, original beside outgoing."""

    number: int
    spans: list[Span]


class Review(BaseModel):
    """A window on an exhibit around one finding. Findings are numbered from 0; `at` is the one in the middle."""

    findings: int
    at: int | None
    line: int
    lines: list[ReviewLine]
    counts: dict[str, int]
