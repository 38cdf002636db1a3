"""Response models of packets."""

from __future__ import annotations

from datetime import datetime
from typing import Any, Literal

from pydantic import BaseModel, Field

from sealpacket.core.attention import Attention
from sealpacket.core.coverage import Ruling
from sealpacket.core.life import DeliveryState, FollowingState, Life, Turn
from sealpacket.core.sheets import Answer, Check, Condition
from sealpacket.core.sheets.asking import Column
from sealpacket.core.sheets.difference import SheetDifference
from sealpacket.services.agreed.schemas import LimitRequestShown, UnitsHeld
from sealpacket.services.packets.follow.schemas import (
    AccessShown,
    ActShown,
    ConsequenceShown,
    MessageShown,
    ShipmentShown,
    ToldOfShipment,
)
from sealpacket.services.packets.redaction.schemas import TypedShown


class TrialStep(BaseModel):
    """One act of a trial; `ok` is empty for one that the sheet has not. `said` is what the desk would have written."""

    act: str
    ok: bool | None
    sentence: str
    said: str = ""


class TrialShown(BaseModel):
    """The result of a trial, once it is `done`: the steps at a desk made from the sheet, the answer of the configured
    stand-in if it was lodged there as well, and the case that was sent."""

    id: str
    done: bool
    steps: list[TrialStep]
    status_text: str
    reference: str | None
    refusals: list[RefusalShown]
    cases: int
    sent: Any


class SheetChanges(BaseModel):
    """The changes that the newer sheet of the desk would make to a draft; `answer` is one that no longer fits."""

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


class PacketHead(BaseModel):
    """A packet in short. `status_text` is its status as a sentence."""

    number: str
    title: str
    life: Life
    turn: Turn
    need: str
    vendor: str | None
    asset: AssetBrief | None
    reference: str | None = Field(description="The desk's reference, once it has taken the packet.")
    our_reference: str = Field(
        description="Its name in a system of ours, unique for good; empty without one."
    )
    ticket: str = Field(description="The number at our own service desk.")
    turn_since: datetime = Field(description="Since when it is this side's turn.")
    status_text: str
    owner: str = Field(description="The account that looks after it.")
    created_at: datetime
    updated_at: datetime
    stops: int | None = None


class PacketDue(BaseModel):
    """The next promise of a packet's desk."""

    due_at: datetime | None = Field(
        description="When its desk has to keep its next promise; null: none, or it is our turn."
    )
    due_what: Literal["", "first_answer", "next_word", "repair"] = Field(
        description="The promise that is due then; empty: none."
    )
    due_zone: str = Field(
        description="The time zone of its desk, such as Europe/London; empty: not known."
    )
    escalate_at: datetime | None = Field(
        description="From when its desk's rules let you escalate it; null: they do not, or you have done so."
    )


class PacketBrief(PacketDue, PacketHead):
    """A packet in a list."""

    severity: str = Field(description="Its severity, as its desk calls it; empty: it has none.")
    contract: str = Field(description="The contract by which it is covered; empty without one.")
    attention: Attention = Field(
        description="Why it needs us, by the most urgent reason at this moment."
    )
    exhibits: int = Field(description="How many exhibits it has.")
    messages: int = Field(description="How many messages were exchanged about it.")
    questions: int = Field(description="How many questions of its desk wait for an answer.")
    last_word: str = Field(description="How the last message begins; empty: nothing was said yet.")
    last_word_from: str = Field(description="Who said it.")
    last_word_at: datetime | None = Field(description="When it was said.")


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
    """An earlier answer for the same model and similar symptoms."""

    value: str
    label: str
    why: str


class QuestionShown(BaseModel):
    """One question of the desk's with its current answer. `answer.because` says why it is asked."""

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
    faults: list[str] = Field(description="Faults of its content, in sentences.")
    has_summary: bool
    collected: CollectedBy | None = Field(description="The step of a kit that brought it.")
    original_deleted_at: datetime | None
    shows: Literal["lines", "pages", "values"] = Field(
        description="How its copy is looked at beside the original: line by line, page by page, or by value only."
    )
    created_at: datetime


class LoginBrief(BaseModel):
    """A login that could send this packet; `tied` to the ruling's contract or not."""

    name: str
    tied: bool
    chosen: bool


class HandedOver(BaseModel):
    """Who gave a packet into whose care, when, and what they said is next."""

    by: str
    to: str
    note: str
    at: datetime


class DeskBrief(BaseModel):
    """A desk to which this packet could go; `takes` whether it takes this kind of need."""

    key: str
    name: str
    takes: bool


class PersonBrief(BaseModel):
    """A person who can be named."""

    key: str
    name: str
    on_call: bool
    away: str


class LaterBagShown(BaseModel):
    """A bag with what came after the packet was sealed, chained to the bag before it."""

    place: int = Field(description="Its place after the first bag, from 1.")
    at: datetime
    by: str
    form: Literal["sent", "clear"] = Field(
        description="Whether the thread in it is as it was sent, or in clear."
    )
    files: int
    octets: int
    tag_manifest: str = Field(description="SHA-256 (hex) of its tag manifest, which it signs.")
    follows: str = Field(description="The same of the bag before it.")
    sha256: str


class SealShown(BaseModel):
    """The seal: when, by whom, and the SHA-256 (hex) of the tag manifest that it signs."""

    at: datetime
    by: str
    tag_manifest: str
    key: str
    files: int
    octets: int
    bag_sha256: str
    version: int | None = Field(
        None, description="The version of the draft that was reviewed and sealed."
    )


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


class SecondPersonShown(BaseModel):
    """A draft needs a second person: somebody who has not prepared it seals it."""

    reasons: list[str] = Field(description="The reasons of the rules that apply.")
    prepared_by: list[str] = Field(description="The accounts that have prepared it.")
    asked_by: str | None = Field(description="The account that has asked for the release.")
    asked_at: datetime | None = Field(description="When it was asked for.")


class CureShown(BaseModel):
    """A cure for which the vendor can be asked in a packet."""

    code: str = Field(description="The code of the cure, such as tie_contract.")
    sentence: str = Field(description="The cure in words.")
    packet: str = Field(description="The packet that asks for it; empty: none does.")
    life: Life | None = Field(description="How far that packet is; null: there is none.")


class PacketShown(PacketDue, PacketHead):
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
    desks: list[DeskBrief] = Field(
        description="Of a draft: the desks of its vendor, the one by hand last."
    )
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
    later_bags: list[LaterBagShown] = Field(description="Bags with what came after it was sealed.")
    lodge_state: DeliveryState | None
    lodge_status_text: str
    lodged_at: datetime | None
    legend_destroyed_at: datetime | None
    desk_status: str
    followed_at: datetime | None
    follow_state: FollowingState | None = Field(
        description="A look at the desk under way, or that failed."
    )
    follow_status_text: str
    refusals: list[RefusalShown]
    units: list[UnitsHeld] = Field(
        description="Prepaid units that it holds, has used or has freed."
    )
    limits: list[LimitRequestShown] = Field(
        description="Limits that it asks for, once it is sealed."
    )
    consequences: list[ConsequenceShown] = Field(
        description="Changes of the register that follow from answers of the desk."
    )
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
    told_of_shipment: ToldOfShipment
    follows: str | None = Field(description="The packet that it takes up again.")
    followed_by: list[str]
    release: SecondPersonShown | None = Field(
        description="Why a draft needs a second person; null if it needs none."
    )
    cures: list[CureShown] = Field(
        description="Cures of a draft’s ruling for which the vendor can be asked, and the packets that ask."
    )
    asks_for: str | None = Field(
        description="The packet that waits for what this one asks for; null: none."
    )
    cause: str
    cure: str
    foreseen: list[ForeseenShown] = Field(
        description="Questions that the desk is likely to ask back, for a draft."
    )
    informed: list[InformedShown] = Field(
        description="People of our own house who are kept informed of it."
    )
    handed: HandedOver | None = Field(
        description="How it came to the one who looks after it, if a colleague handed it over."
    )
    kit_runs: list[KitRunShown]
    ticket_trouble: str = Field(description="Why it could not be reported back; empty if it could.")
    context: dict[str, Any] | None = Field(description="The context that a program reported.")


class InformedShown(BaseModel):
    """A person of our own house who is kept informed of a packet."""

    key: str
    name: str


class ForeseenShown(BaseModel):
    """A question that the desk is likely to ask back."""

    id: str
    text: str
    asked_in: int | None = Field(
        description="Of how many like packets it was asked; null: its sheet has it."
    )
    like: int | None = Field(description="How many like packets there are.")
    cost_hours: float | None = Field(description="How long it held them up on average, in hours.")
    because: str = Field(description="Why it is offered, in a sentence.")


class CaseShown(BaseModel):
    """One case of a sealed packet with its status; `label` is empty if there is only one."""

    label: str
    reference: str | None
    desk_status: str
    life: Life | None = Field(description="Empty until the desk has it.")
    turn: Turn | None
    desk_facts: dict[str, str] = Field(
        description="Further facts from the desk, such as an RMA number."
    )


class SeverityLevelShown(BaseModel):
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
    allowed_at: datetime | None = Field(
        description="From when it is allowed; null: the packet is not lodged yet."
    )


class SeverityShown(BaseModel):
    """Who sets the severity (`us`, `desk`, `computed`), what it comes to, and how it may be raised."""

    set_by: str
    level: str
    label: str
    raising: str
    levels: list[SeverityLevelShown]
    escalation: list[EscalationShown]


class EvidenceShown(BaseModel):
    """Evidence that the desk wants, with the hours around the event. `exhibit` is the best match so far."""

    what: str
    state: Literal["present", "missing", "faulty"]
    exhibit: str | None
    faults: list[str] = Field(description="Its faults, in sentences.")
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


class Letter(BaseModel):
    """The packet as the desk will read it. `body` is the first case's; `texts` are what was typed and what leaves."""

    desk: str
    form: str
    body: Any
    cases: list[LetterCase]
    files: list[str]
    texts: list[TypedShown]
