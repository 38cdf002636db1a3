"""Accounts, sessions, tokens and sign-in attempts."""

from __future__ import annotations

from datetime import datetime
from uuid import uuid4

from sqlalchemy import CheckConstraint, ForeignKey, Identity, Index
from sqlalchemy.orm import Mapped, mapped_column, relationship

from sealpacket.store.models.base import Base, now
from sealpacket.store.models.register import Person


class Account(Base):
    """Someone who may sign in here."""

    __tablename__ = "account"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    name: Mapped[str] = mapped_column(unique=True)
    person_id: Mapped[str | None] = mapped_column(ForeignKey("person.id"))
    password_hash: Mapped[str]
    roles: Mapped[list[str]]
    active: Mapped[bool] = mapped_column(default=True)
    person: Mapped[Person | None] = relationship()
    __table_args__ = (
        CheckConstraint(
            "roles <@ ARRAY['admin','keeper','preparer','releaser','reader']", name="known_roles"
        ),
    )


class Session(Base):
    """A console session; only a hash of its cookie is kept."""

    __tablename__ = "session"
    token_hash: Mapped[str] = mapped_column(primary_key=True)
    account_id: Mapped[str] = mapped_column(ForeignKey("account.id"))
    csrf: Mapped[str]
    created_at: Mapped[datetime] = mapped_column(default=now)
    seen_at: Mapped[datetime] = mapped_column(default=now)
    expires_at: Mapped[datetime]
    account: Mapped[Account] = relationship()


class ApiToken(Base):
    """A token for the client library and the command line; only its hash is kept."""

    __tablename__ = "api_token"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    account_id: Mapped[str] = mapped_column(ForeignKey("account.id"))
    name: Mapped[str]
    token_hash: Mapped[str] = mapped_column(unique=True)
    read_only: Mapped[bool] = mapped_column(default=False)
    created_at: Mapped[datetime] = mapped_column(default=now)
    seen_at: Mapped[datetime | None]
    expires_at: Mapped[datetime]
    account: Mapped[Account] = relationship()


class SignInTry(Base):
    """A try to sign in, kept for some minutes to slow down guessing; `key` says what it counts for."""

    __tablename__ = "sign_in_try"
    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    key: Mapped[str]
    at: Mapped[datetime] = mapped_column(default=now)
    __table_args__ = (Index("ix_sign_in_try_key_at", "key", "at"),)
