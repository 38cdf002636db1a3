"""Mails from outside: brought to their packet, or put into the tray, so that none is lost."""

from __future__ import annotations

from collections.abc import Mapping
from email.utils import parseaddr
from typing import Any

from sealpacket.app.context import AppContext
from sealpacket.core.errors import Invalid, ProblemError, Unavailable
from sealpacket.core.sheets.mails import read_mail
from sealpacket.services.packets.draft.from_outside import is_for_drafts, note_mail
from sealpacket.services.packets.follow import tray
from sealpacket.services.packets.follow.mails import take_mail
from sealpacket.services.packets.lodge.reply_addresses import packet_of


def bring(app: AppContext, number: str, data: bytes, tree: Mapping[str, Any]) -> None:
    """Bring a mail to a packet; one that cannot be about it waits in the tray.

    Raises Unavailable when more comes than a desk writes.
    """
    try:
        take_mail(app, number, data, tree)
    except Unavailable:
        raise
    except ProblemError:
        tray.put(app, data, tree)


def is_ours(app: AppContext, mail: Mapping[str, Any]) -> bool:
    """Whether we have sent it ourselves: it would only go round."""
    sender = parseaddr(str(mail["from"]))[1].lower()
    return (
        sender == parseaddr(app.settings.mail_from)[1].lower() or packet_of(app, sender) is not None
    )


class Post:
    """Takes mails in for the mail gate."""

    def __init__(self, app: AppContext) -> None:
        self._app = app

    def wants(self, address: str) -> bool:
        """An address that we made for a packet, which nobody can guess, or the one that makes drafts."""
        return packet_of(self._app, address) is not None or is_for_drafts(self._app, [address])

    def take(self, address: str, data: bytes) -> None:
        """Take in a mail of the packet's desk; the whole mail is kept, encrypted, beside its message. Or make a draft.

        Raises Unavailable when more comes than a desk writes, so that it comes again later, and Invalid for what is
        not taken.
        """
        if is_for_drafts(self._app, [address]):
            tree = read_mail(data)
            if not is_ours(self._app, tree["mail"]):
                note_mail(self._app, data, tree)
            return
        number = packet_of(self._app, address)
        if number is None:
            raise Invalid("There is no such mailbox.", "Check the address.", code="no-mailbox")
        tree = read_mail(data)
        if not is_ours(self._app, tree["mail"]):
            bring(self._app, number, data, tree)
