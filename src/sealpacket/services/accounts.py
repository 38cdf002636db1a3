"""Accounts: who may come in, as what; and how somebody who leaves, or loses a laptop, is out at once."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any, Literal

from pydantic import BaseModel
from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session as DatabaseSession

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, Invalid, NotAllowed, NotFound
from sealpacket.services.sign_in import From, check_password, password_hash
from sealpacket.settings import Role
from sealpacket.store.models import (
    Account,
    ApiToken,
    Digest,
    NoticeSettings,
    Passkey,
    Person,
    Session,
)

AccountKind = Literal["person", "program"]
Way = Literal["password", "provider", "passkey"]


class AccountShown(BaseModel):
    """An account; `sessions` and `tokens` are how many have not ended, `seen_at` when one was used last.

    `ways` are how it can come in: by password, by the OpenID provider, by passkey; a program has tokens only.
    """

    name: str
    kind: AccountKind
    ways: list[Way]
    person: str | None
    roles: list[Role]
    active: bool
    sessions: int
    tokens: int
    seen_at: datetime | None


ROLES = ("admin", "keeper", "preparer", "releaser", "reader")
COMMAND = Actor("service command", frozenset({"admin"}))
"""Whoever has the machine."""


def listed(app: AppContext) -> list[AccountShown]:
    """All accounts by name, with how often each is signed in."""
    with app.database.transaction() as session:
        return [
            _shown(session, one) for one in session.scalars(select(Account).order_by(Account.name))
        ]


def add(
    app: AppContext,
    actor: Actor,
    name: str,
    password: str | None,
    roles: list[str],
    person: str | None,
    kind: AccountKind = "person",
) -> AccountShown:
    """Make an account. Raises Conflict if there is one of that name, Invalid for a person without a password."""
    if kind == "program" and password:
        raise Invalid(
            "A program has no password.",
            "Leave it out; then make a token for it.",
            field="password",
        )
    with app.transaction(actor, "account made", f"account {name}", roles=sorted(set(roles))) as tx:
        if tx.session.scalars(select(Account.id).where(Account.name == name)).one_or_none():
            raise Conflict(
                f"There is an account {name} already.", "Choose another name.", code="already-there"
            )
        account = Account(
            name=name,
            kind=kind,
            password_hash=password_hash(name, password or "") if kind == "person" else None,
            roles=_roles(roles),
        )
        account.person_id = _person(tx.session, person)
        tx.session.add(account)
        tx.session.flush()
        return _shown(tx.session, account)


def change(app: AppContext, actor: Actor, name: str, changes: dict[str, Any]) -> AccountShown:
    """Change roles, person or password of an account, or disable or enable it.

    A new password or a disabled account ends all its sessions, tokens, passkeys and calendar addresses. Raises Conflict
    for what would leave nobody who may administer accounts.
    """
    with app.transaction(actor, "account changed", f"account {name}", fields=sorted(changes)) as tx:
        had_one = _administrators(tx.session)
        account = find_account(tx.session, name)
        if changes.get("roles") is not None:
            account.roles = _roles(changes["roles"])
            tx.detail["roles"] = account.roles
        if "person" in changes:
            account.person_id = _person(tx.session, changes["person"])
        if changes.get("active") is not None:
            account.active = tx.detail["active"] = changes["active"]
        if changes.get("password") is not None:
            if account.kind == "program":
                raise Invalid(
                    "A program has no password.", "Make a token for it.", field="password"
                )
            account.password_hash = password_hash(name, changes["password"])
        if changes.get("password") is not None or not account.active:
            tx.detail["ended"] = end_all(tx.session, account)
            # Whoever knew the old password may have added one.
            gone = delete(Passkey).where(Passkey.account_id == account.id)
            tx.detail["ended"]["passkeys"] = tx.session.execute(gone).rowcount  # type: ignore[attr-defined]
        tx.session.flush()
        if had_one and not _administrators(tx.session):
            raise Conflict(
                "Nobody could administer accounts any more.",
                "Give somebody else the role admin first.",
                code="last-admin",
            )
        return _shown(tx.session, account)


def put(
    app: AppContext, name: str, password: str | None, roles: list[str], person: str | None
) -> None:
    """For the operator's command: create an account, or change an existing one."""
    with app.database.transaction() as session:
        known = session.scalars(select(Account.id).where(Account.name == name)).one_or_none()
    if known is None:
        add(app, COMMAND, name, password or "", roles, person)
        return
    given = {
        "roles": roles or None,
        "password": password,
        "active": True,
        **({"person": person} if person else {}),
    }
    change(
        app, COMMAND, name, {field: value for field, value in given.items() if value is not None}
    )


def sign_out_everywhere(app: AppContext, actor: Actor, name: str) -> AccountShown:
    """End all sessions, tokens and calendar addresses of an account; one's own, or as an administrator anyone's.
    Raises NotAllowed for another's account without the role admin."""
    if name != actor.name and "admin" not in actor.roles:
        raise NotAllowed("Only an administrator can sign others out.", "Ask one.")
    with app.transaction(actor, "signed out everywhere", f"account {name}") as tx:
        account = find_account(tx.session, name)
        tx.detail = end_all(tx.session, account)
        tx.session.flush()
        return _shown(tx.session, account)


def change_password(app: AppContext, actor: Actor, current: str, new: str, origin: From) -> None:
    """Give oneself a new password; all that was signed in with the old one ends. Raises Invalid if it is the old one,
    or too weak."""
    check_password(app, actor.name, current, origin)
    if current == new:
        raise Invalid("The new password is the old one.", "Take another.", field="new")
    change(app, actor, actor.name, {"password": new})


def person_name(app: AppContext, actor: Actor) -> str:
    """The name of the person behind an account, or else the account's."""
    if not actor.person_id:
        return actor.name
    with app.database.transaction() as session:
        person = session.get(Person, actor.person_id)
        return person.name if person else actor.name


def find_account(session: DatabaseSession, name: str) -> Account:
    """The account of that name, under a lock. Raises NotFound."""
    account = session.scalars(
        select(Account).where(Account.name == name).with_for_update()
    ).one_or_none()
    if account is None:
        raise NotFound(f"There is no account {name}.", "List the accounts, then name one of them.")
    return account


def _roles(roles: list[str]) -> list[str]:
    unknown = sorted(set(roles) - set(ROLES))
    if unknown or not roles:
        raise Invalid(
            f"There is no role {', '.join(unknown) or 'given'}.",
            f"Choose from {', '.join(ROLES)}.",
            field="roles",
        )
    return sorted(set(roles))


def _person(session: DatabaseSession, key: str | None) -> str | None:
    if not key:
        return None
    found = session.scalars(select(Person.id).where(Person.key == key)).one_or_none()
    if found is None:
        raise Invalid(
            f"There is no person {key} in the register.",
            "Add the person to the register first.",
            field="person",
        )
    return found


def end_all(session: DatabaseSession, account: Account) -> dict[str, int]:
    """End everything by which the account can come in without its password; how much that was."""
    sessions = session.execute(delete(Session).where(Session.account_id == account.id)).rowcount  # type: ignore[attr-defined]
    ended = session.execute(delete(ApiToken).where(ApiToken.account_id == account.id)).rowcount  # type: ignore[attr-defined]
    digest = session.get(Digest, account.id)
    calendars = int(digest is not None and digest.calendar_hash is not None)
    if digest is not None:
        digest.calendar_hash = None
    chosen = session.get(NoticeSettings, account.id)
    feeds = int(chosen is not None and chosen.feed_hash is not None)
    if chosen is not None:
        chosen.feed_hash, chosen.webhook, chosen.secret_sealed = None, "", None
    return {"sessions": sessions, "tokens": ended, "calendars": calendars, "feeds": feeds}


def _administrators(session: DatabaseSession) -> int:
    """How many can administer accounts; their rows are locked, so that no two of them put each other out at once."""
    query = select(Account.id).where(Account.active, Account.roles.contains(["admin"]))
    return len(session.scalars(query.order_by(Account.name).with_for_update()).all())


def _shown(session: DatabaseSession, account: Account) -> AccountShown:
    now = datetime.now(UTC)

    def many(model: type[Session] | type[ApiToken]) -> Any:
        query = select(func.count(), func.max(model.seen_at)).where(model.account_id == account.id)
        return session.execute(query.where(model.expires_at > now)).one()

    (sessions, last), (keys, used) = many(Session), many(ApiToken)
    seen = [moment for moment in (last, used) if moment is not None]
    passkeys = session.scalar(select(func.count()).where(Passkey.account_id == account.id))
    ways: dict[Way, bool] = {
        "password": account.password_hash is not None,
        "provider": account.provided,
        "passkey": bool(passkeys),
    }
    return AccountShown(
        name=account.name,
        kind="program" if account.kind == "program" else "person",
        ways=[way for way, there in ways.items() if there],
        person=account.person.name if account.person else None,
        roles=account.roles,
        active=account.active,
        sessions=sessions,
        tokens=keys,
        seen_at=max(seen, default=None),
    )
