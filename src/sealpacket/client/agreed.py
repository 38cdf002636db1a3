"""Limits, levels, lots of prepaid units, prices, licences and versions through the client."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from typing import TYPE_CHECKING, Any, Unpack

from sealpacket.client import models
from sealpacket.client.register import Records
from sealpacket.client.wire import part

if TYPE_CHECKING:
    from sealpacket.client.fields import (
        LevelChanges,
        LevelFields,
        LicenceChanges,
        LicenceFields,
        LimitChanges,
        LimitFields,
        LotChanges,
        LotFields,
        PriceChanges,
        PriceFields,
        ReleaseChanges,
        ReleaseFields,
    )


class Limits(Records[models.LimitShown]):
    """Limits of vendors."""

    def add(
        self, *, key_once: str | None = None, **fields: Unpack[LimitFields]
    ) -> models.LimitShown:
        """Add a limit. With `key_once` a repetition of the call adds nothing."""
        return self.add_record(fields, key_once=key_once)

    def change(
        self, handle: str, version: int, **changes: Unpack[LimitChanges]
    ) -> models.LimitShown:
        """Change a limit that was read at `version`. Raises Refused (code stale) if it has moved on."""
        return self.change_record(handle, version, changes)

    def plan_capacity(
        self, vendor: str, text: str, *, headroom: int = 0, regions: Sequence[str] = ()
    ) -> models.CapacityPlan:
        """Compare a plan, or a message of a failed start, with the limits of a vendor. `headroom` in percent."""
        body = {"vendor": vendor, "text": text, "headroom": headroom, "regions": list(regions)}
        return self._wire.call(models.CapacityPlan, "POST", "/capacity/plan", json=body)

    def ask_capacity(
        self,
        asset: str,
        wanted: Sequence[Mapping[str, Any]],
        *,
        purpose: str,
        title: str = "",
        by: date | None = None,
        key_once: str | None = None,
    ) -> models.PacketShown:
        """Note a packet that asks for limits: `wanted` are mappings of region, resource and wanted."""
        body = {
            "asset": asset,
            "wanted": list(wanted),
            "purpose": purpose,
            "title": title,
            "by": by.isoformat() if by else None,
        }
        return self._wire.call(models.PacketShown, "POST", "/capacity/ask", json=body, key=key_once)

    def limit_requests(self, handle: str) -> list[models.LimitRequestShown]:
        """Requests for a limit and their outcomes, the newest first."""
        path = f"{self._path}/{part(handle)}/requests"
        return self._wire.call(models.LimitRequests, "GET", path).items


class Levels(Records[models.LevelShown]):
    """Levels of service that contracts offer."""

    def add(
        self, *, key_once: str | None = None, **fields: Unpack[LevelFields]
    ) -> models.LevelShown:
        """Add a level. With `key_once` a repetition of the call adds nothing."""
        return self.add_record(fields, key_once=key_once)

    def change(
        self, handle: str, version: int, **changes: Unpack[LevelChanges]
    ) -> models.LevelShown:
        """Change a level that was read at `version`. Raises Refused (code stale) if it has moved on."""
        return self.change_record(handle, version, changes)


class Lots(Records[models.LotShown]):
    """Lots of prepaid units."""

    def add(self, *, key_once: str | None = None, **fields: Unpack[LotFields]) -> models.LotShown:
        """Add a lot. With `key_once` a repetition of the call adds nothing."""
        return self.add_record(fields, key_once=key_once)

    def change(self, handle: str, version: int, **changes: Unpack[LotChanges]) -> models.LotShown:
        """Change a lot that was read at `version`. Raises Refused (code stale) if it has moved on."""
        return self.change_record(handle, version, changes)

    def unit_balance(self, *, vendor: str = "", contract: str = "") -> models.UnitBalance:
        """The balance of prepaid units: bought, used, held, left, and the forecast of what will lapse."""
        params = {"vendor": vendor, "contract": contract}
        return self._wire.call(models.UnitBalance, "GET", "/units/balance", params=params)

    def unit_cost(
        self,
        vendor: str,
        item: str,
        *,
        quantity: int = 1,
        on: date | None = None,
        contract: str = "",
        country: str = "",
    ) -> models.UnitCost:
        """The cost of an item of the price list in units, and the lots that it would take them of."""
        params: dict[str, Any] = {"vendor": vendor, "item": item, "quantity": quantity}
        params |= {"contract": contract, "country": country}
        params |= {"on": on.isoformat()} if on else {}
        return self._wire.call(models.UnitCost, "GET", "/units/cost", params=params)

    def lot_entries(self, handle: str) -> list[models.UnitEntryShown]:
        """Units of a lot that were held, used and freed, the newest first."""
        path = f"{self._path}/{part(handle)}/entries"
        return self._wire.call(models.UnitEntries, "GET", path).items

    def use_units(
        self, handle: str, units: int, text: str, *, key_once: str | None = None
    ) -> models.LotShown:
        """Enter units that were used without a packet. Raises Refused if the lot has fewer."""
        path = f"{self._path}/{part(handle)}/use"
        body = {"units": units, "text": text}
        return self._wire.call(models.LotShown, "POST", path, json=body, key=key_once)

    def compare_statement(
        self, vendor: str, used: Mapping[str, int]
    ) -> list[models.StatementDifference]:
        """Compare a vendor's statement, units used by lot, with ours; gives the lots on which both differ."""
        body = {"vendor": vendor, "lines": [{"lot": lot, "used": n} for lot, n in used.items()]}
        return self._wire.call(
            models.StatementDifferences, "POST", "/units/statement", json=body
        ).items


class Prices(Records[models.PriceShown]):
    """Prices of services in units."""

    def add(
        self, *, key_once: str | None = None, **fields: Unpack[PriceFields]
    ) -> models.PriceShown:
        """Add a price. With `key_once` a repetition of the call adds nothing."""
        return self.add_record(fields, key_once=key_once)

    def change(
        self, handle: str, version: int, **changes: Unpack[PriceChanges]
    ) -> models.PriceShown:
        """Change a price that was read at `version`. Raises Refused (code stale) if it has moved on."""
        return self.change_record(handle, version, changes)


class Licences(Records[models.LicenceShown]):
    """Licences, feature keys and certificates."""

    def add(
        self, *, key_once: str | None = None, **fields: Unpack[LicenceFields]
    ) -> models.LicenceShown:
        """Add a licence. With `key_once` a repetition of the call adds nothing."""
        return self.add_record(fields, key_once=key_once)

    def change(
        self, handle: str, version: int, **changes: Unpack[LicenceChanges]
    ) -> models.LicenceShown:
        """Change a licence that was read at `version`. Raises Refused (code stale) if it has moved on."""
        return self.change_record(handle, version, changes)

    def licence_key(self, handle: str) -> str:
        """The key of a licence, in clear; the custody log keeps that it was shown."""
        path = f"{self._path}/{part(handle)}/key"
        return self._wire.call(models.LicenceKey, "POST", path).key


class Releases(Records[models.ReleaseShown]):
    """Versions of products."""

    def add(
        self, *, key_once: str | None = None, **fields: Unpack[ReleaseFields]
    ) -> models.ReleaseShown:
        """Add a release. With `key_once` a repetition of the call adds nothing."""
        return self.add_record(fields, key_once=key_once)

    def change(
        self, handle: str, version: int, **changes: Unpack[ReleaseChanges]
    ) -> models.ReleaseShown:
        """Change a release that was read at `version`. Raises Refused (code stale) if it has moved on."""
        return self.change_record(handle, version, changes)

    def assets_behind(self, *, vendor: str = "", product: str = "") -> list[models.AssetBehind]:
        """Assets that do not run the current version of their product, with what an update mends."""
        params = {"vendor": vendor, "product": product}
        return self._wire.call(models.AssetsBehind, "GET", "/versions/behind", params=params).items
