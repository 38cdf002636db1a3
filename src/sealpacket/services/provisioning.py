"""Accounts that the organisation's own directory keeps (SCIM 2.0, RFC 7643 and 7644): made, changed and closed by it.

It sees and touches only what is provided: a local account is none of its business, least of all the last way in.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session as DatabaseSession

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, Invalid, NotFound
from sealpacket.services.accounts import end_all
from sealpacket.services.provided import NAME, roles_of
from sealpacket.store.models import Account

MOST = 200
"""Accounts of one page."""
_FILTER = re.compile(r'\s*(userName|externalId|id)\s+eq\s+"((?:[^"\\]|\\.)*)"\s*', re.IGNORECASE)


@dataclass(frozen=True)
class ProvidedAccount:
    """An account as the directory sees it."""

    id: str
    name: str
    external_id: str | None
    active: bool
    roles: Sequence[str]


@dataclass(frozen=True)
class ProvidedPage:
    """Some of the accounts, from `start` (1 is the first), and how many there are."""

    total: int
    start: int
    items: list[ProvidedAccount]


def listed(app: AppContext, filtered: str, start: int, count: int) -> ProvidedPage:
    """Provided accounts by name; `filtered` is empty, or compares one attribute: userName eq "…". Raises Invalid."""
    query = select(Account).where(Account.provided)
    if filtered:
        match = _FILTER.fullmatch(filtered)
        if match is None:
            raise Invalid(
                "Only userName, externalId and id can be compared (eq).", "Filter by one."
            )
        columns: dict[str, Any] = {
            "username": Account.name,
            "externalid": Account.external_id,
            "id": Account.id,
        }
        query = query.where(columns[match[1].lower()] == re.sub(r"\\(.)", r"\1", match[2]))
    start, count = max(1, start), max(0, min(count, MOST))
    with app.database.transaction() as session:
        total = session.scalar(select(func.count()).select_from(query.subquery())) or 0
        page = query.order_by(Account.name).offset(start - 1).limit(count)
        return ProvidedPage(total, start, [_shown(one) for one in session.scalars(page)])


def shown(app: AppContext, ident: str) -> ProvidedAccount:
    """One provided account. Raises NotFound."""
    with app.database.transaction() as session:
        return _shown(_find(session, ident))


def add(app: AppContext, actor: Actor, given: Mapping[str, Any]) -> ProvidedAccount:
    """Make an account, or take up again one that was closed. Raises Conflict if the name is taken, Invalid."""
    name = _text(given, "userName")
    if name is None or not NAME.fullmatch(name):
        raise Invalid("userName is missing, or no name that an account can have.", "Send another.")
    with app.transaction(actor, "account provided", f"account {name}") as tx:
        account = tx.session.scalars(
            select(Account).where(Account.name == name).with_for_update()
        ).one_or_none()
        if account is None:
            account = Account(name=name, active=True, roles=[])
            tx.session.add(account)
        elif account.provided or account.active or account.password_hash is not None:
            raise Conflict(f"There is an account {name} already.", "Choose another name.")
        account.provided, account.active = True, True
        _take(app, account, {"active": True, **given})
        tx.session.flush()
        return _shown(account)


def replace(app: AppContext, actor: Actor, ident: str, given: Mapping[str, Any]) -> ProvidedAccount:
    """Replace all attributes of an account. Raises NotFound, Conflict, Invalid."""
    return _change(app, actor, ident, {"active": True, "externalId": None, "roles": [], **given})


def change(app: AppContext, actor: Actor, ident: str, operations: Sequence[Any]) -> ProvidedAccount:
    """Change some attributes (RFC 7644, 3.5.2); those that are not kept here are passed over. Raises Invalid."""
    changes: dict[str, Any] = {}
    for one in operations:
        if not isinstance(one, dict) or str(one.get("op", "")).lower() not in _OPERATIONS:
            raise Invalid("An operation is none of add, replace, remove.", "Send one of these.")
        _OPERATIONS[str(one["op"]).lower()](changes, one)
    return _change(app, actor, ident, changes)


def remove(app: AppContext, actor: Actor, ident: str) -> None:
    """Close an account for good; what it did stays on record under its name. Raises NotFound."""
    with app.transaction(actor, "account closed by the directory", "account") as tx:
        account = _find(tx.session, ident)
        tx.subject = f"account {account.name}"
        account.active, account.provided, account.external_id = False, False, None
        tx.detail = end_all(tx.session, account)


def _change(
    app: AppContext, actor: Actor, ident: str, changes: Mapping[str, Any]
) -> ProvidedAccount:
    with app.transaction(actor, "account changed by the directory", "account") as tx:
        account = _find(tx.session, ident)
        before = _shown(account)
        if (name := _text(changes, "userName")) is not None and name != account.name:
            raise Invalid(
                "A userName cannot change: the custody log names it.", "Make another account."
            )
        _take(app, account, changes)
        if not account.active and before.active:
            tx.detail = end_all(tx.session, account)
        tx.subject, tx.audited = f"account {account.name}", _shown(account) != before
        tx.detail["active"] = account.active
        tx.session.flush()
        return _shown(account)


def _take(app: AppContext, account: Account, given: Mapping[str, Any]) -> None:
    if "active" in given:
        account.active = _yes(given["active"])
    if "externalId" in given:
        account.external_id = _text(given, "externalId")
    if "roles" in given:
        values = [
            one.get("value") if isinstance(one, dict) else one
            for one in (given["roles"] if isinstance(given["roles"], list) else [given["roles"]])
        ]
        account.roles = [*roles_of(app.settings, {"roles": values, "groups": values})]


def _yes(value: object) -> bool:
    """Some directories send "False" as a text."""
    said = str(value).lower()
    if said not in ("true", "false"):
        raise Invalid("active is neither true nor false.", "Send one of them.")
    return said == "true"


def _text(given: Mapping[str, Any], name: str) -> str | None:
    value = given.get(name)
    if value is None:
        return None
    if not isinstance(value, str) or not 0 < len(value) <= 200:
        raise Invalid(f"{name} is no text of 1 to 200 characters.", "Send another.")
    return value


def _set(changes: dict[str, Any], one: Mapping[str, Any]) -> None:
    path, value = one.get("path"), one.get("value")
    if path:
        changes[str(path)] = value
    elif isinstance(value, dict):
        changes.update(value)
    else:
        raise Invalid("An operation has neither a path nor an object.", "Send one of them.")


def _unset(changes: dict[str, Any], one: Mapping[str, Any]) -> None:
    path = str(one.get("path") or "")
    if path == "active":
        raise Invalid("active cannot be removed.", "Set it to false.")
    changes[path] = [] if path == "roles" else None


_OPERATIONS: dict[str, Callable[[dict[str, Any], Mapping[str, Any]], None]] = {
    "add": _set,
    "replace": _set,
    "remove": _unset,
}


def _find(session: DatabaseSession, ident: str) -> Account:
    account = session.scalars(
        select(Account).where(Account.id == ident, Account.provided).with_for_update()
    ).one_or_none()
    if account is None:
        raise NotFound("There is no such account that a directory keeps.", "List them.")
    return account


def _shown(account: Account) -> ProvidedAccount:
    return ProvidedAccount(
        account.id, account.name, account.external_id, account.active, tuple(account.roles)
    )
