"""Opening a house from its settings; apart from the web, so that what needs no web does not wait for it."""

from __future__ import annotations

from sealpacket.services.house import House
from sealpacket.services.queue import Enqueuer, queue_app
from sealpacket.settings import Settings


def open_house(settings: Settings) -> House:
    """The house of these settings, with its queue open for putting jobs in."""
    queue = queue_app(settings.database_url)
    queue.open()
    return House(settings, Enqueuer(queue))
