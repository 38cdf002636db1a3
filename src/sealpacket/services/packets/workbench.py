"""The packet on the workbench: ruling, questions, checks and exhibits put together from the register."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any, cast

from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.core.coverage import Basis, Need, Ruling, replay
from sealpacket.core.errors import Conflict, NotFound, Stale
from sealpacket.core.sheets import (
    FACTS,
    Answer,
    Check,
    ExhibitState,
    Fact,
    Question,
    Sheet,
    answers_for,
    check_packet,
)
from sealpacket.core.sheets.checks import answer_fault
from sealpacket.services.coverage import basis_for, login_value, logins_of, remembered
from sealpacket.services.desks import parsed
from sealpacket.store.models import Asset, Exhibit, Packet, Person

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
        values: dict[str, Any] = {path: fact.value for path, fact in self.facts.items()}
        for answer in self.answers:
            values[f"answers.{answer.question}"] = answer.value
            question = self.sheet.question(answer.question) if self.sheet else None
            if question and question.form == "person" and answer.value in self.people:
                for field, value in self.people[answer.value].items():
                    values[f"answers.{answer.question}.{field}"] = value
        return values


def lay_out(session: Session, packet: Packet) -> Workbench:
    """Work out how a packet stands. A sealed packet keeps the ruling it was sealed with."""
    sheet = parsed(packet.sheet) if packet.sheet else None
    people = remembered(session, ("people", ""), lambda: _people(session))
    basis: Basis | None = None
    if packet.life in DRAFT and packet.asset:
        sender = _sent_for(packet, sheet, people)
        today = datetime.now(UTC).date()
        basis = basis_for(session, packet.asset, cast(Need, packet.need), today, packet.login, sender)
        ruling: Ruling | None = replay(basis)
    else:
        ruling = Ruling.model_validate(packet.ruling) if packet.ruling else None
    facts = _facts(packet, ruling, people)
    if packet.sealed_answers is not None:
        answers = tuple(Answer.model_validate(answer) for answer in packet.sealed_answers)
    else:
        answers = answers_for(sheet, packet.answers, facts) if sheet else ()
    checks: tuple[Check, ...] = ()
    if sheet:
        checks = check_packet(sheet, answers, ruling, [_state(e) for e in packet.exhibits], people)
    elif packet.life in DRAFT:
        checks = (_no_desk(packet),)
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
        if question and question.form == "person" and answer.value in bench.people:
            person = bench.people[answer.value]
            for field in ("name", "mail", "phone"):
                if person[field]:
                    keep[person[field]] = "the vendor needs the contact"
    return keep


def _people(session: Session) -> dict[str, dict[str, Any]]:
    fields = ("key", "name", "mail", "phone", "language", "time_zone", "hours", "on_call")
    return {p.key: {field: getattr(p, field) for field in fields} for p in session.scalars(select(Person))}


def _facts(packet: Packet, ruling: Ruling | None, people: dict[str, dict[str, Any]]) -> dict[str, Fact]:
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
    if packet.asset:
        _asset_facts(packet.asset, know)
    if packet.login:
        know("login.name", packet.login.name, "the vendor login")
        if packet.login.person:
            know("login.person", packet.login.person.key, f"the person behind {packet.login.name}")
    if ruling and ruling.contract:
        know("contract.number", ruling.contract, "the ruling")
        know("entitlement.reference", ruling.entitlement, "the ruling")
        know("entitlement.level", ruling.level, "the ruling")
    return facts


def _asset_facts(asset: Asset, know: Any) -> None:
    source = f"asset {asset.serial}"
    know("asset.serial", asset.serial, source)
    know("asset.name", asset.name, source)
    know("asset.software_version", asset.software_version, source)
    know("asset.product", asset.product.part_number, source)
    know("asset.product_name", asset.product.name, source)
    know("vendor.name", asset.vendor.name, source)
    if asset.site:
        source = f"site {asset.site.name}"
        for field in ("key", "name", "address", "postcode", "country", "time_zone"):
            know(f"site.{field}", getattr(asset.site, field), source)
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
            return f"With {vendor} as {packet.reference}"
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
        "questions": [_question(sheet, a, bench) for a in bench.answers if a.shown] if sheet else [],
        "people": [{"key": key, "name": p["name"], "on_call": p["on_call"]} for key, p in sorted(bench.people.items())],
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
    }


def _login_briefs(packet: Packet, ruling: Ruling | None) -> list[dict[str, Any]]:
    from sqlalchemy.orm import object_session

    session = object_session(packet)
    if session is None or packet.asset is None:
        return []
    contract = ruling.contract if ruling else None
    return [
        {"name": item.name, "tied": contract in login_value(item).tied, "chosen": item.id == packet.login_id}
        for item in logins_of(session, packet.asset.vendor_id)
    ]


def _question(sheet: Sheet, answer: Answer, bench: Workbench) -> dict[str, Any]:
    question = cast(Question, sheet.question(answer.question))
    return {
        "id": question.id,
        "ask": question.ask,
        "form": question.form,
        "guide": question.guide,
        "at_most": question.at_most,
        "choices": [
            {"path": path, "label": leaf.label, "words": leaf.words, "duties": list(leaf.duties),
             "above": _labels_above(question, path)}
            for path, leaf in question.leaves()
        ],
        "answer": answer,
        "fault": answer_fault(question, answer.value, bench.people) if answer.value is not None else None,
    }  # fmt: skip


def _labels_above(question: Question, path: str) -> list[str]:
    labels, choices = [], question.choices
    for value in path.split("/")[:-1]:
        choice = next(c for c in choices if c.value == value)
        labels.append(choice.label)
        choices = choice.choices
    return labels


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
    }


def _seal(packet: Packet) -> dict[str, Any] | None:
    if not packet.seal:
        return None
    return {"at": packet.sealed_at, "by": packet.sealed_by, "bag_sha256": packet.bag_sha256, **packet.seal}
