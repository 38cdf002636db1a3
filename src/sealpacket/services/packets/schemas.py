"""What is shown of packets."""

from __future__ import annotations

from datetime import datetime
from typing import Any, Literal

from pydantic import BaseModel, Field

from sealpacket.core.coverage import Ruling
from sealpacket.core.sheets import Answer, Check, Condition
from sealpacket.core.sheets.asking import Column
from sealpacket.core.sheets.difference import SheetDifference


class TrialShown(BaseModel):
    """What the stand-in said, and what was sent, once the trial is `done`."""

    id: str
    done: bool
    status_text: str
    reference: str | None
    refusals: list[RefusalShown]
    cases: int
    sent: Any


class SheetChanges(BaseModel):
    """What the newer sheet of the desk would change for a draft; `answer` is what cannot stay."""

    have: int
    newest: int
    differences: list[SheetDifference]


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
    """A packet in a list. `status_text` says in a sentence how it stands."""

    number: str
    title: str
    life: str
    turn: str
    need: str
    vendor: str | None
    asset: AssetBrief | None
    reference: str | None
    status_text: str
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
    needs: list[str]


class Option(BaseModel):
    """A value that a field with many values offers: a country, a state, a language."""

    value: str
    label: str


class Suggestion(BaseModel):
    """What was answered before for this model and like symptoms."""

    value: str
    label: str
    why: str


class QuestionShown(BaseModel):
    """One question of the desk's, with its answer as it stands. `answer.because` says why it is asked."""

    id: str
    ask: str
    form: str
    guide: str
    at_least: int
    at_most: int
    most: int
    example: str
    wording: str
    units: list[str]
    components: list[str]
    columns: list[Column]
    options: list[Option]
    suggested: list[Suggestion]
    choices: list[ChoiceShown]
    place: int
    shown_when: bool | Condition
    required_when: bool | Condition
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
    shows: Literal["lines", "pages", "values"] = Field(
        description="How its copy is looked at beside the original: line by line, page by page, or by value only."
    )
    created_at: datetime


class MessageShown(BaseModel):
    """Something said between us and the desk."""

    id: str
    direction: str
    text: str
    asks: bool
    by: str
    case: str = Field(
        description="The label of the case that it is about; empty where there is only one."
    )
    at: datetime
    answered: bool
    sent: bool
    mail: bool
    sender: str = Field(description="Of a mail: from whom it says that it is.")
    stranger: bool = Field(
        description="It did not come from the desk's own domain, so that it changed nothing."
    )
    failure: str = Field(
        description="Why one of ours could not be sent; empty while it is on its way."
    )
    outgoing: str | None = Field(
        None, description="Of ours: what is sent; sensitive values are masked in it."
    )


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
    away: str


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
    questions_hidden: list[QuestionShown]
    known: dict[str, str]
    people: list[PersonBrief]
    exhibits: list[ExhibitShown]
    checks: list[Check]
    messages: list[MessageShown]
    seal: SealShown | None
    lodge_state: str | None
    lodge_status_text: str
    lodged_at: datetime | None
    legend_destroyed_at: datetime | None
    desk_status: str
    followed_at: datetime | None
    follow_state: Literal["asking", "failed"] | None = Field(
        description="A look at the desk under way, or that failed."
    )
    follow_status_text: str
    refusals: list[RefusalShown]
    cases: list[CaseShown]
    severity: SeverityShown | None
    evidence: list[EvidenceShown]
    sheet_waiting: int | None
    takes_files: int | None


class CaseShown(BaseModel):
    """One case of a sealed packet and how it stands; `label` is empty where there is only one."""

    label: str
    reference: str | None
    desk_status: str
    life: Literal["lodged", "answered", "settled"] | None = Field(
        description="Empty until the desk has it."
    )
    turn: Literal["ours", "vendor"] | None
    desk_facts: dict[str, str] = Field(
        description="What else the desk says of it, such as an RMA number."
    )


class LevelShown(BaseModel):
    """A level of the desk's severity scale."""

    label: str
    words: str
    duties: list[str]


class EscalationShown(BaseModel):
    """A step that the desk's rules allow."""

    when: str
    do: str
    by: str


class SeverityShown(BaseModel):
    """Who sets the severity (`ours`, `desk`, `computed`), what it comes to, and how it may be raised."""

    set_by: str
    level: str
    label: str
    raising: str
    levels: list[LevelShown]
    escalation: list[EscalationShown]


class EvidenceShown(BaseModel):
    """What the desk wants to see of this packet; hours around the event."""

    what: str
    kit: str
    required: bool
    hours_before: int
    hours_after: int
    because: str


class LetterCase(BaseModel):
    """One case as the desk will read it: `text` is its document or mail to read, `files` are called so at the desk."""

    label: str
    subject: str
    body: Any
    text: str
    documents: list[str]


class MaskedValue(BaseModel):
    """A value that is masked in a typed text."""

    kind: str
    placeholder: str
    original: str


class TextPart(BaseModel):
    """A part of a typed text: `text` as it was typed, `goes` as it leaves. `masked` is empty where both are the same.

    `sure` is false where a person had better look; `stops` is true for a secret or its like about which nobody has
    decided yet.
    """

    text: str
    goes: str
    masked: list[MaskedValue]
    sure: bool
    stops: bool


class KeptShown(BaseModel):
    """A sensitive value that goes out as it is, and why."""

    value: str
    reason: str


class TypedShown(BaseModel):
    """A typed text beside what leaves of it. `in_clear` says why some kinds of value are not masked in it."""

    path: str
    ask: str
    question: str
    parts: list[TextPart]
    outgoing: str
    kept: list[KeptShown]
    in_clear: str


class Letter(BaseModel):
    """The packet as the desk will read it. `body` is the first case's; `texts` are what was typed and what leaves."""

    desk: str
    form: str
    body: Any
    cases: list[LetterCase]
    files: list[str]
    texts: list[TypedShown]


class Span(BaseModel):
    """A stretch of a line; `placeholder` is set where it is masked, `kind` says as what. `goes` is what goes out of a
    stretch that is not masked, where the times in it are moved."""

    text: str
    kind: str | None = None
    placeholder: str | None = None
    goes: str | None = None


class ReviewLine(BaseModel):
    """One line of an exhibit, original beside outgoing."""

    number: int
    spans: list[Span]


class PlaceholderShown(BaseModel):
    """What a placeholder stands for."""

    placeholder: str
    value: str


class ClearMessage(BaseModel):
    """What was said, with its placeholders resolved."""

    id: str
    text: str


class LegendShown(BaseModel):
    """The legend of a packet, or the beginning of a long one, and what was said in clear."""

    total: int
    placeholders: list[PlaceholderShown]
    messages: list[ClearMessage]


class LegendDestroyed(BaseModel):
    """The proof: the custody log has this fingerprint of the key from its making and from its end."""

    number: str
    destroyed_at: datetime
    fingerprint: str


class FindingShown(BaseModel):
    """One finding: what stood there, and what goes out instead. `sure` is false where a person had better look."""

    kind: str
    value: str
    placeholder: str
    sure: bool


class Review(BaseModel):
    """A window on an exhibit around one finding. Findings are numbered from 0; `at` is the one in the middle, `focus`.

    `doubtful` is how many of all are not certain: these had better be looked at first.
    """

    findings: int
    doubtful: int
    at: int | None
    line: int
    all_lines: int
    focus: FindingShown | None
    lines: list[ReviewLine]
    counts: dict[str, int]


class ValueShown(BaseModel):
    """One value that was masked in an exhibit, and how often."""

    placeholder: str
    kind: str
    value: str
    times: int


class Values(BaseModel):
    """The values of an exhibit, the most frequent first; `total` is how many there are."""

    total: int
    values: list[ValueShown]


class CoveredShown(BaseModel):
    """One box on a page as it goes out, in parts of its width and height, and the value beneath.

    `placeholder` and `value` are empty for a code that says nothing, `value` also once the legend is destroyed.
    """

    left: float
    top: float
    right: float
    bottom: float
    kind: str
    placeholder: str
    value: str
    sure: bool


class PageShown(BaseModel):
    """One page: its size in pixels, and what is covered on it."""

    width: int
    height: int
    covered: list[CoveredShown]


class DrawnBoxShown(BaseModel):
    """A box that a person drew on a page (from 1), in parts of its width and height, and why."""

    id: str
    page: int
    left: float
    top: float
    right: float
    bottom: float
    reason: str
    by: str
    at: datetime


class DrawnBoxes(BaseModel):
    """All boxes that were drawn on an exhibit."""

    drawn: list[DrawnBoxShown]


class Pages(DrawnBoxes):
    """The pages of a picture or PDF."""

    pages: list[PageShown]


class DecisionShown(BaseModel):
    """That a value (or, where it is empty, a whole kind) is kept or masked everywhere in a packet, and why.

    Of a whole kind the lines or files can be left out, too.
    """

    id: str
    action: Literal["keep", "mask", "drop-line", "drop-file"]
    kind: str
    value: str
    label: str
    reason: str
    by: str
    at: datetime


class Decisions(BaseModel):
    """All that was decided about a packet's values, the newest first."""

    decisions: list[DecisionShown]


class RedactionPlanShown(BaseModel):
    """The organisation's redaction plan as YAML; `floor` are the kinds that nothing can have kept."""

    number: int
    yaml: str
    floor: list[str]
    by: str
    at: datetime | None
