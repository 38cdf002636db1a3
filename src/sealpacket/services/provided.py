"""People of an OpenID provider: they sign in there, have the roles that its claims are mapped to, and leave with it."""

from __future__ import annotations

import json
import re
import time
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import timedelta
from typing import Any

import structlog
from sqlalchemy import delete, select
from sqlalchemy.orm import Session as DatabaseSession

from sealpacket.app.context import Actor, AppContext
from sealpacket.channels.provider import Provider
from sealpacket.core.errors import Conflict, NotAllowed, NotFound, NotSignedIn, ProblemError
from sealpacket.core.secretbox import decrypt, encrypt
from sealpacket.services.sign_in import From, SignedIn, begin_session, once, tried_by
from sealpacket.settings import Role, Settings
from sealpacket.store.models import Account, Person, Session

BACK = "/sign-in/provider/back"
"""Where the provider sends the browser."""
FLOW_PURPOSE = "sign-in by the provider"
FLOW_SECONDS = 600
"""Within which somebody has to come back from the provider."""
PROVIDER = Actor("OpenID provider", frozenset({"admin"}))
NAME = re.compile(r"[A-Za-z0-9][A-Za-z0-9._@-]{0,99}")
_LEFT_DAYS = 1
log = structlog.get_logger()


@dataclass(frozen=True)
class OnTheWay:
    """Where the browser goes, and the cookie by which to know it when it comes back."""

    address: str
    cookie: str


def provider_of(app: AppContext) -> Provider:
    """The provider of the settings. Raises NotFound if there is none."""
    if app.provider is None:
        raise NotFound("There is no provider to sign in with.", "Sign in with name and password.")
    return app.provider


def begin(app: AppContext) -> OnTheWay:
    """Begin a sign-in by the provider. Raises NotFound without one, Unavailable if it is away."""
    begun = provider_of(app).begin(_back(app.settings))
    kept = [begun.state, begun.nonce, begun.verifier, int(time.time())]
    sealed = encrypt(app.ring, json.dumps(kept).encode(), FLOW_PURPOSE)
    return OnTheWay(begun.address, sealed.hex())


def come_back(app: AppContext, cookie: str, given: Mapping[str, str], origin: From) -> SignedIn:
    """Finish a sign-in with what the provider sent back. Raises NotSignedIn, NotAllowed, Conflict or Unavailable."""
    with tried_by(app, "provider", origin):
        return _come_back(app, cookie, given)


def _come_back(app: AppContext, cookie: str, given: Mapping[str, str]) -> SignedIn:
    provider = provider_of(app)
    state, nonce, verifier = _flow(app, cookie)
    if given.get("state") != state:
        raise _gone()
    if given.get("iss", provider.issuer) != provider.issuer:  # RFC 9207
        raise _gone()
    if "code" not in given:
        raise NotSignedIn(
            "The provider did not sign you in.", "Try again.", code="provider-refused"
        )
    claims = provider.finish(given["code"], _back(app.settings), nonce, verifier)
    session_there = claims.get("sid")
    account = _account_of(app, provider.issuer, claims)
    return begin_session(
        app, account, "provider", session_there if isinstance(session_there, str) else None
    )


def _flow(app: AppContext, cookie: str) -> tuple[str, str, str]:
    """State, nonce and verifier of the sign-in that this browser began, once."""
    try:
        sealed = bytes.fromhex(cookie)
        state, nonce, verifier, at = json.loads(decrypt(app.ring, sealed, FLOW_PURPOSE))
    except (ValueError, ProblemError) as error:
        raise _gone() from error
    if time.time() - at > FLOW_SECONDS:
        raise _gone()
    once(app, f"flow {state}", timedelta(seconds=2 * FLOW_SECONDS), _gone())
    return state, nonce, verifier


def _gone() -> NotSignedIn:
    return NotSignedIn(
        "This sign-in was not begun in this browser, or too long ago.",
        "Begin again.",
        code="sign-in-gone",
    )


def roles_of(settings: Settings, claims: Mapping[str, Any]) -> list[Role]:
    """The roles that claims are mapped to, each once."""
    found: set[Role] = set()
    for claim, values in settings.oidc_roles.items():
        said = claims.get(claim)
        for value in said if isinstance(said, list) else [said]:
            found.update(values.get(value, ()) if isinstance(value, str) else ())
    return sorted(found)


def _account_of(app: AppContext, issuer: str, claims: Mapping[str, Any]) -> Account:
    """The account of whom the provider names, made or brought up to date. Raises NotAllowed, Conflict."""
    subject = str(claims["sub"])
    roles = roles_of(app.settings, claims)
    with app.transaction(PROVIDER, "account of the provider", "account") as tx:
        account = tx.session.scalars(
            select(Account)
            .where(Account.issuer == issuer, Account.subject == subject)
            .with_for_update()
        ).one_or_none()
        name = str(claims.get(app.settings.oidc_name) or "")
        if account is None:
            account = _first_time(tx.session, name)
            account.issuer, account.subject = issuer, subject
        if not account.active:
            raise NotAllowed("Your account is disabled.", "Ask an administrator.", code="disabled")
        if not roles:
            raise NotAllowed(
                "The provider gives you no role here.",
                "Ask an administrator to have one of the groups given to you.",
                code="no-role",
            )
        tx.audited = sorted(account.roles or ()) != roles
        account.roles = [*roles]
        account.person_id = account.person_id or _person_of(tx.session, claims)
        tx.subject = f"account {account.name}"
        tx.detail["roles"] = roles
        tx.session.add(account)
        tx.session.flush()
        return account


def _first_time(session: DatabaseSession, name: str) -> Account:
    """The account that somebody gets who comes for the first time: one that the provider made for them, or a new one.

    A local account of the same name stays what it is: whoever may choose names at the provider would come in by it.
    """
    if not NAME.fullmatch(name):
        raise NotAllowed(
            "The provider gives no name that an account can have.",
            "Ask whoever runs the service to choose another claim for names.",
            code="no-name",
        )
    known = session.scalars(
        select(Account).where(Account.name == name).with_for_update()
    ).one_or_none()
    if known is None:
        return Account(name=name, provided=True, active=True)
    if not known.provided or known.subject is not None:
        raise Conflict(
            f"There is another account {name} here.",
            "Ask an administrator to disable it, or to have you renamed at the provider.",
            code="name-taken",
        )
    return known


def _person_of(session: DatabaseSession, claims: Mapping[str, Any]) -> str | None:
    mail = claims.get("email")
    if not isinstance(mail, str) or claims.get("email_verified") is False:
        return None
    found = session.scalars(select(Person.id).where(Person.mail == mail)).all()
    return found[0] if len(found) == 1 else None


def ended(app: AppContext, token: str) -> None:
    """End the sessions of whom the provider says that they have left. Raises NotSignedIn for what is no such word."""
    provider = provider_of(app)
    left = provider.left(token)
    once(
        app,
        f"left {left.ident}",
        timedelta(days=_LEFT_DAYS),
        NotSignedIn("The provider has said this before.", "Nothing is to do.", code="said-before"),
    )
    with app.transaction(PROVIDER, "signed out at the provider", "account") as tx:
        about = select(Session.token_hash).join(Account, Account.id == Session.account_id)
        about = about.where(Account.issuer == provider.issuer)
        if left.session:
            about = about.where(Session.provider_session == left.session)
        if left.subject:
            about = about.where(Account.subject == left.subject)
        gone = tx.session.execute(
            delete(Session).where(Session.token_hash.in_(about)).returning(Session.account_id)
        ).scalars()
        names = sorted(
            set(tx.session.scalars(select(Account.name).where(Account.id.in_(set(gone)))))
        )
        tx.subject = f"account {', '.join(names) or 'unknown'}"
        tx.audited = bool(names)


def leave(app: AppContext, way: str) -> str:
    """Where the browser goes to leave the provider too; empty for whoever came in another `way`."""
    return app.provider.leave(app.settings.address) if app.provider and way == "provider" else ""


def _back(settings: Settings) -> str:
    return settings.address.rstrip("/") + BACK
