"""Open an application context from settings; apart from the web, so that what needs no web does not load it."""

from __future__ import annotations

from sealpacket.app.context import AppContext
from sealpacket.app.queue import Enqueuer, queue_app
from sealpacket.settings import Settings


def bootstrap(settings: Settings) -> AppContext:
    """The context of these settings, with its queue open for new jobs."""
    queue = queue_app(settings.database_url)
    queue.open()
    return AppContext(settings, Enqueuer(queue))
