"""Tokens of client, command line and programs: what each may do, when it was used last, and when it ends."""

from __future__ import annotations

import secrets
from collections.abc import Sequence
from datetime import UTC, datetime, timedelta

from pydantic import BaseModel
from sqlalchemy import select

from sealpacket.app.context import RIGHTS, Actor, AppContext, Right
from sealpacket.core.errors import NotAllowed, NotFound
from sealpacket.services.accounts import find_account
from sealpacket.services.sign_in import From, actor_of, check_password, hash_of
from sealpacket.store.models import Account, ApiToken

LONGEST, LONGEST_OF_PROGRAM = 90, 366
"""Days after which a token ends at the latest: a person's, and a program's."""


class Token(BaseModel):
    """A token; shown this once."""

    token: str
    expires_at: datetime
    name: str
    roles: list[str]
    rights: list[Right]


class TokenShown(BaseModel):
    """A token without what it is: what it is for and may do, and when it was used last."""

    id: str
    purpose: str
    rights: list[Right]
    created_at: datetime
    seen_at: datetime | None
    expires_at: datetime


def create_token(
    app: AppContext,
    name: str,
    password: str,
    purpose: str,
    origin: From,
    *,
    rights: Sequence[Right] = RIGHTS,
    days: int = LONGEST,
) -> Token:
    """A token for the client library or the command line. It is shown this once; only its hash is kept."""
    account = check_password(app, name, password, origin)
    return _make(app, actor_of(account), account, purpose, rights, days)


def add_token(
    app: AppContext, actor: Actor, name: str, purpose: str, rights: Sequence[Right], days: int
) -> Token:
    """A token for oneself, or as an administrator for a program.

    Raises NotAllowed for another person's account, for what the actor may not do, and for oneself by a token: a token
    that was stolen makes no others.
    """
    with app.database.transaction() as session:
        account = find_account(session, name)
    if account.name == actor.name:
        if actor.by_token:
            raise NotAllowed(
                "A token makes no token for its own account.",
                "Make it in the console, or with the password: sealpacket token add",
            )
    elif account.kind != "program" or "admin" not in actor.roles:
        raise NotAllowed(
            "A token is made by whoever it is for; for a program by an administrator.",
            "Let them make it themselves.",
        )
    if more := set(rights) - actor.rights:
        raise NotAllowed(
            f"This token may not {' or '.join(sorted(more))} itself.", "Ask for fewer rights."
        )
    return _make(app, actor, account, purpose, rights, days)


def _make(
    app: AppContext,
    actor: Actor,
    account: Account,
    purpose: str,
    rights: Sequence[Right],
    days: int,
) -> Token:
    token = f"spk_{secrets.token_urlsafe(32)}"
    longest = LONGEST_OF_PROGRAM if account.kind == "program" else LONGEST
    ends = datetime.now(UTC) + timedelta(days=min(days, longest))
    kept = [one for one in RIGHTS if one in {"read", *rights}]
    with app.transaction(
        actor, "token made", f"account {account.name}", purpose=purpose, rights=kept
    ) as tx:
        tx.session.add(
            ApiToken(
                account_id=account.id,
                name=purpose,
                token_hash=hash_of(token),
                expires_at=ends,
                rights=kept,
            )
        )
    roles = sorted(account.roles)
    return Token(token=token, expires_at=ends, name=account.name, roles=roles, rights=kept)


def tokens(app: AppContext, actor: Actor, name: str) -> list[TokenShown]:
    """The tokens of an account, the newest first; one's own, or as an administrator anyone's."""
    if name and name != actor.name and "admin" not in actor.roles:
        raise NotAllowed("Only an administrator sees what belongs to others.", "Ask one.")
    with app.database.transaction() as session:
        account = find_account(session, name or actor.name)
        query = select(ApiToken).where(
            ApiToken.account_id == account.id, ApiToken.expires_at > datetime.now(UTC)
        )
        return [
            TokenShown(
                id=one.id,
                purpose=one.name,
                rights=[right for right in RIGHTS if right in one.rights],
                created_at=one.created_at,
                seen_at=one.seen_at,
                expires_at=one.expires_at,
            )
            for one in session.scalars(query.order_by(ApiToken.created_at.desc()))
        ]


def revoke_token(app: AppContext, actor: Actor, ident: str) -> None:
    """End a token at once; one's own, or as an administrator anyone's. Raises NotFound if there is no such token."""
    with app.transaction(actor, "token revoked", "account") as tx:
        found = tx.session.get(ApiToken, ident)
        if found is None or (found.account.name != actor.name and "admin" not in actor.roles):
            raise NotFound("There is no such token.", "List the tokens, then name one of them.")
        tx.subject, tx.detail["purpose"] = f"account {found.account.name}", found.name
        tx.session.delete(found)
