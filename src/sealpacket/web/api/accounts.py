"""Signing in and out, one's own tokens and password; and administering accounts."""

from typing import Any

from flask import Response, g, jsonify, request
from pydantic import BaseModel, Field, SecretStr

from sealpacket import __version__
from sealpacket.app.context import RIGHTS, Right
from sealpacket.services import accounts, passkeys, provided, sign_in, tokens
from sealpacket.services.accounts import AccountKind, AccountShown
from sealpacket.services.tokens import Token, TokenShown
from sealpacket.settings import Role
from sealpacket.web.api.common import Done, OneLine, Strict
from sealpacket.web.guard import ANY_ROLE, ANYONE, COOKIE, actor, current_app, requires_role
from sealpacket.web.idempotency import idempotent
from sealpacket.web.operations import Api
from sealpacket.web.sessions import origin_of, with_session

api = Api("accounts", "Who you are here, and who else may come in.")
NAME = r"^[A-Za-z0-9][A-Za-z0-9._@-]{0,99}$"


class SignIn(Strict):
    """Name and password."""

    name: str = Field(max_length=100)
    password: SecretStr = Field(max_length=1000)


class TokenWish(Strict):
    """A token to make: its purpose, rights and days; a person's ends after 90 days at the latest."""

    purpose: OneLine = Field("command line", max_length=100)
    rights: list[Right] = Field([*RIGHTS], min_length=1, max_length=len(RIGHTS))
    days: int = Field(tokens.LONGEST, ge=1, le=tokens.LONGEST_OF_PROGRAM)


class SignInForToken(TokenWish, SignIn):
    """Name and password, and what the token is for and may do."""


class Me(BaseModel):
    """Who is signed in. `csrf` goes into X-CSRF-Token with every change, where a session is used."""

    name: str
    person: str
    roles: list[Role]
    csrf: str | None
    version: str = Field(description="Of the service.")


class SignInWays(BaseModel):
    """The ways on which people come in here, beside name and password."""

    provider: str | None = Field(
        description="The name of the OpenID provider, for the button: Sign in with …"
    )
    passkeys: bool = Field(description="Whether passkeys can be used at the service's address.")


class SignedOut(Done):
    """That it has ended, and where a browser goes to leave the OpenID provider too."""

    next: str = Field(description="An address; empty if there is nothing more to leave.")


class Tokens(BaseModel):
    """Tokens that have not ended, the newest first."""

    items: list[TokenShown]


class TokenQuery(Strict):
    """Whose tokens."""

    account: str = Field(
        "", max_length=100, description="Empty: one's own; others' for administrators."
    )


class TokenPath(BaseModel):
    """A token by its id."""

    ident: str = Field(max_length=40)


class NewPassword(Strict):
    """The password as it is, and as it is to be."""

    current: SecretStr = Field(max_length=1000)
    new: SecretStr = Field(max_length=1000)


class Accounts(BaseModel):
    """All accounts by name."""

    items: list[AccountShown]


class NewAccount(Strict):
    """An account to make; `person` by key. A program has no password: it comes in by tokens."""

    name: str = Field(pattern=NAME)
    kind: AccountKind = "person"
    password: SecretStr | None = Field(None, max_length=1000)
    roles: list[Role] = Field(min_length=1)
    person: str | None = Field(None, max_length=100)


class AccountChange(Strict):
    """Changes of an account. A new password, or `active` false, ends all its sessions."""

    roles: list[Role] | None = Field(None, min_length=1)
    active: bool | None = None
    password: SecretStr | None = Field(None, max_length=1000)
    person: str | None = Field(None, max_length=100)


class AccountPath(BaseModel):
    """An account by its name."""

    name: str = Field(max_length=100)


def me_of(csrf: str | None) -> dict[str, Any]:
    who = actor()
    return {
        "name": who.name,
        "person": accounts.person_name(current_app(), who),
        "roles": sorted(who.roles),
        "csrf": csrf,
        "version": __version__,
    }


@api.post(
    "/sign-in",
    summary="Start a console session",
    responses={200: Me},
    does=sign_in.sign_in,
    problems=(401, 429),
)
@requires_role(ANYONE)
def start_session(body: SignIn) -> Response:
    found = sign_in.sign_in(current_app(), body.name, body.password.get_secret_value(), origin_of())
    g.actor = found.actor
    return with_session(jsonify(me_of(found.csrf)), found)


@api.get("/sign-in", summary="List the ways to sign in", responses={200: SignInWays})
@requires_role(ANYONE)
def sign_in_ways() -> SignInWays:
    """The ways on which people come in here, beside name and password."""
    settings = current_app().settings
    return SignInWays(
        provider=settings.oidc_label if settings.oidc_issuer else None,
        passkeys=passkeys.possible(current_app()),
    )


@api.post(
    "/sign-out",
    summary="Sign out: end the session or token of this request",
    responses={200: SignedOut},
    does=(sign_in.end_token, sign_in.sign_out),
    needs="read",
)
@requires_role(ANY_ROLE)
def end_session() -> Response:
    header = request.headers.get("Authorization", "")
    if header[:7].lower() == "bearer ":
        sign_in.end_token(current_app(), header[7:].strip())
        return _signed_out({"done": True, "next": ""})
    way = sign_in.sign_out(current_app(), request.cookies.get(COOKIE, ""))
    return _signed_out({"done": True, "next": provided.leave(current_app(), way)})


def _signed_out(body: dict[str, Any]) -> Response:
    response: Response = jsonify(body)
    response.delete_cookie(COOKIE, path="/")
    return response


@api.post(
    "/tokens",
    summary="Make a token for client or command line",
    responses={201: Token},
    does=tokens.create_token,
    problems=(401, 429),
)
@requires_role(ANYONE)
def make_token(body: SignInForToken) -> Token:
    return tokens.create_token(
        current_app(),
        body.name,
        body.password.get_secret_value(),
        body.purpose,
        origin_of(),
        rights=body.rights,
        days=body.days,
    )


@api.post(
    "/accounts/<name>/tokens",
    summary="Make a token for yourself in a session, or for a program",
    responses={201: Token},
    does=tokens.add_token,
    needs="keep",
)
@requires_role(ANY_ROLE)
def add_token(path: AccountPath, body: TokenWish) -> Token:
    return tokens.add_token(current_app(), actor(), path.name, body.purpose, body.rights, body.days)


@api.get(
    "/tokens",
    summary="List tokens with their last use",
    responses={200: Tokens},
    does=tokens.tokens,
    problems=(403, 404),
)
@requires_role(ANY_ROLE)
def list_tokens(query: TokenQuery) -> dict[str, Any]:
    return {"items": tokens.tokens(current_app(), actor(), query.account)}


@api.delete(
    "/tokens/<ident>",
    summary="Revoke a token",
    responses={200: Done},
    does=tokens.revoke_token,
    needs="keep",
)
@requires_role(ANY_ROLE)
def revoke_token(path: TokenPath) -> dict[str, Any]:
    tokens.revoke_token(current_app(), actor(), path.ident)
    return {"done": True}


@api.get("/me", summary="Get the account that is signed in", responses={200: Me})
@requires_role(ANY_ROLE)
def me() -> dict[str, Any]:
    """The account behind the request: its name, roles and person."""
    return me_of(getattr(g, "csrf", None))


@api.put(
    "/me/password",
    summary="Change your own password; everything signed in ends",
    responses={200: Done},
    does=accounts.change_password,
    needs="keep",
    problems=(404, 409, 429),
)
@requires_role(ANY_ROLE)
def change_password(body: NewPassword) -> Response:
    accounts.change_password(
        current_app(),
        actor(),
        body.current.get_secret_value(),
        body.new.get_secret_value(),
        origin_of(),
    )
    return _signed_out({"done": True})


@api.get("/accounts", summary="List accounts", responses={200: Accounts}, does=accounts.listed)
@requires_role("admin")
def list_accounts() -> dict[str, Any]:
    return {"items": accounts.listed(current_app())}


@api.post(
    "/accounts",
    summary="Make an account",
    responses={201: AccountShown},
    does=accounts.add,
    problems=(429,),
)
@requires_role("admin")
@idempotent
def add_account(body: NewAccount) -> AccountShown:
    return accounts.add(
        current_app(),
        actor(),
        body.name,
        body.password.get_secret_value() if body.password else None,
        [*body.roles],
        body.person,
        body.kind,
    )


@api.patch(
    "/accounts/<name>",
    summary="Change an account's roles or password, disable or enable it",
    responses={200: AccountShown},
    does=accounts.change,
    problems=(409, 429),
)
@requires_role("admin")
def change_account(path: AccountPath, body: AccountChange) -> AccountShown:
    changes = body.model_dump(exclude_unset=True)
    if body.password is not None:
        changes["password"] = body.password.get_secret_value()
    return accounts.change(current_app(), actor(), path.name, changes)


@api.post(
    "/accounts/<name>/sign-out",
    summary="End all sessions, tokens and calendar addresses of an account",
    responses={200: AccountShown},
    does=accounts.sign_out_everywhere,
    needs="keep",
)
@requires_role(ANY_ROLE)
@idempotent
def sign_out_everywhere(path: AccountPath) -> AccountShown:
    return accounts.sign_out_everywhere(current_app(), actor(), path.name)
