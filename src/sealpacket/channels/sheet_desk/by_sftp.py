"""A desk of a sheet by SFTP: a server of its own on loopback, in a folder that is gone afterwards."""

from __future__ import annotations

import asyncio
import re
import tempfile
import threading
from pathlib import Path
from typing import Any

import asyncssh

from sealpacket.channels.desk import Desk, Login
from sealpacket.channels.sheet_desk.base import NUMBER, SheetDesk, pattern_of
from sealpacket.core.sheets import BySftp, Sheet, read_reply
from sealpacket.core.sheets.replying import reply_for


class _AnyPassword(asyncssh.SSHServer):
    """Lets in who comes: nothing is behind it, and it listens on loopback only."""

    def password_auth_supported(self) -> bool:
        """By password alone."""
        return True

    def validate_password(self, username: str, password: str) -> bool:
        """Whatever it is."""
        return True


class SftpSheetDesk(SheetDesk):
    """Has the folders of the sheet, and leaves papers as the sheet reads them."""

    def __init__(self, sheet: Sheet) -> None:
        super().__init__(sheet)
        assert isinstance(sheet.send, BySftp)
        self._way, self._papers = sheet.send, 0

    def login(self) -> Login:
        """See SheetDesk."""
        known = str(self._folder / "known_hosts")
        return Login("trial", "trial", 10, known_hosts=known)

    def _start(self) -> None:
        self._temporary = tempfile.TemporaryDirectory(prefix="sealpacket-trial-")
        self._folder = Path(self._temporary.name)
        self._files = self._folder / "files"
        for name in (self._way.drop, self._way.pick_up):
            (self._files / name).mkdir(parents=True, exist_ok=True)
        self._loop = asyncio.new_event_loop()
        threading.Thread(target=self._loop.run_forever, daemon=True).start()
        asyncio.run_coroutine_threadsafe(self._listen(), self._loop).result(20)

    async def _listen(self) -> None:
        key = asyncssh.generate_private_key("ssh-ed25519")
        files = str(self._files).encode()
        self._server = await asyncssh.listen(
            "127.0.0.1",
            0,
            server_factory=_AnyPassword,
            server_host_keys=[key],
            sftp_factory=lambda channel: asyncssh.SFTPServer(channel, chroot=files),
        )
        port = self._server.get_port()
        public = key.export_public_key().decode().strip()
        (self._folder / "known_hosts").write_text(f"[127.0.0.1]:{port} {public}\n")
        self.address = f"sftp://127.0.0.1:{port}"

    def _stop(self) -> None:
        async def close() -> None:
            self._server.close()
            await self._server.wait_closed()

        asyncio.run_coroutine_threadsafe(close(), self._loop).result(20)
        self._loop.call_soon_threadsafe(self._loop.stop)
        self._temporary.cleanup()

    def _look(self) -> None:
        """Note what was left: the documents of the case, files beside them, and answers of ours."""
        known = {one.name for one in self.heard}
        answers = re.compile(pattern_of(self._way.answer_name, ".+"))
        for path in sorted((self._files / self._way.drop).iterdir()):
            if path.name in known or path.name.startswith("."):
                continue
            answer = bool(self.count("case")) and answers.fullmatch(path.name)
            self.note(
                "answer" if answer else "case" if path.suffix == ".pdf" else "file",
                path.name,
                path.read_bytes(),
            )

    def listen_to(self, way: Desk) -> Any:
        """Leave a paper that says how the case is, and pick it up as the worker would."""
        self._look()
        self._papers += 1
        name = f"{NUMBER}-{self._papers:04d}.txt"
        (self._files / self._way.pick_up / name).write_bytes(reply_for(self.sheet, self.saying))
        papers = way.papers(lambda known: known != name)
        return read_reply(self.sheet, papers[-1].content) if papers else None
