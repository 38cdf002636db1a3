"""Running a kit: step by step, each within its time and size, into a folder."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable, Collection, Iterator
from dataclasses import asdict
from datetime import UTC, datetime
from pathlib import Path

from sealpacket.collecting import local, over_http, over_ssh
from sealpacket.collecting.access import Access, StepFailed
from sealpacket.core.errors import Invalid
from sealpacket.core.evidence.kits import (
    Kit,
    Outcome,
    Step,
    judge,
    refuse_stops,
    unknown_programs,
)

MANIFEST = "kit.json"


def run_kit(
    kit: Kit,
    folder: Path,
    access: Access,
    *,
    confirmed_by: str,
    programs: Collection[str] = (),
    begin: Callable[[Step], None] = lambda step: None,
) -> list[Outcome]:
    """Run a kit that a person has seen and confirmed. Its files are in `folder`, with kit.json: how each step ended.

    `programs` are those of this machine that were confirmed by name. No step stops another. Raises Invalid for a kit
    with faults, with a program that is not known to only read and not confirmed, without the device, or if the folder
    holds something.
    """
    refuse_stops(kit)
    for name in unknown_programs(kit):
        if name not in programs:
            raise Invalid(
                f"{name} is not known to only read, and nobody has confirmed it by name.",
                f"See what it does, then say --program {name}.",
                code="not-confirmed",
            )
    if kit.needs_target and not access.target:
        raise Invalid(
            f"{kit.title} is for a device, and none is named.", "Name it.", code="no-target"
        )
    folder.mkdir(parents=True, exist_ok=True)
    if any(folder.iterdir()):
        raise Invalid(f"{folder} is not empty.", "Name a new folder.", code="not-empty")
    started = datetime.now(UTC)
    outcomes = []
    for step in kit.steps:
        begin(step)
        outcomes.append(run_step(step, access, folder))
    _write_manifest(kit, folder, access, confirmed_by, started, outcomes)
    return outcomes


def run_step(step: Step, access: Access, folder: Path) -> Outcome:
    """Run one step; what it brings is in the folder, as `step.name`. A step that cannot be done says why."""
    if step.secret and not access.secrets.get(step.secret):
        return Outcome(step.id, "failed", why=f"the secret {step.secret} is not given")
    file = folder / step.name
    try:
        match step.way:
            case "run":
                code, cut = local.run(step, file)
                return judge(step, [file], code=code, cut=cut)
            case "get":
                code, cut = over_http.get(step, access, file)
                return judge(step, [file], code=code, cut=cut)
            case "ssh":
                code, cut = over_ssh.run(step, access, file)
                return judge(step, [file], code=code, cut=cut)
            case "files":
                files, written, cut = local.take_files(step, file)
            case _:
                files, written, cut = over_ssh.take_files(step, access, file)
        return judge(step, files, written=written, cut=cut)
    except StepFailed as failure:
        kept = [path for path in files_of(file) if path.stat().st_size]
        octets = sum(path.stat().st_size for path in kept)
        return Outcome(step.id, "failed", tuple(path.name for path in kept), octets, str(failure))
    except OSError as error:
        return Outcome(step.id, "failed", why=f"{error.strerror or type(error).__name__}")


def files_of(path: Path) -> Iterator[Path]:
    """The files that a step has collected."""
    if path.is_dir():
        yield from sorted(path.iterdir())
    elif path.exists():
        yield path


def _write_manifest(
    kit: Kit,
    folder: Path,
    access: Access,
    by: str,
    started: datetime,
    outcomes: list[Outcome],
) -> None:
    """A record of a run: steps, actor, times and outcomes."""
    files = [path for step in kit.steps for path in files_of(folder / step.name)]
    manifest = {
        "kit": kit.name,
        "target": access.target,
        "confirmed_by": by,
        "started": started.isoformat(),
        "ended": datetime.now(UTC).isoformat(),
        "steps": [
            {**asdict(outcome), "did": step.shown(access.target)}
            for step, outcome in zip(kit.steps, outcomes, strict=True)
        ],
        "sha256": {str(path.relative_to(folder)): _sum(path) for path in files},
    }
    (folder / MANIFEST).write_text(json.dumps(manifest, indent=1, ensure_ascii=False) + "\n")


def _sum(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()
