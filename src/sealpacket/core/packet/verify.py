"""Verifying a sealed bag, offline, with nothing but the public key."""

from __future__ import annotations

import hashlib
import re
import zipfile
from collections.abc import Sequence
from dataclasses import dataclass, field
from pathlib import Path

from sealpacket.core.errors import Damaged
from sealpacket.core.packet.bag import FOLLOWS, SIGNATURE
from sealpacket.core.packet.signing import SealKeys, name_in

MOST_FILES = 10_000
MOST_OCTETS = 64 << 30
_LARGEST_TAG = 64 << 20
_LINE = re.compile(r"([0-9a-f]{64}) [ *](.+)")


@dataclass
class Verdict:
    """The result of verifying. `faults` is empty if the bag is complete and the seal is the key's."""

    name: str
    files: int = 0
    octets: int = 0
    key: str = ""
    info: dict[str, str] = field(default_factory=dict)
    faults: list[str] = field(default_factory=list)
    digest: str = ""
    """SHA-256 of the tag manifest (hex), by which a later bag names this one."""

    @property
    def follows(self) -> str:
        """The digest of the bag that it follows; empty for the first of a packet."""
        return self.info.get(FOLLOWS, "").removeprefix("sha256:")

    @property
    def holds(self) -> bool:
        """Whether nothing is wrong."""
        return not self.faults


def verify_bag(path: Path, keys: SealKeys) -> Verdict:
    """Check every sum and the signature, which may be of any of the keys.

    Raises Damaged only if the file is no bag at all.
    """
    try:
        with zipfile.ZipFile(path) as archive:
            return _verify(archive, keys)
    except (zipfile.BadZipFile, zipfile.LargeZipFile, EOFError, NotImplementedError) as error:
        raise Damaged(
            f"{path.name} is not a readable zip.", "Fetch the bag again from the service."
        ) from error


def check_chain(bags: Sequence[Verdict]) -> list[str]:
    """Faults of several bags of one packet: each later bag follows another, and no two the same."""
    digests = {one.digest: one for one in bags}
    faults, followed = [], set[str]()
    for one in bags:
        if not one.follows:
            continue
        before = digests.get(one.follows)
        if before is None:
            faults.append(f"The bag that {one.name} follows was not given ({one.follows[:16]}…).")
        elif before.info.get("External-Identifier") != one.info.get("External-Identifier"):
            faults.append(f"{one.name} follows {before.name}, which is of another packet.")
        if one.follows in followed:
            faults.append(f"{one.name} follows a bag that another one follows already.")
        followed.add(one.follows)
    firsts = [one.name for one in bags if not one.follows]
    if len(firsts) > 1:
        faults.append(
            f"{' and '.join(firsts)} are first bags: verify each with its own later ones."
        )
    return faults


def _verify(archive: zipfile.ZipFile, keys: SealKeys) -> Verdict:
    names = [entry.filename for entry in archive.infolist() if not entry.is_dir()]
    tops = {name.split("/", 1)[0] for name in names}
    if len(tops) != 1 or len(names) > MOST_FILES:
        raise Damaged(
            "This is not a sealed packet: a bag has exactly one top-level folder.",
            "Fetch the bag from the service.",
        )
    verdict = Verdict(tops.pop())
    _check_names(names, verdict)
    if sum(entry.file_size for entry in archive.infolist()) > MOST_OCTETS:
        raise Damaged("The bag claims more content than any packet has.", "Do not unpack it.")
    present = {name.split("/", 1)[1] for name in names if "/" in name}

    tag_manifest = _read_tag(archive, verdict, "tagmanifest-sha256.txt", present)
    _check_seal(tag_manifest, _read_tag(archive, verdict, SIGNATURE, present), keys, verdict)
    verdict.digest = hashlib.sha256(tag_manifest or b"").hexdigest()
    manifest = _read_tag(archive, verdict, "manifest-sha256.txt", present)
    listed = _check_sums(archive, verdict, tag_manifest, present, payload=False)
    for needed in ("bagit.txt", "bag-info.txt", "manifest-sha256.txt"):
        if needed not in listed:
            verdict.faults.append(f"{needed} is not covered by the seal.")
    listed = _check_sums(archive, verdict, manifest, present, payload=True)
    for extra in sorted(
        name for name in present if name.startswith("data/") and name not in listed
    ):
        verdict.faults.append(f"{extra} is in the bag but not in its manifest.")
    info = _read_tag(archive, verdict, "bag-info.txt", present) or b""
    for line in info.decode("utf-8", "replace").splitlines():
        label, _, value = line.partition(": ")
        verdict.info[label] = value
    return verdict


def _check_names(names: list[str], verdict: Verdict) -> None:
    if len(set(names)) != len(names):
        verdict.faults.append("A name is in the zip twice.")
    if any(".." in name.split("/") or name.startswith("/") or "\\" in name for name in names):
        verdict.faults.append("A name in the zip leads out of the bag.")


def _check_seal(
    tag_manifest: bytes | None, signature: bytes | None, keys: SealKeys, verdict: Verdict
) -> None:
    if tag_manifest is None or signature is None:
        return
    known, named = keys.of(signature), name_in(signature)
    key = known or keys.current
    verdict.key = key.name
    if key.holds(tag_manifest, signature):
        return
    fault = f"The seal is not that of key {key.name}"
    if named and known is None:
        fault += (
            f": it names the key {named}, which is not among those given. If that is a newer key of the service, fetch "
            "its keys again (sealpacket seal-keys)"
        )
    verdict.faults.append(f"{fault}.")


def _read_tag(
    archive: zipfile.ZipFile, verdict: Verdict, path: str, present: set[str]
) -> bytes | None:
    if path not in present:
        verdict.faults.append(f"{path} is missing.")
        return None
    with archive.open(f"{verdict.name}/{path}") as file:
        data = file.read(_LARGEST_TAG + 1)
    if len(data) > _LARGEST_TAG:
        verdict.faults.append(f"{path} is larger than it can be.")
        return None
    return data


def _check_sums(
    archive: zipfile.ZipFile,
    verdict: Verdict,
    manifest: bytes | None,
    present: set[str],
    *,
    payload: bool,
) -> set[str]:
    """Compare every listed file with its sum; the set of what was listed."""
    listed: set[str] = set()
    for line in (manifest or b"").decode("utf-8", "replace").splitlines():
        match = _LINE.fullmatch(line)
        if match is None:
            verdict.faults.append(f"A line of the manifest cannot be read: {line[:80]}")
            continue
        digest, path = (
            match[1],
            match[2].replace("%0A", "\n").replace("%0D", "\r").replace("%25", "%"),
        )
        listed.add(path)
        if path not in present or path.startswith("data/") != payload:
            verdict.faults.append(f"{path} is listed but not in the bag.")
            continue
        actual, size = hashlib.sha256(), 0
        try:
            with archive.open(f"{verdict.name}/{path}") as file:
                while block := file.read(1 << 20):
                    actual.update(block)
                    size += len(block)
        except zipfile.BadZipFile:
            verdict.faults.append(f"{path} is damaged.")
            continue
        if actual.hexdigest() != digest:
            verdict.faults.append(f"{path} has been altered.")
        if payload:
            verdict.files += 1
            verdict.octets += size
    return listed
