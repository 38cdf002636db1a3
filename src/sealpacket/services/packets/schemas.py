"""What is shown of packets."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any, Literal

from pydantic import BaseModel, Field

from sealpacket.core.coverage import Ruling
from sealpacket.core.sheets import Answer, Check, Condition
from sealpacket.core.sheets.asking import Column
from sealpacket.core.sheets.difference import SheetDifference


class TrialStep(BaseModel):
    """One act of a trial; `ok` is empty for one that the sheet has not. `said` is what the desk would have written."""

    act: str
    ok: bool | None
    sentence: str
    said: str = ""


class TrialShown(BaseModel):
    """What came of a trial, once it is `done`: the acts of a whole life at a desk made from the sheet; what the
    configured stand-in said, if it was lodged there as well; and what was sent."""

    id: str
    done: bool
    steps: list[TrialStep]
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
    retired: bool = Field(description="Out of use, as one that was replaced.")


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
    owner: str = Field(description="The account that looks after it.")
    created_at: datetime
    updated_at: datetime
    stops: int | None = None


class ChoiceShown(BaseModel):
    """One value that can be chosen; `path` is what an answer says."""

    path: str
    label: str
    meaning: str
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
    min_length: int
    max_length: int
    max_items: int
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


class CollectedBy(BaseModel):
    """The step of a kit that brought an exhibit, and how it ended."""

    kit: str = Field(max_length=60)
    step: str = Field(max_length=60)
    state: Literal["got", "cut", "too old"] = "got"


class KitOutcomeShown(BaseModel):
    """How a step of a kit ended: got, empty, failed, too old or cut. `why` says what is wrong; sizes in bytes."""

    step: str
    what: str
    state: str
    why: str
    octets: int
    exhibits: list[str]
    answers: dict[str, str]


class KitRunShown(BaseModel):
    """A kit that was confirmed for a packet, and how each of its steps ended so far."""

    id: str
    kit: str
    title: str
    version: int
    target: str
    state: Literal["waiting", "running", "done", "failed"]
    reason: str
    steps: int
    outcomes: list[KitOutcomeShown]
    confirmed_by: str
    confirmed_at: datetime
    ended_at: datetime | None


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
    later: bool = Field(description="It came after the seal.")
    sent: bool = Field(description="The desk has it, or a message takes it there.")
    first_at: datetime | None = Field(description="Of a log, when its first line was written.")
    last_at: datetime | None
    faults: list[str] = Field(description="What is wrong with what it holds, in sentences.")
    has_summary: bool
    collected: CollectedBy | None = Field(description="The step of a kit that brought it.")
    original_deleted_at: datetime | None
    shows: Literal["lines", "pages", "values"] = Field(
        description="How its copy is looked at beside the original: line by line, page by page, or by value only."
    )
    created_at: datetime


class AskedShown(BaseModel):
    """One thing that a message of the desk's wants; `doubtful` where it is only supposed to be a question."""

    id: str
    text: str
    doubtful: bool
    open: bool
    by: str = Field(description="Who answered or dismissed it.")


class VendorFileShown(BaseModel):
    """A file that a vendor sent. `kind` is what it is by its content, `warning` what to mind before it is opened."""

    id: str
    packet: str
    name: str
    size: int
    state: Literal["waiting", "kept", "failed"]
    failure: str
    kind: str
    warning: str
    asset: str | None = Field(description="The id of the asset with which it is stored.")
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
    how: Literal["desk", "call", "hand"] = Field(
        description="Through the desk's channel, in a telephone call, or entered by hand."
    )
    act: str = Field(description="What one of ours does at the desk.")
    taken_back: bool
    can_take_back: bool
    questions: list[AskedShown]
    files: list[str] = Field(description="Names of exhibits that go with one of ours.")
    received: list[VendorFileShown] = Field(description="Files that came with one of the vendor's.")
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


class BeganShown(BaseModel):
    """When it began, as read in the note, and the words that say so."""

    at: datetime
    words: str


class PacketShown(PacketBrief):
    """A packet on the workbench: everything that is in it and everything that still stops it."""

    version: int
    note: str
    began_at: datetime | None = Field(description="When what it is about began.")
    began_read: BeganShown | None = Field(
        description="When it began as the note says, as long as nobody has said so."
    )
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
    settled_by: Literal["desk", "us"] | None = Field(
        description="Who says that it is over: its desk, or we."
    )
    takes_files: int | None
    by_hand: bool = Field(description="Its desk is reached by hand: a person enters the packet.")
    next_try_at: datetime | None = Field(
        description="When something that waits for its desk is tried again."
    )
    waits_because: str = Field(description="Why something waits for its desk.")
    acts: list[ActShown]
    access: list[AccessShown]
    shipments: list[ShipmentShown]
    follows: str | None = Field(description="The packet that it takes up again.")
    followed_by: list[str]
    cause: str
    cure: str
    kit_runs: list[KitRunShown]
    ticket: str = Field(description="The number at our own service desk.")
    ticket_trouble: str = Field(description="Why it could not be reported back; empty if it could.")
    context: dict[str, Any] | None = Field(description="What a program told of it.")


class AccessShown(BaseModel):
    """A vendor's access to our systems; `overdue` once its time is over and nobody has ended it."""

    id: str
    packet: str
    who: str
    what: str
    asked: str
    from_at: datetime
    until_at: datetime
    granted_by: str
    ended_at: datetime | None
    ended_by: str
    ended_how: str
    overdue: bool


class ShipmentShown(BaseModel):
    """Something on its way because of a packet; `due_on` is when it has to be there, `late` once that is over."""

    id: str
    packet: str
    way: Literal["to_us", "to_vendor"]
    what: str
    carrier: str
    tracking: str
    sent_on: date | None
    due_on: date | None
    arrived_on: date | None
    late: bool


class TrayItemShown(BaseModel):
    """Something that came and has no packet yet: a mail, or a paper from a desk's folder."""

    id: str
    sort: Literal["mail", "paper"]
    sender: str
    subject: str
    words: str
    at: datetime


class ActShown(BaseModel):
    """An act on a case, whether it is possible now and if not, why; `own`: the desk has a way of its own for it."""

    act: str
    possible: bool
    because: str
    own: bool


class HandField(BaseModel):
    """One field to enter by hand: its label at the desk, what is entered, and how it is spelled on the telephone."""

    label: str
    value: str
    spelled: str
    entered: bool


class HandCase(BaseModel):
    """One case to enter; `opening` is what is said or written first."""

    label: str
    opening: str
    reference: str | None
    fields: list[HandField]


class HandFile(BaseModel):
    """A file to add at the desk, under this name; `exhibit` is what it is called here. Size in bytes."""

    name: str
    exhibit: str
    size: int


class HandGuide(BaseModel):
    """What a person enters at a desk, in the desk's own order; values are as they may leave."""

    by: Literal["form", "telephone", "mail", "paper"]
    where: str
    closing: str
    cases: list[HandCase]
    files: list[HandFile]
    reference_example: str
    reference_form: str


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
    """A level of the desk's severity scale; `value` is what the desk calls it."""

    value: str
    label: str
    meaning: str
    duties: list[str]


class EscalationShown(BaseModel):
    """A step that the desk's rules allow."""

    trigger: str
    action: str
    contact: str
    after_hours: int


class SeverityShown(BaseModel):
    """Who sets the severity (`us`, `desk`, `computed`), what it comes to, and how it may be raised."""

    set_by: str
    level: str
    label: str
    raising: str
    levels: list[LevelShown]
    escalation: list[EscalationShown]


class EvidenceShown(BaseModel):
    """What the desk wants to see of this packet; hours around the event. `exhibit` is what serves it best so far."""

    what: str
    state: Literal["present", "missing", "faulty"]
    exhibit: str | None
    faults: list[str] = Field(description="What is wrong with that, in sentences.")
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
