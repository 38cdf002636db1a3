"""The house: today, finding, the custody log, the seal key and health."""

from dataclasses import asdict
from datetime import date, datetime
from typing import Any

from pydantic import BaseModel, Field

from sealpacket.services import custody, liveness
from sealpacket.services import today as today_service
from sealpacket.services.packets.views import PacketBrief
from sealpacket.services.register.forms import AssetShown
from sealpacket.web.api.common import Strict, part
from sealpacket.web.guard import ANY_ROLE, ANYONE, needs, the_house

api = part("house", "What needs us, and who did what.")


class Ending(BaseModel):
    """A contract that ends within 90 days; `days` from today."""

    contract: str
    vendor: str
    title: str
    ends_on: date
    notice_on: date | None
    days: int
    assets: int


class Today(BaseModel):
    """Whose turn it is."""

    day: date
    worker: bool = Field(description="Whether a worker is there; without one nothing is redacted, sent or followed.")
    worker_seen_at: datetime | None
    ours: list[PacketBrief]
    theirs: list[PacketBrief]
    ending: list[Ending]


class Found(BaseModel):
    """What was found."""

    packets: list[PacketBrief]
    assets: list[AssetShown]


class FindQuery(Strict):
    """Words to find."""

    q: str = Field(min_length=1, max_length=200)


class CustodyEntryShown(BaseModel):
    """One entry of the custody log."""

    seq: int
    hash: str
    at: datetime
    actor: str
    action: str
    subject: str
    detail: dict[str, Any]


class CustodyPage(BaseModel):
    """Entries, the newest first."""

    items: list[CustodyEntryShown]


class CustodyQuery(Strict):
    """Which part of the log."""

    subject: str = Field("", max_length=300, description="Such as “packet P-0001”.")
    before: int | None = Field(None, ge=1)
    limit: int = Field(50, ge=1, le=500)


class Chain(BaseModel):
    """Whether the custody log is whole. `last_hash` is worth noting down elsewhere."""

    entries: int
    last_hash: str
    broken_at: int | None
    reason: str
    holds: bool


class Health(BaseModel):
    """The service answers, and so does its database; whether a worker is there, and when one was seen last."""

    database: bool
    worker: bool
    worker_seen_at: datetime | None


class SealKeyShown(BaseModel):
    """The public part of a seal key, a JSON Web Key (RFC 8037)."""

    kty: str
    crv: str
    x: str
    kid: str


class SealKeysShown(BaseModel):
    """The public parts of the seal keys, a JSON Web Key Set (RFC 7517): the one that seals now, then former ones."""

    keys: list[SealKeyShown]


@api.get("/today", summary="What needs us now, before all else", responses={200: Today})
@needs(ANY_ROLE)
def today() -> dict[str, Any]:
    return today_service.today(the_house())


@api.get("/find", summary="Find assets and packets by whatever is known", responses={200: Found})
@needs(ANY_ROLE)
def find(query: FindQuery) -> dict[str, Any]:
    return today_service.find(the_house(), query.q)


@api.get("/custody", summary="The custody log, newest first", responses={200: CustodyPage})
@needs("keeper", "releaser", "preparer")
def get_custody(query: CustodyQuery) -> dict[str, Any]:
    found = custody.entries(the_house(), subject=query.subject, before=query.before, limit=query.limit)
    return {"items": found}


@api.get("/custody/chain", summary="Verify the whole custody log", responses={200: Chain})
@needs("keeper", "releaser")
def verify_custody() -> dict[str, Any]:
    report = custody.verify(the_house())
    return {**asdict(report), "holds": report.broken_at is None}


@api.get("/seal-keys", summary="The public seal keys, for verifying bags", responses={200: SealKeysShown})
@needs(ANY_ROLE)
def seal_keys() -> dict[str, Any]:
    return the_house().seal_keys.public_set()


@api.get("/health", summary="Whether the service can work", responses={200: Health})
@needs(ANYONE)
def health() -> dict[str, Any]:
    return liveness.health(the_house())
