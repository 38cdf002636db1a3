"""The file with the master keys."""

from __future__ import annotations

import hashlib
import os
from contextlib import suppress
from pathlib import Path

from sealpacket.core.errors import Unavailable
from sealpacket.core.keyring import KeyRing


class KeyFile:
    """Reads the master keys again whenever the file has changed, so that no process needs a restart."""

    def __init__(self, path: Path) -> None:
        self._path = path
        self._seen: tuple[int, int] | None = None
        self._ring = KeyRing(())

    def ring(self) -> KeyRing:
        """The keys as the file has them now. Raises Unavailable with what to do."""
        try:
            found = self._path.stat()
            seen = (found.st_mtime_ns, found.st_ino)
            if seen != self._seen:
                self._ring, self._seen = KeyRing.read(self._path.read_text()), seen
        except OSError as error:
            raise Unavailable(
                f"The key file {self._path} cannot be read.",
                "Restore it, or make one with `sealpacket-service new-keys` for an empty house.",
                code="key-file",
            ) from error
        except ValueError as error:
            raise Unavailable(
                f"The key file {self._path} does not hold keys of 32 bytes in base64.",
                "Restore the right one.",
                code="key-file",
            ) from error
        return self._ring

    def replace(self, ring: KeyRing) -> None:
        """Write other keys, whole or not at all."""
        write_secret(self._path, ring.written())


def write_secret(path: Path, text: str) -> None:
    """Replace a file that only its owner may read, whole or not at all; it stays its owner's, and no part is left.

    Raises Unavailable where it cannot be written as its owner's.
    """
    part = path.with_name(f"{path.name}.part")
    try:
        part.unlink(missing_ok=True)
        descriptor = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
        with os.fdopen(descriptor, "w") as file:
            file.write(text)
            file.flush()
            os.fsync(descriptor)
        if path.exists():
            _keep_owner(part, path.stat())
        part.replace(path)
    except OSError as error:
        with suppress(OSError):
            part.unlink(missing_ok=True)
        raise Unavailable(
            f"{path} cannot be written: {error.strerror}.",
            "Do it as the user that the service runs as, whose file and folder these are.",
            code="key-file",
        ) from error


def _keep_owner(part: Path, there: os.stat_result) -> None:
    """Give a new file the owner of the one that it replaces. Its group may read nothing, so ours will do."""
    if there.st_uid != os.geteuid():
        os.chown(part, there.st_uid, there.st_gid)
    elif there.st_gid != part.stat().st_gid:
        with suppress(PermissionError):
            os.chown(part, -1, there.st_gid)


def derived(master: bytes, name: str) -> bytes:
    """A key of 32 bytes made of a master key, for what the name says."""
    if name == "mail gate":
        return hashlib.sha256(b"mail gate\0" + master).digest()
    return hashlib.blake2b(name.encode(), key=master, digest_size=32).digest()
