"""A desk's folders by SFTP (SSH, RFC 4253): files are left in one, papers are picked up in another."""

from __future__ import annotations

import asyncio
import posixpath
from collections.abc import Callable, Coroutine, Mapping
from typing import Any, TypeVar
from urllib.parse import urlsplit

import asyncssh

from sealpacket.channels.desk import Desk, DeskAway, DeskRefused, Login, Paper, Parcel, Update
from sealpacket.core.errors import Conflict
from sealpacket.core.sheets import BySftp, Sheet, fill, write_case

MOST_PAPERS = 500
LARGEST_PAPER = 8 << 20
MOST_AT_ONCE = 64 << 20
"""Bytes that are picked up at one look; what is left waits for the next."""
Found = TypeVar("Found")


class SftpDesk(Desk):
    """Every act opens a connection of its own; the server has to be one of the known hosts."""

    def __init__(self, sheet: Sheet, way: BySftp, address: str, login: Login) -> None:
        super().__init__(sheet)
        parts = urlsplit(address)
        if parts.scheme != "sftp" or not parts.hostname:
            raise DeskAway(f"The address configured for {sheet.name} is not one of SFTP.")
        if not login.known_hosts:
            raise DeskAway(
                "No known hosts are configured (SEALPACKET_KNOWN_HOSTS): no server is trusted unseen."
            )
        self._way, self._login = way, login
        self._host, self._port = parts.hostname, parts.port or 22
        self._folder = parts.path.strip("/")

    def lodge(self, parcel: Parcel) -> Any:
        """See Desk.lodge. The last file to come is the case itself: the desk looks for that."""
        written = write_case(self.sheet, parcel.case).documents
        documents = list(written.items())

        async def leave(sftp: asyncssh.SFTPClient) -> None:
            drop = self._path(self._way.drop)
            for file in parcel.files:
                await _put(sftp, drop, file.name, file.blocks(0))
                await asyncio.to_thread(file.arrived)
            for name, content in reversed(documents):
                await _put(sftp, drop, name, iter([content]))

        self._run(leave)
        return None

    def tell(self, update: Update) -> None:
        """Upload the update; see Desk.tell. The text comes last: the desk looks for it."""
        naming = self._way.more_files_name
        if update.files and not naming:
            raise Conflict(
                f"{self.sheet.name} takes no files later.",
                "Send the words alone, or ask the desk how it wants the files.",
                code="no-files",
            )
        reference, text = update.reference, self.words(update)
        braces = {"reference": reference, "packet.number": update.number, "message": update.ident}
        name = _named(self._way.answer_name, {**braces, "count": update.count})

        async def leave(sftp: asyncssh.SFTPClient) -> None:
            drop = self._path(self._way.drop)
            for file in update.files:
                called = _named(naming, {**braces, "name": file.name})
                await _put(sftp, drop, called, file.blocks(0))
            await _put(sftp, drop, name, iter([text.encode()]))

        self._run(leave)

    def papers(self, known: Callable[[str], bool]) -> list[Paper]:
        """See Desk.papers; by name."""

        async def take(sftp: asyncssh.SFTPClient) -> list[Paper]:
            folder, found = self._path(self._way.pick_up), []
            names, together = sorted(str(name) for name in await sftp.listdir(folder)), 0
            for name in [n for n in names if not n.startswith(".") and not known(n)][:MOST_PAPERS]:
                path = posixpath.join(folder, name)
                stat = await sftp.stat(path)
                together += stat.size or 0
                if together > MOST_AT_ONCE:
                    break
                if stat.type != asyncssh.FILEXFER_TYPE_REGULAR or (stat.size or 0) > LARGEST_PAPER:
                    continue
                async with sftp.open(path, "rb") as file:
                    content: Any = await file.read(LARGEST_PAPER)  # bytes, since it was opened so
                together += max(0, len(content) - (stat.size or 0))
                if together > MOST_AT_ONCE:  # the server has said less than it gives
                    break
                found.append(Paper(name, content))
            return found

        return self._run(take)

    def _path(self, folder: str) -> str:
        return posixpath.join(self._folder, folder) if self._folder else folder

    def _run(self, act: Callable[[asyncssh.SFTPClient], Coroutine[Any, Any, Found]]) -> Found:
        async def connected() -> Found:
            async with (
                asyncssh.connect(
                    self._host,
                    self._port,
                    username=self._login.name,
                    password=self._login.secret,
                    known_hosts=self._login.known_hosts,
                    client_keys=None,
                    agent_path=None,
                    config=None,
                ) as connection,
                connection.start_sftp_client() as sftp,
            ):
                return await act(sftp)

        async def in_time() -> Found:
            return await asyncio.wait_for(connected(), self._login.timeout * 10)

        try:
            return asyncio.run(in_time())
        except asyncssh.PermissionDenied as error:
            raise DeskRefused(530, {"kind": "sign_in"}) from error
        except asyncssh.HostKeyNotVerifiable as error:
            raise DeskAway(
                f"{self.sheet.name} shows a host key that is not among the known hosts."
            ) from error
        except (asyncssh.SFTPNoSuchFile, asyncssh.SFTPPermissionDenied) as error:
            raise DeskRefused(550, {"kind": "folder"}) from error
        except (OSError, TimeoutError, asyncssh.Error) as error:
            raise DeskAway(f"{self.sheet.name} cannot be reached.") from error


def _named(template: str, braces: Mapping[str, Any]) -> str:
    """A file's name; a reference with slashes in it makes no folders."""
    return fill(template, braces).replace("/", "-")


async def _put(sftp: asyncssh.SFTPClient, folder: str, name: str, blocks: Any) -> None:
    """Write under another name first, so that the desk never reads half a file."""
    path = posixpath.join(folder, name)
    part = posixpath.join(folder, f".{name}.part")
    async with sftp.open(part, "wb") as file:
        for block in blocks:
            await file.write(block)
    if await sftp.exists(path):
        await sftp.remove(path)
    await sftp.rename(part, path)
