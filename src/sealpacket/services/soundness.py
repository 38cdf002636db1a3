"""Whether a house is whole: the custody log, and every file that a record names. For after a restore."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from dataclasses import dataclass, field

from sqlalchemy import Column, select
from sqlalchemy.orm import Session

from sealpacket.app.context import AppContext
from sealpacket.core.errors import Damaged, Unavailable
from sealpacket.services import custody
from sealpacket.store.models import Base, Packet


@dataclass
class Soundness:
    """The result of checking the stored data."""

    entries: int = 0
    files: int = 0
    unnamed: int = 0
    faults: list[str] = field(default_factory=list)


def check(app: AppContext) -> Soundness:
    """Verify the custody chain; read every file that a record names to its end, and compare sealed bags' sums."""
    chain = custody.verify(app)
    found = Soundness(entries=chain.entries)
    if chain.broken_at is not None:
        found.faults.append(f"The custody log is broken at entry {chain.broken_at}: {chain.reason}")
    with app.database.transaction() as session:
        named = dict(_named(session))
        sums = dict(
            session.execute(
                select(Packet.bag_blob, Packet.bag_sha256).where(Packet.bag_blob.is_not(None))
            ).all()
        )
    for blob, what in named.items():
        found.files += 1
        digest = hashlib.sha256()
        try:
            for block in app.blobs.read(blob):
                digest.update(block)
        except (Damaged, Unavailable) as problem:
            found.faults.append(f"{what} {blob}: {problem.detail}")
            continue
        if sums.get(blob, digest.hexdigest()) != digest.hexdigest():
            found.faults.append(f"{what} {blob} is not the bag that was sealed.")
    found.unnamed = sum(name not in named for name in app.blobs.names())
    return found


def blob_columns() -> list[Column[str]]:
    """Every column that names a file."""
    return [
        column
        for table in Base.metadata.sorted_tables
        for column in table.columns
        if column.name == "blob" or column.name.endswith("_blob")
    ]


def _named(session: Session) -> Iterator[tuple[str, str]]:
    for column in blob_columns():
        what = f"{column.table.name} {column.name}".replace("_", " ")
        for blob in session.scalars(select(column).where(column.is_not(None), column != "")):
            yield blob, what
