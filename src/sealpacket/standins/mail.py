"""The house's mail server, simulated: every message becomes a file; what is for a vendor that plays along goes on."""

from __future__ import annotations

import argparse
import asyncio
import smtplib
from itertools import count
from pathlib import Path

from aiosmtpd.controller import Controller
from aiosmtpd.smtp import SMTP, Envelope, Session

LARGEST = 50_000_000


class Keeper:
    """Takes every message for everybody, in the order of coming. `routes` are mail servers by domain."""

    def __init__(self, folder: Path, routes: dict[str, tuple[str, int]]) -> None:
        folder.mkdir(parents=True, exist_ok=True)
        self.folder, self._routes = folder, routes
        self._numbers = count(len(list(folder.glob("*.eml"))) + 1)

    async def handle_DATA(self, server: SMTP, session: Session, envelope: Envelope) -> str:  # noqa: N802 - its interface
        content = envelope.original_content or b""
        try:
            for to in envelope.rcpt_tos:
                route = self._routes.get(to.rpartition("@")[2].lower())
                if route:
                    await asyncio.to_thread(_pass_on, route, envelope.mail_from or "", to, content)
        except (OSError, smtplib.SMTPException):
            return "451 The next server does not take it, try again"
        path = self.folder / f"{next(self._numbers):05d}.eml"
        part = path.with_suffix(".part")
        part.write_bytes(content)
        part.rename(path)
        return "250 Message kept"


def _pass_on(route: tuple[str, int], sender: str, to: str, content: bytes) -> None:
    with smtplib.SMTP(*route, timeout=10) as connection:
        connection.sendmail(sender, [to], content)


def main() -> None:
    """`python -m sealpacket.standins.mail --port PORT --folder FOLDER`."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--port", type=int, required=True)
    parser.add_argument("--folder", type=Path, required=True)
    parser.add_argument(
        "--route", action="append", default=[], help="domain=host:port; may be repeated."
    )
    arguments = parser.parse_args()
    routes = {}
    for route in arguments.route:
        domain, _, server = route.partition("=")
        routes[domain] = (server.partition(":")[0], int(server.partition(":")[2]))
    controller = Controller(
        Keeper(arguments.folder, routes),
        hostname="127.0.0.1",
        port=arguments.port,
        data_size_limit=LARGEST,
    )
    controller.start()
    try:
        asyncio.new_event_loop().run_forever()
    finally:
        controller.stop()


if __name__ == "__main__":
    main()
