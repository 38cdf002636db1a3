"""The packet on the workbench: ruling, questions, checks and exhibits put together from the register."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import UTC, date, datetime
from typing import Any, cast

import pycountry
from sqlalchemy import func, select
from sqlalchemy.orm import Session, object_session

from sealpacket.core.coverage import Basis, Need, Ruling, replay
from sealpacket.core.errors import Conflict, NotFound, Stale
from sealpacket.core.sheets import (
    FACTS,
    Answer,
    Case,
    Check,
    Condition,
    ExhibitState,
    Fact,
    Question,
    Seen,
    Sheet,
    answer_fault,
    answers_for,
    cases_of,
    check_packet,
    known_for,
    open_again,
    sentence,
    severity_of,
    values_of,
)
from sealpacket.core.sheets.asking import facts_in
from sealpacket.core.sheets.checks.evidence import wanted_evidence
from sealpacket.core.sheets.forms import Known
from sealpacket.core.sheets.forms.places import states_of
from sealpacket.services.coverage import basis_for, login_value, logins_of, remembered
from sealpacket.services.desks import parsed
from sealpacket.services.packets.remembering import suggestions
from sealpacket.store.models import Asset, Exhibit, Packet, Person, Product

DRAFT = ("drafting",)


def find_packet(session: Session, number: str, *, lock: bool = False) -> Packet:
    """The packet of that number. With `lock`, others wait until this transaction is through."""
    query = select(Packet).where(Packet.number == number.upper())
    packet = session.scalars(query.with_for_update() if lock else query).one_or_none()
    if packet is None:
        raise NotFound(f"There is no packet {number}.", "Look it up: sealpacket packet list")
    return packet


def in_draft(session: Session, number: str, version: int | None = None) -> Packet:
    """The packet, locked, if it may still be changed. Raises Conflict if not, Stale if `version` is not its own."""
    packet = find_packet(session, number, lock=True)
    if packet.life not in DRAFT:
        raise Conflict(
            f"{packet.number} is {packet.life}; only a draft can be changed.",
            "Take it back to drafting first, if the desk refused it, or note a new packet.",
            code="not-drafting",
        )
    if version is not None and packet.version != version:
        raise Stale(
            f"{packet.number} has been changed since you read it.",
            "Read it again; your change is not lost, repeat it on the new version.",
        )
    return packet


@dataclass
class Workbench:
    """A packet with everything that follows from it and the register as they stand."""

    packet: Packet
    sheet: Sheet | None
    basis: Basis | None
    ruling: Ruling | None
    answers: tuple[Answer, ...]
    facts: dict[str, Fact]
    people: dict[str, dict[str, Any]]
    checks: tuple[Check, ...]

    @property
    def stops(self) -> list[Check]:
        """What still stops the packet from being sealed."""
        return [check for check in self.checks if check.level == "stop"]

    def values(self) -> dict[str, Any]:
        """All that a desk sheet may take, by dotted path."""
        return values_of(self.sheet, self.answers, self.facts, self.people) if self.sheet else {}

    def cases(self) -> tuple[Case, ...]:
        """The cases of the packet: as they were sealed, or as they would be written now."""
        if self.packet.cases and self.packet.life not in DRAFT:
            return tuple(Case.model_validate(one["case"]) for one in self.packet.cases)
        return cases_of(self.sheet, self.values()) if self.sheet else ()


def lay_out(session: Session, packet: Packet) -> Workbench:
    """Work out how a packet stands. A sealed packet keeps the ruling it was sealed with."""
    sheet = parsed(packet.sheet) if packet.sheet else None
    people = remembered(session, ("people", ""), lambda: people_of(session))
    basis: Basis | None = None
    if packet.life in DRAFT and packet.asset:
        sender = _sent_for(packet, sheet, people)
        today = datetime.now(UTC).date()
        basis = basis_for(session, packet.asset, cast(Need, packet.need), today, packet.login, sender)
        ruling: Ruling | None = replay(basis)
    else:
        ruling = Ruling.model_validate(packet.ruling) if packet.ruling else None
    facts = facts_of(packet, ruling, people)
    if packet.sealed_answers is not None:
        answers = tuple(Answer.model_validate(answer) for answer in packet.sealed_answers)
    else:
        answers = answers_for(sheet, packet.answers, facts) if sheet else ()
    checks: tuple[Check, ...] = ()
    if packet.life in DRAFT:
        states = [_state(e) for e in packet.exhibits]
        checks = (
            check_packet(sheet, answers, ruling, states, people, facts, _seen(session, packet, sheet))
            if sheet else (_no_desk(packet),)
        )  # fmt: skip
    return Workbench(packet, sheet, basis, ruling, answers, facts, people, checks)


def _sent_for(packet: Packet, sheet: Sheet | None, people: dict[str, dict[str, Any]]) -> str | None:
    """The person named as contact, if the login is somebody else's."""
    if sheet is None or packet.login is None or packet.login.person is None:
        return None
    for question in sheet.questions:
        named = packet.answers.get(question.id) if question.form == "person" else None
        if named in people:
            return None if named == packet.login.person.key else str(people[named]["name"])
    return None


def _no_desk(packet: Packet) -> Check:
    if packet.asset is None:
        return Check(code="no-thing", level="stop", sentence="The packet does not say what it is about.",
                     way_out="Find the asset", act="name_thing")  # fmt: skip
    return Check(
        code="no-desk", level="stop", sentence=f"No desk of {packet.asset.vendor.name} is known.",
        way_out="Add its desk sheet: sealpacket desk put FILE", act="open_desks",
    )  # fmt: skip


def kept_values(bench: Workbench) -> dict[str, str]:
    """Values that the vendor needs and redaction therefore leaves, each with the reason."""
    keep: dict[str, str] = {}
    reasons = {
        "asset.serial": "the packet is about this serial",
        "contract.number": "the vendor knows the contract by this number",
        "entitlement.reference": "the vendor knows the entitlement by this",
    }
    for path, reason in reasons.items():
        if path in bench.facts:
            keep[str(bench.facts[path].value)] = reason
    for answer in bench.answers:
        question = bench.sheet.question(answer.question) if bench.sheet else None
        if question and question.form in ("person", "people") and answer.value:
            for key in (part.strip() for part in answer.value.split(",")):
                person = bench.people.get(key, {})
                for field in ("name", "mail", "phone"):
                    if person.get(field):
                        keep[person[field]] = "the vendor needs the contact"
    return keep


def kept_kinds(bench: Workbench) -> dict[str, str]:
    """Kinds of value that this desk has to see, each with the reason that its sheet gives."""
    plan = bench.sheet.redaction if bench.sheet else None
    return dict.fromkeys(plan.keep, f"{bench.sheet.name}: {plan.because}") if plan and bench.sheet else {}


def is_archived(packet: Packet) -> bool:
    """Whether the packet's desk takes its files in one archive."""
    return bool(packet.sheet and parsed(packet.sheet).attachments.naming.archive)


def people_of(session: Session) -> dict[str, dict[str, Any]]:
    """Those who can be named in a packet, by key."""
    fields = ("key", "name", "mail", "phone", "language", "time_zone", "hours", "on_call", "reach_by", "access_needs")
    today = datetime.now(UTC).date()
    return {
        p.key: {**{field: getattr(p, field) for field in fields}, "away": _away(p, today)}
        for p in session.scalars(select(Person))
    }


def _away(person: Person, today: date) -> str:
    """Until when someone is away who is so today."""
    if person.away_until_on is None or person.away_until_on < today:
        return ""
    if person.away_from_on and person.away_from_on > today:
        return ""
    return person.away_until_on.isoformat()


def _seen(session: Session, packet: Packet, sheet: Sheet) -> Seen:
    """What a colleague would notice beside the packet."""
    closed = ""
    if sheet.hours is not None:
        opens = open_again(sheet.hours, datetime.now(UTC))
        closed = f"{opens:%A %H:%M} ({sheet.hours.zone})" if opens else ""
    return Seen(
        serial_fits=_other_model(session, packet.asset) if packet.asset else "",
        elsewhere=_elsewhere(session, packet), closed=closed,
    )  # fmt: skip


def _elsewhere(session: Session, packet: Packet) -> dict[str, str]:
    """By exhibit, the packet to another vendor that the same file was attached to."""
    sums = {exhibit.sha256: exhibit.name for exhibit in packet.exhibits if exhibit.sha256}
    if not sums or packet.asset is None:
        return {}
    query = (
        select(Exhibit.sha256, Packet.number).join(Exhibit.packet).join(Packet.asset)
        .where(Exhibit.sha256.in_(sums), Packet.id != packet.id, Asset.vendor_id != packet.asset.vendor_id)
        .order_by(Packet.number)
    )  # fmt: skip
    return {sums[sha256]: number for sha256, number in session.execute(query) if sha256}


_MANY = 3
"""So many serials of a model have to be alike before another one's is told to look like them."""
_SOME = 3000
"""So many serials of the vendor's are looked at: it is a hint, and it must not make the page wait."""


def _other_model(session: Session, asset: Asset) -> str:
    """Another model of the vendor's whose serials all look like this one, where no other of its own model does."""
    some = (
        select(Asset.product_id, _likeness(Asset.serial).label("likeness"))
        .where(Asset.vendor_id == asset.vendor_id, Asset.id != asset.id).order_by(Asset.serial).limit(_SOME).subquery()
    )  # fmt: skip
    mine = re.sub("[0-9]+", "9", re.sub("[a-z]+", "a", asset.serial.casefold()))
    query = select(some.c.product_id, func.count()).where(some.c.likeness == mine).group_by(some.c.product_id)
    alike = {ident: int(count) for ident, count in session.execute(query).tuples()}
    if asset.product_id in alike or len(alike) != 1:
        return ""
    ident, count = next(iter(alike.items()))
    return str(session.get_one(Product, ident).name) if count >= _MANY else ""


def _likeness(serial: Any) -> Any:
    """The shape of a serial: each run of letters as `a`, each run of digits as `9`."""
    return func.regexp_replace(func.regexp_replace(func.lower(serial), "[a-z]+", "a", "g"), "[0-9]+", "9", "g")


def facts_of(packet: Packet, ruling: Ruling | None, people: dict[str, dict[str, Any]]) -> dict[str, Fact]:
    """All that a sheet may take of what we know, each with the words for its source."""
    facts: dict[str, Fact] = {}

    def know(path: str, value: Any, source: str) -> None:
        if path not in FACTS:
            raise KeyError(path)
        if value not in (None, "", []):
            facts[path] = Fact(value=value, source=source)

    know("packet.number", packet.number, "the packet")
    know("packet.title", packet.title, "the packet's title")
    know("packet.note", packet.note, "your note")
    know("packet.need", packet.need, "the packet's kind of need")
    know("packet.noted_at", packet.created_at.isoformat(timespec="minutes"), "when it was noted")
    know("packet.sealed_on", (packet.sealed_at or datetime.now(UTC)).date().isoformat(), "the day of the seal")
    know("house.name", _organisation(packet), "the settings")
    if packet.asset:
        _asset_facts(packet.asset, know)
    if packet.login:
        know("login.name", packet.login.name, "the vendor login")
        value = login_value(packet.login)
        know("login.mailbox_read", "yes" if packet.login.mailbox_read else "no", f"login {packet.login.name}")
        know("login.contracts", ", ".join(value.tied), f"login {packet.login.name}")
        if packet.login.person:
            know("login.person", packet.login.person.key, f"the person behind {packet.login.name}")
    know("ruling.route", ruling.route if ruling else "", "the ruling")
    if ruling and ruling.contract:
        know("contract.number", ruling.contract, "the ruling")
        know("entitlement.reference", ruling.entitlement, "the ruling")
        know("entitlement.level", ruling.level, "the ruling")
    return facts


def _organisation(packet: Packet) -> str:
    session = object_session(packet)
    return str(session.info.get("organisation", "")) if session else ""


def _asset_facts(asset: Asset, know: Any) -> None:
    source = f"asset {asset.serial}"
    know("asset.serial", asset.serial, source)
    for field in ("name", "status", "software_version", "notes", "shipped_on", "installed_on", "registered_on"):
        know(f"asset.{field}", getattr(asset, field), source)
    know("asset.host_name", asset.host_names[0] if asset.host_names else "", source)
    if asset.carrier:
        know("carrier.serial", asset.carrier.serial, source)
    know("asset.product", asset.product.part_number, source)
    know("asset.product_name", asset.product.name, source)
    know("vendor.name", asset.vendor.name, source)
    if asset.site:
        source = f"site {asset.site.name}"
        for field in ("key", "name", "address", "postcode", "country", "time_zone"):
            know(f"site.{field}", getattr(asset.site, field), source)
        town = " ".join(part for part in (asset.site.name, asset.site.postcode) if part)
        know("site.mailing", "\n".join(part for part in (asset.site.address, town) if part), source)
        if asset.site.contact:
            know("site.contact", asset.site.contact.key, source)


def _state(exhibit: Exhibit) -> ExhibitState:
    size = exhibit.outgoing_size if exhibit.state == "ready" and exhibit.outgoing_size is not None else exhibit.size
    return ExhibitState(
        name=exhibit.name,
        state=exhibit.state,
        size=size,
        leaks=exhibit.leaks,
        released=exhibit.released_by is not None,
        reason=exhibit.reason,
        packed=exhibit.packed,
    )


def brief(packet: Packet, stops: int | None = None) -> dict[str, Any]:
    """A packet for a list."""
    asset = packet.asset
    return {
        "number": packet.number,
        "title": packet.title,
        "life": packet.life,
        "turn": packet.turn,
        "need": packet.need,
        "vendor": asset.vendor.name if asset else None,
        "asset": show_asset(asset) if asset else None,
        "reference": packet.reference,
        "words": words_for(packet, stops),
        "created_at": packet.created_at,
        "updated_at": packet.updated_at,
        "stops": stops,
    }


def show_asset(asset: Asset) -> dict[str, Any]:
    """An asset in a line."""
    return {
        "id": asset.id,
        "serial": asset.serial,
        "name": asset.name,
        "product": asset.product.name,
        "vendor": asset.vendor.key,
        "vendor_name": asset.vendor.name,
        "site": asset.site.name if asset.site else None,
    }


def words_for(packet: Packet, stops: int | None) -> str:
    """How a packet stands, in a sentence."""
    vendor = packet.asset.vendor.name if packet.asset else "the vendor"
    open_question = next((m for m in packet.messages if m.asks and m.answered_at is None), None)
    if open_question:
        return f"{vendor} asks: “{open_question.text}”"
    match packet.life:
        case "drafting":
            if stops is None:
                return "Draft"
            return f"Draft, {stops} stop{'s' if stops != 1 else ''} left" if stops else "Draft, ready to be sealed"
        case "sealed":
            return packet.lodge_words or "Sealed, not lodged yet"
        case "refused":
            reasons = packet.refusals or []
            return f"Refused by {vendor}: {reasons[0]['text']}" if reasons else f"Refused by {vendor}"
        case "lodged":
            return f"With {vendor} as {packet.reference}" if packet.reference else f"Sent to {vendor}, no reference yet"
        case "answered":
            return f"{vendor} has answered"
        case "settled":
            return "Settled"
        case _:
            return "Withdrawn"


def show(bench: Workbench) -> dict[str, Any]:
    """The whole packet as the interfaces show it."""
    packet, sheet = bench.packet, bench.sheet
    session_logins = _login_briefs(packet, bench.ruling)
    asked, hidden = _questions(bench)
    return {
        **brief(packet, len(bench.stops) if packet.life in DRAFT else None),
        "version": packet.version,
        "note": packet.note,
        "noted_by": packet.noted_by,
        "login": packet.login.name if packet.login else None,
        "logins": session_logins,
        "desk": sheet.desk if sheet else None,
        "desk_name": sheet.name if sheet else None,
        "sheet_version": packet.sheet.number if packet.sheet else None,
        "ruling": bench.ruling,
        "questions": asked,
        "questions_hidden": hidden if packet.life in DRAFT else [],
        "known": _known_for_conditions(bench),
        "people": [
            {"key": key, "name": p["name"], "on_call": p["on_call"], "away": p["away"]}
            for key, p in sorted(bench.people.items())
        ],
        "exhibits": [show_exhibit(exhibit) for exhibit in packet.exhibits],
        "checks": bench.checks if packet.life in DRAFT else [],
        "messages": [_message(m) for m in packet.messages],
        "seal": _seal(packet),
        "lodge_state": packet.lodge_state,
        "lodge_words": packet.lodge_words,
        "lodged_at": packet.lodged_at,
        "desk_status": packet.desk_status,
        "followed_at": packet.followed_at,
        "refusals": packet.refusals or [],
        "cases": [_case(one) for one in packet.cases or []],
        "told": packet.told,
        "severity": _severity(bench),
        "evidence": _evidence(bench),
        "sheet_waiting": _newer(packet),
        "takes_files": sheet.attachments.most if sheet else None,
    }


def _case(one: dict[str, Any]) -> dict[str, Any]:
    return {"label": one["case"]["label"], **{name: one.get(name) for name in ("reference", "status", "life")}}


def _newer(packet: Packet) -> int | None:
    """The number of a newer version of its desk's sheet, for a draft."""
    if packet.sheet is None or packet.life not in DRAFT:
        return None
    newest = packet.sheet.desk.sheets[-1].number
    return newest if newest > packet.sheet.number else None


def _severity(bench: Workbench) -> dict[str, Any] | None:
    """How the desk sets the severity, and what it comes to."""
    rule = bench.sheet.severity if bench.sheet else None
    if rule is None or bench.sheet is None:
        return None
    level = severity_of(bench.sheet, bench.answers)
    question = bench.sheet.question(rule.question)
    labels = {path: leaf.label for path, leaf in question.leaves()} if question else {}
    labels |= {one.value: one.label for one in rule.levels}
    return {
        "set_by": rule.set_by, "level": level, "label": labels.get(level, ""), "raising": rule.raising,
        "levels": [{"label": one.label, "words": one.words, "duties": list(one.duties)} for one in rule.levels],
        "escalation": [{"when": step.when, "do": step.do, "by": step.by} for step in rule.escalation],
    }  # fmt: skip


def _evidence(bench: Workbench) -> list[dict[str, Any]]:
    """What the desk wants to see of this packet."""
    if bench.sheet is None or bench.packet.life not in DRAFT:
        return []
    return [
        {"what": rule.what, "kit": rule.kit, "required": rule.required, "hours_before": rule.hours_before,
         "hours_after": rule.hours_after,
         "because": sentence(rule.when, bench.sheet.by_name) if isinstance(rule.when, Condition) else ""}
        for rule in wanted_evidence(bench.sheet, bench.answers, bench.facts)
    ]  # fmt: skip


def _login_briefs(packet: Packet, ruling: Ruling | None) -> list[dict[str, Any]]:
    session = object_session(packet)
    if session is None or packet.asset is None:
        return []
    contract = ruling.contract if ruling else None
    return [
        {"name": item.name, "tied": contract in login_value(item).tied, "chosen": item.id == packet.login_id}
        for item in logins_of(session, packet.asset.vendor_id)
    ]


def _known_for_conditions(bench: Workbench) -> dict[str, str]:
    """The facts that the sheet's conditions look at, so that an interface can tell at once what is asked next."""
    found: dict[str, str] = {}
    for question in bench.sheet.questions if bench.sheet else ():
        for condition in (question.shown, question.required):
            if isinstance(condition, Condition):
                found |= {path: str(bench.facts[path].value) for path in facts_in(condition) if path in bench.facts}
    return found


def _questions(bench: Workbench) -> tuple[list[dict[str, Any]], list[dict[str, Any]]]:
    """The questions that are asked as the answers stand, and the others."""
    sheet, packet, session = bench.sheet, bench.packet, object_session(bench.packet)
    if sheet is None:
        return [], []
    known = known_for(bench.answers, bench.facts, bench.people)
    suggested = suggestions(session, packet, sheet, bench.answers) if session and packet.life in DRAFT else {}
    asked: list[dict[str, Any]] = []
    hidden: list[dict[str, Any]] = []
    for place, answer in enumerate(bench.answers):
        (asked if answer.shown else hidden).append(_question(sheet, answer, place, known, suggested))
    return asked, hidden


def _question(
    sheet: Sheet, answer: Answer, place: int, known: Known, suggested: dict[str, list[dict[str, str]]]
) -> dict[str, Any]:
    question = cast(Question, sheet.question(answer.question))
    return {
        "id": question.id,
        "ask": question.ask,
        "form": question.form,
        "guide": question.guide,
        "at_most": question.at_most,
        "choices": question.offered,
        "answer": answer,
        "fault": answer_fault(question, answer.value, known) if answer.value is not None else None,
        **{name: getattr(question, name) for name in ("example", "wording", "units", "components", "most", "at_least")},
        "columns": [column.model_dump() for column in question.columns],
        "options": _options(question, known),
        "suggested": suggested.get(question.id, []),
        "place": place, "shown_when": question.shown, "required_when": question.required,
    }  # fmt: skip


def _options(question: Question, known: Known) -> list[dict[str, str]]:
    """What a field with many values offers: countries, or the states of the country that was named."""
    if question.form == "country":
        codes = question.countries or sorted(one.alpha_2 for one in pycountry.countries)
        return [
            {"value": code, "label": getattr(pycountry.countries.get(alpha_2=code), "name", code)} for code in codes
        ]
    if question.form == "state":
        states = states_of(known.look_up(question.country or ""))
        return [{"value": code, "label": name} for code, name in states.items()]
    return [{"value": one, "label": one} for one in question.languages] if question.form == "language" else []


def show_exhibit(exhibit: Exhibit) -> dict[str, Any]:
    """An exhibit as the interfaces show it."""
    report = exhibit.report or {}
    fields = ("id", "name", "state", "size", "sha256", "outgoing_size", "outgoing_sha256", "done", "leaks", "reason",
              "released_by", "created_at")  # fmt: skip
    return {
        **{field: getattr(exhibit, field) for field in fields},
        "counts": report.get("counts", {}),
        "kept": report.get("kept", {}),
    }


def _message(message: Any) -> dict[str, Any]:
    fields = ("id", "direction", "text", "asks", "by", "at")
    return {
        **{field: getattr(message, field) for field in fields},
        "answered": message.answered_at is not None,
        "sent": message.direction == "in" or message.sent_at is not None,
        "mail": message.original_blob is not None,
    }


def _seal(packet: Packet) -> dict[str, Any] | None:
    if not packet.seal:
        return None
    return {"at": packet.sealed_at, "by": packet.sealed_by, "bag_sha256": packet.bag_sha256, **packet.seal}
