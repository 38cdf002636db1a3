"""Redacting exhibits: what the worker does, and the review of what was masked."""

from __future__ import annotations

import json
import tempfile
import time
import zlib
from collections.abc import Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, replace
from typing import Any, NamedTuple

import structlog
from sqlalchemy import select

from sealpacket.app.context import WORKER, AppContext
from sealpacket.core.errors import DatabaseUnreachable
from sealpacket.core.redact import (
    Catalogue,
    Held,
    LeakReport,
    Legend,
    Placeholders,
)
from sealpacket.core.redact.boxes import Box
from sealpacket.core.redact.engine import Dropped
from sealpacket.core.redact.readers import (
    HEAD,
    TOO_MUCH_MEMORY,
    Work,
    copy_file,
    is_plain_text,
    stream_text,
)
from sealpacket.core.redact.readers.base import unused_name
from sealpacket.core.redact.search import ENGINE
from sealpacket.core.redact.verify import (
    SAMPLE,
    Leaking,
    Suspects,
    checks_of,
    find_canaries_beside,
    mend,
    reports_of,
    still_there,
)
from sealpacket.services.packets import evidence, workbench
from sealpacket.services.packets.redaction import boxes, legend_keys, typed_text
from sealpacket.services.packets.redaction.catalogues import (
    catalogue_for,
    packet_plan,
    placeholders_of,
)
from sealpacket.store.models import Exhibit, Packet, lock_part

MOST_VALUES = 50_000
"""Maximum number of different values of an exhibit that are listed."""
TOLD_EVERY = 0.5
"""Seconds between what is written down of how far a redaction has come."""

log = structlog.get_logger()


@dataclass(frozen=True)
class _Work:
    """The input of a redaction, read in one short transaction."""

    packet_id: str
    number: str
    name: str
    original: str
    catalogue: Catalogue
    placeholders: Placeholders
    legend_key: bytes
    archived: bool
    plan: int
    searchable: bool
    drawn: Mapping[int, Sequence[Box]]


class _Weight:
    """How many bytes something has in a ZIP, found out while it passes."""

    def __init__(self) -> None:
        self.octets = 0

    def through(self, blocks: Iterable[bytes]) -> Iterator[bytes]:
        """The blocks as they are."""
        packer = zlib.compressobj(6, zlib.DEFLATED, -15)
        for block in blocks:
            self.octets += len(packer.compress(block))
            yield block
        self.octets += len(packer.flush())


def redact_exhibit(app: AppContext, exhibit_id: str) -> None:
    """Make the outgoing copy of an exhibit, then check all of the packet's copies for leaks.

    Runs in a worker, one job for each packet at a time. Whatever happens, the exhibit ends ready, held or failed.
    """
    work = _begin(app, exhibit_id)
    if work is None:
        return
    try:
        evidence.look(app, exhibit_id)
        with _held_as_it_ends(app, exhibit_id):
            _make_copy(app, exhibit_id, work, work.catalogue)
            _settle_leaks(app, work)
    except DatabaseUnreachable:
        raise
    except MemoryError:
        _end(app, exhibit_id, "held", TOO_MUCH_MEMORY)
    except Exception as error:
        log.error("redaction failed", exhibit=exhibit_id, error=type(error).__name__)
        _end(app, exhibit_id, "failed", f"The redaction broke off ({type(error).__name__}).")
        raise


def give_up(app: AppContext, exhibit_id: str) -> None:
    """Hold an exhibit whose redaction took its process down too often."""
    _end(
        app,
        exhibit_id,
        "held",
        "Redaction failed three times.",
    )


@contextmanager
def _held_as_it_ends(app: AppContext, exhibit_id: str) -> Iterator[None]:
    """Mark the exhibit as held, with the reason, if it cannot be redacted."""
    try:
        yield
    except Dropped as dropped:
        _end(app, exhibit_id, "held", str(dropped), dropped=True)
    except Held as held:
        _end(app, exhibit_id, "held", str(held))


def _begin(app: AppContext, exhibit_id: str) -> _Work | None:
    with app.database.transaction() as session:
        exhibit = lock_part(session, Exhibit, exhibit_id)
        if exhibit is None or exhibit.original_blob is None or not workbench.is_changeable(exhibit):
            return None
        exhibit.state, exhibit.done, exhibit.reason = "redacting", 0, ""
        packet = exhibit.packet
        number, plan = packet_plan(app, session, packet)
        bench = workbench.answered(session, packet)
        return _Work(
            packet.id,
            packet.number,
            exhibit.name,
            exhibit.original_blob,
            catalogue_for(app, session, bench, plan),
            placeholders_of(app, packet, plan),
            legend_keys.key_of(app, packet),
            workbench.is_archived(packet),
            number,
            plan.searchable,
            boxes.drawn_by_page(exhibit),
        )


def _make_copy(app: AppContext, exhibit_id: str, work: _Work, catalogue: Catalogue) -> None:
    doing = Work(
        catalogue,
        work.placeholders,
        progress=_Progress(app, exhibit_id),
        drawn=work.drawn,
        searchable=work.searchable,
    )
    head = b"".join(app.blobs.read(work.original, 0, HEAD))
    as_text = is_plain_text(head, work.name)
    with tempfile.SpooledTemporaryFile(max_size=8 << 20) as notes:
        doing.note = notes.write
        blocks = (
            stream_text(app.blobs.read(work.original), doing)
            if as_text
            else _other(app, work, doing)
        )
        weight = _Weight()
        copy = app.blobs.put(weight.through(blocks) if work.archived else blocks)
        notes.seek(0)
        findings = app.blobs.put(iter(lambda: notes.read(1 << 16), b""))
    outcome = doing.outcome
    legend = legend_keys.put(app, work.legend_key, outcome.legend.blocks())
    values = legend_keys.put(app, work.legend_key, [_by_value(outcome.legend)])
    with app.transaction(WORKER, "exhibit redacted", f"packet {work.number}", name=work.name) as tx:
        exhibit = lock_part(tx.session, Exhibit, exhibit_id)
        if exhibit is None:
            tx.audited = False
            for new in (copy.name, findings.name, values, legend):
                app.blobs.remove(new)
            return
        app.forget(
            tx.session,
            exhibit.outgoing_blob,
            exhibit.findings_blob,
            exhibit.values_blob,
            exhibit.legend_blob,
        )
        exhibit.outgoing_blob, exhibit.outgoing_size, exhibit.outgoing_sha256 = (
            copy.name,
            copy.size,
            copy.sha256,
        )
        exhibit.findings_blob, exhibit.values_blob, exhibit.legend_blob = (
            findings.name,
            values,
            legend,
        )
        exhibit.marks = [(0, 1), *outcome.marks] if as_text else None
        exhibit.pages = [page.as_rows() for page in outcome.pages] or None
        exhibit.done = exhibit.size
        exhibit.packed = weight.octets if work.archived else None
        exhibit.report = {
            "engine": ENGINE,
            "plan": work.plan,
            "read_as": "text" if as_text else "file",
            "goes_as": unused_name(
                doing.name(work.name),
                {e.goes_as for e in exhibit.packet.exhibits if e.id != exhibit.id},
            ),
            "lines": outcome.lines,
            "counts": dict(sorted(outcome.counts.items())),
            "kept": dict(sorted(outcome.kept.items())),
            "kept_because": sorted(set(outcome.reasons.values())),
            "values": len(outcome.legend),
            "times_moved": work.placeholders.shift is not None,
            "boxes_drawn": sum(map(len, work.drawn.values())),
        }
        tx.detail |= {"counts": exhibit.report["counts"], "outgoing_sha256": copy.sha256}


def _by_value(legend: Legend) -> bytes:
    """The values that were masked, the most frequent first, as JSON: placeholder, original (Latin-1), how often."""
    rows = legend.tallies(MOST_VALUES)
    return json.dumps([[p.decode("latin-1"), o.decode("latin-1"), n] for p, o, n in rows]).encode()


def _other(app: AppContext, work: _Work, doing: Work) -> Iterator[bytes]:
    """The copy of a file that is not plain text, made by the reader for its kind. Raises Held."""
    doing.note = None
    with (
        app.blobs.as_file(work.original) as path,
        path.open("rb") as source,
        tempfile.TemporaryFile() as copy,
    ):
        copy_file(source, copy, doing, work.name)
        copy.seek(0)
        yield from iter(lambda: copy.read(1 << 20), b"")


class _Progress:
    """Writes down how far a redaction has come, every TOLD_EVERY seconds."""

    def __init__(self, app: AppContext, exhibit_id: str) -> None:
        self._app, self._id, self._last = app, exhibit_id, time.monotonic()

    def __call__(self, done: int) -> None:
        if time.monotonic() - self._last < TOLD_EVERY:
            return
        self._last = time.monotonic()
        with self._app.database.transaction() as session:
            exhibit = session.get(Exhibit, self._id)
            if exhibit is not None:
                exhibit.done = done


def _settle_leaks(app: AppContext, work: _Work) -> None:
    """Check every copy of the packet against all originals; redact again with what was found, at most twice."""
    keep = work.catalogue.kept_values()
    dirty: list[_Copy] = []
    reports: dict[str, LeakReport] = {}

    def check_all() -> Leaking | None:
        legend, copies = _copies(app, work)
        suspects = {one.ident: Suspects() for one in copies}
        share = SAMPLE // max(len(copies), 1)
        find_canaries_beside(b"".join(app.blobs.read(one.copy, 0, share)) for one in copies)
        for check in checks_of(legend, keep):
            for one in copies:
                with app.blobs.as_file(one.copy) as path, path.open("rb") as copy:
                    suspects[one.ident].merge(check.unpacked(copy))
                suspects[one.ident].goes_on(check.stream([one.goes_as.encode()]))
        reports.clear()
        reports.update(reports_of(legend, suspects, work.catalogue.is_public))
        dirty[:] = [one for one in copies if not reports[one.ident].clean]
        leaks = (leak for report in reports.values() for leak in report.leaks)
        return {(leak.kind, leak.original) for leak in leaks} if dirty else None

    def redact_dirty(wider: Catalogue) -> None:
        for one in dirty:
            with _held_as_it_ends(app, one.ident):
                _make_copy(app, one.ident, one.work, wider)

    mend(work.catalogue, check_all, redact_dirty)
    # Only now: while one copy leaks, none that came with it may look ready to be sealed.
    for ident, report in reports.items():
        _note_check(app, ident, report)


class _Copy(NamedTuple):
    """An exhibit that has a copy: the copy, under which name it goes out, and what is needed to make it again."""

    ident: str
    copy: str
    goes_as: str
    work: _Work


def _copies(app: AppContext, work: _Work) -> tuple[Legend, list[_Copy]]:
    """The packet's whole legend, what was typed included, and every exhibit that has a copy.

    Exhibits that wait to be redacted again, or could not be, are skipped: their copy is outdated, and their own job
    checks the packet. Sealed packets, and those with the desk, are not changed.
    """
    copies: list[_Copy] = []
    with app.database.transaction() as session:
        legend = typed_text.typed_legend(app, session.get_one(Packet, work.packet_id))
        query = select(Exhibit).where(
            Exhibit.packet_id == work.packet_id,
            Exhibit.legend_blob.is_not(None),
            Exhibit.state.in_(("ready", "redacting")),
        )
        found = [
            (
                exhibit.legend_blob,
                _Copy(
                    exhibit.id,
                    exhibit.outgoing_blob,
                    exhibit.goes_as,
                    replace(
                        work,
                        name=exhibit.name,
                        original=exhibit.original_blob,
                        drawn=boxes.drawn_by_page(exhibit),
                    ),
                ),
            )
            for exhibit in session.scalars(query.order_by(Exhibit.created_at))
            if exhibit.legend_blob and exhibit.outgoing_blob and exhibit.original_blob
        ]
        frozen = {e.id for e in session.scalars(query) if not workbench.is_changeable(e)}
    for kept, one in found:
        legend.merge(Legend.read(legend_keys.read(app, work.legend_key, kept)))
        if one.ident not in frozen:
            copies.append(one)
    return legend, copies


def _note_check(app: AppContext, exhibit_id: str, report: LeakReport) -> None:
    with app.database.transaction() as session:
        exhibit = lock_part(session, Exhibit, exhibit_id)
        if exhibit is not None and exhibit.state != "waiting":
            exhibit.leaks, exhibit.state = len(report.leaks), "ready"
            check: dict[str, Any] = {
                "searched": report.searched,
                "too_short": report.too_short,
                "found": len(report.leaks),
            }
            check |= {"still": still_there(report)} if report.leaks else {}
            exhibit.report = {**(exhibit.report or {}), "leak_check": check}


def _end(
    app: AppContext, exhibit_id: str, state: str, reason: str, *, dropped: bool = False
) -> None:
    with app.transaction(WORKER, f"exhibit {state}", "exhibit", reason=reason) as tx:
        exhibit = lock_part(tx.session, Exhibit, exhibit_id)
        if exhibit is None:
            tx.audited = False
            return
        exhibit.state, exhibit.reason = state, reason
        exhibit.report = {**(exhibit.report or {}), "dropped": dropped}
        tx.subject, tx.detail["name"] = f"packet {exhibit.packet.number}", exhibit.name
