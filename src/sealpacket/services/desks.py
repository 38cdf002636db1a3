"""Desks and their sheets."""

from __future__ import annotations

from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.core.coverage import Need, Route
from sealpacket.core.errors import Invalid, NotFound
from sealpacket.core.sheets import Finding, Sheet, lint, load_sheet
from sealpacket.services.house import Actor, House
from sealpacket.services.register.referred import Referred
from sealpacket.store.models import Desk, DeskSheet, Vendor


def put_sheet(house: House, actor: Actor, text: str) -> dict[str, Any]:
    """Take a desk sheet in YAML. A changed one becomes a new version; the same one again changes nothing."""
    sheet = load_sheet(text)
    stops = [finding for finding in lint(text)[1] if finding.level == "stop"]
    if stops:
        more = f" There are {len(stops) - 1} more." if len(stops) > 1 else ""
        raise Invalid(
            f"Line {stops[0].line}, {stops[0].place}: {stops[0].sentence}{more}",
            "Mend the sheet: sealpacket desk lint FILE shows all of it.", code="sheet-lint",
        )  # fmt: skip
    body = sheet.model_dump(mode="json", by_alias=True, exclude_defaults=True) | {"sheet": sheet.sheet}
    with house.act(actor, "desk sheet added", f"desk {sheet.desk}") as act:
        desk = act.session.scalars(select(Desk).where(Desk.key == sheet.desk)).one_or_none()
        if desk is None:
            desk = Desk(key=sheet.desk, name=sheet.name, vendor_id=Referred(act.session).vendor(sheet.vendor))
            act.session.add(desk)
        desk.name = sheet.name
        if not desk.sheets or desk.sheets[-1].body != body:
            desk.sheets.append(DeskSheet(number=len(desk.sheets) + 1, body=body))
        else:
            act.worth_noting = False
        act.session.flush()
        act.detail = {"version": len(desk.sheets)}
        return show_desk(house, desk)


def lint_sheet(text: str) -> list[Finding]:
    """Everything that is wrong or unwise in a sheet, by line."""
    return lint(text)[1]


def show_desk(house: House, desk: Desk) -> dict[str, Any]:
    """A desk as shown in lists."""
    return {
        "key": desk.key,
        "name": desk.name,
        "vendor": desk.vendor.key,
        "version": desk.sheets[-1].number,
        "reachable": desk.key in house.settings.desks,
    }


def list_desks(house: House) -> list[dict[str, Any]]:
    """All desks by name."""
    with house.database.transaction() as session:
        return [show_desk(house, desk) for desk in session.scalars(select(Desk).order_by(Desk.name))]


def get_sheet(house: House, key: str) -> dict[str, Any]:
    """The newest version of a desk's sheet."""
    with house.database.transaction() as session:
        desk = session.scalars(select(Desk).where(Desk.key == key)).one_or_none()
        if desk is None:
            raise NotFound(f"There is no desk {key}.", "Look it up: sealpacket desk list")
        return {**show_desk(house, desk), "sheet": desk.sheets[-1].body}


def desk_for(session: Session, vendor: Vendor, route: Route, need: Need) -> DeskSheet | None:
    """The newest sheet of the vendor's desk that takes this route and need, by the desk's key; else any desk's."""
    desks = session.scalars(select(Desk).where(Desk.vendor_id == vendor.id).order_by(Desk.key)).all()
    newest = [desk.sheets[-1] for desk in desks if desk.sheets]
    for row in newest:
        takes = parsed(row).takes
        if route in takes.routes and need in takes.needs:
            return row
    return newest[0] if newest else None


def parsed(row: DeskSheet) -> Sheet:
    """The sheet of a stored version."""
    return Sheet.model_validate(row.body)
