"""Accounts, sessions, tokens and sign-in attempts."""

from __future__ import annotations

from datetime import datetime
from uuid import uuid4

from sqlalchemy import BigInteger, CheckConstraint, ForeignKey, Identity, Index, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from sealpacket.store.models.base import Base, now
from sealpacket.store.models.register import Person


class Account(Base):
    """Someone who may sign in here: a person, or a program, which has tokens only.

    A person without a password comes by an OpenID provider, which knows them as `subject` of `issuer`. What a provider
    has made is `provided`; `external_id` is its own name for the account (SCIM).
    """

    __tablename__ = "account"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    name: Mapped[str] = mapped_column(unique=True)
    person_id: Mapped[str | None] = mapped_column(ForeignKey("person.id"))
    kind: Mapped[str] = mapped_column(default="person")
    password_hash: Mapped[str | None]
    issuer: Mapped[str | None]
    subject: Mapped[str | None]
    external_id: Mapped[str | None] = mapped_column(unique=True)
    provided: Mapped[bool] = mapped_column(default=False)
    roles: Mapped[list[str]]
    active: Mapped[bool] = mapped_column(default=True)
    person: Mapped[Person | None] = relationship()
    __table_args__ = (
        CheckConstraint(
            "roles <@ ARRAY['admin','keeper','preparer','releaser','reader']", name="known_roles"
        ),
        CheckConstraint("kind IN ('person','program')", name="kind"),
        CheckConstraint(
            "kind = 'person' OR password_hash IS NULL", name="program_without_password"
        ),
        CheckConstraint("(issuer IS NULL) = (subject IS NULL)", name="subject_of_issuer"),
        UniqueConstraint("issuer", "subject"),
    )


class Session(Base):
    """A console session; only a hash of its cookie is kept. `provider_session` is what an OpenID provider calls it."""

    __tablename__ = "session"
    token_hash: Mapped[str] = mapped_column(primary_key=True)
    account_id: Mapped[str] = mapped_column(ForeignKey("account.id"))
    csrf: Mapped[str]
    way: Mapped[str] = mapped_column(default="password")
    provider_session: Mapped[str | None] = mapped_column(index=True)
    created_at: Mapped[datetime] = mapped_column(default=now)
    seen_at: Mapped[datetime] = mapped_column(default=now)
    expires_at: Mapped[datetime]
    account: Mapped[Account] = relationship()
    __table_args__ = (CheckConstraint("way IN ('password','provider','passkey')", name="way"),)


class ApiToken(Base):
    """A token for the client library and the command line; only its hash is kept."""

    __tablename__ = "api_token"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    account_id: Mapped[str] = mapped_column(ForeignKey("account.id"))
    name: Mapped[str]
    token_hash: Mapped[str] = mapped_column(unique=True)
    rights: Mapped[list[str]]
    created_at: Mapped[datetime] = mapped_column(default=now)
    seen_at: Mapped[datetime | None]
    expires_at: Mapped[datetime]
    account: Mapped[Account] = relationship()
    __table_args__ = (
        CheckConstraint("rights <@ ARRAY['read','prepare','send','keep']", name="known_rights"),
    )


class UsedOnce(Base):
    """Something that counts once, until it expires: a challenge for a passkey, a provider's word that one has left."""

    __tablename__ = "used_once"
    hash: Mapped[str] = mapped_column(primary_key=True)
    expires_at: Mapped[datetime]


class Passkey(Base):
    """A passkey of an account: its public key (COSE), and how often its device says that it was used."""

    __tablename__ = "passkey"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    account_id: Mapped[str] = mapped_column(ForeignKey("account.id"), index=True)
    name: Mapped[str]
    credential: Mapped[str] = mapped_column(unique=True)
    public_key: Mapped[bytes]
    uses: Mapped[int] = mapped_column(BigInteger, default=0)
    created_at: Mapped[datetime] = mapped_column(default=now)
    seen_at: Mapped[datetime | None]
    account: Mapped[Account] = relationship()


class SignInTry(Base):
    """A try to sign in, kept for some minutes to slow down guessing; `key` says what it counts for."""

    __tablename__ = "sign_in_try"
    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    key: Mapped[str]
    at: Mapped[datetime] = mapped_column(default=now)
    __table_args__ = (Index("ix_sign_in_try_key_at", "key", "at"),)
