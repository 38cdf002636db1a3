"""Collecting a packet's evidence by kits: offered for its model, confirmed by a person, run by the worker."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import asdict
from datetime import UTC, datetime
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from pydantic import BaseModel, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.app.context import WORKER, Actor, AppContext
from sealpacket.collecting.access import Access
from sealpacket.core.errors import Conflict, DatabaseUnreachable, Invalid, ProblemError, Stale
from sealpacket.core.evidence.kits import KEPT, Kit, Outcome, Step
from sealpacket.core.inbound import safe_name
from sealpacket.core.life import Life
from sealpacket.core.sheets import answer_fault
from sealpacket.core.sheets.forms import Known
from sealpacket.services import kits, reach, safe
from sealpacket.services.desks import parsed
from sealpacket.services.packets import exhibits, workbench
from sealpacket.services.packets.draft import drafts
from sealpacket.services.packets.facts import people_of
from sealpacket.services.packets.schemas import KitRunShown
from sealpacket.services.packets.serialize import show_kit_run
from sealpacket.store.models import (
    Asset,
    DeviceReach,
    Exhibit,
    KitRun,
    KitVersion,
    Packet,
    lock_part,
)

COLLECT = "collect"
_UNDER_WAY = ("waiting", "running")
_BLOCK = 1 << 18


class KitOffered(BaseModel):
    """A kit for a packet's thing: exactly what it would do there, and what keeps the worker from running it."""

    name: str
    title: str
    number: int
    target: str
    does: list[kits.KitStepShown]
    findings: list[kits.KitFinding]
    hindrance: str = Field(description="Why the worker cannot run it; empty if it can.")


class KitsOffered(BaseModel):
    """The kits for a packet's thing."""

    items: list[KitOffered]


def offered(app: AppContext, number: str) -> KitsOffered:
    """The kits for the model that a packet is about, with exactly what each would do at its device."""
    with app.database.transaction() as session:
        packet = workbench.find_packet(session, number)
        asset = packet.asset
        if asset is None:
            return KitsOffered(items=[])
        known = session.get(DeviceReach, asset.id)
        found = kits.kits_for(session, asset.vendor.key, asset.product.part_number)
        return KitsOffered(items=[_offer(app, session, one, asset, known) for one in found])


def _offer(
    app: AppContext, session: Session, version: KitVersion, asset: Asset, known: DeviceReach | None
) -> KitOffered:
    kit = kits.parsed(version)
    target = known.target if known else ""
    return KitOffered(
        name=kit.name,
        title=kit.title,
        number=version.number,
        target=target,
        does=kits.steps_of(kit, target or (asset.host_names[0] if asset.host_names else "")),
        findings=kits.findings_of(kit),
        hindrance=_hindrance(app, session, kit, asset, known),
    )


def _hindrance(
    app: AppContext, session: Session, kit: Kit, asset: Asset, known: DeviceReach | None
) -> str:
    """Why the worker cannot run a kit at a device, as a sentence."""
    if all(kits.is_local(step) for step in kit.steps):
        return f"It runs only on the machine itself, {asset.name or asset.serial}."
    if known is None:
        return f"It is not known how {asset.name or asset.serial} is reached."
    why = reach.hindrance(app, known.target)
    if why:
        return f"{why}."
    there = safe.names_in(session)
    wanted = [reach.secret_name(known, step.secret) for step in kit.steps if step.secret]
    missing = sorted({name for name in wanted if name not in there})
    if missing:
        return f"The safe has no secret {', '.join(missing)}."
    if not known.host_key and any(step.way in ("ssh", "sftp") for step in kit.steps):
        return f"The host key of {known.target} is not known, and no device is trusted unseen."
    return ""


def collect(app: AppContext, actor: Actor, number: str, name: str, seen: int) -> KitRunShown:
    """Have the worker run a kit at the packet's device. `seen` is the version of the kit that the person confirms.

    Raises Stale if the kit has changed since, Conflict if it cannot be run, or is under way for this packet.
    """
    with app.transaction(actor, "kit confirmed", f"packet {number}", kit=name, version=seen) as tx:
        packet = exhibits.takes_evidence(tx.session, number)
        version = kits.find_kit(tx.session, name).versions[-1]
        if version.number != seen:
            raise Stale(
                f"The kit {name} has been changed.", "Look at what it does now, then run it."
            )
        asset = packet.asset
        if asset is None:
            raise Conflict(f"{packet.number} is about no device.", "Name the asset first.")
        known = tx.session.get(DeviceReach, asset.id)
        why = _hindrance(app, tx.session, kits.parsed(version), asset, known)
        if known is None or why:
            raise Conflict(
                why,
                "Run the kit on the machine itself, and attach what it collects.",
                code="not-reached",
            )
        _refuse_twice(tx.session, packet, name)
        run = KitRun(
            packet=packet, kit_version=version, target=known.target, confirmed_by=actor.name
        )
        tx.session.add(run)
        tx.session.flush()
        tx.detail["target"] = known.target
        app.enqueue(tx.session, COLLECT, {"run": run.id}, f"collect {asset.id}")
        return show_kit_run(run)


def _refuse_twice(session: Session, packet: Packet, name: str) -> None:
    query = (
        select(KitRun.id)
        .join(KitRun.kit_version)
        .where(KitRun.packet_id == packet.id, KitVersion.kit == name, KitRun.state.in_(_UNDER_WAY))
    )
    if session.scalars(query).first() is not None:
        raise Conflict(
            f"{name} is being run for {packet.number}.", "Wait until it is through.", code="busy"
        )


def run(app: AppContext, run_id: str) -> None:
    """Run what was confirmed, step by step. The worker calls this; steps that are through are not done again."""
    with app.database.transaction() as session:
        one = lock_part(session, KitRun, run_id)
        if one is None or one.state not in _UNDER_WAY:
            return
        one.state = "running"
        kit, number = kits.parsed(one.kit_version), one.packet.number
        through = {outcome["step"] for outcome in one.outcomes}
        known = session.get(DeviceReach, one.packet.asset_id)
        why = reach.hindrance(app, known.target) if known else "It is not known how it is reached"
        if known is None or why or known.target != one.target:
            _end(one, "failed", f"{why or 'It is reached another way now'}.")
            return
        secrets = reach.secrets_for(app, session, known, kit)
    try:
        with (
            reach.access_to(known, kit, secrets) as access,
            TemporaryDirectory(prefix="sealpacket-") as folder,
        ):
            for step in kit.steps:
                if step.id not in through:
                    _run_one(app, run_id, number, kit, step, access, Path(folder))
    except DatabaseUnreachable:
        raise  # the queue does it again, from the step that is not through
    except Exception:
        give_up(app, run_id, "It broke off; the worker's log says why.")
        raise
    with app.transaction(WORKER, "kit run", f"packet {number}", kit=kit.name) as tx:
        one = _locked(tx.session, run_id)
        _end(one, "done", "")
        tx.detail["steps"] = {outcome["step"]: outcome["state"] for outcome in one.outcomes}


def _locked(session: Session, run_id: str) -> KitRun:
    one = lock_part(session, KitRun, run_id)
    assert one is not None
    return one


def _end(one: KitRun, state: str, reason: str) -> None:
    one.state, one.reason, one.ended_at = state, reason, datetime.now(UTC)


def give_up(
    app: AppContext, run_id: str, reason: str = "It took the worker down again and again."
) -> None:
    """Say that a run is not tried again."""
    with app.database.transaction() as session:
        one = lock_part(session, KitRun, run_id)
        if one is not None and one.state in _UNDER_WAY:
            _end(
                one,
                "failed",
                f"{reason} Run the kit on the machine itself, and attach what it collects.",
            )


def _run_one(
    app: AppContext, run_id: str, number: str, kit: Kit, step: Step, access: Access, folder: Path
) -> None:
    """Run a step, add what it brought to the packet, and note how it ended."""
    from sealpacket.collecting.running import files_of, run_step

    if kits.is_local(step):
        outcome = Outcome(step.id, "failed", why="it asks no device; it runs on the machine itself")
    else:
        outcome = run_step(step, access, folder)
    added: list[str] = []
    if outcome.state in KEPT:
        by = {"kit": kit.name, "step": step.id, "state": outcome.state, "run": run_id}
        try:
            added = [
                _attach(app, number, path, by)
                for path in files_of(folder / step.name)
                if _holds(path)
            ]
        except DatabaseUnreachable:
            raise
        except ProblemError as problem:
            outcome = Outcome(step.id, "failed", why=problem.detail)
        _fill(app, number, outcome.answers)
    row: dict[str, Any] = {**asdict(outcome), "exhibits": added, "what": step.what}
    with app.database.transaction() as session:
        one = _locked(session, run_id)
        one.outcomes = [*one.outcomes, row]


def _holds(path: Path) -> bool:
    return path.stat().st_size > 0


def _attach(app: AppContext, number: str, path: Path, by: dict[str, str]) -> str:
    """Add a file to a packet under a name that is free. What an interrupted try added already is taken as it is."""
    wanted = exhibits.clean_name(safe_name(path.name))
    with app.database.transaction() as session:
        packet = workbench.find_packet(session, number)
        mine = {one.name: one.state for one in packet.exhibits if _is_same(one, by)}
        others = {one.name for one in packet.exhibits} - mine.keys()
        name = exhibits.free_name(wanted, others)
        if mine.get(name, "receiving") != "receiving":
            return name
    exhibits.announce(app, WORKER, number, name, path.stat().st_size, collected=by)
    with path.open("rb") as file:
        exhibits.receive(app, WORKER, number, name, iter(lambda: file.read(_BLOCK), b""))
    return name


def _is_same(exhibit: Exhibit, by: dict[str, str]) -> bool:
    collected = exhibit.collected or {}
    return (collected.get("run"), collected.get("step")) == (by["run"], by["step"])


def _fill(app: AppContext, number: str, answers: dict[str, str]) -> None:
    """Answer what the desk asks and nobody has answered yet; what does not fit the question stays open."""
    if not answers:
        return
    shown = drafts.get(app, number)
    with app.database.transaction() as session:
        packet = workbench.find_packet(session, number)
        if packet.life != Life.DRAFTING or packet.sheet is None:
            return
        sheet, known = parsed(packet.sheet), Known(people=people_of(session))
    given: dict[str, str | None] = {}
    for one in shown.questions:
        question, text = sheet.question(one.id), answers.get(one.id)
        if question is None or text is None or one.answer.typed:
            continue
        if answer_fault(question, text, known) is None:
            given[one.id] = text
    if given:
        with suppress(Invalid, Conflict):
            drafts.answer(app, WORKER, number, given)
