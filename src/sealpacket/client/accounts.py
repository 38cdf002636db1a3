"""Accounts and tokens through the client."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Unpack

from sealpacket.client.models import Accounts as AccountList
from sealpacket.client.models import (
    AccountShown,
    Done,
    Passkeys,
    PasskeyShown,
    ReleaseRules,
    ReleaseRuleShown,
    Token,
    Tokens,
    TokenShown,
)
from sealpacket.client.wire import Wire, part

if TYPE_CHECKING:
    from sealpacket.client.fields import AccountChanges


class Accounts:
    """Who may come in, as what. Everything but `sign_out_everywhere` for oneself needs the role admin."""

    def __init__(self, wire: Wire) -> None:
        self._wire = wire

    def list(self) -> list[AccountShown]:
        """All accounts by name."""
        return self._wire.call(AccountList, "GET", "/accounts").items

    def add(
        self,
        name: str,
        password: str | None,
        roles: Sequence[str],
        *,
        person: str | None = None,
        kind: str = "person",
    ) -> AccountShown:
        """Make an account; `person` by key. A program has no password: give None, then make a token for it.

        Raises Refused (already-there) if there is one of that name.
        """
        body = {
            "name": name,
            "password": password,
            "roles": [*roles],
            "person": person,
            "kind": kind,
        }
        return self._wire.call(AccountShown, "POST", "/accounts", json=body)

    def change(self, name: str, **fields: Unpack[AccountChanges]) -> AccountShown:
        """Change `roles`, `person` or `password`, or `active`. A new password, or False, ends all that is signed in."""
        return self._wire.call(AccountShown, "PATCH", f"/accounts/{part(name)}", json=fields)

    def sign_out_everywhere(self, name: str) -> AccountShown:
        """End all sessions, tokens and calendar addresses of an account."""
        return self._wire.call(AccountShown, "POST", f"/accounts/{part(name)}/sign-out")


class ReleaseRuleList:
    """Rules by which two people release a packet. Changes need the role admin."""

    def __init__(self, wire: Wire) -> None:
        self._wire = wire

    def list(self) -> list[ReleaseRuleShown]:
        """All rules, the oldest first."""
        return self._wire.call(ReleaseRules, "GET", "/release-rules").items

    def add(
        self,
        reason: str,
        *,
        vendor: str | None = None,
        severity: str | None = None,
        kind: str | None = None,
    ) -> ReleaseRuleShown:
        """Add a rule. Packets to which all that is given applies need a second person; with nothing given, all do."""
        body = {"reason": reason, "vendor": vendor, "severity": severity, "kind": kind}
        return self._wire.call(ReleaseRuleShown, "POST", "/release-rules", json=body)

    def remove(self, ident: str) -> None:
        """Remove a rule."""
        self._wire.call(Done, "DELETE", f"/release-rules/{part(ident)}")


class OwnPasskeys:
    """Passkeys of one's own. Only a browser can add one or sign in with it: the console does, page You."""

    def __init__(self, wire: Wire) -> None:
        self._wire = wire

    def list(self) -> list[PasskeyShown]:
        """One's own passkeys, the newest first."""
        return self._wire.call(Passkeys, "GET", "/me/passkeys").items

    def remove(self, ident: str) -> None:
        """Remove a passkey; it signs in no more."""
        self._wire.call(Done, "DELETE", f"/me/passkeys/{part(ident)}")


class OwnTokens:
    """Tokens of client, command line and programs."""

    def __init__(self, wire: Wire) -> None:
        self._wire = wire

    def add(
        self,
        account: str,
        purpose: str,
        rights: Sequence[str] | None = None,
        *,
        days: int = 90,
    ) -> Token:
        """Make a token for a program, as an administrator; it is shown this once. `rights` as in `make_token`.

        People make their own with their password (`make_token`), or in the console.
        """
        body = {"purpose": purpose, "days": days, **({"rights": [*rights]} if rights else {})}
        return self._wire.call(Token, "POST", f"/accounts/{part(account)}/tokens", json=body)

    def list(self, account: str = "") -> list[TokenShown]:
        """Tokens that have not ended, with their last use; of another account as an administrator."""
        return self._wire.call(Tokens, "GET", "/tokens", params={"account": account}).items

    def revoke(self, ident: str) -> None:
        """End a token at once."""
        self._wire.call(Done, "DELETE", f"/tokens/{part(ident)}")
