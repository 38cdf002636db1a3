"""Accounts: signing in, sessions for the console, tokens for client and command line."""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Any

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from sqlalchemy import bindparam, delete, func, select

from sealpacket.core.errors import Invalid, NotSignedIn, TooManyTries
from sealpacket.services.house import Actor, House
from sealpacket.store.models import Account, ApiToken, Person, Session, SignInFailure

ROLES = ("keeper", "preparer", "releaser", "reader")
_TRIES = 5
_WINDOW = timedelta(minutes=5)
_TOKEN_DAYS = 90
_HASHER = PasswordHasher()
_NOBODY = _HASHER.hash(secrets.token_hex(16))


@dataclass(frozen=True)
class SignedIn:
    """A fresh session: its cookie's value, the CSRF token to send with changes, and who it is."""

    cookie: str
    csrf: str
    actor: Actor


def _hash(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def _actor(account: Any) -> Actor:
    return Actor(account.name, frozenset(account.roles), account.id, account.person_id)


def add_account(house: House, name: str, password: str, roles: list[str], person: str | None = None) -> None:
    """Make an account, or give an existing one this password and these roles. Raises Invalid for weak passwords."""
    unknown = set(roles) - set(ROLES)
    if unknown or not roles:
        raise Invalid(f"There is no role {', '.join(sorted(unknown)) or 'given'}.", f"Choose from {', '.join(ROLES)}.")
    if len(password) < 12:
        raise Invalid("The password has fewer than 12 characters.", "Take a longer one, such as four words.")
    with house.act(Actor("service command", frozenset()), "account set", f"account {name}", roles=sorted(roles)) as act:
        account = act.session.scalars(select(Account).where(Account.name == name)).one_or_none() or Account(name=name)
        account.password_hash = _HASHER.hash(password)
        account.roles = sorted(set(roles))
        if person:
            account.person_id = act.session.scalars(select(Person.id).where(Person.key == person)).one_or_none()
        act.session.add(account)


def _check_password(house: House, name: str, password: str) -> Account:
    """The account, if the password is right. Takes as long for a name that does not exist."""
    now = datetime.now(UTC)
    with house.database.transaction() as session:
        session.execute(delete(SignInFailure).where(SignInFailure.at < now - _WINDOW))
        tries = session.scalar(select(func.count()).select_from(SignInFailure).where(SignInFailure.name == name)) or 0
        account = session.scalars(select(Account).where(Account.name == name, Account.active)).one_or_none()
    if tries >= _TRIES:
        raise TooManyTries("There were too many wrong sign-ins for this name.", "Wait five minutes, then try again.")
    try:
        _HASHER.verify(account.password_hash if account else _NOBODY, password)
        right = account is not None
    except (VerificationError, InvalidHashError):
        right = False
    if not right or account is None:
        with house.act(Actor(name[:100], frozenset()), "sign-in refused", "account") as act:
            act.session.add(SignInFailure(name=name))
        raise NotSignedIn(
            "Name or password is wrong.", "Try again; after five tries wait five minutes.", code="wrong-sign-in"
        )
    return account


def sign_in(house: House, name: str, password: str) -> SignedIn:
    """Start a console session."""
    account = _check_password(house, name, password)
    cookie, csrf = secrets.token_urlsafe(32), secrets.token_urlsafe(24)
    ends = datetime.now(UTC) + timedelta(hours=house.settings.session_hours)
    with house.act(_actor(account), "signed in", f"account {name}") as act:
        act.session.execute(delete(Session).where(Session.expires_at < datetime.now(UTC)))
        act.session.add(Session(token_hash=_hash(cookie), account_id=account.id, csrf=csrf, expires_at=ends))
    return SignedIn(cookie, csrf, _actor(account))


def _holders(model: type[Session] | type[ApiToken], *more: Any) -> Any:
    """Who holds what has this hash, if it has not ended: asked at every request, so one plain look."""
    query = select(Account.id, Account.name, Account.roles, Account.person_id, *more)
    query = query.join(model, model.account_id == Account.id)
    return query.where(model.token_hash == bindparam("hash"), model.expires_at >= func.now(), Account.active)


_SESSIONS, _TOKENS = _holders(Session, Session.csrf), _holders(ApiToken)


def session_of(house: House, cookie: str) -> tuple[Actor, str] | None:
    """Who a console cookie belongs to, and the session's CSRF token; None if it has ended."""
    with house.database.transaction() as session:
        row = session.execute(_SESSIONS, {"hash": _hash(cookie)}).one_or_none()
        return (_actor(row), row.csrf) if row is not None else None


def sign_out(house: House, cookie: str) -> None:
    """End a console session."""
    with house.database.transaction() as session:
        session.execute(delete(Session).where(Session.token_hash == _hash(cookie)))


def create_token(house: House, name: str, password: str, purpose: str) -> dict[str, Any]:
    """A token for the client library or the command line. It is shown this once; only its hash is kept."""
    account = _check_password(house, name, password)
    token = f"spk_{secrets.token_urlsafe(32)}"
    ends = datetime.now(UTC) + timedelta(days=_TOKEN_DAYS)
    with house.act(_actor(account), "token made", f"account {name}", purpose=purpose) as act:
        act.session.add(ApiToken(account_id=account.id, name=purpose, token_hash=_hash(token), expires_at=ends))
    return {"token": token, "expires_at": ends, "name": account.name, "roles": sorted(account.roles)}


def token_actor(house: House, token: str) -> Actor | None:
    """Who an API token belongs to; None if it is unknown or has ended."""
    with house.database.transaction() as session:
        row = session.execute(_TOKENS, {"hash": _hash(token)}).one_or_none()
        return _actor(row) if row is not None else None


def revoke_token(house: House, token: str) -> None:
    """End an API token."""
    with house.database.transaction() as session:
        session.execute(delete(ApiToken).where(ApiToken.token_hash == _hash(token)))


def person_name(house: House, actor: Actor) -> str:
    """The name of the person behind an account, or else the account's."""
    if not actor.person_id:
        return actor.name
    with house.database.transaction() as session:
        person = session.get(Person, actor.person_id)
        return person.name if person else actor.name
