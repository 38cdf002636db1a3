"""The archive of a year: bags, threads and an index, to be read and verified without the service."""

from __future__ import annotations

import json
import tempfile
import zipfile
from collections.abc import Iterator
from datetime import UTC, datetime
from html import escape
from typing import IO

from sqlalchemy import func, select

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Invalid, NotFound
from sealpacket.core.life import OVER
from sealpacket.core.record_pages import to_html
from sealpacket.core.tables import write_table
from sealpacket.services.packets import workbench
from sealpacket.services.packets.follow.records import as_sent
from sealpacket.store.models import PacketLine

FIRST_YEAR = 2000
_BLOCK = 1 << 18
_HEADS = (
    "packet",
    "vendor",
    "reference",
    "state",
    "noted",
    "lodged",
    "ended",
    "thread",
    "bag",
    "sha256",
)
_READ_ME = """An archive of packets that ended in {year}.

index.html leads to each packet; index.csv is the same as a table.
P-…/thread.html   what went out and what both sides said, as it was sent
P-…/bag.zip       the sealed bag as the desk could have it
P-…/later-1.zip   later bags with what came after it, each chained to the one before; those in clear are
                  not in it

Verify them:      sealpacket verify P-…/bag.zip P-…/later-1.zip --key seal-keys.jwks
seal-keys.jwks    the public keys of this house (JSON Web Key Set, RFC 7517)
"""


def archive(app: AppContext, actor: Actor, year: int) -> tuple[str, Iterator[bytes]]:
    """Name and content of a zip with all packets that ended in a year: bags, threads as they were sent, and an index.

    It is written to the disk of the service first. Raises Invalid for a year that has not begun, NotFound if no packet
    ended in it.
    """
    if not FIRST_YEAR <= year <= datetime.now(UTC).year:
        raise Invalid(
            f"There is no archive of {year}.", "Name a year that has begun.", field="year"
        )
    numbers = _ended_in(app, year)
    if not numbers:
        raise NotFound(f"No packet ended in {year}.", "Name another year.")
    file = tempfile.TemporaryFile()  # noqa: SIM115 - it is closed when it was sent
    try:
        with zipfile.ZipFile(file, "w", zipfile.ZIP_STORED) as bundle:
            rows = [_add(app, bundle, number) for number in numbers]
            _add_index(bundle, year, rows)
            keys = app.seal_keys.public_set()
            bundle.writestr("seal-keys.jwks", json.dumps(keys, indent=1))
            bundle.writestr("README.txt", _READ_ME.format(year=year))
        with app.transaction(actor, "archive written", f"archive {year}", packets=len(rows)):
            pass
        file.seek(0)
    except BaseException:
        file.close()
        raise
    return f"archive-{year}.zip", _sent(file)


def _ended_in(app: AppContext, year: int) -> list[str]:
    ended = func.coalesce(PacketLine.settled_at, PacketLine.turn_since)
    begin, end = datetime(year, 1, 1, tzinfo=UTC), datetime(year + 1, 1, 1, tzinfo=UTC)
    with app.database.snapshot() as session:
        query = select(PacketLine.number).where(
            PacketLine.life.in_(OVER), ended >= begin, ended < end
        )
        return list(session.scalars(query.order_by(PacketLine.number)))


def _add(app: AppContext, bundle: zipfile.ZipFile, number: str) -> tuple[str, ...]:
    """Write a packet into the archive; its row of the index."""
    with app.database.snapshot() as session:
        packet = workbench.find_packet(session, number)
        page = to_html(as_sent(session, packet))
        bundle.writestr(f"{number}/thread.html", page, zipfile.ZIP_DEFLATED)
        bag = f"{number}/bag.zip" if packet.bag_blob else ""
        blobs = {bag: packet.bag_blob} if packet.bag_blob else {}
        blobs |= {
            f"{number}/later-{one.place}.zip": one.blob
            for one in packet.later_bags
            if one.form == "sent"
        }
        for name, blob in blobs.items():
            with bundle.open(name, "w", force_zip64=True) as member:
                for block in app.blobs.read(blob):
                    member.write(block)
        return (
            number, packet.vendor_name, packet.reference or "", packet.life, _day(packet.created_at),
            _day(packet.lodged_at), _day(packet.settled_at or packet.turn_since),
            f"{number}/thread.html", bag, packet.bag_sha256 or "",
        )  # fmt: skip


def _day(moment: datetime | None) -> str:
    return moment.date().isoformat() if moment else ""


def _add_index(bundle: zipfile.ZipFile, year: int, rows: list[tuple[str, ...]]) -> None:
    records = (dict(zip(_HEADS, row, strict=True)) for row in rows)
    table = b"".join(write_table(records, _HEADS, "csv", "packets"))
    bundle.writestr("index.csv", table, zipfile.ZIP_DEFLATED)
    lines = []
    for number, vendor, reference, state, noted, lodged, ended, thread, bag, _ in rows:
        links = f'<a href="{escape(thread)}">thread</a>' + (
            f' <a href="{escape(bag)}">bag</a>' if bag else ""
        )
        cells = (number, vendor, reference, state, noted, lodged, ended)
        lines.append(
            f"<tr>{''.join(f'<td>{escape(one)}</td>' for one in cells)}<td>{links}</td></tr>"
        )
    heads = "".join(f"<th>{one}</th>" for one in (*_HEADS[:7], ""))
    bundle.writestr(
        "index.html",
        f'<!DOCTYPE html><html lang="en"><head><meta charset="utf-8"><title>Packets of {year}</title></head>'
        f"<body><h1>Packets that ended in {year}</h1><table><thead><tr>{heads}</tr></thead>"
        f"<tbody>{''.join(lines)}</tbody></table></body></html>\n",
        zipfile.ZIP_DEFLATED,
    )


def _sent(file: IO[bytes]) -> Iterator[bytes]:
    with file:
        while block := file.read(_BLOCK):
            yield block
