"""The detectors of all families.

Reading the rules and taking their patterns apart takes a third of a second. What comes of it is kept in a file of the
user's cache, named by the digest of the rules and of the code that reads them; it is used only if it is the user's own
and nobody else can write it.
"""

from __future__ import annotations

import hashlib
import json
import os
import stat
from collections.abc import Iterator
from contextlib import suppress
from importlib import resources
from pathlib import Path
from typing import Any, NamedTuple

from sealpacket.core.redact import _native as native
from sealpacket.core.redact.rules.detector import Detector, Parts
from sealpacket.core.redact.rules.judging import all_hold
from sealpacket.core.redact.rules.parts import parts_of
from sealpacket.core.redact.rules.spellings import SPELLINGS

_LARGEST = 16 << 20
_SAME = {how: name for name, how in SPELLINGS.items()}


class Loaded(NamedTuple):
    """A detector, and the family and rule that it is of."""

    family: str
    rule: str
    detector: Detector


def loaded() -> list[Loaded]:
    """All detectors, in the order of families and rules."""
    place = _place()
    kept = _read(place) if place else None
    if kept is not None:
        with suppress(ValueError, KeyError, TypeError, IndexError):
            return [_restored(row) for row in kept]
    made = list(_from_rules())
    if place:
        _write(place, [_row(one) for one in made])
    return made


def _from_rules() -> Iterator[Loaded]:
    # Imported here: who finds the prepared ones does without the models of rules.
    from sealpacket.core.redact.rules.rule import families

    for family, file in families().items():
        for rule in file.rule:
            for detector in rule.detectors():
                yield Loaded(family, rule.id, detector)


def _row(one: Loaded) -> list[Any]:
    found = one.detector
    parts = parts_of(found)
    return [
        one.family, one.rule, found.kind, found.name, _text(found.pattern), _text(found.cue),
        [_text(anchor) for anchor in found.anchors], list(found.judged_by), _SAME[found.canonical],
        found.sure, found.lines,
        [_text(part) if isinstance(part, bytes) else part for part in parts[:-1]],
        [[_text(expression), in_run] for expression, in_run in parts.anchors],
    ]  # fmt: skip


def _restored(row: list[Any]) -> Loaded:
    family, rule, kind, name, pattern, cue, anchors, judged_by, same, sure, lines, parts, ends = row
    apart: list[Any] = [part.encode("latin-1") if isinstance(part, str) else part for part in parts]
    anchored = tuple((one.encode("latin-1"), in_run) for one, in_run in ends)
    return Loaded(
        family,
        rule,
        Detector(
            kind,
            name,
            pattern.encode("latin-1"),
            tuple(anchor.encode("latin-1") for anchor in anchors),
            all_hold(judged_by),
            SPELLINGS[same],
            sure,
            lines,
            cue.encode("latin-1"),
            tuple(judged_by),
            parts=Parts._make([*apart, anchored]),
        ),
    )


def _text(pattern: bytes) -> str:
    return pattern.decode("latin-1")


def _place() -> Path | None:
    """Where the prepared detectors lie; None where a user has no folder for such files."""
    try:
        cache = Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache")
    except RuntimeError:
        return None
    return cache / "sealpacket" / f"rules-{_digest()}.json"


def _digest() -> str:
    """The digest of all that the prepared detectors depend on."""
    digest, folder = hashlib.sha256(b"%d" % native.LONG), resources.files(__package__)
    files = [one for part in (folder, folder / "families") for one in part.iterdir()]
    for file in sorted(files, key=lambda one: one.name):
        if file.name.endswith((".toml", ".py")):
            digest.update(file.name.encode() + b"\0" + file.read_bytes() + b"\0")
    return digest.hexdigest()


def _read(place: Path) -> list[list[Any]] | None:
    try:
        handle = os.open(place, os.O_RDONLY | os.O_NOFOLLOW | os.O_CLOEXEC)
    except OSError:
        return None
    with os.fdopen(handle, "rb") as file:
        for one in (os.fstat(handle), place.parent.stat()):
            if one.st_uid != os.getuid() or stat.S_IMODE(one.st_mode) & 0o022:
                return None
        try:
            rows = json.loads(file.read(_LARGEST))
        except ValueError:
            return None
    return rows if isinstance(rows, list) else None


def _write(place: Path, rows: list[list[Any]]) -> None:
    """Keep what was prepared, in place of what was prepared of other rules. No fault of the disk is one of ours."""
    fresh = place.with_name(f".{place.name}.{os.getpid()}")
    with suppress(OSError):
        place.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
        with os.fdopen(os.open(fresh, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "w") as file:
            json.dump(rows, file)
        for old in place.parent.glob("rules-*.json"):
            old.unlink(missing_ok=True)
        fresh.replace(place)
    with suppress(OSError):
        fresh.unlink()  # it is there only if the disk was full
