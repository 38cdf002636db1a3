"""A packet as the interfaces show it, made from its workbench."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import UTC, datetime
from typing import Any, cast

import pycountry
from sqlalchemy import select
from sqlalchemy.orm import object_session

from sealpacket.core.coverage import Ruling
from sealpacket.core.coverage.asking import ASKED
from sealpacket.core.evidence.began import read_began
from sealpacket.core.life import OVER, Life
from sealpacket.core.sheets import (
    Answer,
    Condition,
    Question,
    Sheet,
    answer_fault,
    known_for,
    sentence,
    severity_of,
)
from sealpacket.core.sheets.asking import facts_in
from sealpacket.core.sheets.checks.evidence import (
    ExhibitState,
    best_for,
    faults_for,
    wanted_evidence,
)
from sealpacket.core.sheets.forms import Known
from sealpacket.core.sheets.forms.places import states_of
from sealpacket.core.sheets.hours import is_outside
from sealpacket.core.sheets.model import Severity
from sealpacket.services.coverage import login_values
from sealpacket.services.desks import by_hand_key, newest_number, newest_sheets
from sealpacket.services.packets import clocks
from sealpacket.services.packets.bench import Workbench
from sealpacket.services.packets.briefs import head
from sealpacket.services.packets.draft.suggestions import suggestions
from sealpacket.services.packets.expectations import look_of, zone_of
from sealpacket.services.packets.follow.contacts import contact_of
from sealpacket.services.packets.follow.granting import show as show_consequence
from sealpacket.services.packets.follow.possible import possible, told_of_shipment
from sealpacket.services.packets.follow.schemas import (
    AccessShown,
    AskedShown,
    MessageShown,
    ShipmentShown,
    VendorFileShown,
)
from sealpacket.services.packets.foreseeing import foreseen_for
from sealpacket.services.packets.limits import requests
from sealpacket.services.packets.releasing import release_of
from sealpacket.services.packets.schemas import (
    BeganShown,
    CaseShown,
    CureShown,
    DeskBrief,
    EscalationShown,
    EvidenceShown,
    ExhibitShown,
    InformedShown,
    KitRunShown,
    LaterBagShown,
    LoginBrief,
    PacketShown,
    QuestionShown,
    SealShown,
    SeverityShown,
)
from sealpacket.services.packets.units import units_of
from sealpacket.store.models import (
    AccessGrant,
    Exhibit,
    KitRun,
    LimitRequest,
    Message,
    Packet,
    PacketCase,
    Shipment,
    VendorFile,
)


def show(bench: Workbench) -> PacketShown:
    """The whole packet as the interfaces show it."""
    packet, sheet = bench.packet, bench.sheet
    session = object_session(packet)
    session_logins = _login_briefs(packet, bench.ruling)
    runs = _kit_runs(packet)
    asked, hidden = _questions(bench, runs)
    due = clocks.next_due(packet, bench.ruling, bench.answers)
    return PacketShown(
        **dict(head(packet, len(bench.stops) if packet.life == Life.DRAFTING else None)),
        version=packet.version,
        due_at=due.at if due else None,
        due_what=due.what if due else "",
        due_zone=clocks.zone_of_desk(packet),
        escalate_at=clocks.escalation_at(packet, due),
        note=packet.note,
        began_at=packet.began_at,
        began_read=_began(packet),
        noted_by=packet.noted_by,
        login=packet.login.name if packet.login else None,
        logins=session_logins,
        desks=_desks(packet),
        desk=sheet.desk if sheet else None,
        desk_name=sheet.name if sheet else None,
        sheet_version=packet.sheet.number if packet.sheet else None,
        ruling=bench.ruling,
        questions=asked,
        questions_hidden=hidden if packet.life == Life.DRAFTING else [],
        known=_known_for_conditions(bench),
        people=[
            {"key": key, "name": p["name"], "on_call": p["on_call"], "away": p["away"]}
            for key, p in sorted(bench.people.items())
        ],
        exhibits=[show_exhibit(one, bench.states.get(one.name)) for one in packet.exhibits],
        checks=bench.checks if packet.life == Life.DRAFTING else [],
        messages=show_messages(packet, packet.messages),
        seal=_seal(packet),
        later_bags=[
            LaterBagShown.model_validate(one, from_attributes=True) for one in packet.later_bags
        ],
        lodge_state=packet.delivery.state,
        lodge_status_text=packet.delivery.status_text,
        lodged_at=packet.lodged_at,
        legend_destroyed_at=packet.legend.destroyed_at,
        desk_status=packet.desk_status,
        followed_at=packet.following.followed_at,
        follow_state=packet.following.state,
        follow_status_text=packet.following.status_text,
        refusals=packet.refusals or [],
        cases=[_case(one) for one in packet.cases],
        units=units_of(session, packet) if session and sheet and sheet.units else [],
        limits=requests(session, LimitRequest.packet_id == packet.id)
        if session and sheet and sheet.limits
        else [],
        consequences=[show_consequence(packet, one) for one in packet.consequences],
        severity=_severity(bench),
        evidence=_evidence(bench),
        sheet_waiting=_newer(packet),
        settled_by=sheet.replies.settled_by if sheet else None,
        takes_files=sheet.attachments.max_files if sheet else None,
        by_hand=sheet is not None and sheet.send.channel == "hand",
        next_try_at=packet.delivery.next_at,
        waits_because=packet.delivery.reason if packet.delivery.next_at else "",
        acts=list(possible(packet)),
        access=[show_access(one) for one in packet.access_grants],
        shipments=[show_shipment(one) for one in packet.shipments],
        told_of_shipment=told_of_shipment(packet),
        follows=packet.follows.number if packet.follows else None,
        release=release_of(session, bench) if session else None,
        cures=_cures(bench),
        asks_for=packet.for_packet.number if packet.for_packet else None,
        followed_by=_followed_by(packet),
        cause=packet.cause,
        cure=packet.cure,
        foreseen=foreseen_for(session, bench) if (session := object_session(packet)) else [],
        informed=[
            InformedShown(key=one.person.key, name=one.person.name) for one in packet.informed
        ],
        handed=packet.handed,
        kit_runs=runs,
        ticket_trouble=packet.ticket.trouble if packet.ticket else "",
        context=packet.context,
    )


def _desks(packet: Packet) -> list[DeskBrief]:
    """The desks to which a draft could go: those of its vendor, and by hand."""
    session = object_session(packet)
    if session is None or packet.asset is None or packet.life != Life.DRAFTING:
        return []
    vendor = packet.asset.vendor
    by_hand = by_hand_key(vendor)
    found = [
        DeskBrief(key=one.key, name=one.name, takes=one.sheet.kind(packet.need) is not None)
        for one in newest_sheets(session, vendor)
        if one.key != by_hand
    ]
    return [*found, DeskBrief(key=by_hand, name=f"{vendor.name}, by hand", takes=True)]


def _kit_runs(packet: Packet) -> list[KitRunShown]:
    session = object_session(packet)
    if session is None:
        return []
    query = select(KitRun).where(KitRun.packet_id == packet.id).order_by(KitRun.confirmed_at)
    return [show_kit_run(one) for one in session.scalars(query)]


def show_kit_run(one: KitRun) -> KitRunShown:
    """A run of a kit as the interfaces show it."""
    body = one.kit_version.body
    fields = (
        "id", "target", "state", "reason", "outcomes", "confirmed_by", "confirmed_at", "ended_at",
    )  # fmt: skip
    return KitRunShown(
        **{field: getattr(one, field) for field in fields},
        kit=one.kit_version.kit,
        title=body["title"],
        version=one.kit_version.number,
        steps=len(body["steps"]),
    )


def _began(packet: Packet) -> BeganShown | None:
    """When it began as the title and the note of a draft say, as long as nobody has said so."""
    if packet.began_at is not None or packet.life != Life.DRAFTING:
        return None
    found = read_began(f"{packet.title}. {packet.note}", packet.created_at, zone_of(packet))
    return BeganShown(at=found.at, words=found.words) if found and not found.whole_day else None


def _followed_by(packet: Packet) -> list[str]:
    """The packets that take this one up again."""
    session = object_session(packet)
    if session is None or packet.life not in OVER:
        return []
    query = select(Packet.number).where(Packet.follows_id == packet.id).order_by(Packet.number)
    return list(session.scalars(query))


def _cures(bench: Workbench) -> list[CureShown]:
    """Cures of a draft's ruling for which its vendor can be asked, with the newest packet that asks for each."""
    packet, session = bench.packet, object_session(bench.packet)
    found = [one for one in (bench.ruling.cures if bench.ruling else ()) if one.code in ASKED]
    if not found or session is None or packet.life != Life.DRAFTING:
        return []
    query = select(Packet.for_cure, Packet.number, Packet.life).where(
        Packet.for_packet_id == packet.id
    )
    asking = {
        code: (number, life)
        for code, number, life in session.execute(query.order_by(Packet.created_at))
    }
    return [
        CureShown(
            code=one.code,
            sentence=one.sentence,
            packet=asking[one.code][0] if one.code in asking else "",
            life=asking[one.code][1] if one.code in asking else None,
        )
        for one in {one.code: one for one in found}.values()
    ]


def _case(one: PacketCase) -> CaseShown:
    return CaseShown.model_validate(one, from_attributes=True)


def _newer(packet: Packet) -> int | None:
    """The number of a newer version of its desk's sheet, for a draft."""
    if packet.sheet is None or packet.life != Life.DRAFTING:
        return None
    session, desk = object_session(packet), packet.sheet.desk
    newest = newest_number(session, desk.id) if session else packet.sheet.number
    return newest if newest > packet.sheet.number else None


def _severity(bench: Workbench) -> SeverityShown | None:
    """How the desk sets the severity, and what it comes to."""
    sheet = bench.sheet
    if sheet is None or (sheet.severity is None and sheet.severity_question is None):
        return None
    rule = sheet.severity or Severity()
    level = severity_of(sheet, bench.answers)
    scale = sheet.severities
    return SeverityShown(
        set_by=sheet.severity_set_by,
        level=level,
        label=scale[level].label if level in scale else "",
        raising=rule.raising,
        levels=[
            {
                "value": value,
                "label": one.label,
                "meaning": one.meaning,
                "duties": list(one.duties),
            }
            for value, one in scale.items()
        ],
        escalation=[
            EscalationShown(**step.model_dump(), allowed_at=clocks.allowed_at(bench.packet, step))
            for step in rule.escalation
        ],
    )


def _evidence(bench: Workbench) -> list[EvidenceShown]:
    """The evidence that the desk wants, and how far it is there."""
    if bench.sheet is None or bench.packet.life != Life.DRAFTING:
        return []
    sheet = bench.sheet
    states = list(bench.states.values())
    found = []
    for rule in wanted_evidence(sheet, bench.answers, bench.facts):
        best = best_for(rule, states)
        faults = faults_for(rule, best) if best else []
        found.append((rule, best, [one.sentence for one in faults]))
    return [
        EvidenceShown(
            what=rule.what,
            state="missing" if best is None else "faulty" if faults or best.blank else "present",
            exhibit=best.name if best else None,
            faults=faults,
            kit=rule.kit,
            required=rule.required,
            hours_before=rule.hours_before,
            hours_after=rule.hours_after,
            because=sentence(rule.when, sheet.by_name) if isinstance(rule.when, Condition) else "",
        )
        for rule, best, faults in found
    ]


def _login_briefs(packet: Packet, ruling: Ruling | None) -> list[LoginBrief]:
    session = object_session(packet)
    if session is None or packet.asset is None:
        return []
    contract = ruling.contract if ruling else None
    return [
        LoginBrief(
            name=item.name,
            tied=contract in item.tied,
            chosen=ident == packet.login_id,
        )
        for ident, item in login_values(session, packet.asset.vendor_id).items()
    ]


def _known_for_conditions(bench: Workbench) -> dict[str, str]:
    """The facts that the sheet's conditions use, so that an interface can evaluate them itself."""
    found: dict[str, str] = {}
    for question in bench.sheet.questions if bench.sheet else ():
        for condition in (question.shown, question.required):
            if isinstance(condition, Condition):
                found |= {
                    path: str(bench.facts[path].value)
                    for path in facts_in(condition)
                    if path in bench.facts
                }
    return found


def _questions(
    bench: Workbench, runs: Sequence[KitRunShown]
) -> tuple[list[QuestionShown], list[QuestionShown]]:
    """The questions that the current answers lead to, and the others."""
    sheet, packet, session = bench.sheet, bench.packet, object_session(bench.packet)
    if sheet is None:
        return [], []
    known = known_for(bench.answers, bench.facts, bench.people)
    suggested = (
        suggestions(session, packet, sheet, bench.answers)
        if session and packet.life == Life.DRAFTING
        else {}
    )
    collected = {
        (question, text): run.kit
        for run in runs
        for one in run.outcomes
        for question, text in one.answers.items()
    }
    asked: list[QuestionShown] = []
    hidden: list[QuestionShown] = []
    for place, given in enumerate(bench.answers):
        kit = collected.get((given.question, given.value or "")) if given.typed else None
        answer = given.model_copy(update={"source": f"kit {kit}"}) if kit else given
        (asked if answer.shown else hidden).append(
            _question(sheet, answer, place, known, suggested)
        )
    return asked, hidden


def _question(
    sheet: Sheet,
    answer: Answer,
    place: int,
    known: Known,
    suggested: dict[str, list[dict[str, str]]],
) -> QuestionShown:
    question = cast(Question, sheet.question(answer.question))
    return QuestionShown(
        id=question.id,
        ask=question.ask,
        form=question.form,
        guide=question.guide,
        max_length=question.max_length,
        choices=question.offered,
        answer=answer,
        fault=answer_fault(question, answer.value, known) if answer.value is not None else None,
        **{
            name: getattr(question, name)
            for name in ("example", "wording", "units", "components", "max_items", "min_length")
        },
        columns=[column.model_dump() for column in question.columns],
        options=_options(question, known),
        suggested=suggested.get(question.id, []),
        place=place,
        shown_when=question.shown,
        required_when=question.required,
    )


def _options(question: Question, known: Known) -> list[dict[str, str]]:
    """The values that a field offers: countries, or the states of the named country."""
    if question.form == "country":
        codes = question.countries or sorted(one.alpha_2 for one in pycountry.countries)
        return [
            {"value": code, "label": getattr(pycountry.countries.get(alpha_2=code), "name", code)}
            for code in codes
        ]
    if question.form == "state":
        states = states_of(known.look_up(question.country or ""))
        return [{"value": code, "label": name} for code, name in states.items()]
    return (
        [{"value": one, "label": one} for one in question.languages]
        if question.form == "language"
        else []
    )


def show_exhibit(exhibit: Exhibit, state: ExhibitState | None = None) -> ExhibitShown:
    """An exhibit as the interfaces show it; `state` is what the checks know of it."""
    report = exhibit.report or {}
    look = look_of(exhibit)
    fields = (
        "id",
        "name",
        "state",
        "size",
        "sha256",
        "outgoing_size",
        "outgoing_sha256",
        "done",
        "leaks",
        "reason",
        "released_by",
        "created_at",
        "later",
    )
    return ExhibitShown(
        sent=exhibit.message_id is not None or (not exhibit.later and exhibit.arrived),
        **{field: getattr(exhibit, field) for field in fields},
        first_at=look.first if look else None,
        last_at=look.last if look else None,
        faults=[one.sentence for one in state.faults()] if state else [],
        has_summary=exhibit.summary_blob is not None,
        collected=exhibit.collected,
        original_deleted_at=exhibit.original_deleted_at,
        counts=report.get("counts", {}),
        kept=report.get("kept", {}),
        shows="pages"
        if exhibit.pages
        else "values"
        if report.get("read_as") == "file"
        else "lines",
    )


def show_messages(packet: Packet, messages: Sequence[Message]) -> list[MessageShown]:
    """Messages of a packet as the interfaces show them."""
    called = any(one.how == "call" for one in messages)
    contact = contact_of(packet) if called else None
    return [_message(one, contact if one.how == "call" else None) for one in messages]


def _message(message: Message, contact: Mapping[str, Any] | None) -> MessageShown:
    """A message; of a call `contact` is the person whom the desk speaks to."""
    fields = (
        "id",
        "direction",
        "text",
        "asks",
        "by",
        "at",
        "outgoing",
        "failure",
        "sender",
        "stranger",
        "how",
        "act",
        "unwished",
    )
    over = message.packet.life in OVER
    return MessageShown(
        **{field: getattr(message, field) for field in fields},
        case=message.case.label if message.case else "",
        outside_hours=contact is not None
        and is_outside(contact["hours"], contact["time_zone"], message.at),
        mail_asked=contact is not None and contact["reach_by"] == "mail",
        about=_about(message),
        answered=bool(message.questions) and (over or not message.open_questions),
        taken_back=message.taken_back_at is not None,
        can_take_back=message.direction == "out"
        and not (message.sent_at or message.begun or message.taken_back_at),
        questions=[
            AskedShown(
                id=q.id, text=q.text, doubtful=q.doubtful, open=q.open and not over, by=q.done_by
            )
            for q in message.questions
        ],
        files=[file.name for file in message.files],
        received=[show_file(file) for file in message.received],
        sent=message.direction == "in" or message.sent_at is not None,
        mail=message.original_blob is not None,
    )


def _about(message: Message) -> str:
    """Whom or what an act of ours names."""
    told = message.act_values
    match message.act:
        case "severity":
            return f"{told.get('act.label') or told.get('act.level', '')}"
        case "escalate":
            return str(told.get("act.trigger", ""))
        case "contact":
            return str(told.get("act.name", ""))
        case "told":
            return str(told.get("act.people", ""))
        case "rate":
            return f"{told['act.rating']} of 5" if "act.rating" in told else ""
        case _:
            return ""


def show_access(one: AccessGrant) -> AccessShown:
    """A vendor's access as the interfaces show it."""
    fields = (
        "id", "who", "what", "asked", "from_at", "until_at", "granted_by", "ended_at", "ended_by", "ended_how",
    )  # fmt: skip
    return AccessShown(
        **{name: getattr(one, name) for name in fields},
        packet=one.packet.number,
        overdue=one.ended_at is None and one.until_at < datetime.now(UTC),
    )


def show_shipment(one: Shipment) -> ShipmentShown:
    """A shipment as the interfaces show it."""
    fields = (
        "id", "way", "what", "carrier", "tracking", "sent_on", "due_on", "arrived_on", "late_cost_minor", "currency",
    )  # fmt: skip
    today = datetime.now(UTC).date()
    return ShipmentShown(
        **{name: getattr(one, name) for name in fields},
        packet=one.packet.number,
        late=one.arrived_on is None and one.due_on is not None and one.due_on < today,
    )


def show_file(one: VendorFile) -> VendorFileShown:
    """A vendor's file as the interfaces show it."""
    return VendorFileShown(
        id=one.id,
        packet=one.packet.number,
        name=one.name,
        size=one.size,
        state=one.state,
        failure=one.failure,
        kind=one.kind,
        warning=one.warning,
        asset=one.asset_id,
        created_at=one.created_at,
    )


def _seal(packet: Packet) -> SealShown | None:
    if not packet.seal:
        return None
    return SealShown(
        at=packet.sealed_at, by=packet.sealed_by, bag_sha256=packet.bag_sha256, **packet.seal
    )
