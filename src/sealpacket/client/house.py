"""The front door of the client library."""

from __future__ import annotations

from datetime import date
from types import TracebackType
from typing import Any

from sealpacket.client import models
from sealpacket.client.packets import Exhibits, Packets
from sealpacket.client.register import Records
from sealpacket.client.wire import Wire


class SealPacket:
    """The service at `address`, seen through an API token."""

    def __init__(self, address: str, token: str | None = None, *, timeout: float = 60.0) -> None:
        self._wire = wire = Wire(address, token, timeout)
        self.vendors = Records(wire, "/vendors", models.VendorShown)
        self.people = Records(wire, "/people", models.PersonShown)
        self.sites = Records(wire, "/sites", models.SiteShown)
        self.products = Records(wire, "/products", models.ProductShown)
        self.assets = Records(wire, "/assets", models.AssetShown)
        self.contracts = Records(wire, "/contracts", models.ContractShown)
        self.entitlements = Records(wire, "/entitlements", models.EntitlementShown)
        self.logins = Records(wire, "/logins", models.LoginShown)
        self.packets = Packets(wire)
        self.exhibits = Exhibits(wire)

    def __enter__(self) -> SealPacket:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self._wire.close()

    def me(self) -> models.Me:
        """Who is signed in."""
        return self._wire.call(models.Me, "GET", "/me")

    def sign_out(self) -> None:
        """End the token."""
        self._wire.call(models.Done, "POST", "/sign-out")

    def today(self) -> models.Today:
        """What needs us now, before all else."""
        return self._wire.call(models.Today, "GET", "/today")

    def find(self, query: str) -> models.Found:
        """Assets and packets by whatever is known of them."""
        return self._wire.call(models.Found, "GET", "/find", params={"q": query})

    def coverage(
        self, asset: str, need: str = "fault", *, day: date | None = None, login: str | None = None
    ) -> models.Ruling:
        """What covers an asset for a need on a day (today), through a login, and why."""
        parameters: dict[str, Any] = {"asset": asset, "need": need}
        if day:
            parameters["day"] = day.isoformat()
        if login:
            parameters["login"] = login
        return self._wire.call(models.Ruling, "GET", "/coverage", params=parameters)

    def desks(self) -> list[models.DeskShown]:
        """All desks."""
        return self._wire.call(models.DeskList, "GET", "/desks").items

    def desk(self, key: str) -> models.DeskWithSheet:
        """One desk with its sheet."""
        return self._wire.call(models.DeskWithSheet, "GET", f"/desks/{key}")

    def put_sheet(self, yaml: str) -> models.DeskShown:
        """Give a desk its sheet; a changed one becomes a new version."""
        return self._wire.call(models.DeskShown, "POST", "/desks", json={"yaml": yaml})

    def custody(self, subject: str = "", *, limit: int = 50) -> list[models.CustodyEntryShown]:
        """The custody log, newest first."""
        parameters: dict[str, Any] = {"subject": subject, "limit": limit}
        return self._wire.call(models.CustodyPage, "GET", "/custody", params=parameters).items

    def verify_custody(self) -> models.Chain:
        """Verify the whole custody log."""
        return self._wire.call(models.Chain, "GET", "/custody/chain")

    def seal_key(self) -> models.SealKeyShown:
        """The public seal key, for verifying bags."""
        return self._wire.call(models.SealKeyShown, "GET", "/seal-key")

    def health(self) -> models.Health:
        """Whether the service can work."""
        return self._wire.call(models.Health, "GET", "/health")


def make_token(address: str, name: str, password: str, purpose: str) -> models.Token:
    """Sign in once for a token. Raises Refused (code wrong-sign-in) if name or password is wrong."""
    body = {"name": name, "password": password, "purpose": purpose}
    return Wire(address, None, 30.0).call(models.Token, "POST", "/tokens", json=body)
