"""Notices through the client."""

from __future__ import annotations

import builtins
from collections.abc import Iterator, Mapping, Sequence

from sealpacket.client.models import (
    NewFeed,
    NewNoticeWebhook,
    News,
    NoticePage,
    NoticeSettingsShown,
    NoticeShown,
    VendorHealth,
)
from sealpacket.client.wire import Wire


class NoticeList:
    """Your notices, and how you are notified."""

    def __init__(self, wire: Wire) -> None:
        self._wire = wire

    def page(self, *, unread: bool = False, limit: int = 50, cursor: str = "") -> NoticePage:
        """A page of your notices, the newest first; with `unread`, without those that were read."""
        query = {"unread": unread, "limit": limit, "cursor": cursor}
        return self._wire.call(NoticePage, "GET", "/notices", params=query)

    def list(self, *, unread: bool = False) -> builtins.list[NoticeShown]:
        """All your notices, the newest first."""
        return list(self._all(unread))

    def _all(self, unread: bool) -> Iterator[NoticeShown]:
        cursor: str | None = ""
        while cursor is not None:
            page = self.page(unread=unread, limit=200, cursor=cursor)
            yield from page.items
            cursor = page.next

    def mark(
        self, ids: Sequence[int] = (), *, everything: bool = False, read: bool = True
    ) -> NoticePage:
        """Mark notices as read, or as not read; all of them with `everything`."""
        body = {"ids": list(ids), "everything": everything, "read": read}
        return self._wire.call(NoticePage, "POST", "/notices/read", json=body)

    def settings(self) -> NoticeSettingsShown:
        """How you are notified."""
        return self._wire.call(NoticeSettingsShown, "GET", "/notices/settings")

    def choose(
        self,
        choices: Mapping[str, tuple[str, Sequence[str]]] | None = None,
        *,
        sites: Sequence[str] | None = None,
        vendors: Sequence[str] | None = None,
        digest_by: str | None = None,
        digest_hour: int | None = None,
    ) -> NoticeSettingsShown:
        """Choose how you are notified; what is not given stays.

        `choices` has for a kind of notice its scope (none, mine, all) and ways (console, mail, digest, webhook, feed),
        such as `{"replied": ("mine", ["console", "mail"])}`.
        """
        body = {
            "choices": [
                {"kind": kind, "scope": scope, "ways": list(ways)}
                for kind, (scope, ways) in (choices or {}).items()
            ],
            "sites": None if sites is None else list(sites),
            "vendors": None if vendors is None else list(vendors),
            "digest_by": digest_by,
            "digest_hour": digest_hour,
        }
        return self._wire.call(NoticeSettingsShown, "PUT", "/notices/settings", json=body)

    def new_feed(self) -> str:
        """A new private address of a feed in Atom; an older one ends."""
        return self._wire.call(NewFeed, "POST", "/notices/feed").address

    def end_feed(self) -> NoticeSettingsShown:
        """End the private address of the feed."""
        return self._wire.call(NoticeSettingsShown, "DELETE", "/notices/feed")

    def set_webhook(self, address: str) -> NewNoticeWebhook:
        """Have your notices posted to an address. `secret`, which checks signatures, is shown this once."""
        return self._wire.call(
            NewNoticeWebhook, "PUT", "/notices/webhook", json={"address": address}
        )

    def end_webhook(self) -> NoticeSettingsShown:
        """Have your notices posted no more."""
        return self._wire.call(NoticeSettingsShown, "DELETE", "/notices/webhook")

    def news(self, vendor: str = "") -> News:
        """Vendors' news about products that you have, the newest first, and the feeds that they come from."""
        return self._wire.call(News, "GET", "/news", params={"vendor": vendor})

    def vendor_health(
        self, *, vendor: str = "", asset: str = "", packet: str = "", over: bool = False
    ) -> VendorHealth:
        """Trouble and maintenance that vendors report.

        With `asset`, reports that may concern it; with `packet`, those that may explain it.
        """
        given = {"vendor": vendor, "asset": asset, "packet": packet}
        params = {name: value for name, value in given.items() if value} | {"over": over}
        return self._wire.call(VendorHealth, "GET", "/vendor-health", params=params)
