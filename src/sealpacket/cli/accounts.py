"""Accounts, tokens and one's own password on the command line."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any, cast

import typer

from sealpacket.cli import session, show
from sealpacket.client import ClientError

if TYPE_CHECKING:
    from sealpacket.client.fields import AccountChanges
    from sealpacket.client.models import AccountShown

account_app = typer.Typer(
    no_args_is_help=True, help="Accounts and their roles. For administrators."
)
token_app = typer.Typer(no_args_is_help=True, help="Tokens of client and command line.")

passkey_app = typer.Typer(
    no_args_is_help=True, help="Your passkeys. The console adds them, on your own page."
)

Name = Annotated[str, typer.Argument(help="Account name.")]
Role = Annotated[
    list[str], typer.Option(help="admin, keeper, preparer, releaser or reader; may be repeated.")
]


def password() -> None:
    """Change your own password. Everything that is signed in ends, this command line too.

    Both passwords are asked for, or read from standard input, a line each.
    """
    current, new = session.typed("Password as it is"), session.typed("New password")
    with session.client() as client:
        client.change_password(current, new)
    session.forget()
    show.line(
        "The password is changed, and everything that was signed in has ended. Sign in again."
    )


@account_app.command("list")
def list_accounts(json: show.Json = False) -> None:
    """List accounts with their roles and last sign-in."""
    with session.client() as client:
        found = client.accounts.list()
    if json:
        show.as_json(found)
        return
    show.table(
        ("Account", "Person", "Comes by", "Roles", "State", ">Sessions", ">Tokens", "Seen last"),
        (
            (
                one.name,
                one.person or "",
                ", ".join(one.ways) or "token",
                ", ".join(one.roles),
                "active" if one.active else "disabled",
                one.sessions,
                one.tokens,
                show.moment(one.seen_at),
            )
            for one in found
        ),
        nothing="No accounts.",
    )


@account_app.command("add")
def add_account(
    name: Name,
    role: Role,
    person: Annotated[str | None, typer.Option(help="Key of the person behind it.")] = None,
    program: Annotated[
        bool, typer.Option("--program", help="For a program, which comes in by tokens only.")
    ] = False,
) -> None:
    """Create an account. Its password is prompted for or read from standard input.

    Example: `sealpacket account add teo --role preparer --person teo`
    """
    password = None if program else session.typed("Password")
    kind = "program" if program else "person"
    with session.client() as client:
        _say(client.accounts.add(name, password, role, person=person, kind=kind))
    if program:
        show.line(f"Make a token for it: sealpacket token add --account {name} PURPOSE")


@account_app.command("change")
def change_account(
    name: Name,
    role: Annotated[
        list[str] | None, typer.Option(help="New roles, replacing the old; may be repeated.")
    ] = None,
    person: Annotated[str | None, typer.Option(help="Key of the person behind it.")] = None,
    password: Annotated[
        bool,
        typer.Option(
            "--password", help="Set a new password, prompted for or read from standard input."
        ),
    ] = False,
) -> None:
    """Change an account's roles, person or password. A new password ends its sessions and tokens."""
    fields: AccountChanges = {}
    if role:
        fields["roles"] = cast(Any, role)  # the service names those that there are
    if person is not None:
        fields["person"] = person
    if password:
        fields["password"] = session.typed("New password")
    if not fields:
        raise ClientError("Nothing to change was given.", "Give --role, --person or --password.")
    with session.client() as client:
        _say(client.accounts.change(name, **fields))


@account_app.command("disable")
def disable_account(name: Name) -> None:
    """Disable an account at once; its sessions, tokens and calendar addresses end."""
    with session.client() as client:
        _say(client.accounts.change(name, active=False))


@account_app.command("enable")
def enable_account(name: Name) -> None:
    """Enable an account again."""
    with session.client() as client:
        _say(client.accounts.change(name, active=True))


@account_app.command("sign-out")
def sign_out_everywhere(
    name: Annotated[str, typer.Argument(help="Account name; default: your own.")] = "",
) -> None:
    """End all sessions, tokens and calendar addresses of an account."""
    with session.client() as client:
        who = name or client.me().name
        client.accounts.sign_out_everywhere(who)
    show.line(f"Everything by which {who} was signed in has ended.")


def _say(account: AccountShown) -> None:
    state = (
        "" if account.active else " It is disabled, and everything it was signed in with has ended."
    )
    show.line(f"{account.name}: {', '.join(account.roles)}.{state}")


@token_app.command("list")
def list_tokens(
    account: Annotated[
        str, typer.Option(help="Account name, for administrators; default: your own.")
    ] = "",
    json: show.Json = False,
) -> None:
    """List your tokens with their last use."""
    with session.client() as client:
        found = client.tokens.list(account)
    if json:
        show.as_json(found)
        return
    show.table(
        ("For", "May", "Made", "Used last", "Ends", "Id"),
        (
            (
                one.purpose,
                ", ".join(one.rights),
                show.moment(one.created_at),
                show.moment(one.seen_at) or "never",
                show.moment(one.expires_at),
                one.id,
            )
            for one in found
        ),
        nothing="No tokens.",
    )


@token_app.command("add")
def add_token(
    purpose: Annotated[str, typer.Argument(help="Its purpose.")],
    account: Annotated[
        str, typer.Option(help="A program's account, for administrators; default: your own.")
    ] = "",
    may: session.May = None,
    days: Annotated[
        int, typer.Option(help="Days after which it ends: 90 at most, 366 for a program.")
    ] = 90,
) -> None:
    """Make a token. It is printed once and kept nowhere. Your own needs your password.

    Example: `sealpacket token add "nightly report" --may read --days 30`
    """
    from sealpacket.client import make_token

    with session.client() as client:
        if account:
            made = client.tokens.add(account, purpose, may, days=days)
        else:
            name = client.me().name
            made = make_token(
                client._wire.address,
                name,
                session.typed("Password"),
                purpose,
                rights=may,
                days=days,
            )
    show.line(made.token)
    show.line(f"It may {', '.join(made.rights)}, and ends on {show.moment(made.expires_at)}.")


@token_app.command("revoke")
def revoke_token(
    ident: Annotated[str, typer.Argument(help="Token id, or its beginning.")],
) -> None:
    """End a token at once."""
    with session.client() as client:
        client.tokens.revoke(session.whole_id(ident, client.tokens.list(), "token"))
    show.line("The token is revoked.")


@passkey_app.command("list")
def list_passkeys(json: show.Json = False) -> None:
    """List your passkeys with their last use."""
    with session.client() as client:
        found = client.passkeys.list()
    if json:
        show.as_json(found)
        return
    show.table(
        ("Passkey", "Added", "Used last", "Id"),
        (
            (one.name, show.moment(one.created_at), show.moment(one.seen_at) or "never", one.id)
            for one in found
        ),
        nothing="No passkeys.",
    )


@passkey_app.command("remove")
def remove_passkey(
    ident: Annotated[str, typer.Argument(help="Passkey id, its beginning, or the name.")],
) -> None:
    """Remove a passkey; it signs in no more."""
    with session.client() as client:
        client.passkeys.remove(session.whole_id(ident, client.passkeys.list(), "passkey"))
    show.line("The passkey is removed.")
