"""Commands and files of a device over SSH and SFTP (RFC 4253). Host keys have to be known."""

from __future__ import annotations

import asyncio
from collections.abc import Awaitable, Callable
from datetime import UTC, datetime
from pathlib import Path
from typing import Any, TypeVar

import asyncssh

from sealpacket.collecting.access import Access, StepFailed, too_late
from sealpacket.collecting.local import MOST_FILES, unused
from sealpacket.core.evidence.kits import Step

Found = TypeVar("Found")
_BLOCK = 1 << 16
_CONNECT = 20


def run(step: Step, access: Access, file: Path) -> tuple[int, bool]:
    """Have the device run a command, and keep what it says; gives its result code, and whether the limit cut it."""

    async def act(connection: asyncssh.SSHClientConnection) -> tuple[int, bool]:
        async with connection.create_process(
            step.ssh, encoding=None, stderr=asyncssh.STDOUT, stdin=asyncssh.DEVNULL
        ) as process:
            kept = 0
            with file.open("wb") as written:
                while block := await process.stdout.read(_BLOCK):
                    written.write(block[: step.size - kept])
                    kept += len(block)
                    if kept > step.size:
                        process.kill()
                        return 0, True
            await process.wait_closed()
            return process.exit_status if process.exit_status is not None else 0, False

    return _with(step, access, act)


def take_files(
    step: Step, access: Access, folder: Path
) -> tuple[list[Path], datetime | None, bool]:
    """Copy files of the device; gives the copies, when the newest was written, and whether the limit cut them."""

    async def act(
        connection: asyncssh.SSHClientConnection,
    ) -> tuple[list[Path], datetime | None, bool]:
        async with connection.start_sftp_client() as sftp:
            copies: list[Path] = []
            newest: datetime | None = None
            room, cut = step.size, False
            names = [name for pattern in step.sftp for name in await _matching(sftp, pattern)]
            for name in names[:MOST_FILES]:
                attributes = await sftp.lstat(name)
                if attributes.type != asyncssh.FILEXFER_TYPE_REGULAR:
                    continue
                copy = unused(folder, name.rsplit("/", 1)[-1])
                size = await _copy(sftp, name, copy, room)
                room -= size
                cut = cut or size < (attributes.size or 0)
                copies.append(copy)
                if attributes.mtime:
                    at = datetime.fromtimestamp(attributes.mtime, UTC)
                    newest = max(newest or at, at)
                if room <= 0:
                    break
            return copies, newest, cut or len(names) > MOST_FILES

    return _with(step, access, act)


async def _matching(sftp: asyncssh.SFTPClient, pattern: str) -> list[str]:
    try:
        return [str(name) for name in sorted(await sftp.glob(pattern))]
    except asyncssh.SFTPNoSuchFile:
        return []


async def _copy(sftp: asyncssh.SFTPClient, name: str, copy: Path, room: int) -> int:
    size = 0
    async with sftp.open(name, "rb") as source:
        with copy.open("wb") as written:
            while size < room and (block := await source.read(min(_BLOCK, room - size))):
                written.write(block if isinstance(block, bytes) else block.encode())
                size += len(block)
    return size


def _with(
    step: Step,
    access: Access,
    act: Callable[[asyncssh.SSHClientConnection], Awaitable[Found]],
) -> Found:
    """Connect, act, and close, all within the step's time. Raises StepFailed."""
    if access.known_hosts is None or not access.known_hosts.exists():
        raise StepFailed("no known host keys are given, and no device is trusted unseen")

    async def whole() -> Found:
        async with asyncssh.connect(
            access.target, access.port, config=None, agent_path=None, known_hosts=str(access.known_hosts),
            username=access.user or (), connect_timeout=_CONNECT, login_timeout=_CONNECT, **_signed(step, access),
        ) as connection:  # fmt: skip
            return await act(connection)

    seconds = step.time.total_seconds()
    try:
        return asyncio.run(asyncio.wait_for(whole(), seconds))
    except TimeoutError:
        raise too_late(step) from None
    except asyncssh.HostKeyNotVerifiable:
        raise StepFailed(f"the host key of {access.target} is not the one that is known") from None
    except asyncssh.PermissionDenied:
        raise StepFailed(f"{access.target} does not let {access.user or 'us'} in") from None
    except asyncssh.SFTPPermissionDenied as error:
        raise StepFailed(f"{access.target} does not let it be read: {error.reason}") from None
    except (OSError, asyncssh.Error) as error:
        said = str(error) or type(error).__name__
        raise StepFailed(f"{access.target} could not be asked: {said[:160]}") from None


def _signed(step: Step, access: Access) -> dict[str, Any]:
    """The secret as a password or as a private key; nothing of this machine's is tried."""
    secret = access.secrets.get(step.secret, "") if step.secret else ""
    if "PRIVATE KEY" in secret:
        try:
            return {"client_keys": [asyncssh.import_private_key(secret)], "password": None}
        except asyncssh.KeyImportError:
            raise StepFailed(
                f"the secret {step.secret} is a private key that cannot be read"
            ) from None
    return {"client_keys": None, "password": secret or None}
