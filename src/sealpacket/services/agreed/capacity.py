"""Capacity: a plan or a failed start against the limits of a vendor, and the packets that ask for more."""

from __future__ import annotations

import csv
from collections.abc import Iterator, Sequence
from datetime import date
from io import StringIO

from pydantic import BaseModel, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.capacity import Compared, LimitNow, PlanRow, compare, explain, said_limit
from sealpacket.core.errors import Invalid
from sealpacket.core.sheets import Sheet
from sealpacket.core.tables import guess_mapping
from sealpacket.core.words import count
from sealpacket.services.agreed.schemas import LimitRequestShown
from sealpacket.services.desks import parsed
from sealpacket.services.packets.draft import drafts
from sealpacket.services.packets.limits import requests
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.services.packets.workbench import find_packet
from sealpacket.services.register.acts import of_vendor
from sealpacket.services.register.kinds import KINDS
from sealpacket.store.models import Limit, LimitRequest, Packet, Vendor

_FIELDS = ("count", "size", "resource", "region", "when")
_MOST_ROWS = 20_000


class CapacityLine(BaseModel):
    """The need of a plan for a resource in a region, against its limit."""

    region: str = Field(description="The region.")
    resource: str = Field(description="The resource.")
    unit: str = Field(description="The unit of the numbers.")
    need: int = Field(description="How much the plan needs on top of what is used.")
    when: str = Field(description="The failure that needs most; empty: it is always needed.")
    granted: int | None = Field(description="How much is granted; null: the register has no limit.")
    used: int = Field(description="How much is used.")
    missing: int = Field(description="How much is missing; 0: it fits.")
    ask: int = Field(description="The limit to ask for, with headroom; 0: none has to be.")


class CapacityPlan(BaseModel):
    """A plan or a message of a failed start, against the limits of a vendor."""

    read_as: str = Field(description="How the text was read: plan, or message.")
    fits: bool = Field(description="Whether everything fits.")
    lines: list[CapacityLine] = Field(description="The lines, those that miss most first.")
    said: list[str] = Field(
        description="Contradictions, such as a limit that the register has otherwise."
    )
    purpose: str = Field(description="The purpose, in words for the desk.")


class WantedLimit(BaseModel):
    """A limit to ask for."""

    region: str = Field(min_length=1, max_length=200, description="The region.")
    resource: str = Field(min_length=1, max_length=200, description="The resource.")
    wanted: int = Field(ge=1, le=10**15, description="The limit that is wanted.")


def plan_capacity(
    app: AppContext, vendor: str, text: str, *, headroom: int = 0, regions: Sequence[str] = ()
) -> CapacityPlan:
    """A plan (a table with headings) or a message of a failed start, against the limits of a vendor.

    `headroom` in percent is asked for on top; `regions` narrows what is not planned for one region. Raises Invalid for
    a text that is neither.
    """
    with app.database.transaction() as session:
        limits = _limits(session, vendor)
    rows = _read_plan(text)
    said: list[str] = []
    if rows is None:
        rows, how = explain(text, limits), "message"
        if not rows:
            raise Invalid(
                "This names no limit of the register with a number that was needed, and it is no table either.",
                "Paste the whole message, or a table with the headings count, size, resource and region.",
                field="text",
            )
        said = list(_odd(text, rows, limits))
    else:
        how = "plan"
    if regions:
        limits = [one for one in limits if one.region in regions]
    compared = compare(rows, limits, headroom=headroom)
    return CapacityPlan(
        read_as=how,
        fits=not any(one.missing for one in compared),
        lines=[_line(one) for one in compared],
        said=said,
        purpose=_purpose(how, rows, compared),
    )


def _limits(session: Session, vendor: str) -> list[LimitNow]:
    query = of_vendor(KINDS["limit"], select(Limit).order_by(Limit.called), vendor)
    rows = session.scalars(query).all()
    if not rows and session.scalar(select(Vendor.id).where(Vendor.key == vendor)) is None:
        raise Invalid(
            f"There is no vendor {vendor}.", "List them: sealpacket vendor list", field="vendor"
        )
    return [
        LimitNow(row.id, row.region, row.resource, row.granted, row.used, row.provider, row.unit)
        for row in rows
    ]


def _read_plan(text: str) -> list[PlanRow] | None:
    """The rows of a table; None if the text is none. Raises Invalid that names the row."""
    lines = [line for line in text.splitlines() if line.strip()]
    if len(lines) < 2:
        return None
    separator = max("\t;|,", key=lines[0].count)
    heads = [head.strip() for head in lines[0].split(separator)]
    mapping = guess_mapping(heads, _FIELDS, {})
    if not {"count", "resource"} <= mapping.keys():
        return None
    if len(lines) > _MOST_ROWS + 1:
        raise Invalid(f"A plan has {_MOST_ROWS} rows at most.", "Divide it.", field="text")
    places = {name: heads.index(head) for name, head in mapping.items()}
    rows = csv.reader(StringIO("\n".join(lines[1:])), delimiter=separator)
    return [_row(number, cells, places) for number, cells in enumerate(rows, 2)]


def _row(number: int, cells: list[str], places: dict[str, int]) -> PlanRow:
    def cell(name: str) -> str:
        place = places.get(name, len(cells))
        return cells[place].strip() if place < len(cells) else ""

    def whole(name: str, otherwise: str) -> int:
        value = cell(name) or otherwise
        if not value.isdigit() or len(value) > 9:
            raise Invalid(
                f"Row {number}: “{value[:40]}” in {name} is not a whole number.", "Correct it, and paste it again.",
                field="text",
            )  # fmt: skip
        return int(value)

    if not cell("resource"):
        raise Invalid(f"Row {number} names no resource.", "Fill it in.", field="text")
    return PlanRow(
        cell("resource"), whole("count", ""), whole("size", "1"), cell("region"), cell("when")
    )


def _odd(text: str, rows: Sequence[PlanRow], limits: Sequence[LimitNow]) -> Iterator[str]:
    """Where the message tells another limit or use than the register has."""
    granted, used = said_limit(text)
    known = {(one.region, one.resource): one for one in limits}
    for row in rows:
        limit = known.get((row.region, row.resource))
        if limit is None or len(rows) > 1:
            continue
        for word, told, ours in (("limit", granted, limit.granted), ("use", used, limit.used)):
            if told is not None and told != ours:
                yield f"The message tells a {word} of {told}, and the register has {ours}: bring it up to date."


def _line(one: Compared) -> CapacityLine:
    limit = one.limit
    return CapacityLine(
        region=one.region, resource=one.resource, unit=limit.unit if limit else "", need=one.need, when=one.when,
        granted=limit.granted if limit else None, used=limit.used if limit else 0, missing=one.missing, ask=one.asked,
    )  # fmt: skip


def _purpose(how: str, rows: Sequence[PlanRow], compared: Sequence[Compared]) -> str:
    """The purpose of the limits that are missing, in words for the desk."""
    short = [one for one in compared if one.missing]
    if not short:
        return ""
    if how == "message":
        one = short[0]
        return f"A start of {one.need} {one.resource} in {one.region} failed at the limit."
    failures = sorted({one.when for one in short if one.when})
    counted_on = f" It is for this case, too: {', '.join(failures)}." if failures else ""
    pieces = count(sum(row.count for row in rows), "machine")
    regions = ", ".join(sorted({one.region for one in short}))
    return f"A plan of {pieces} needs more than is granted in {regions}.{counted_on}"


def ask_capacity(
    app: AppContext,
    actor: Actor,
    asset: str,
    wanted: Sequence[WantedLimit],
    *,
    purpose: str,
    title: str = "",
    by: date | None = None,
) -> PacketShown:
    """Note a packet that asks a vendor for limits, a request for each, with what the register has filled in.

    Raises Invalid if the asset's desk takes no limits; then nothing is noted.
    """
    with app.database.snapshot() as session:
        row = KINDS["asset"].find(session, asset)
        foreseen = parsed(drafts.desk_foreseen(session, actor, row, "capacity"))
    if foreseen.limits is None:
        raise Invalid(
            f"{foreseen.name} takes no rows of limits.",
            "Note a packet for it, and answer its questions; or say in its sheet which rows are limits.",
            field="asset",
        )
    names = ", ".join(dict.fromkeys(one.resource for one in wanted))
    packet = drafts.note(
        app, actor, title=title or f"More {names}"[:200], text=purpose, need="capacity", asset=asset
    )
    with app.database.transaction() as session:
        found = find_packet(session, packet.number)
        sheet = parsed(found.sheet) if found.sheet else None
        answers = _answers(session, sheet, found, wanted, purpose)
        if by is not None and sheet is not None:
            day = next(
                (one for one in sheet.questions if one.form == "date" and one.time == "future"),
                None,
            )
            answers |= {day.id: by.isoformat()} if day else {}
    return drafts.answer(app, actor, packet.number, answers)


def _answers(
    session: Session,
    sheet: Sheet | None,
    packet: Packet,
    wanted: Sequence[WantedLimit],
    purpose: str,
) -> dict[str, str | None]:
    rule = sheet.limits if sheet else None
    question = sheet.question(rule.rows) if sheet and rule else None
    if sheet is None or rule is None or question is None:
        return {}
    known = {(one.region, one.resource): one for one in _limits(session, sheet.vendor)}
    rows = []
    for one in wanted:
        limit = known.get((one.region, one.resource))
        cells = {
            rule.region: one.region,
            rule.resource: one.resource,
            rule.now: str(limit.granted if limit else 0),
            rule.wanted: str(one.wanted),
        }
        rows.append(" | ".join(cells.get(column.id, "") for column in question.columns))
    answers: dict[str, str | None] = {rule.rows: "\n".join(rows)}
    return answers | ({rule.purpose: purpose} if rule.purpose else {})


def limit_requests(app: AppContext, handle: str) -> list[LimitRequestShown]:
    """Requests for a limit and their outcomes, the newest first."""
    with app.database.transaction() as session:
        limit = KINDS["limit"].find(session, handle)
        return requests(session, LimitRequest.limit_id == limit.id)
