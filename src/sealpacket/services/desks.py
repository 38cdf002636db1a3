"""Desks and their sheets."""

from __future__ import annotations

import json
import re
from collections.abc import Sequence
from typing import Any, NamedTuple

from pydantic import BaseModel
from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session, joinedload

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.asking_back import same, words_of
from sealpacket.core.coverage import Need, Route
from sealpacket.core.errors import Conflict, Invalid, NotFound
from sealpacket.core.life import OPEN
from sealpacket.core.sheets import (
    Case,
    Finding,
    ReadReply,
    Sheet,
    has_stops,
    lint,
    load_sheet,
    read_given,
    sample_packet,
    write_case,
)
from sealpacket.core.sheets.beginning import begin
from sealpacket.core.sheets.by_hand import any_vendor_sheet
from sealpacket.core.sheets.explained import explain
from sealpacket.core.sheets.replying import sample_replies
from sealpacket.core.sheets.yaml_text import sheet_yaml
from sealpacket.services.packets.schemas import LetterCase
from sealpacket.services.register.referred import Referred
from sealpacket.store.models import Desk, DeskSheet, Packet, PacketCase, Vendor
from sealpacket.store.register_cache import of_register


class DeskShown(BaseModel):
    """A desk; `reachable` if an address is configured for it."""

    key: str
    name: str
    vendor: str
    version: int
    reachable: bool


class UnlistedStatus(BaseModel):
    """A status word of the desk's that its newest sheet does not list, and the packets with that status."""

    word: str
    packets: list[str]


class DeskWithSheet(DeskShown):
    """A desk with the newest version of its sheet."""

    sheet: dict[str, Any]
    yaml: str
    unlisted: list[UnlistedStatus]


class SampleAnswer(BaseModel):
    """A question of the sample with its answer; `source` is empty where a person would have typed it."""

    ask: str
    value: str | None
    source: str | None
    because: str


class SampleCase(BaseModel):
    """The written sample: text to read, and the names of its documents."""

    label: str
    text: str
    documents: list[str]


class SampleReply(BaseModel):
    """A reply as the desk would write it: what it says of the case, and its text."""

    says: str
    text: str


class SheetPreview(BaseModel):
    """Findings of the linter; if the sheet can be used, also a sample packet, the sheet in sentences, and sample
    replies."""

    findings: list[Finding]
    name: str
    needs: list[str]
    answers: list[SampleAnswer]
    cases: list[SampleCase]
    explained: list[str]
    replies: list[SampleReply]


def ask_first(
    app: AppContext, actor: Actor, desk: str, ask: str, needs: Sequence[str] = ()
) -> DeskShown:
    """Put a question that the desk asks back again and again into its sheet, as a new version: drafts ask it first.

    Raises NotFound for an unknown desk, Conflict if its sheet has the question already, Invalid for an unknown need.
    """
    with app.database.transaction() as session:
        found = session.scalars(select(Desk).where(Desk.key == desk)).one_or_none()
        if found is None or not found.sheets:
            raise NotFound(f"There is no desk {desk}.", "List the desks, then name one of them.")
        text, sheet = found.sheets[-1].text, parsed(found.sheets[-1])
    words = words_of(ask)
    if any(same(words_of(one.ask), words) for one in sheet.asked_back):
        raise Conflict(
            f"The sheet of {desk} has this question already.", "Look at it.", code="already-there"
        )
    entry = {"ask": ask, **({"needs": [*needs]} if needs else {})}
    line = f"  - {json.dumps(entry, ensure_ascii=False)}\n"
    begin = re.search(r"^asked_back:[ \t]*(?:#.*)?\n", text, re.MULTILINE)
    if begin is not None:
        text = f"{text[: begin.end()]}{line}{text[begin.end() :]}"
    else:
        text = f"{text.rstrip()}\n\nasked_back:\n{line}"
    return put_sheet(app, actor, text)


def put_sheet(app: AppContext, actor: Actor, text: str) -> DeskShown:
    """Take a desk sheet in YAML. A changed one becomes a new version; the same one again changes nothing. Raises
    Invalid with the first stop that the linter finds."""
    sheet, found = lint(text)
    if sheet is None:
        sheet = load_sheet(text)
    stops = [finding for finding in found if finding.level == "stop" or finding.code == "open"]
    if stops:
        more = f" There are {len(stops) - 1} more." if len(stops) > 1 else ""
        raise Invalid(
            f"Line {stops[0].line}, {stops[0].place}: {stops[0].sentence}{more}",
            f"{stops[0].remedy} Checking the sheet shows all of it.".strip(),
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
            tx.audited = False
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
        reachable=desk.key in app.settings.desks or parsed(desk.sheets[-1]).send.channel == "hand",
    )


def list_desks(app: AppContext) -> list[DeskShown]:
    """All desks by name."""
    with app.database.transaction() as session:
        return [show_desk(app, desk) for desk in session.scalars(select(Desk).order_by(Desk.name))]


def get_sheet(app: AppContext, key: str) -> DeskWithSheet:
    """The newest version of a desk's sheet. Raises NotFound."""
    with app.database.transaction() as session:
        desk = session.scalars(select(Desk).where(Desk.key == key)).one_or_none()
        if desk is None:
            raise NotFound(f"There is no desk {key}.", "List the desks, then name one of them.")
        newest = desk.sheets[-1]
        return DeskWithSheet(
            **dict(show_desk(app, desk)),
            sheet=newest.body,
            yaml=newest.text or written(newest.body),
            unlisted=_unlisted(session, desk),
        )


def _unlisted(session: Session, desk: Desk) -> list[UnlistedStatus]:
    query = (
        select(PacketCase.desk_status, Packet.number)
        .join(Packet.cases)
        .join(DeskSheet, Packet.sheet_id == DeskSheet.id)
        .where(DeskSheet.desk_id == desk.id, Packet.life.in_(OPEN))
        .where(PacketCase.desk_status.not_in(("", *parsed(desk.sheets[-1]).replies.statuses)))
        .order_by(PacketCase.desk_status, Packet.number)
        .distinct()
    )
    by_word: dict[str, list[str]] = {}
    for word, number in session.execute(query):
        by_word.setdefault(word, []).append(number)
    return [UnlistedStatus(word=word, packets=numbers) for word, numbers in by_word.items()]


def written(body: dict[str, Any]) -> str:
    """A sheet as YAML, for one whose text was not kept."""
    return sheet_yaml(body)


def preview_sheet(text: str, seed: int, need: str) -> SheetPreview:
    """Findings in a sheet, and a sample packet written by it if it can be used."""
    sheet, found = lint(text)
    if sheet is None or has_stops(found):
        return SheetPreview(
            findings=found, name="", needs=[], answers=[], cases=[], explained=[], replies=[]
        )
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
    return SheetPreview(
        findings=found,
        name=sheet.name,
        needs=needs,
        answers=answers,
        cases=cases,
        explained=explain(sheet),
        replies=[SampleReply(says=says, text=text) for says, text in sample_replies(sheet)],
    )


def begin_sheet(name: str, data: bytes, operation: str, root: str) -> str:
    """The text of a sheet, begun from what a vendor has: a form, a schema, a sample. Nothing is kept."""
    return begin(name, data, operation=operation, root=root)


def read_replies(text: str, replies: list[tuple[str, bytes]]) -> list[ReadReply]:
    """Read recorded replies of a desk by its sheet, given by name and bytes. Nothing is stored."""
    sheet = usable(text)
    return [read_given(sheet, name, data) for name, data in replies]


def usable(text: str) -> Sheet:
    """The sheet of a text. Raises Invalid if it has stops."""
    sheet, found = lint(text)
    if sheet is None or has_stops(found):
        raise Invalid(
            "The sheet cannot be used as it is.",
            "Check the sheet: its findings say why.",
            code="sheet-lint",
        )
    return sheet


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


def desk_for(session: Session, vendor: Vendor, route: Route, need: Need) -> DeskSheet:
    """The newest sheet of the vendor's desk that takes this route and need, by the desk's key; else one that takes the
    need by another route.

    What no desk of the vendor's takes goes to one that is reached by hand, so that nothing is without a way.
    """
    taking = [
        (one.ident, kind)
        for one in newest_sheets(session, vendor)
        if one.key != by_hand_key(vendor) and (kind := one.sheet.kind(need))
    ]
    if not taking:
        return _by_hand(session, vendor)
    fitting = (
        ident for ident, kind in taking if route in kind.routes or kind.cover == "not_wanted"
    )
    with_desk = (joinedload(DeskSheet.desk),)
    return session.get_one(DeskSheet, next(fitting, taking[0][0]), options=with_desk)


class NewestSheet(NamedTuple):
    """The newest sheet of a desk: the desk's key and name, the sheet's id and the sheet."""

    key: str
    name: str
    ident: str
    sheet: Sheet


def newest_sheets(session: Session, vendor: Vendor) -> list[NewestSheet]:
    """The newest sheet of each desk of the vendor's, by the desk's key."""
    return of_register(
        session, ("newest sheets", vendor.id), lambda: _read_newest_sheets(session, vendor)
    )


def newest_number(session: Session, desk_id: str) -> int:
    """The number of the newest sheet of a desk."""
    query = select(func.max(DeskSheet.number)).where(DeskSheet.desk_id == desk_id)
    return of_register(
        session, ("newest sheet", desk_id), lambda: session.scalars(query).one() or 0
    )


def _read_newest_sheets(session: Session, vendor: Vendor) -> list[NewestSheet]:
    query = (
        select(Desk.key, Desk.name, DeskSheet.id)
        .join(DeskSheet, DeskSheet.desk_id == Desk.id)
        .where(Desk.vendor_id == vendor.id)
        .ext(distinct_on(Desk.key))
        .order_by(Desk.key, DeskSheet.number.desc())
    )
    return [
        NewestSheet(
            key, name, ident, _SHEETS.get(ident) or parsed(session.get_one(DeskSheet, ident))
        )
        for key, name, ident in session.execute(query)
    ]


def desks_of(session: Session, vendor: Vendor) -> list[Desk]:
    """The vendor's desks that have a sheet, by key."""
    query = select(Desk).where(Desk.vendor_id == vendor.id).order_by(Desk.key)
    return [desk for desk in session.scalars(query) if desk.sheets]


def desk_named(session: Session, vendor: Vendor, key: str) -> DeskSheet:
    """The newest sheet of the vendor's desk of that key, or of the one by hand. Raises Invalid where it has none."""
    if key == by_hand_key(vendor):
        return _by_hand(session, vendor)
    desks = {desk.key: desk for desk in desks_of(session, vendor)}
    if key not in desks:
        raise Invalid(
            f"{vendor.name} has no desk {key}.",
            f"There are {', '.join([*desks, by_hand_key(vendor)])}.",
            code="no-such",
            field="desk",
        )
    return desks[key].sheets[-1]


def by_hand_key(vendor: Vendor) -> str:
    """The key of the desk by hand that a vendor has where no other takes a packet."""
    return f"{vendor.key[:31]}-by-hand"


def _by_hand(session: Session, vendor: Vendor) -> DeskSheet:
    """The desk of a vendor that nobody has described: what support desks usually ask, entered by a person."""
    key = by_hand_key(vendor)
    known = session.scalars(select(Desk).where(Desk.key == key)).one_or_none()
    if known is not None and known.sheets:
        return known.sheets[-1]
    text = any_vendor_sheet(key, vendor.key, f"{vendor.name}, by hand")
    sheet = load_sheet(text)
    body = sheet.model_dump(mode="json", by_alias=True, exclude_defaults=True) | {"sheet": 2}
    desk = Desk(key=key, name=sheet.name, vendor_id=vendor.id)
    desk.sheets.append(DeskSheet(number=1, body=body, text=text))
    session.add(desk)
    session.flush()
    return desk.sheets[-1]


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
