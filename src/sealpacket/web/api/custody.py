"""The custody log, and the public keys that verify bags."""

from dataclasses import asdict
from typing import Any

from flask import Response
from pydantic import BaseModel, Field

from sealpacket.core.tables import Format
from sealpacket.services import custody
from sealpacket.services.custody import CustodyEntryShown
from sealpacket.services.table_files import all_pages, table_file
from sealpacket.web.api.common import Strict, as_file
from sealpacket.web.guard import ANY_ROLE, actor, current_app, requires_role
from sealpacket.web.operations import FILE, Api, Content

api = Api("custody", "Who did what, and the keys that verify bags.")


_AT_ONCE = 500


class CustodyPage(BaseModel):
    """Entries, the newest first."""

    items: list[CustodyEntryShown]


class CustodyQuery(Strict):
    """Which part of the log."""

    subject: str = Field("", max_length=300, description="Subject, for example “packet P-0001”.")
    before: int | None = Field(None, ge=1)
    limit: int = Field(50, ge=1, le=500)


class Chain(BaseModel):
    """Whether the custody log is whole. `last_hash` is worth noting down elsewhere."""

    entries: int
    last_hash: str
    broken_at: int | None
    reason: str
    holds: bool


class SealKeyShown(BaseModel):
    """The public part of a seal key, a JSON Web Key (RFC 8037)."""

    kty: str
    crv: str
    x: str
    kid: str


class SealKeysShown(BaseModel):
    """The public parts of the seal keys, a JSON Web Key Set (RFC 7517): the one that seals now, then former ones."""

    keys: list[SealKeyShown]


@api.get(
    "/custody",
    summary="List the custody log, newest first",
    responses={200: CustodyPage},
    does=custody.entries,
)
@requires_role("keeper", "releaser", "preparer")
def get_custody(query: CustodyQuery) -> dict[str, Any]:
    found = custody.entries(
        current_app(), subject=query.subject, before=query.before, limit=query.limit
    )
    return {"items": found}


class CustodyExportQuery(Strict):
    """Which entries, in which form."""

    subject: str = Field("", max_length=300, description="Subject, for example “packet P-0001”.")
    form: Format = Field("csv", description="The form of the file.")


@api.get(
    "/custody/export",
    summary="Export the custody log",
    responses={200: Content(FILE)},
    does=(custody.entries, table_file),
)
@requires_role("keeper", "releaser")
def export_custody(query: CustodyExportQuery) -> Response:
    app = current_app()

    def page(before: str) -> tuple[list[CustodyEntryShown], str | None]:
        at = int(before) if before else None
        found = custody.entries(app, subject=query.subject, before=at, limit=_AT_ONCE)
        return found, str(found[-1].seq) if len(found) == _AT_ONCE else None

    table = ("custody", CustodyEntryShown, all_pages(page))
    return as_file(*table_file(app, actor(), "custody", [table], query.form))


@api.get(
    "/custody/chain",
    summary="Verify the whole custody log",
    responses={200: Chain},
    does=custody.verify,
)
@requires_role("keeper", "releaser")
def verify_custody() -> dict[str, Any]:
    report = custody.verify(current_app())
    return {**asdict(report), "holds": report.broken_at is None}


@api.get(
    "/seal-keys",
    summary="Get the public seal keys, for verifying bags",
    responses={200: SealKeysShown},
)
@requires_role(ANY_ROLE)
def seal_keys() -> dict[str, Any]:
    """The present and former public keys as a JSON Web Key Set (RFC 7517)."""
    return current_app().seal_keys.public_set()
