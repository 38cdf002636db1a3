"""The application context: what every use case needs at hand, and who is acting."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime
from functools import cached_property, partial
from typing import TYPE_CHECKING, Any, Literal, Protocol

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from sealpacket.app.key_file import KeyFile, derived
from sealpacket.core.keyring import KeyRing
from sealpacket.core.packet import SealKeys
from sealpacket.core.secretbox import decrypt, encrypt
from sealpacket.settings import Settings
from sealpacket.store.blobs import Blobs
from sealpacket.store.custody import append
from sealpacket.store.database import Database, after_commit
from sealpacket.store.models import LastingKey

if TYPE_CHECKING:
    from sealpacket.channels.provider import Provider


@dataclass
class ReadVersion:
    """The version of a packet that its reader acts on. It is compared once, before the act changes the packet."""

    version: int
    is_compared: bool = False


Right = Literal["read", "prepare", "send", "keep"]
RIGHTS: tuple[Right, ...] = ("read", "prepare", "send", "keep")
"""The rights of tokens, within those of the account: read everything; prepare packets; seal, lodge and send to vendors;
keep the register, sheets, plans and accounts."""


@dataclass(frozen=True)
class Actor:
    """Who acts: the account's name and roles, and the person behind it.

    `rights` are what the token allows, and `by_token` whether there is one: a session allows everything.
    `seen` is what they have read of the packet that they act on; None, if they have not said.
    """

    name: str
    roles: frozenset[str]
    account_id: str = ""
    person_id: str | None = None
    seen: ReadVersion | None = None
    rights: frozenset[Right] = frozenset(RIGHTS)
    by_token: bool = False


SEEN = "seen version"
"""Where a session keeps the version that its actor has seen."""
ACTOR = "actor"
"""Where a session keeps the name of who acts."""
APP = "app"
"""Where a session keeps the application context that it belongs to."""
LASTING_PURPOSE = "lasting key"
WORKER = Actor("worker", frozenset({"preparer", "releaser"}))
"""The service itself, finishing what a person started."""


class Enqueue(Protocol):
    """Puts a job into the queue in the session's own transaction: no commit, no job."""

    def __call__(
        self, session: Session, task: str, arguments: dict[str, Any], lock: str, wait: int = 0
    ) -> None: ...


class AppContext:
    """Database, blobs, keys and settings of one running copy."""

    def __init__(self, settings: Settings, enqueue: Enqueue) -> None:
        self.settings = settings
        known = {"organisation": settings.organisation, APP: self}
        self.database = Database(settings.database_url, known)
        self._keys = KeyFile(settings.key_file)
        self._lasting: dict[str, bytes] = {}
        self.blobs = Blobs(settings.blobs, self._keys.ring)
        self.enqueue = enqueue
        self._keys.ring()

    @cached_property
    def provider(self) -> Provider | None:
        """The OpenID provider of the settings, if there is one."""
        settings = self.settings
        if not settings.oidc_issuer:
            return None
        from sealpacket.channels.provider import Provider

        file = settings.oidc_client_secret_file
        secret = file.read_text().strip() if file else ""
        return Provider(settings.oidc_issuer, settings.oidc_client_id, secret, settings.oidc_scopes)

    @property
    def ring(self) -> KeyRing:
        """The master keys. Raises Unavailable with what to do."""
        return self._keys.ring()

    @property
    def seal_keys(self) -> SealKeys:
        """The current and former seal keys, read on each access and not cached."""
        return SealKeys.read(self.settings.seal_key_file.read_text())

    def lasting_key(self, name: str) -> bytes:
        """A key of 32 bytes that stays when the master key is changed: what was made with it is in others' hands."""
        if name not in self._lasting:
            with self.database.transaction() as session:
                first = encrypt(self.ring, derived(self.ring.oldest, name), LASTING_PURPOSE)
                session.execute(
                    insert(LastingKey).values(name=name, key_sealed=first).on_conflict_do_nothing()
                )
                sealed = session.scalars(
                    select(LastingKey.key_sealed).where(LastingKey.name == name)
                ).one()
            self._lasting[name] = decrypt(self.ring, sealed, LASTING_PURPOSE)
        return self._lasting[name]

    @contextmanager
    def transaction(
        self, actor: Actor, action: str, subject: str, **detail: Any
    ) -> Iterator[AuditedTransaction]:
        """A transaction that ends with an entry in the custody log; `tx.detail` may be added to on the way."""
        with self.acting(actor) as session:
            tx = AuditedTransaction(session, subject, dict(detail))
            yield tx
            if tx.audited:
                session.flush()
                append(session, datetime.now(UTC), actor.name, action, tx.subject, tx.detail)

    @contextmanager
    def acting(self, actor: Actor) -> Iterator[Session]:
        """A transaction that is bound to what the actor has seen, without an entry in the custody log."""
        with self.database.transaction() as session:
            session.info[SEEN] = actor.seen
            session.info[ACTOR] = actor.name
            yield session

    def forget(self, session: Session, *blobs: str | None) -> None:
        """Remove blobs once the session's work is committed; should it fail, what refers to them still finds them."""
        for blob in filter(None, blobs):
            after_commit(session, partial(self.blobs.remove, blob))

    def seal_value(self, value: str, purpose: str) -> bytes:
        """A small secret, encrypted for the database."""
        return encrypt(self.ring, value.encode(), purpose)

    def open_value(self, sealed: bytes, purpose: str) -> str:
        """A small secret, in clear."""
        return decrypt(self.ring, sealed, purpose).decode()


@dataclass
class AuditedTransaction:
    """A transaction under way, and its entry in the custody log."""

    session: Session
    subject: str
    detail: dict[str, Any]
    audited: bool = True
