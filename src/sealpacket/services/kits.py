"""Diagnostic kits of the house: kept in versions, shown with all that they would do."""

from __future__ import annotations

import re
from collections.abc import Iterator
from datetime import datetime
from difflib import get_close_matches

from pydantic import BaseModel
from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import NotFound
from sealpacket.core.evidence.kits import Kit, Step, lint, read_kit, refuse_stops
from sealpacket.services.desks import parsed as sheet_of
from sealpacket.services.known_issues import is_for
from sealpacket.store.models import Desk, KitRecord, KitVersion, Vendor

MOST = 500
_OF_DEVICE = re.compile(r"https?://\{target\}(?::\d{1,5})?(?:[/?]|$)")


class KitStepShown(BaseModel):
    """A step: what it brings, exactly what it does, and its limits in seconds and bytes."""

    id: str
    what: str
    does: str
    seconds: float
    octets: int
    secret: str
    optional: bool
    here: bool = False


class KitFinding(BaseModel):
    """Something about a kit that a person should see before it is run."""

    level: str
    step: str
    sentence: str
    remedy: str


class KitBrief(BaseModel):
    """A kit in a list."""

    name: str
    title: str
    vendor: str
    models: list[str]
    number: int
    steps: int
    secrets: dict[str, str]
    by: str
    at: datetime


class KitShown(KitBrief):
    """A kit with its steps, what is to be minded, and its text."""

    user: str
    does: list[KitStepShown]
    findings: list[KitFinding]
    text: str


def listed(app: AppContext) -> list[KitBrief]:
    """All kits by name."""
    with app.database.transaction() as session:
        return [_brief(one.versions[-1]) for one in _kits(session)]


def get(app: AppContext, name: str) -> KitShown:
    """The newest version of a kit."""
    with app.database.transaction() as session:
        return _show(session, find_kit(session, name).versions[-1])


def put(app: AppContext, actor: Actor, text: str) -> KitShown:
    """Keep a kit under its name. A changed one becomes a new version; the same one again changes nothing.

    Raises Invalid for a kit that does more than read.
    """
    kit = read_kit(text)
    refuse_stops(kit)
    body = kit.model_dump(mode="json", exclude_defaults=True)
    with app.transaction(actor, "kit kept", f"kit {kit.name}") as tx:
        record = tx.session.get(KitRecord, kit.name, with_for_update=True)
        if record is None:
            record = KitRecord(name=kit.name)
            tx.session.add(record)
        same = bool(record.versions) and record.versions[-1].body == body and not record.retired
        if same:
            tx.audited = False
        else:
            number = len(record.versions) + 1
            record.versions.append(KitVersion(number=number, body=body, text=text, by=actor.name))
        record.retired = False
        tx.session.flush()
        tx.detail = {"version": record.versions[-1].number}
        return _show(tx.session, record.versions[-1])


def retire(app: AppContext, actor: Actor, name: str) -> None:
    """Retire a kit; the evidence that it collected is kept."""
    with app.transaction(actor, "kit retired", f"kit {name}") as tx:
        find_kit(tx.session, name).retired = True


def find_kit(session: Session, name: str) -> KitRecord:
    """The kit of that name that is offered. Raises NotFound."""
    kit = session.get(KitRecord, name)
    if kit is None or kit.retired:
        raise NotFound(f"There is no kit {name}.", "List the kits, then name one of them.")
    return kit


def kits_for(session: Session, vendor: str, model: str) -> list[KitVersion]:
    """The newest versions of the kits for a vendor's model."""
    newest = [one.versions[-1] for one in _kits(session)]
    return [one for one in newest if _fits(one, vendor, model)]


def _fits(version: KitVersion, vendor: str, model: str) -> bool:
    return is_for(version.body.get("vendor", ""), version.body.get("models", []), vendor, model)


def _kits(session: Session) -> list[KitRecord]:
    query = select(KitRecord).where(KitRecord.retired.is_(False)).order_by(KitRecord.name)
    return list(session.scalars(query.limit(MOST)))


def parsed(version: KitVersion) -> Kit:
    """The kit of a stored version."""
    return read_kit(version.text, version.kit)


def is_local(step: Step) -> bool:
    """Whether a step collects from the machine on which it runs, or from an address that is not the device's."""
    return step.way in ("run", "files") or (step.way == "get" and not _OF_DEVICE.match(step.get))


def steps_of(kit: Kit, target: str) -> list[KitStepShown]:
    """The steps of a kit with exactly what each would do at the target."""
    return [
        KitStepShown(
            id=step.id, what=step.what, does=step.shown(target), seconds=step.time.total_seconds(),
            octets=step.size, secret=step.secret, optional=step.optional, here=is_local(step),
        )
        for step in kit.steps
    ]  # fmt: skip


def findings_of(kit: Kit) -> list[KitFinding]:
    """The content of a kit that a person confirms before it runs."""
    return [KitFinding.model_validate(one, from_attributes=True) for one in lint(kit)]


def _unasked(session: Session, kit: Kit) -> Iterator[KitFinding]:
    """Answers of a kit that no desk of its vendor asks for: they would go nowhere."""
    desks = session.scalars(select(Desk).join(Desk.vendor).where(Vendor.key == kit.vendor)).all()
    sheets = [sheet_of(desk.sheets[-1]) for desk in desks if desk.sheets]
    asked = {question.id for sheet in sheets for question in sheet.questions}
    for step in kit.steps if asked else ():
        for answer in step.answers:
            if answer.question in asked:
                continue
            near = get_close_matches(answer.question, asked, 1)
            yield KitFinding(
                level="warn",
                step=step.id,
                sentence=f"Step {step.id} answers {answer.question}, which no desk of {kit.vendor} asks.",
                remedy=f"Did you mean {near[0]}?"
                if near
                else "Name a question of the desk's sheet",
            )


def _brief(version: KitVersion) -> KitBrief:
    return KitBrief(**_fields(version, parsed(version)))


def _fields(version: KitVersion, kit: Kit) -> dict[str, object]:
    return {
        "name": kit.name, "title": kit.title, "vendor": kit.vendor, "models": list(kit.models),
        "number": version.number, "steps": len(kit.steps), "secrets": dict(kit.secrets),
        "by": version.by, "at": version.at,
    }  # fmt: skip


def _show(session: Session, version: KitVersion) -> KitShown:
    kit = parsed(version)
    return KitShown(
        **_fields(version, kit),
        user=kit.user,
        does=steps_of(kit, ""),
        findings=[*findings_of(kit), *_unasked(session, kit)],
        text=version.text,
    )
