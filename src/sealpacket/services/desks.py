"""Desks and their sheets."""

from __future__ import annotations

from typing import Any

import yaml
from pydantic import BaseModel
from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.coverage import Need, Route
from sealpacket.core.errors import Invalid, NotFound
from sealpacket.core.sheets import (
    Case,
    Finding,
    Sheet,
    has_stops,
    lint,
    load_sheet,
    sample_packet,
    write_case,
)
from sealpacket.services.packets.schemas import LetterCase
from sealpacket.services.register.referred import Referred
from sealpacket.store.models import Desk, DeskSheet, Vendor


class DeskShown(BaseModel):
    """A desk; `reachable` if an address is configured for it."""

    key: str
    name: str
    vendor: str
    version: int
    reachable: bool


class DeskWithSheet(DeskShown):
    """A desk with the newest version of its sheet."""

    sheet: dict[str, Any]
    yaml: str


class SampleAnswer(BaseModel):
    """A question of the sample with its answer; `source` is empty where a person would have typed it."""

    ask: str
    value: str | None
    source: str | None
    because: str


class SampleCase(BaseModel):
    """What is written of the sample: text to read, and the names of its documents."""

    label: str
    text: str
    documents: list[str]


class SheetPreview(BaseModel):
    """What is found in the sheet; if it can be used, a sample packet."""

    findings: list[Finding]
    name: str
    needs: list[str]
    answers: list[SampleAnswer]
    cases: list[SampleCase]


def put_sheet(app: AppContext, actor: Actor, text: str) -> DeskShown:
    """Take a desk sheet in YAML. A changed one becomes a new version; the same one again changes nothing."""
    sheet, found = lint(text)
    if sheet is None:
        sheet = load_sheet(text)
    stops = [finding for finding in found if finding.level == "stop"]
    if stops:
        more = f" There are {len(stops) - 1} more." if len(stops) > 1 else ""
        raise Invalid(
            f"Line {stops[0].line}, {stops[0].place}: {stops[0].sentence}{more}",
            "Mend the sheet: sealpacket desk lint FILE shows all of it.",
            code="sheet-lint",
        )
    body = sheet.model_dump(mode="json", by_alias=True, exclude_defaults=True) | {
        "sheet": sheet.sheet
    }
    with app.transaction(actor, "desk sheet added", f"desk {sheet.desk}") as tx:
        desk = tx.session.scalars(select(Desk).where(Desk.key == sheet.desk)).one_or_none()
        if desk is None:
            desk = Desk(
                key=sheet.desk, name=sheet.name, vendor_id=Referred(tx.session).vendor(sheet.vendor)
            )
            tx.session.add(desk)
        desk.name = sheet.name
        if not desk.sheets or desk.sheets[-1].body != body:
            desk.sheets.append(DeskSheet(number=len(desk.sheets) + 1, body=body, text=text))
        else:
            desk.sheets[-1].text = text
            tx.worth_noting = False
        tx.session.flush()
        tx.detail = {"version": len(desk.sheets)}
        return show_desk(app, desk)


def lint_sheet(text: str) -> list[Finding]:
    """Everything that is wrong or unwise in a sheet, by line."""
    return lint(text)[1]


def show_desk(app: AppContext, desk: Desk) -> DeskShown:
    """A desk as shown in lists."""
    return DeskShown(
        key=desk.key,
        name=desk.name,
        vendor=desk.vendor.key,
        version=desk.sheets[-1].number,
        reachable=desk.key in app.settings.desks,
    )


def list_desks(app: AppContext) -> list[DeskShown]:
    """All desks by name."""
    with app.database.transaction() as session:
        return [show_desk(app, desk) for desk in session.scalars(select(Desk).order_by(Desk.name))]


def get_sheet(app: AppContext, key: str) -> DeskWithSheet:
    """The newest version of a desk's sheet."""
    with app.database.transaction() as session:
        desk = session.scalars(select(Desk).where(Desk.key == key)).one_or_none()
        if desk is None:
            raise NotFound(f"There is no desk {key}.", "List them: sealpacket desk list")
        newest = desk.sheets[-1]
        return DeskWithSheet(
            **dict(show_desk(app, desk)),
            sheet=newest.body,
            yaml=newest.text or written(newest.body),
        )


def written(body: dict[str, Any]) -> str:
    """A sheet as YAML, for one whose text was not kept."""
    text: str = yaml.safe_dump(body, sort_keys=False, allow_unicode=True, width=120)
    return text


def preview_sheet(text: str, seed: int, need: str) -> SheetPreview:
    """What is found in a sheet, and what it makes of a sample packet if it can be used."""
    sheet, found = lint(text)
    if sheet is None or has_stops(found):
        return SheetPreview(findings=found, name="", needs=[], answers=[], cases=[])
    needs = [kind.need for kind in sheet.kinds]
    chosen = sheet.kind(need) or sheet.kinds[0]
    sample = sample_packet(
        sheet, seed, {"packet.need": chosen.need, "ruling.route": chosen.routes[0]}
    )
    answers = [
        SampleAnswer(
            ask=sheet.by_name[a.question].ask, value=a.value, source=a.source, because=a.because
        )
        for a in sample.answers
        if a.shown
    ]
    written_cases = (show_case(sheet, case) for case in sample.cases)
    cases = [
        SampleCase(label=one.label, text=one.text, documents=one.documents) for one in written_cases
    ]
    return SheetPreview(findings=found, name=sheet.name, needs=needs, answers=answers, cases=cases)


def show_case(sheet: Sheet, case: Case) -> LetterCase:
    """A case to look at, with the text of its document, or with what keeps it from being written."""
    try:
        written_case = write_case(sheet, case)
    except Invalid as fault:
        return LetterCase(
            label=case.label, body=case.body, subject=case.subject, text=fault.detail, documents=[]
        )
    return LetterCase(
        label=case.label,
        body=case.body,
        subject=written_case.subject,
        text=written_case.text,
        documents=list(written_case.documents),
    )


def desk_for(session: Session, vendor: Vendor, route: Route, need: Need) -> DeskSheet | None:
    """The newest sheet of the vendor's desk that takes this route and need, by the desk's key; else any desk's."""
    desks = session.scalars(
        select(Desk).where(Desk.vendor_id == vendor.id).order_by(Desk.key)
    ).all()
    newest = [desk.sheets[-1] for desk in desks if desk.sheets]
    for row in newest:
        kind = parsed(row).kind(need)
        if kind is not None and (route in kind.routes or kind.cover == "not_wanted"):
            return row
    return newest[0] if newest else None


_SHEETS: dict[str, Sheet] = {}
_MOST_SHEETS = 256


def parsed(row: DeskSheet) -> Sheet:
    """The sheet of a stored version. Versions never change, so that each is read once in a process."""
    sheet = _SHEETS.get(row.id)
    if sheet is None:
        if len(_SHEETS) >= _MOST_SHEETS:
            _SHEETS.clear()
        sheet = _SHEETS[row.id] = Sheet.model_validate(row.body)
    return sheet
