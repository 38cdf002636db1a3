"""How packets go out and replies come in."""

from sealpacket.channels.desk import (
    Desk,
    DeskAway,
    DeskRefused,
    Login,
    Outgoing,
    Paper,
    Parcel,
    Update,
    as_key,
)
from sealpacket.core.sheets import ByHand, ByMail, BySftp, OverHttp, Sheet


def open_desk(sheet: Sheet, address: str, login: Login) -> Desk:
    """The way to a desk by its sheet's channel. Raises DeskAway if the address is not one for it."""
    match sheet.send:
        case ByMail():
            from sealpacket.channels.by_mail import MailDesk

            return MailDesk(sheet, sheet.send, address, login)
        case BySftp():
            from sealpacket.channels.sftp import SftpDesk

            return SftpDesk(sheet, sheet.send, address, login)
        case ByHand():
            raise DeskAway(f"{sheet.name} is reached by hand: a person enters the packet.")
        case OverHttp():
            from sealpacket.channels.http import open_http

            return open_http(sheet, sheet.send, address, login)


__all__ = [
    "Desk",
    "DeskAway",
    "DeskRefused",
    "Login",
    "Outgoing",
    "Paper",
    "Parcel",
    "Update",
    "as_key",
    "open_desk",
]
