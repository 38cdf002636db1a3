"""The bag: a sealed packet as a BagIt 1.0 bag (RFC 8493) in a zip. The same inputs give the same bytes."""

from __future__ import annotations

import hashlib
import zipfile
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import IO, Protocol, cast

from sealpacket.core.errors import Damaged
from sealpacket.core.packet.signing import SealKey

_NO_DATE = (1980, 1, 1, 0, 0, 0)
SIGNATURE = "tagmanifest-sha256.txt.jws"
FOLLOWS = "Follows-Bag"
"""The tag of a later bag that names the bag before it: sha256: and the digest of that one's tag manifest."""


class Sink(Protocol):
    """Where the zip goes; needs no seeking."""

    def write(self, data: bytes, /) -> int: ...

    def flush(self) -> None: ...


@dataclass(frozen=True)
class BagFile:
    """One payload file: its path below data/, and how to read it in blocks. `sha256` is what it must turn out to be."""

    path: str
    blocks: Callable[[], Iterable[bytes]]
    sha256: str | None = None

    @classmethod
    def of(cls, path: str, content: bytes) -> BagFile:
        """A small file from memory."""
        return cls(path, lambda: (content,))


@dataclass(frozen=True)
class SealedBag:
    """The result of sealing: SHA-256 of the tag manifest (hex), payload bytes and files, and the name of the key."""

    tag_manifest: str
    octets: int
    files: int
    key: str


def write_bag(
    sink: Sink, name: str, info: Mapping[str, str], payload: Iterable[BagFile], key: SealKey
) -> SealedBag:
    """Write the bag `name` to `sink` and sign it.

    Raises Damaged if a payload file is not what its sum says: then nothing of the bag may be used.
    """
    sums: dict[str, str] = {}
    octets = 0
    with zipfile.ZipFile(cast(IO[bytes], sink), "w", allowZip64=True) as archive:
        for file in sorted(payload, key=lambda item: item.path):
            path = f"data/{file.path}"
            digest, size = _write(archive, f"{name}/{path}", file.blocks())
            if file.sha256 is not None and digest != file.sha256:
                raise Damaged(
                    f"{file.path} has changed since it was checked.", "Redact it again, then seal."
                )
            sums[path] = digest
            octets += size
        tags = {
            "bagit.txt": "BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n",
            "bag-info.txt": "".join(
                f"{label}: {_one_line(value)}\n"
                for label, value in {**info, "Payload-Oxum": f"{octets}.{len(sums)}"}.items()
            ),
            "manifest-sha256.txt": _manifest(sums),
        }
        tag_sums = {}
        for path, text in tags.items():
            tag_sums[path], _ = _write(archive, f"{name}/{path}", (text.encode(),))
        tag_manifest = _manifest(tag_sums).encode()
        _write(archive, f"{name}/tagmanifest-sha256.txt", (tag_manifest,))
        _write(archive, f"{name}/{SIGNATURE}", (key.sign(tag_manifest),))
    return SealedBag(hashlib.sha256(tag_manifest).hexdigest(), octets, len(sums), key.name)


def _write(archive: zipfile.ZipFile, path: str, blocks: Iterable[bytes]) -> tuple[str, int]:
    entry = zipfile.ZipInfo(path, _NO_DATE)
    entry.compress_type = zipfile.ZIP_DEFLATED
    entry.create_system = 3
    entry.external_attr = 0o644 << 16
    digest, size = hashlib.sha256(), 0
    with archive.open(entry, "w", force_zip64=True) as target:
        for block in blocks:
            digest.update(block)
            size += len(block)
            target.write(block)
    return digest.hexdigest(), size


def _manifest(sums: Mapping[str, str]) -> str:
    return "".join(f"{digest}  {_encoded(path)}\n" for path, digest in sorted(sums.items()))


def _encoded(path: str) -> str:
    """RFC 8493 section 2.1.3: percent, CR and LF are the only characters that are encoded."""
    return path.replace("%", "%25").replace("\r", "%0D").replace("\n", "%0A")


def _one_line(value: str) -> str:
    return " ".join(value.split())
