"""The files of a delivery: outgoing copies, named, packed and encrypted as the desk requires."""

from __future__ import annotations

import hashlib
import tempfile
import zipfile
from collections.abc import Callable, Iterator
from datetime import datetime
from typing import IO, Any

from pydantic import BaseModel
from sqlalchemy.orm import Session

from sealpacket.app.context import AppContext
from sealpacket.channels import Outgoing
from sealpacket.core.life import Life
from sealpacket.core.sheets import Sheet, fill, names_of, seal_to
from sealpacket.core.sheets.facts import WRITTEN_FACTS
from sealpacket.services.packets.bench import Workbench
from sealpacket.services.packets.exhibits import leaving
from sealpacket.services.packets.workbench import evaluate
from sealpacket.store.models import Exhibit, Packet

_BLOCK = 1 << 16
_IN_MEMORY = 8 << 20


class FileNames(BaseModel):
    """The names of a packet's files at the desk, in the order of its exhibits, and of the archive that holds them."""

    files: list[str]
    archive: str = ""


def file_names(bench: Workbench, sheet: Sheet) -> FileNames:
    """The names of a packet's files: as they were sealed, or as they would be now."""
    packet = bench.packet
    if packet.file_names is not None:
        return FileNames.model_validate(packet.file_names)
    values = bench.values(sheet) if packet.life == Life.DRAFTING else _plain_facts(bench)
    naming = sheet.attachments.naming
    return FileNames(
        files=names_of(naming.file, [exhibit.goes_as for exhibit in packet.exhibits], values),
        archive=fill(naming.archive, values) if naming.archive else "",
    )


def sealed_names(app: AppContext, session: Session, packet: Packet, sheet: Sheet) -> FileNames:
    """The names of a sealed packet's files; its workbench is laid out only if they were not kept."""
    if packet.file_names is not None:
        return FileNames.model_validate(packet.file_names)
    return file_names(evaluate(app, session, packet), sheet)


def _plain_facts(bench: Workbench) -> dict[str, Any]:
    """The facts that nobody typed: all that is left of what was sealed before its names were kept."""
    return {path: fact.value for path, fact in bench.facts.items() if path not in WRITTEN_FACTS}


def parcel_files(
    app: AppContext,
    sheet: Sheet,
    exhibits: list[Exhibit],
    names: FileNames,
    sealed_at: datetime | None,
) -> list[Outgoing]:
    """The files of a packet as they leave."""
    if names.archive and exhibits:
        files = [_file(names.archive, _packed(app, exhibits, names.files, sealed_at))]
    else:
        files = [
            _copy(app, exhibit, name) for exhibit, name in zip(exhibits, names.files, strict=True)
        ]
    certificate = sheet.attachments.encrypt_to
    return [_enveloped(certificate, file) for file in files] if certificate else files


def _copy(app: AppContext, exhibit: Exhibit, name: str) -> Outgoing:
    """One outgoing copy, going on where an earlier try broke off."""
    blob, size, sha256 = leaving(exhibit)

    def remember(location: str) -> None:
        with app.database.transaction() as session:
            session.get_one(Exhibit, exhibit.id).upload = location

    def arrived() -> None:
        with app.database.transaction() as session:
            session.get_one(Exhibit, exhibit.id).arrived = True

    return Outgoing(
        name,
        size,
        sha256,
        lambda start: app.blobs.read(blob, start),
        exhibit.upload,
        remember,
        arrived,
    )


def _packed(
    app: AppContext, exhibits: list[Exhibit], names: list[str], at: datetime | None
) -> IO[bytes]:
    """A ZIP of the copies. The same copies give the same bytes: its times are those of the seal."""
    moment = (
        (at.year, at.month, at.day, at.hour, at.minute, at.second) if at else (1980, 1, 1, 0, 0, 0)
    )
    packed: IO[bytes] = tempfile.SpooledTemporaryFile(max_size=_IN_MEMORY)  # noqa: SIM115 - ends with its Outgoing
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as archive:
        for exhibit, name in zip(exhibits, names, strict=True):
            blob, size, _ = leaving(exhibit)
            info = zipfile.ZipInfo(name, moment)
            info.compress_type, info.external_attr, info.file_size = (
                zipfile.ZIP_DEFLATED,
                0o644 << 16,
                size,
            )
            with archive.open(info, "w") as file:
                for block in app.blobs.read(blob):
                    file.write(block)
    return packed


def _file(name: str, content: IO[bytes]) -> Outgoing:
    digest, size = hashlib.sha256(), 0
    for block in _blocks(content)(0):
        digest.update(block)
        size += len(block)
    return Outgoing(name, size, digest.hexdigest(), _blocks(content), None, lambda _location: None)


def _blocks(content: IO[bytes]) -> Callable[[int], Iterator[bytes]]:
    def read(start: int) -> Iterator[bytes]:
        content.seek(start)
        while block := content.read(_BLOCK):
            yield block

    return read


def _enveloped(certificate: str, file: Outgoing) -> Outgoing:
    """The file as CMS for the desk alone. It is held in memory: the desk's limit for one file keeps it small."""
    sealed = seal_to(certificate, file.whole())
    digest = hashlib.sha256(sealed).hexdigest()
    return Outgoing(
        f"{file.name}.p7m",
        len(sealed),
        digest,
        lambda start: iter([sealed[start:]]),
        None,
        lambda _: None,
    )
