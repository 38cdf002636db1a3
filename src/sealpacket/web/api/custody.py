"""The custody log, and the public keys that verify bags."""

from dataclasses import asdict
from typing import Any

from pydantic import BaseModel, Field

from sealpacket.services import custody
from sealpacket.services.custody import CustodyEntryShown
from sealpacket.web.api.common import Strict
from sealpacket.web.guard import ANY_ROLE, current_app, requires_role
from sealpacket.web.operations import Api

api = Api("custody", "Who did what, and the keys that verify bags.")


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
