"""Signing in: passwords, sessions of the console, tokens of client and command line; guessing made slow.

Tries are counted before a password is looked at, under a lock, so that many at once are no more than a few. They are
counted for a name from one address, and for an address; a browser that somebody has signed in with before has a count
of its own, so that nobody can lock anyone else out of it. Failures are not in the custody log, which is for ever.
"""

from __future__ import annotations

import hashlib
import hmac
import secrets
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from functools import cache
from typing import Any

import structlog
from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from sqlalchemy import bindparam, delete, func, select, text, update
from sqlalchemy.dialects.postgresql import insert

from sealpacket.app.context import Actor, AppContext
from sealpacket.app.measures import measures
from sealpacket.core.errors import Invalid, NotSignedIn, ProblemError, TooManyTries
from sealpacket.store.models import Account, ApiToken, Session, SignInTry, UsedOnce

TRIES, TRIES_OF_ADDRESS = 5, 40
"""Wrong ones within the window: for one name from one address, or one browser; for one address, whatever the names."""
WINDOW = timedelta(minutes=5)
DEVICE_DAYS = 180
MOST_SESSIONS = 20
"""Sessions of one account at a time; the oldest make room."""
_SEEN_EVERY = timedelta(minutes=1)
_HASHER = PasswordHasher()


@cache
def _nobody() -> str:
    """A hash that no password has: made when the first unknown name signs in."""
    return _HASHER.hash(secrets.token_hex(16))


_LOOKING, _WAITING = threading.BoundedSemaphore(2), threading.BoundedSemaphore(4)
"""Passwords that are looked at in this process at once, and those that wait for it: each takes memory and a core."""
log = structlog.get_logger()


@dataclass(frozen=True)
class From:
    """Where a try comes from: the address, and the cookie of a browser that was signed in with before."""

    address: str
    device: str = ""


@dataclass(frozen=True)
class SignedIn:
    """A fresh session: its cookie's value, its CSRF token, who it is, and the cookie by which to know the browser."""

    cookie: str
    csrf: str
    actor: Actor
    device: str


def hash_of(token: str) -> str:
    """The stored hash of a token."""
    return hashlib.sha256(token.encode()).hexdigest()


def actor_of(account: Any) -> Actor:
    """Who acts, from an account or a row with its columns."""
    return Actor(account.name, frozenset(account.roles), account.id, account.person_id)


def password_hash(name: str, password: str) -> str:
    """The stored hash of a password. Raises Invalid for one that is too weak."""
    if len(password) < 12:
        raise Invalid(
            "The password has fewer than 12 characters.", "Take a longer one, such as four words."
        )
    if len(set(password.casefold())) < 6:
        raise Invalid(
            "The password has hardly any different characters.", "Take another, such as four words."
        )
    if name and name.casefold() in password.casefold():
        raise Invalid("The password holds the account's name.", "Take another, such as four words.")
    with _one_of_few():
        return _HASHER.hash(password)


def is_password(account_hash: str | None, password: str) -> bool:
    """Whether it is the password; takes as long for an account that does not exist. Raises TooManyTries when busy."""
    with _one_of_few():
        try:
            _HASHER.verify(account_hash or _nobody(), password)
        except (VerificationError, InvalidHashError):
            return False
    return account_hash is not None


@contextmanager
def _one_of_few() -> Iterator[None]:
    if not _WAITING.acquire(blocking=False):
        raise TooManyTries(
            "Many sign in at this moment.",
            "Try again in a few seconds.",
            code="busy",
            retry_after=5,
        )
    try:
        with _LOOKING:
            yield
    finally:
        _WAITING.release()


def check_password(app: AppContext, name: str, password: str, origin: From) -> Account:
    """The account, if the password is right. Raises NotSignedIn, or TooManyTries where there were too many."""
    keys = _keys(app, name, origin)
    with app.database.transaction() as session:
        account = session.scalars(
            select(Account).where(Account.name == name, Account.active)
        ).one_or_none()
    try:
        ident = _count(app, keys)
    except TooManyTries:
        _refused("too many", account.name if account else "unknown", origin)
        raise
    if not is_password(account.password_hash if account else None, password) or account is None:
        # A name that is no account's may be a password in the wrong field.
        _refused("wrong", account.name if account else "unknown", origin)
        raise NotSignedIn(
            "Name or password is wrong.",
            "Try again; after five tries wait five minutes.",
            code="wrong-sign-in",
        )
    with app.database.transaction() as session:
        session.execute(delete(SignInTry).where(SignInTry.id.in_(ident)))
    return account


@contextmanager
def tried_by(app: AppContext, way: str, origin: From) -> Iterator[None]:
    """Count a try to sign in without a password, and log it if it is refused."""
    try:
        ident = _count(app, [(f"{way} {origin.address}", TRIES_OF_ADDRESS)])
        yield
    except ProblemError as problem:
        measures().failed_sign_ins.labels(way).inc()
        log.warning("sign-in refused", reason=way, code=problem.code, address=origin.address)
        raise
    with app.database.transaction() as session:
        session.execute(delete(SignInTry).where(SignInTry.id.in_(ident)))


def once(app: AppContext, what: str, kept: timedelta, otherwise: Exception) -> None:
    """Let something pass once. Raises `otherwise` the second time."""
    now = datetime.now(UTC)
    digest = hashlib.sha256(what.encode()).hexdigest()
    with app.database.transaction() as session:
        session.execute(delete(UsedOnce).where(UsedOnce.expires_at < now))
        noted = insert(UsedOnce).values(hash=digest, expires_at=now + kept)
        if not session.execute(noted.on_conflict_do_nothing().returning(UsedOnce.hash)).all():
            raise otherwise


def _refused(reason: str, account: str, origin: From) -> None:
    """Log a sign-in that was refused, and count it."""
    measures().failed_sign_ins.labels(reason).inc()
    log.warning("sign-in refused", reason=reason, account=account, address=origin.address)


def _keys(app: AppContext, name: str, origin: From) -> list[tuple[str, int]]:
    """The counters of a sign-in attempt, each with its limit."""
    if _account_of(app, origin.device) == name:
        return [(f"device {hash_of(origin.device)}", TRIES)]
    return [
        (f"name {hash_of(name)} from {origin.address}", TRIES),
        (f"address {origin.address}", TRIES_OF_ADDRESS),
    ]


def _count(app: AppContext, keys: list[tuple[str, int]]) -> list[int]:
    """Note a try before it is made; gives its numbers. Raises TooManyTries."""
    now = datetime.now(UTC)
    made = []
    with app.database.transaction() as session:
        session.execute(delete(SignInTry).where(SignInTry.at < now - WINDOW))
        for key, most in keys:
            session.execute(
                text("SELECT pg_advisory_xact_lock(hashtextextended(:key, 0))"),
                {"key": f"sign-in {key}"},
            )
            tries = (
                session.scalar(
                    select(func.count()).select_from(SignInTry).where(SignInTry.key == key)
                )
                or 0
            )
            if tries >= most:
                raise TooManyTries(
                    "There were too many wrong sign-ins.",
                    "Wait five minutes, then try again.",
                    retry_after=int(WINDOW.total_seconds()),
                )
            row = SignInTry(key=key, at=now)
            session.add(row)
            session.flush()
            made.append(row.id)
    return made


def sign_in(app: AppContext, name: str, password: str, origin: From) -> SignedIn:
    """Start a console session."""
    return begin_session(app, check_password(app, name, password, origin), "password")


def begin_session(
    app: AppContext, account: Account, way: str, provider_session: str | None = None
) -> SignedIn:
    """Start a console session of somebody who has proved who they are; the oldest of too many ends."""
    cookie, csrf, now = secrets.token_urlsafe(32), secrets.token_urlsafe(24), datetime.now(UTC)
    ends = now + timedelta(hours=app.settings.session_hours)
    with app.transaction(actor_of(account), "signed in", f"account {account.name}", way=way) as tx:
        tx.session.execute(delete(Session).where(Session.expires_at < now))
        mine = (
            select(Session.token_hash)
            .where(Session.account_id == account.id)
            .order_by(Session.created_at.desc())
        )
        tx.session.execute(
            delete(Session).where(Session.token_hash.in_(mine.offset(MOST_SESSIONS - 1)))
        )
        tx.session.add(
            Session(
                token_hash=hash_of(cookie),
                account_id=account.id,
                csrf=csrf,
                way=way,
                provider_session=provider_session,
                expires_at=ends,
            )
        )
    return SignedIn(cookie, csrf, actor_of(account), _device(app, account.name))


def _device(app: AppContext, name: str) -> str:
    """A cookie that says that somebody has signed in as this account with this browser."""
    body = f"{int(time.time())}.{secrets.token_urlsafe(9)}.{name}"
    return f"{_device_tag(app.ring.current, body)}.{body}"


def _account_of(app: AppContext, device: str) -> str:
    """The account that was signed in with this browser; empty for a cookie that is not ours, or too old."""
    tag, _, body = device.partition(".")
    at, _, rest = body.partition(".")
    ours = any(
        hmac.compare_digest(tag.encode(), _device_tag(key, body).encode()) for key in app.ring.keys
    )
    if not at.isdigit() or not ours:
        return ""
    return rest.partition(".")[2] if time.time() - int(at) < DEVICE_DAYS * 86_400 else ""


def _device_tag(master: bytes, body: str) -> str:
    key = hashlib.sha256(b"devices\0" + master).digest()
    return hmac.new(key, body.encode(), "sha256").hexdigest()[:40]


def _holders(model: type[Session] | type[ApiToken], *more: Any) -> Any:
    """Who holds what has this hash, if it has not ended: asked at every request, so one plain look."""
    query = select(Account.id, Account.name, Account.roles, Account.person_id, model.seen_at, *more)
    query = query.join(model, model.account_id == Account.id)
    return query.where(
        model.token_hash == bindparam("hash"), model.expires_at >= func.now(), Account.active
    )


_SESSIONS, _TOKENS = _holders(Session, Session.csrf), _holders(ApiToken, ApiToken.rights)


def session_of(app: AppContext, cookie: str) -> tuple[Actor, str] | None:
    """Who a console cookie belongs to, and the session's CSRF token; None if it has ended, or lay idle too long."""
    now, idle = datetime.now(UTC), timedelta(minutes=app.settings.idle_minutes)
    with app.database.transaction() as session:
        row = session.execute(_SESSIONS, {"hash": hash_of(cookie)}).one_or_none()
        if row is None or row.seen_at < now - idle:
            return None
        _see(session, Session, hash_of(cookie), row.seen_at, now)
        return actor_of(row), row.csrf


def token_actor(app: AppContext, token: str) -> Actor | None:
    """Who an API token belongs to, with what it allows; None if it is unknown or has ended."""
    with app.database.transaction() as session:
        row = session.execute(_TOKENS, {"hash": hash_of(token)}).one_or_none()
        if row is None:
            return None
        _see(session, ApiToken, hash_of(token), row.seen_at, datetime.now(UTC))
        return replace(actor_of(row), rights=frozenset(row.rights), by_token=True)


def _see(
    session: Any,
    model: type[Session] | type[ApiToken],
    token_hash: str,
    seen: datetime | None,
    now: datetime,
) -> None:
    """Note that something was used, once a minute at most."""
    if seen is None or now - seen > _SEEN_EVERY:
        session.execute(update(model).where(model.token_hash == token_hash).values(seen_at=now))


def sign_out(app: AppContext, cookie: str) -> str:
    """End a console session. Returns the way in which it was begun."""
    with app.database.transaction() as session:
        ended = delete(Session).where(Session.token_hash == hash_of(cookie))
        return session.scalar(ended.returning(Session.way)) or ""


def end_token(app: AppContext, token: str) -> None:
    """End the API token that calls."""
    with app.database.transaction() as session:
        session.execute(delete(ApiToken).where(ApiToken.token_hash == hash_of(token)))
