"""What is agreed besides cover through the client: limits, levels, lots of units, prices, licences, releases."""

from __future__ import annotations

from typing import TYPE_CHECKING, Unpack

from sealpacket.client import models
from sealpacket.client.register import Records

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

    def add(
        self, *, key_once: str | None = None, **fields: Unpack[LotFields]
    ) -> models.LotShown:
        """Add a lot. With `key_once` a repetition of the call adds nothing."""
        return self.add_record(fields, key_once=key_once)

    def change(
        self, handle: str, version: int, **changes: Unpack[LotChanges]
    ) -> models.LotShown:
        """Change a lot that was read at `version`. Raises Refused (code stale) if it has moved on."""
        return self.change_record(handle, version, changes)


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
