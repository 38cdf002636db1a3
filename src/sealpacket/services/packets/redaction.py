"""Redacting exhibits: what the worker does, and the review of what was masked."""

from __future__ import annotations

import hashlib
import json
import tempfile
import time
import zlib
from bisect import bisect_left
from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from typing import Any

import structlog
from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.core.errors import Conflict, Invalid
from sealpacket.core.redact import (
    Catalogue,
    Held,
    LeakCheck,
    LeakReport,
    Legend,
    Placeholders,
    Term,
    host_terms,
    person_terms,
)
from sealpacket.core.redact.catalogue import ANYWHERE, ENGINE
from sealpacket.core.redact.engine import RECORD, UNSURE, Dropped
from sealpacket.core.redact.kinds import KINDS
from sealpacket.core.redact.placeholders import as_written
from sealpacket.core.redact.plan import Deed, HousePlan
from sealpacket.core.redact.readers import HEAD, Work, copy_file, is_plain_text, stream_text
from sealpacket.core.redact.readers.packed import unused_name
from sealpacket.core.secretbox import decrypt
from sealpacket.core.sheets.model import Redaction
from sealpacket.services.desks import parsed
from sealpacket.services.house import WORKER, House
from sealpacket.services.packets import deciding, legends, workbench
from sealpacket.services.packets.exhibits import find_exhibit
from sealpacket.services.redaction_plan import house_plan
from sealpacket.store.models import Asset, Contract, Exhibit, Packet, Person

DOUBTFUL = "doubtful"
MOST_VALUES = 50_000
"""So many different values of an exhibit can be listed."""
MENDS = 2
"""How often an exhibit is redacted again with the values that the leak check found."""

log = structlog.get_logger()


@dataclass(frozen=True)
class _Work:
    """What a redaction needs, read in one short transaction."""

    packet_id: str
    number: str
    name: str
    original: str
    catalogue: Catalogue
    placeholders: Placeholders
    legend_key: bytes
    archived: bool
    plan: int


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


def redact_exhibit(house: House, exhibit_id: str) -> None:
    """Make the outgoing copy of an exhibit, then check all of the packet's copies for leaks.

    Runs in a worker, one job for each packet at a time. Whatever happens, the exhibit ends ready, held or failed.
    """
    work = _begin(house, exhibit_id)
    if work is None:
        return
    try:
        _make_copy(house, exhibit_id, work, work.catalogue)
        _settle_leaks(house, work)
    except Dropped as dropped:
        _end(house, exhibit_id, "held", str(dropped), dropped=True)
    except Held as held:
        _end(house, exhibit_id, "held", str(held))
    except Exception as error:
        log.error("redaction failed", exhibit=exhibit_id, error=type(error).__name__)
        _end(house, exhibit_id, "failed", f"The redaction broke off ({type(error).__name__}).")
        raise


def _begin(house: House, exhibit_id: str) -> _Work | None:
    with house.database.transaction() as session:
        exhibit = session.get(Exhibit, exhibit_id, with_for_update=True)
        if exhibit is None or exhibit.original_blob is None or exhibit.packet.life not in workbench.DRAFT:
            return None
        exhibit.state, exhibit.done, exhibit.reason = "redacting", 0, ""
        packet = exhibit.packet
        key = decrypt(house.settings.master_key, packet.placeholder_key_sealed, "placeholder key")
        number, plan = packet_plan(house, session, packet)
        if plan.scope == "vendor" and packet.asset is not None:
            key = _key_of_vendor(house, packet.asset.vendor_id)
        return _Work(
            packet.id, packet.number, exhibit.name, exhibit.original_blob, catalogue_for(house, session, packet, plan),
            Placeholders(key, plan.placeholder_style), legends.key_of(house, packet), workbench.is_archived(packet),
            number,
        )  # fmt: skip


def packet_plan(house: House, session: Session, packet: Packet) -> tuple[int, HousePlan]:
    """The version of the organisation's plan, and the plan with what the packet's desk wants otherwise."""
    number, plan = house_plan(house, session)
    wishes = parsed(packet.sheet).redaction if packet.sheet else Redaction()
    drops: dict[str, Deed] = {
        **dict.fromkeys(wishes.drop_lines, "drop-line"), **dict.fromkeys(wishes.drop_files, "drop-file")
    }  # fmt: skip
    kinds = {**plan.kinds, **{kind: deed for kind, deed in drops.items() if kind in KINDS}}
    return number, plan.model_copy(update={"kinds": kinds, "style": wishes.style or plan.style})


def _key_of_vendor(house: House, vendor_id: str) -> bytes:
    """The key of all placeholders to one vendor, which no other vendor's can be joined with."""
    told = b"placeholders of vendor " + vendor_id.encode()
    return hashlib.blake2b(told, key=house.settings.master_key, digest_size=32).digest()


def catalogue_for(house: House, session: Session, packet: Packet, plan: HousePlan) -> Catalogue:
    """All that the register, the plan and the packet's decisions know.

    What the vendor needs of this packet is kept, with the reason.
    """
    bench = workbench.lay_out(session, packet)
    people = list(session.scalars(select(Person)))
    terms: list[Term] = [term for person in people for term in person_terms(person.name)]
    domains = {person.mail.rsplit("@", 1)[1] for person in people}
    for serial, hosts in session.execute(select(Asset.serial, Asset.host_names)):
        terms.append(Term("asset", serial, serial.casefold()))
        terms += host_terms(hosts)
        domains |= {name.split(".", 1)[1] for name in hosts if name.count(".") >= 2}
    terms += [Term("contract", n, n.casefold()) for n in session.scalars(select(Contract.number)) if _tells(n)]
    keep_values, keep_kinds, mask_values, mask_kinds = deciding.kept_and_masked(house, session, packet)
    terms += [Term(kind, value, value.casefold(), anywhere=len(value) >= ANYWHERE) for kind, value in mask_values]
    masked = {value.casefold() for _, value in mask_values}
    kept = {**workbench.kept_values(bench), **keep_values}
    return plan.catalogue(
        terms,
        {value: reason for value, reason in kept.items() if value.casefold() not in masked},
        plan.whole_floor,
        {**workbench.kept_kinds(bench), **keep_kinds},
        mask_kinds,
        domains,
    )


def _tells(number: str) -> bool:
    """Whether a contract number is long or peculiar enough to be one wherever it stands; 4471 is not."""
    return len(number) >= 6 and not (number.isdigit() and len(number) < 8)


def _make_copy(house: House, exhibit_id: str, work: _Work, catalogue: Catalogue) -> None:
    doing = Work(catalogue, work.placeholders, progress=_Progress(house, exhibit_id))
    head = b"".join(house.blobs.read(work.original, 0, HEAD))
    as_text = is_plain_text(head, work.name)
    with tempfile.SpooledTemporaryFile(max_size=8 << 20) as notes:
        doing.note = notes.write
        blocks = stream_text(house.blobs.read(work.original), doing) if as_text else _other(house, work, doing)
        weight = _Weight()
        copy = house.blobs.put(weight.through(blocks) if work.archived else blocks)
        notes.seek(0)
        findings = house.blobs.put(iter(lambda: notes.read(1 << 16), b""))
    outcome = doing.outcome
    legend = legends.put(house, work.legend_key, outcome.legend.to_bytes())
    values = legends.put(house, work.legend_key, _by_value(outcome.legend))
    with house.act(WORKER, "exhibit redacted", f"packet {work.number}", name=work.name) as act:
        exhibit = act.session.get(Exhibit, exhibit_id, with_for_update=True)
        if exhibit is None:
            act.worth_noting = False
            for new in (copy.name, findings.name, values, legend):
                house.blobs.remove(new)
            return
        for old in (exhibit.outgoing_blob, exhibit.findings_blob, exhibit.values_blob, exhibit.legend_blob):
            house.blobs.remove(old)
        exhibit.outgoing_blob, exhibit.outgoing_size, exhibit.outgoing_sha256 = copy.name, copy.size, copy.sha256
        exhibit.findings_blob, exhibit.values_blob, exhibit.legend_blob = findings.name, values, legend
        exhibit.done = exhibit.size
        exhibit.packed = weight.octets if work.archived else None
        exhibit.report = {
            "engine": ENGINE,
            "plan": work.plan,
            "read_as": "text" if as_text else "file",
            "goes_as": unused_name(
                doing.name(work.name), {e.goes_as for e in exhibit.packet.exhibits if e.id != exhibit.id}
            ),
            "lines": outcome.lines,
            "counts": dict(sorted(outcome.counts.items())),
            "kept": dict(sorted(outcome.kept.items())),
            "kept_because": sorted(set(outcome.reasons.values())),
            "values": len(outcome.legend),
        }
        act.detail |= {"counts": exhibit.report["counts"], "outgoing_sha256": copy.sha256}


def _by_value(legend: Legend) -> bytes:
    """The values that were masked, the most frequent first, as JSON: placeholder, original (Latin-1), how often."""
    rows = legend.tallies()[:MOST_VALUES]
    return json.dumps([[p.decode("latin-1"), o.decode("latin-1"), n] for p, o, n in rows]).encode()


def _other(house: House, work: _Work, doing: Work) -> Iterator[bytes]:
    """The copy of what is no plain text, made by the reader for its kind. Raises Held."""
    doing.note = None
    with house.blobs.as_file(work.original) as path, path.open("rb") as source, tempfile.TemporaryFile() as copy:
        copy_file(source, copy, doing, work.name)
        copy.seek(0)
        yield from iter(lambda: copy.read(1 << 20), b"")


class _Progress:
    """Writes down how far a redaction has come, about twice a second."""

    def __init__(self, house: House, exhibit_id: str) -> None:
        self._house, self._id, self._last = house, exhibit_id, time.monotonic()

    def __call__(self, done: int) -> None:
        if time.monotonic() - self._last < 0.5:
            return
        self._last = time.monotonic()
        with self._house.database.transaction() as session:
            exhibit = session.get(Exhibit, self._id)
            if exhibit is not None:
                exhibit.done = done


def _settle_leaks(house: House, work: _Work) -> None:
    """Check every copy of the packet against all originals; redact again with what was found, at most twice."""
    keep = work.catalogue.kept_values()
    for mend in range(MENDS + 1):
        legend, copies = _copies(house, work)
        values: set[tuple[str, bytes]] = set()
        dirty: list[tuple[str, str]] = []
        reports: list[tuple[str, LeakReport]] = []
        check = LeakCheck(legend, keep)
        for ident, blob, original in copies:
            with house.blobs.as_file(blob) as path, path.open("rb") as copy:
                report = check.file(copy)
            reports.append((ident, report))
            if not report.clean:
                dirty.append((ident, original))
                values |= {(leak.kind, leak.original) for leak in report.leaks}
        if not dirty or mend == MENDS:
            # Only now: while one copy leaks, none that came with it may look ready to be sealed.
            for ident, report in reports:
                _note_check(house, ident, report)
            return
        wider = work.catalogue.with_values(values)
        for ident, original in dirty:
            again = replace(work, original=original, catalogue=wider)
            _make_copy(house, ident, again, wider)


def _copies(house: House, work: _Work) -> tuple[Legend, list[tuple[str, str, str]]]:
    """The packet's whole legend, and (id, copy, original) of every exhibit that has a copy.

    One that waits to be redacted again is left out: its copy is of yesterday, and its own turn checks all of them.
    """
    legend = Legend()
    copies: list[tuple[str, str, str]] = []
    with house.database.transaction() as session:
        query = select(Exhibit).where(
            Exhibit.packet_id == work.packet_id, Exhibit.legend_blob.is_not(None), Exhibit.state != "waiting"
        )
        rows = list(session.scalars(query.order_by(Exhibit.created_at)))
    for exhibit in rows:
        if exhibit.legend_blob and exhibit.outgoing_blob and exhibit.original_blob:
            legend.merge(Legend.from_bytes(legends.read(house, work.legend_key, exhibit.legend_blob)))
            copies.append((exhibit.id, exhibit.outgoing_blob, exhibit.original_blob))
    return legend, copies


def _note_check(house: House, exhibit_id: str, report: LeakReport) -> None:
    with house.database.transaction() as session:
        exhibit = session.get(Exhibit, exhibit_id, with_for_update=True)
        if exhibit is not None and exhibit.state != "waiting":
            exhibit.leaks, exhibit.state = len(report.leaks), "ready"
            check = {"searched": report.searched, "too_short": report.too_short, "found": len(report.leaks)}
            exhibit.report = {**(exhibit.report or {}), "leak_check": check}


def _end(house: House, exhibit_id: str, state: str, reason: str, *, dropped: bool = False) -> None:
    with house.act(WORKER, f"exhibit {state}", "exhibit", reason=reason) as act:
        exhibit = act.session.get(Exhibit, exhibit_id, with_for_update=True)
        if exhibit is None:
            act.worth_noting = False
            return
        exhibit.state, exhibit.reason = state, reason
        exhibit.report = {**(exhibit.report or {}), "dropped": dropped}
        act.subject, act.detail["name"] = f"packet {exhibit.packet.number}", exhibit.name


def values(house: House, number: str, name: str, *, kind: str, q: str, limit: int) -> dict[str, Any]:
    """The different values that were masked in an exhibit, the most frequent first: of one kind, with some text."""
    with house.database.transaction() as session:
        packet = workbench.find_packet(session, number)
        exhibit = find_exhibit(packet, name)
        if exhibit.state != "ready" or exhibit.values_blob is None:
            raise Conflict(f"{name} is not redacted yet.", "Wait for its redaction.", code="no-copy")
        key = legends.key_of(house, packet)
    wanted = q.casefold()
    found = [
        (label, original.encode("latin-1").decode("utf-8", "replace"), times)
        for label, original, times in json.loads(legends.read(house, key, exhibit.values_blob))
        if not kind or label[1 : label.index(":")] == kind
    ]
    found = [row for row in found if not wanted or wanted in row[1].casefold() or wanted in row[0]]
    return {
        "total": len(found),
        "values": [
            {
                "placeholder": as_written(label.encode("latin-1")).decode("utf-8", "replace"),
                "kind": label[1 : label.index(":")],
                "value": value,
                "times": times,
            }
            for label, value, times in found[:limit]
        ],
    }


def review(
    house: House, number: str, name: str, *, at: int, kind: str, lines: int, placeholder: str = ""
) -> dict[str, Any]:
    """A window of `lines` lines around finding `at` (from 0), original beside outgoing.

    `kind` leaves those of one kind, or those that are `doubtful`; `placeholder` those of one value.
    """
    with house.database.transaction() as session:
        exhibit = find_exhibit(workbench.find_packet(session, number), name)
        if exhibit.state != "ready" or not (exhibit.findings_blob and exhibit.original_blob and exhibit.outgoing_blob):
            raise Conflict(f"{name} is not redacted yet.", "Wait for its redaction.", code="no-copy")
    if (exhibit.report or {}).get("read_as") == "file":
        raise Conflict(
            f"{name} is no text that could be shown line by line.", "Open its outgoing copy to look at it.",
            code="no-lines",
        )  # fmt: skip
    records = list(RECORD.iter_unpack(house.blobs.read_all(exhibit.findings_blob)))
    counts: Counter[str] = Counter((exhibit.report or {}).get("counts", {}))
    if kind and kind not in (DOUBTFUL, *KINDS):
        raise Invalid(f"There is no kind {kind}.", f"Choose from {DOUBTFUL}, {', '.join(KINDS)}.", field="kind")
    doubtful = [place for place, record in enumerate(records) if record[5] & UNSURE]
    chosen = (
        doubtful if kind == DOUBTFUL
        else [place for place, record in enumerate(records) if not kind or _kind_of(record) == kind]
    )  # fmt: skip
    if placeholder:
        chosen = _of_value(house, exhibit.outgoing_blob, records, chosen, placeholder.encode())
    place = min(max(at, 0), len(chosen) - 1) if chosen else None
    start, first_line = 0, 1
    if place is not None:
        middle = records[chosen[place]]
        start, first_line = _window_start(house, exhibit.original_blob, middle[0], middle[4], lines // 2)
    window = _lines(house, exhibit, records, start, first_line, lines)
    return {
        "findings": len(chosen),
        "doubtful": len(doubtful),
        "at": place,
        "line": records[chosen[place]][4] if place is not None else 1,
        "focus": _focus(house, exhibit, records[chosen[place]]) if place is not None else None,
        "lines": window,
        "counts": dict(sorted(counts.items())),
    }


def _focus(house: House, exhibit: Exhibit, record: Any) -> dict[str, Any]:
    """The finding in the middle: what stood there and what goes out."""
    offset, length, out, out_length = record[:4]
    value = b"".join(house.blobs.read(str(exhibit.original_blob), offset, offset + min(length, _LONGEST_SHOWN)))
    instead = b"".join(house.blobs.read(str(exhibit.outgoing_blob), out, out + out_length))
    return {"kind": _kind_of(record), "value": _shown(value), "placeholder": instead.decode("ascii", "replace"),
            "sure": not record[5] & UNSURE}  # fmt: skip


def _of_value(house: House, blob: str, records: list[Any], chosen: list[int], wanted: bytes) -> list[int]:
    """Those findings that became this placeholder: the outgoing copy is read once, from the first to the last."""
    found: list[int] = []
    here, begin = b"", 0
    for place in chosen:
        out, length = records[place][2], records[place][3]
        if length != len(wanted):
            continue
        if out + length > begin + len(here):
            begin, here = out, b"".join(house.blobs.read(blob, out, out + (1 << 20)))
        if here[out - begin : out - begin + length] == wanted:
            found.append(place)
    return found


def _kind_of(record: Any) -> str:
    return KINDS[record[5] & ~UNSURE]


_AROUND = 16 << 10
_LONGEST_SHOWN = 2000


def _window_start(house: House, blob: str, offset: int, line: int, above: int) -> tuple[int, int]:
    """Where the line starts that stands `above` lines over this offset, and its number."""
    begin = max(offset - _AROUND, 0)
    before = b"".join(house.blobs.read(blob, begin, offset))
    pos, number = len(before), line
    for _ in range(above + 1):
        cut = before.rfind(b"\n", 0, pos)
        if cut < 0:
            return (begin, number) if begin else (0, number)
        pos, number = cut, number - 1
    return begin + pos + 1, number + 1


def _lines(
    house: House, exhibit: Exhibit, records: list[Any], start: int, first_line: int, count: int
) -> list[dict[str, Any]]:
    """The lines from `start`, each as spans; a span that is masked says by what."""
    text = b"".join(house.blobs.read(str(exhibit.original_blob), start, start + 2 * _AROUND))
    spans: list[dict[str, Any]] = []
    done = 0
    for record in _between(records, start, start + len(text)):
        offset, length, out, out_length = record[:4]
        placeholder = b"".join(house.blobs.read(str(exhibit.outgoing_blob), out, out + out_length)).decode(
            "ascii", "replace"
        )
        at = offset - start
        spans.append({"text": _shown(text[done:at])})
        spans.append({"text": _shown(text[at : at + length]), "kind": _kind_of(record),
                      "placeholder": placeholder})  # fmt: skip
        done = at + length
    spans.append({"text": _shown(text[done:])})
    return list(_by_line(spans, first_line, count))


def _between(records: list[Any], start: int, end: int) -> Iterator[Any]:
    for record in records[bisect_left(records, start, key=lambda item: item[0]) :]:
        if record[0] >= end:
            return
        yield record


def _shown(data: bytes) -> str:
    return data.decode("utf-8", "replace")


def _by_line(spans: list[dict[str, Any]], number: int, count: int) -> Iterator[dict[str, Any]]:
    """Cut spans at line ends. A masked value of several lines stays in the line where it begins."""
    line: list[dict[str, Any]] = []
    shown = inside = 0
    for span in spans:
        if "placeholder" in span:
            line.append({**span, "text": span["text"][:_LONGEST_SHOWN]})
            inside += span["text"].count("\n")
            continue
        pieces = span["text"].split("\n")
        for place, piece in enumerate(pieces):
            if piece:
                line.append({"text": piece[:_LONGEST_SHOWN]})
            if place < len(pieces) - 1:
                yield {"number": number, "spans": line}
                line, number, shown, inside = [], number + 1 + inside, shown + 1, 0
                if shown == count:
                    return
    if line:
        yield {"number": number, "spans": line}
