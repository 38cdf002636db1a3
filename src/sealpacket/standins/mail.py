"""A mail server that keeps what it is given: every message becomes a file, and nothing goes further."""

from __future__ import annotations

import argparse
import asyncio
from itertools import count
from pathlib import Path

from aiosmtpd.controller import Controller
from aiosmtpd.smtp import SMTP, Envelope, Session

LARGEST = 50_000_000


class Keeper:
    """Takes every message for everybody, in the order of coming."""

    def __init__(self, folder: Path) -> None:
        folder.mkdir(parents=True, exist_ok=True)
        self.folder = folder
        self._numbers = count(len(list(folder.glob("*.eml"))) + 1)

    async def handle_DATA(self, server: SMTP, session: Session, envelope: Envelope) -> str:  # noqa: N802 - its interface
        path = self.folder / f"{next(self._numbers):05d}.eml"
        part = path.with_suffix(".part")
        part.write_bytes(envelope.original_content or b"")
        part.rename(path)
        return "250 Message kept"


def main() -> None:
    """`python -m sealpacket.standins.mail --port PORT --folder FOLDER`."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--port", type=int, required=True)
    parser.add_argument("--folder", type=Path, required=True)
    arguments = parser.parse_args()
    controller = Controller(
        Keeper(arguments.folder), hostname="127.0.0.1", port=arguments.port, data_size_limit=LARGEST
    )
    controller.start()
    try:
        asyncio.new_event_loop().run_forever()
    finally:
        controller.stop()


if __name__ == "__main__":
    main()
