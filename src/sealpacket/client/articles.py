"""Articles through the client."""

from __future__ import annotations

from typing import TYPE_CHECKING, Unpack

from sealpacket.client.models import ArticleBrief, Articles, ArticleShown, Done
from sealpacket.client.wire import Wire, part

if TYPE_CHECKING:
    from sealpacket.client.fields import ArticleFields


class ArticleShelf:
    """The house's own articles, in Markdown."""

    def __init__(self, wire: Wire) -> None:
        self._wire = wire

    def list(self) -> list[ArticleBrief]:
        """All of them, the newest first."""
        return self._wire.call(Articles, "GET", "/articles").items

    def get(self, key: str) -> ArticleShown:
        """One of them, with its text."""
        return self._wire.call(ArticleShown, "GET", f"/articles/{part(key)}")

    def put(self, key: str, **fields: Unpack[ArticleFields]) -> ArticleShown:
        """Keep one under its key."""
        return self._wire.call(ArticleShown, "PUT", f"/articles/{part(key)}", json=fields)

    def remove(self, key: str) -> None:
        """Forget one."""
        self._wire.call(Done, "DELETE", f"/articles/{part(key)}")
