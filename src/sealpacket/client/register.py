"""The register through the client: the same verbs for each kind of record."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from datetime import date
from typing import TYPE_CHECKING, Any, Generic, TypeVar, Unpack

from pydantic import BaseModel

from sealpacket.client import models
from sealpacket.client.wire import Wire, part

if TYPE_CHECKING:
    from sealpacket.client.fields import (
        AssetChanges,
        AssetFields,
        ContractChanges,
        ContractFields,
        EntitlementChanges,
        EntitlementFields,
        LoginChanges,
        LoginFields,
        PersonChanges,
        PersonFields,
        ProductChanges,
        ProductFields,
        RenewFields,
        SiteChanges,
        SiteFields,
        VendorChanges,
        VendorFields,
    )

R = TypeVar("R", bound=BaseModel)
Plain = dict[str, Any]


class Records(Generic[R]):
    """One kind of record. A `handle` is an id, or what people call it: key, serial, number, part number, name."""

    def __init__(self, wire: Wire, path: str, kind: type[R]) -> None:
        self._wire, self._path, self._kind = wire, path, kind

    def add_record(self, fields: Mapping[str, Any], *, key_once: str | None = None) -> R:
        """Add a record. With `key_once` a repetition of the call adds nothing."""
        return self._wire.call(self._kind, "POST", self._path, json=fields, key=key_once)

    def get(self, handle: str) -> R:
        """One record."""
        return self._wire.call(self._kind, "GET", f"{self._path}/{part(handle)}")

    def change_record(self, handle: str, version: int, changes: Mapping[str, Any]) -> R:
        """Change fields of the record that was read at `version`. Raises Refused (code stale) if it has moved on."""
        return self._wire.call(
            self._kind, "PATCH", f"{self._path}/{part(handle)}", json=changes, version=version
        )

    def history(self, handle: str) -> models.History:
        """All versions of a record, the newest first, each with what it changed."""
        return self._wire.call(models.History, "GET", f"{self._path}/{part(handle)}/history")

    def preview_merge(self, handle: str, other: str) -> Plain:
        """Preview merging another record into this one."""
        found: Plain = self._wire.send(
            "GET", f"{self._path}/{part(handle)}/merge", params={"other": other}
        ).json()
        return found

    def merge(self, handle: str, version: int, *, other: str) -> R:
        """Merge another record into this one: it takes over what this one lacks, and all that belongs to it."""
        return self._act("merge", handle, version, {"other": other})

    def _act(self, verb: str, handle: str, version: int, body: Mapping[str, Any]) -> R:
        given = {name: value for name, value in body.items() if value is not None}
        path = f"{self._path}/{part(handle)}/{verb}"
        return self._wire.call(self._kind, "POST", path, json=given, version=version)

    def list(
        self,
        query: str = "",
        *,
        vendor: str = "",
        site: str = "",
        status: str = "",
        sort: str = "",
        most: int | None = None,
    ) -> Iterator[R]:
        """All records that hold every word of `query`, page after page as they are needed.

        `site` and `status` narrow a list of assets.
        """
        cursor, given = "", 0
        while True:
            size = min(200, most - given) if most is not None else 200
            parameters = {
                "q": query,
                "vendor": vendor,
                "sort": sort,
                "site": site,
                "status": status,
                "limit": size,
                "cursor": cursor,
            }
            page = self._wire.send("GET", self._path, params=parameters).json()
            for item in page["items"]:
                yield self._kind.model_validate(item)
            given += len(page["items"])
            cursor = page["next"] or ""
            if not cursor or (most is not None and given >= most):
                return


class Vendors(Records[models.VendorShown]):
    """Vendors."""

    def add(
        self, *, key_once: str | None = None, **fields: Unpack[VendorFields]
    ) -> models.VendorShown:
        """Add a vendor. With `key_once` a repetition of the call adds nothing."""
        return self.add_record(fields, key_once=key_once)

    def change(
        self, handle: str, version: int, **changes: Unpack[VendorChanges]
    ) -> models.VendorShown:
        """Change a vendor that was read at `version`. Raises Refused (code stale) if it has moved on."""
        return self.change_record(handle, version, changes)


class People(Records[models.PersonShown]):
    """People of ours."""

    def add(
        self, *, key_once: str | None = None, **fields: Unpack[PersonFields]
    ) -> models.PersonShown:
        """Add a person. With `key_once` a repetition of the call adds nothing."""
        return self.add_record(fields, key_once=key_once)

    def change(
        self, handle: str, version: int, **changes: Unpack[PersonChanges]
    ) -> models.PersonShown:
        """Change a person that was read at `version`. Raises Refused (code stale) if it has moved on."""
        return self.change_record(handle, version, changes)


class Sites(Records[models.SiteShown]):
    """Sites."""

    def add(self, *, key_once: str | None = None, **fields: Unpack[SiteFields]) -> models.SiteShown:
        """Add a site. With `key_once` a repetition of the call adds nothing."""
        return self.add_record(fields, key_once=key_once)

    def change(self, handle: str, version: int, **changes: Unpack[SiteChanges]) -> models.SiteShown:
        """Change a site that was read at `version`. Raises Refused (code stale) if it has moved on."""
        return self.change_record(handle, version, changes)


class Products(Records[models.ProductShown]):
    """Products of vendors."""

    def add(
        self, *, key_once: str | None = None, **fields: Unpack[ProductFields]
    ) -> models.ProductShown:
        """Add a product. With `key_once` a repetition of the call adds nothing."""
        return self.add_record(fields, key_once=key_once)

    def change(
        self, handle: str, version: int, **changes: Unpack[ProductChanges]
    ) -> models.ProductShown:
        """Change a product that was read at `version`. Raises Refused (code stale) if it has moved on."""
        return self.change_record(handle, version, changes)


class Logins(Records[models.LoginShown]):
    """Logins at vendors' desks."""

    def add(
        self, *, key_once: str | None = None, **fields: Unpack[LoginFields]
    ) -> models.LoginShown:
        """Add a login. With `key_once` a repetition of the call adds nothing."""
        return self.add_record(fields, key_once=key_once)

    def change(
        self, handle: str, version: int, **changes: Unpack[LoginChanges]
    ) -> models.LoginShown:
        """Change a login that was read at `version`. Raises Refused (code stale) if it has moved on."""
        return self.change_record(handle, version, changes)


class Assets(Records[models.AssetShown]):
    """Assets, and where they go."""

    def add(
        self, *, key_once: str | None = None, **fields: Unpack[AssetFields]
    ) -> models.AssetShown:
        """Add an asset. With `key_once` a repetition of the call adds nothing."""
        return self.add_record(fields, key_once=key_once)

    def change(
        self, handle: str, version: int, **changes: Unpack[AssetChanges]
    ) -> models.AssetShown:
        """Change an asset that was read at `version`. Raises Refused (code stale) if it has moved on."""
        return self.change_record(handle, version, changes)

    def context(self, handle: str) -> models.ThingContext:
        """The context of an asset: versions, neighbours, changes, open packets, steps tried."""
        path = f"{self._path}/{part(handle)}/context"
        return self._wire.call(models.ThingContext, "GET", path)

    def move(
        self,
        handle: str,
        version: int,
        *,
        from_on: date,
        site: str | None = None,
        status: str | None = None,
    ) -> models.AssetShown:
        """Move an asset to another site or status from a day on; where it was before stays known."""
        return self._act(
            "move",
            handle,
            version,
            {"from_on": from_on.isoformat(), "site": site, "status": status},
        )

    def transfer(
        self, handle: str, version: int, *, from_on: date, out_of: str, into: str
    ) -> models.AssetShown:
        """Take an asset off one entitlement and list it on another, from a day on."""
        body = {"from_on": from_on.isoformat(), "out_of": out_of, "into": into}
        return self._act("transfer", handle, version, body)


class Contracts(Records[models.ContractShown]):
    """Contracts, and their next terms."""

    def add(
        self, *, key_once: str | None = None, **fields: Unpack[ContractFields]
    ) -> models.ContractShown:
        """Add a contract. With `key_once` a repetition of the call adds nothing."""
        return self.add_record(fields, key_once=key_once)

    def change(
        self, handle: str, version: int, **changes: Unpack[ContractChanges]
    ) -> models.ContractShown:
        """Change a contract that was read at `version`. Raises Refused (code stale) if it has moved on."""
        return self.change_record(handle, version, changes)

    def whole(self, handle: str) -> models.WholeContract:
        """A contract with its entitlements, assets, logins tied and packets."""
        return self._wire.call(models.WholeContract, "GET", f"/contracts/{part(handle)}/whole")

    def passcode(self, handle: str) -> str:
        """The contract's passcode, in clear; that it was shown is in the custody log."""
        shown = self._wire.call(models.PasscodeList, "POST", f"/contracts/{part(handle)}/passcode")
        return shown.passcodes[0]

    def compare_levels(self, handle: str, *, from_on: date | None = None) -> models.LevelsCompared:
        """The levels of service that a contract offers, with cost until its end and what depends on them."""
        params = {"from_on": from_on.isoformat()} if from_on else {}
        path = f"/contracts/{part(handle)}/levels"
        return self._wire.call(models.LevelsCompared, "GET", path, params=params)

    def compare_renewal(self, handle: str) -> models.RenewalCompared:
        """The present term of a contract beside the one before, and what was used of it."""
        path = f"/contracts/{part(handle)}/renewal"
        return self._wire.call(models.RenewalCompared, "GET", path)

    def decide_renewal(
        self,
        handle: str,
        decision: str,
        *,
        quote_minor: int | None = None,
        currency: str | None = None,
        reason: str = "",
    ) -> models.RenewalCompared:
        """Decide about the end of a contract's term: `renew`, `cancel` or `let_end`; with the quote, in minor units."""
        body = {
            "decision": decision, "quote_minor": quote_minor, "currency": currency, "reason": reason,
        }  # fmt: skip
        path = f"/contracts/{part(handle)}/renewal/decide"
        return self._wire.call(models.RenewalCompared, "POST", path, json=body)

    def ask_renewal(
        self, handle: str, wanted: str, *, key_once: str | None = None
    ) -> models.PacketShown:
        """Note a packet that asks the vendor for a `quote`, or that is the `cancellation` of the contract."""
        path = f"/contracts/{part(handle)}/renewal/ask"
        return self._wire.call(
            models.PacketShown, "POST", path, json={"wanted": wanted}, key=key_once
        )

    def renew(
        self, handle: str, version: int, **fields: Unpack[RenewFields]
    ) -> models.ContractShown:
        """Renew a contract and what ends with it."""
        return self._act("renew", handle, version, fields)


class Entitlements(Records[models.EntitlementShown]):
    """Entitlements, and what they grant from a day on."""

    def add(
        self, *, key_once: str | None = None, **fields: Unpack[EntitlementFields]
    ) -> models.EntitlementShown:
        """Add an entitlement. With `key_once` a repetition of the call adds nothing."""
        return self.add_record(fields, key_once=key_once)

    def change(
        self, handle: str, version: int, **changes: Unpack[EntitlementChanges]
    ) -> models.EntitlementShown:
        """Change an entitlement that was read at `version`. Raises Refused (code stale) if it has moved on."""
        return self.change_record(handle, version, changes)

    def amend(
        self, handle: str, version: int, *, from_on: date, **changes: Unpack[EntitlementChanges]
    ) -> models.EntitlementShown:
        """Change what an entitlement grants from a day on; before it everything stays as it was."""
        return self._act(
            "amend", handle, version, {"from_on": from_on.isoformat(), "changes": changes}
        )

    def unread_hours(self) -> list[models.UnreadHours]:
        """Hours that do not say at which days and times, the most frequent first."""
        return self._wire.call(models.UnreadHoursList, "GET", "/hours").items

    def convert_hours(self, text: str, hours: str) -> models.ConvertedHours:
        """Give all entitlements with a text of hours other ones. Raises Refused for hours that do not say when."""
        return self._wire.call(
            models.ConvertedHours, "POST", "/hours", json={"text": text, "hours": hours}
        )
