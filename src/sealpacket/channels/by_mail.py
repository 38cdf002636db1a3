"""A desk by mail: the case as a mail to the desk's address; what it answers comes to the house's mail gate."""

from __future__ import annotations

import re
from typing import Any
from urllib.parse import unquote, urlsplit

from sealpacket.channels.desk import Desk, DeskAway, Login, Parcel, Update
from sealpacket.channels.mail import compose, send
from sealpacket.core.errors import Unavailable
from sealpacket.core.sheets import ByMail, Sheet, write_case

_ADDRESS = re.compile(r"[^@\s<>,;]+@[^@\s<>,;]+")


class MailDesk(Desk):
    """Case and answers go out by SMTP; the same packet always has the same Message-ID."""

    def __init__(self, sheet: Sheet, way: ByMail, address: str, login: Login) -> None:
        super().__init__(sheet)
        parts = urlsplit(address)
        self._to = unquote(parts.path)
        if parts.scheme != "mailto" or not _ADDRESS.fullmatch(self._to):
            raise DeskAway(
                f"The address configured for {sheet.name} is not one of mail (mailto:…)."
            )
        if not login.mail_server or not login.mail_from:
            raise DeskAway("No mail server or no address for the desks' answers is configured.")
        self._way, self._login = way, login

    def lodge(self, parcel: Parcel) -> Any:
        """See Desk.lodge. The reference comes with the desk's first mail."""
        written = write_case(self.sheet, parcel.case)
        files = [(file.name, file.whole()) for file in parcel.files]
        text = written.documents["case.txt"].decode()
        self._post(written.subject, text, parcel.key, "", files)
        return None

    def tell(self, update: Update) -> None:
        """Send the update by mail; see Desk.tell."""
        opening = self._way.answer_opening.replace("{reference}", update.reference)
        text = self.words(update)
        words = f"{opening}\n\n{text}\n" if opening else f"{text}\n"
        files = [(file.name, file.whole()) for file in update.files]
        self._post(f"Re: {update.reference}", words, update.ident, update.number, files)

    def _post(
        self, subject: str, text: str, key: str, about: str, files: list[tuple[str, bytes]]
    ) -> None:
        """Send a mail; `key` and `about` are those of itself and of the mail that it goes on from."""
        back = self._login.mail_from
        message = compose(
            self._login.name or back,
            self._to,
            subject,
            text,
            message_id=self._login.message_id(key),
            reply_to=back,
            about=self._login.message_id(about) if about else "",
            files=files,
        )
        try:
            send(self._login.mail_server, message, bounces_to=back)
        except Unavailable as problem:
            raise DeskAway(problem.detail) from problem
