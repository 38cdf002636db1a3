"""A desk that behaves as a sheet says, on this machine only: to try a sheet before its vendor was ever written to."""

from __future__ import annotations

from sealpacket.channels.sheet_desk.base import Heard, SheetDesk
from sealpacket.core.sheets import ByMail, BySftp, Sheet


def desk_of_sheet(sheet: Sheet) -> SheetDesk:
    """The desk of a sheet, listening on loopback once it is entered."""
    match sheet.send:
        case ByMail():
            from sealpacket.channels.sheet_desk.by_mail import MailSheetDesk

            return MailSheetDesk(sheet)
        case BySftp():
            from sealpacket.channels.sheet_desk.by_sftp import SftpSheetDesk

            return SftpSheetDesk(sheet)
        case _:
            from sealpacket.channels.sheet_desk.by_http import HttpSheetDesk

            return HttpSheetDesk(sheet)


__all__ = ["Heard", "SheetDesk", "desk_of_sheet"]
