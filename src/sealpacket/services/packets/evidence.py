"""Inspection of exhibits: by the worker when they arrive; summaries and cuts for people."""

from __future__ import annotations

from collections.abc import Collection
from datetime import datetime, timedelta
from functools import partial

import structlog
from sqlalchemy import select

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, Invalid, NotFound
from sealpacket.core.evidence.inspection import look_at
from sealpacket.core.evidence.logfile import LogFile, Window
from sealpacket.core.evidence.summary import Summary, in_window
from sealpacket.services import known_issues
from sealpacket.services.packets import exhibits, originals, serialize, workbench
from sealpacket.services.packets.expectations import zone_of
from sealpacket.services.packets.schemas import ExhibitShown
from sealpacket.store.models import Asset, Exhibit, lock_part

log = structlog.get_logger()
_AROUND = timedelta(hours=1)
"""Time before and after the moment when it began that is compared with the rest of a log."""


def look(app: AppContext, exhibit_id: str) -> None:
    """Look at what an exhibit holds, and summarise it if it is a log. One that cannot be looked at stays as it is."""
    with app.database.transaction() as session:
        exhibit = session.get(Exhibit, exhibit_id)
        if exhibit is None or exhibit.original_blob is None or exhibit.look is not None:
            return
        packet, blob = exhibit.packet, exhibit.original_blob
        zone, near = zone_of(packet), exhibit.created_at
        vendor = packet.asset.vendor.key if packet.asset else ""
        model = packet.asset.product.part_number if packet.asset else ""
        known = known_issues.issues_for(session, vendor, model)
    try:
        with app.blobs.as_file(blob) as path:
            found, summary = look_at(path, partial(_owners, app), zone=zone, near=near, known=known)
    except (Invalid, OSError, ValueError, OverflowError) as error:
        log.warning("exhibit not looked at", exhibit=exhibit_id, error=type(error).__name__)
        return
    stored = app.blobs.put([summary.model_dump_json().encode()]) if summary else None
    with app.database.transaction() as session:
        exhibit = lock_part(session, Exhibit, exhibit_id)
        if exhibit is None or exhibit.original_blob != blob:
            app.blobs.remove(stored.name if stored else None)
            return
        app.forget(session, exhibit.summary_blob)
        exhibit.look = found.model_dump(mode="json")
        exhibit.summary_blob = stored.name if stored else None


def _owners(app: AppContext, names: Collection[str]) -> dict[str, str]:
    """The assets to which serial numbers, host names and addresses belong."""
    wanted = sorted(names)
    query = select(Asset.id, Asset.names).where(Asset.names.overlap(wanted)).order_by(Asset.id)
    with app.database.transaction() as session:
        return {
            name: ident
            for ident, known in session.execute(query)
            for name in known
            if name in names
        }


def summarise(
    app: AppContext,
    number: str,
    name: str,
    start: datetime | None = None,
    end: datetime | None = None,
) -> Summary:
    """The summary of a log, for a time range or around the moment when it began. Raises NotFound if it has no
    summary."""
    with app.database.transaction() as session:
        packet = workbench.find_packet(session, number)
        exhibit = exhibits.find_exhibit(packet, name)
        blob, began = exhibit.summary_blob, packet.began_at
        if blob is None:
            waits = exhibit.look is None and exhibit.state in ("receiving", "waiting", "redacting")
            raise NotFound(
                f"{exhibit.name} has no summary.",
                "Wait until it has been looked at."
                if waits
                else "Only logs that state times have one.",
                code="no-summary",
            )
    summary = Summary.model_validate_json(app.blobs.read_all(blob))
    if start is not None and end is not None:
        return in_window(summary, *_ordered(start, end))
    return in_window(summary, began - _AROUND, began + _AROUND) if began else summary


def _ordered(start: datetime, end: datetime) -> tuple[datetime, datetime]:
    if start.tzinfo is None or end.tzinfo is None:
        raise Invalid(
            "The moments have no offset.", "Write them as 2026-11-23T08:40Z.", field="start"
        )
    if end < start:
        raise Invalid("The end is before the start.", "Swap them.", field="end")
    return start, end


def cut(
    app: AppContext, actor: Actor, number: str, name: str, start: datetime, end: datetime
) -> ExhibitShown:
    """Keep only the lines of a log between two moments; it is redacted again, and the rest is deleted. Raises
    Conflict for a file without times, or one that was changed meanwhile, Invalid if no line is in the range."""
    first, last = _ordered(start, end)
    with app.acting(actor) as session:
        _, exhibit = exhibits.changeable(session, number, name)
        if exhibit.summary_blob is None or exhibit.original_blob is None:
            raise Conflict(
                f"{exhibit.name} is no log that states times.", "Cut it by hand.", code="no-summary"
            )
        blob, zone, near = exhibit.original_blob, zone_of(exhibit.packet), exhibit.created_at
    found = Window()
    with app.blobs.as_file(blob) as path:
        file = LogFile(path, zone, near=near)
        stored = app.blobs.put(file.window(first, last, found))
    try:
        if not found.lines:
            raise Invalid(
                f"{name} has no lines between these moments.", "Choose other hours.", field="start"
            )
        detail = {"name": name, "start": first.isoformat(), "end": last.isoformat()}
        with app.transaction(actor, "exhibit cut", f"packet {number}", **detail) as tx:
            _, exhibit = exhibits.changeable(tx.session, number, name)
            if exhibit.original_blob != blob:
                raise Conflict(
                    f"{name} was changed meanwhile.", "Open the packet again.", code="stale"
                )
            tx.detail |= {"before": exhibit.sha256 or "", "sha256": stored.sha256}
            app.forget(tx.session, exhibit.summary_blob)
            originals.let_go(app, tx.session, exhibit)
            originals.keep_once(app, tx.session, exhibit, stored)
            exhibit.size, exhibit.look, exhibit.summary_blob = stored.size, None, None
            if file.packed:
                exhibit.name = exhibits.unpacked_name(exhibit)
            exhibits.queue_redaction(app, tx.session, exhibit)
            tx.session.flush()
            return serialize.show_exhibit(exhibit)
    except BaseException:
        app.blobs.remove(stored.name)
        raise
