"""Limits that packets ask for: what they are now, what a desk granted, and why not."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy import ColumnElement, delete, select
from sqlalchemy.orm import Session, object_session

from sealpacket.core.life import AT_DESK, ConsequenceState
from sealpacket.core.sheets import Answer, Check, Sheet
from sealpacket.core.sheets.forms.rows import split_rows
from sealpacket.services.agreed.schemas import LimitRequestShown
from sealpacket.services.packets.bench import Workbench
from sealpacket.services.register.acts import of_vendor
from sealpacket.services.register.kinds import KINDS
from sealpacket.store.models import (
    Limit,
    LimitRequest,
    Packet,
    PacketCase,
    PacketConsequence,
)

_REASON = 2000


@dataclass(frozen=True)
class _Row:
    region: str
    resource: str
    now: int | None
    wanted: int


def _rows(sheet: Sheet, answers: Sequence[Answer]) -> list[_Row]:
    """The rows of the answers that ask for limits."""
    rule = sheet.limits
    question = sheet.question(rule.rows) if rule else None
    if rule is None or question is None:
        return []
    value = next((one.value for one in answers if one.question == rule.rows and one.shown), None)
    rows = []
    for cells in split_rows(value or ""):
        row = dict(zip((column.id for column in question.columns), cells, strict=False))
        wanted, now = row.get(rule.wanted, ""), row.get(rule.now, "")
        if wanted.isdigit():
            rows.append(
                _Row(
                    row.get(rule.region, ""),
                    row.get(rule.resource, ""),
                    int(now) if now.isdigit() else None,
                    int(wanted),
                )
            )
    return rows


def _limits(session: Session, sheet: Sheet, packet: Packet) -> dict[tuple[str, str], Limit]:
    """The vendor's limits by region and resource; those of the packet's account go before those of all accounts."""
    query = of_vendor(KINDS["limit"], select(Limit), sheet.vendor)
    account = packet.asset.serial if packet.asset else ""
    rows = [one for one in session.scalars(query) if one.provider in ("", account)]
    return {(one.region, one.resource): one for one in sorted(rows, key=lambda row: row.provider)}


def check_limits(session: Session, bench: Workbench) -> Iterator[Check]:
    """Whether the register has the limits of a draft, and as the draft names them."""
    rows = _rows(bench.sheet, bench.answers) if bench.sheet else []
    known = _limits(session, bench.sheet, bench.packet) if bench.sheet and rows else {}
    for row in rows:
        limit = known.get((row.region, row.resource))
        if bench.sheet is None or bench.sheet.limits is None:
            continue
        if limit is None:
            yield Check(
                code="limit-unknown",
                level="hint",
                sentence=f"The register has no limit of {row.resource} in {row.region}, to take the answer into.",
                remedy="Add it to the register.",
                act="answer",
                target=bench.sheet.limits.rows,
            )
            continue
        if row.now is None:
            continue
        if row.now != limit.granted:
            yield Check(
                code="limit-now",
                level="warn",
                sentence=f"{row.resource} in {row.region}: {row.now} is named as the limit now, "
                f"and the register has {limit.granted}.",
                remedy="Correct the row, or the register.",
                act="answer",
                target=bench.sheet.limits.rows,
            )


def note_requests(session: Session, bench: Workbench) -> None:
    """Keep which limits a packet asks for while it is sealed, in place of those that it asked for before."""
    packet, sheet = bench.packet, bench.sheet
    session.execute(delete(LimitRequest).where(LimitRequest.packet_id == packet.id))
    if sheet is None or sheet.limits is None:
        return
    known = _limits(session, sheet, packet)
    for place, row in enumerate(_rows(sheet, bench.answers)):
        limit = known.get((row.region, row.resource))
        session.add(
            LimitRequest(
                packet_id=packet.id,
                place=place,
                limit_id=limit.id if limit else None,
                region=row.region,
                resource=row.resource,
                was=limit.granted if limit else row.now,
                wanted=row.wanted,
                asked_at=packet.sealed_at or datetime.now(UTC),
            )
        )


def note_grant(packet: Packet, sheet: Sheet, case: PacketCase) -> None:
    """Keep what a desk has decided on the limit of a case, and offer the change of the register that follows."""
    session, rule = object_session(packet), sheet.limits
    if session is None or rule is None:
        return
    places = [one.place for one in packet.cases] if sheet.split else []
    query = select(LimitRequest).where(LimitRequest.packet_id == packet.id)
    for request in session.scalars(query.order_by(LimitRequest.place)):
        mine = not places or places.index(case.place) == request.place
        if not mine or case.life not in AT_DESK:
            continue
        granted = _granted(request, sheet, case)
        if granted is None:
            continue
        if (request.granted, request.state) == (granted, _state(request, granted)):
            continue
        request.granted, request.state = granted, _state(request, granted)
        request.reason = "" if request.state == "granted" else _last_word(packet, case)
        request.decided_at = datetime.now(UTC)
        if request.limit_id is None:  # it may have come into the register since
            limit = _limits(session, sheet, packet).get((request.region, request.resource))
            request.limit_id = limit.id if limit else None
        _offer(packet, case, request)


def _granted(request: LimitRequest, sheet: Sheet, case: PacketCase) -> int | None:
    """The limit after the desk's decision; None while it has not decided."""
    rule = sheet.limits
    if rule is None or not case.desk_status:
        return None
    if case.desk_status in rule.declined_when:
        return request.was or 0
    if case.desk_status not in rule.granted_when:
        return None
    said = str(case.desk_facts.get(rule.granted, "")) if rule.granted else ""
    return int(said) if said.isdigit() else request.wanted


def _state(request: LimitRequest, granted: int) -> str:
    if granted >= request.wanted:
        return "granted"
    return "partly" if granted > (request.was or 0) else "declined"


def _last_word(packet: Packet, case: PacketCase) -> str:
    said = [one for one in packet.messages if one.direction == "in" and one.case is case]
    return said[-1].text[:_REASON] if said else ""


def _offer(packet: Packet, case: PacketCase, request: LimitRequest) -> None:
    if request.limit_id is None or request.state == "declined" or request.granted is None:
        return
    value = str(request.granted)
    place = -1 - request.place
    known = {(one.case_label, one.place, one.value) for one in packet.consequences}
    if (case.label, place, value) not in known:
        packet.consequences.append(
            PacketConsequence(
                case_label=case.label, place=place, what="the new limit", record="limit", field="granted", value=value,
                from_on=None, state=ConsequenceState.OFFERED, record_id=request.limit_id,
            )
        )  # fmt: skip


def requests(session: Session, which: ColumnElement[bool]) -> list[LimitRequestShown]:
    """Requests for limits, the newest first."""
    query = (
        select(LimitRequest, Packet.number)
        .join(Packet, Packet.id == LimitRequest.packet_id)
        .where(which)
        .order_by(LimitRequest.asked_at.desc(), LimitRequest.place)
    )
    return [
        LimitRequestShown(
            packet=number, region=one.region, resource=one.resource, was=one.was, wanted=one.wanted,
            granted=one.granted, state=one.state, reason=one.reason, asked_at=one.asked_at, decided_at=one.decided_at,
        )
        for one, number in session.execute(query)
    ]  # fmt: skip
