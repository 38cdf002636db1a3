"""Write the bill of materials (CycloneDX) of the console's packages, from its lock.

Run with what releases are built with.
Usage: console_parts.py <package-lock.json> <target>
"""

from __future__ import annotations

import base64
import json
import os
import sys
import uuid
from datetime import UTC, datetime
from pathlib import Path

from cyclonedx.model import HashAlgorithm, HashType
from cyclonedx.model.bom import Bom
from cyclonedx.model.component import Component, ComponentType
from cyclonedx.model.license import DisjunctiveLicense
from cyclonedx.output.json import JsonV1Dot6
from packageurl import PackageURL

_HASHES = {"sha512": HashAlgorithm.SHA_512, "sha1": HashAlgorithm.SHA_1}


def parts(lock: str, at: datetime) -> Bom:
    """All packages of a lock that are not for development only."""
    packages = json.loads(lock)["packages"]
    root = packages.pop("")
    bom = Bom(serial_number=uuid.uuid5(uuid.NAMESPACE_OID, lock))
    bom.metadata.timestamp = at
    console = bom.metadata.component = Component(
        name=root["name"],
        version=root["version"],
        type=ComponentType.APPLICATION,
        bom_ref=root["name"],
    )
    direct: list[Component] = []
    for path, package in packages.items():
        if package.get("dev"):
            continue
        whole = path.rpartition("node_modules/")[2]
        scope, _, name = whole.rpartition("/")
        kind, _, digest = package["integrity"].partition("-")
        part = Component(
            name=whole,
            bom_ref=path,
            version=package["version"],
            purl=PackageURL("npm", scope or None, name, package["version"]),
            hashes=[HashType(alg=_HASHES[kind], content=base64.b64decode(digest).hex())],
            licenses=[DisjunctiveLicense(name=package.get("license", "not said"))],
        )
        bom.components.add(part)
        if path == f"node_modules/{whole}" and whole in root["dependencies"]:
            direct.append(part)
    bom.register_dependency(console, direct)
    return bom


if __name__ == "__main__":
    source, target = map(Path, sys.argv[1:])
    built = datetime.fromtimestamp(int(os.environ["SOURCE_DATE_EPOCH"]), UTC)
    target.write_text(JsonV1Dot6(parts(source.read_text(), built)).output_as_string(indent=2))
