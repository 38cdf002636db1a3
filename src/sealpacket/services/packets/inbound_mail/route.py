"""Mails from outside: brought to their packet, or put into the tray, so that none is lost."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import structlog

from sealpacket.app.context import AppContext
from sealpacket.core.errors import Invalid, ProblemError, Unavailable
from sealpacket.core.sheets.mails import address_of, read_mail
from sealpacket.services.packets.draft.from_outside import is_for_drafts, note_mail
from sealpacket.services.packets.follow import tray
from sealpacket.services.packets.inbound_mail.take import take_mail
from sealpacket.services.packets.lodge.reply_addresses import packet_of

log = structlog.get_logger()


def bring(
    app: AppContext, number: str, data: bytes, tree: Mapping[str, Any], *, proven: bool
) -> None:
    """Bring a mail to a packet; one that cannot be about it, or breaks what reads it, waits in the tray.

    `proven`: it proves that it answers us. Raises Unavailable when more comes than a desk writes.
    """
    try:
        take_mail(app, number, data, tree, proven=proven)
    except Unavailable:
        raise
    except ProblemError:
        tray.put(app, data, tree)
    except Exception as error:
        log.exception("a mail could not be taken in", error=type(error).__name__)
        tray.put(app, data, tree)


def is_ours(app: AppContext, mail: Mapping[str, Any]) -> bool:
    """Whether we have sent it ourselves: it would only go round."""
    sender = address_of(str(mail["from"]))
    return bool(sender) and (
        sender == address_of(app.settings.mail_from) or packet_of(app, sender) is not None
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

        What cannot be read waits in the tray as it came. Raises Unavailable when more comes than a desk writes, so that
        it comes again later, and Invalid for what is not taken.
        """
        for_drafts = is_for_drafts(self._app, [address])
        number = None if for_drafts else packet_of(self._app, address)
        if number is None and not for_drafts:
            raise Invalid("There is no such mailbox.", "Check the address.", code="no-mailbox")
        try:
            tree = read_mail(data)
        except Invalid:
            if number is None:
                raise
            tray.put_unread(self._app, data)
            return
        if is_ours(self._app, tree["mail"]):
            return
        if number is None:
            note_mail(self._app, data, tree)
        else:
            bring(self._app, number, data, tree, proven=True)
