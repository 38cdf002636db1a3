"""Redacting files and folders without the service. The engine is loaded when it is needed: no other command waits."""

from __future__ import annotations

import hashlib
import secrets
import sys
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from sealpacket.cli import show
from sealpacket.client import ClientError

if TYPE_CHECKING:
    from sealpacket.core.redact.batch import Done
    from sealpacket.core.redact.known import Term
    from sealpacket.core.redact.planned import Planned

HELD, LEAK = 3, 4


def add(app: typer.Typer) -> None:
    """Register the command of this module."""
    app.command("redact")(redact)


def redact(
    paths: Annotated[list[Path], typer.Argument(exists=True, help="Files and folders.")],
    out: Annotated[Path, typer.Option(help="The folder for the outgoing copies.")],
    plan: Annotated[
        Path | None, typer.Option(exists=True, dir_okay=False, help="A redaction plan (YAML).")
    ] = None,
    terms: Annotated[
        Path | None,
        typer.Option(
            exists=True,
            dir_okay=False,
            help="Known values, one on each line; or CSV with the columns kind and value.",
        ),
    ] = None,
    report: Annotated[
        Path | None, typer.Option(help="Write a report to this file (JSON, no originals).")
    ] = None,
    legend: Annotated[
        Path | None,
        typer.Option(
            help="Write the legend, with the originals of placeholders. Never send it out."
        ),
    ] = None,
    workers: Annotated[
        int, typer.Option(min=0, max=256, help="Number of processes; 0: one for each core.")
    ] = 0,
    json_: Annotated[bool, typer.Option("--json", help="JSON instead of a table.")] = False,
) -> None:
    """Redact files and folders, offline. Ends with 0 clean, 3 if something is held, 4 if something leaks.

    A run that was broken off goes on where it was when it is started again with the same words.

    Example: `sealpacket redact logs/ --out outgoing --terms hosts.csv --legend legend.json`
    """
    from sealpacket.core.redact.batch import (
        Job,
        Journal,
        redact_files,
        report_of,
        write_json,
        write_legend,
    )

    chosen = _plan(plan)
    with _compiled(chosen):
        known = _terms(terms)
        files = list(_files(paths, out))
    if not files:
        raise ClientError("There is nothing to redact.", "Name a file, or a folder that has some.")
    journal = Journal(out.with_name(out.name + ".redaction"), lambda: secrets.token_bytes(32))
    words = hashlib.sha256(b"".join(_sum(one) for one in (plan, terms))).hexdigest()
    job = Job(lambda: chosen.catalogue(known), journal.key, words, chosen.style, chosen.searchable)
    total = sum(path.stat().st_size for path, _ in files)
    with _bar(total, quiet=json_) as progress:
        done, found = redact_files(
            files,
            out,
            job,
            journal=journal,
            workers=workers,
            progress=progress,
        )
    body = report_of(done, chosen.name)
    if report is not None:
        write_json(report, body)
    if legend is not None:
        write_legend(legend, found)
    journal.close()
    if json_:
        show.as_json(body)
    else:
        _tell(done, body, out)
    if body["leaking"]:
        raise typer.Exit(LEAK)
    if body["held"]:
        raise typer.Exit(HELD)


@contextmanager
def _compiled(plan: Planned) -> Iterator[None]:
    """Compile the plan's patterns while something else is done; the catalogue is made of them later, with its terms.

    It is through when this ends: the workers are forked, and no thread goes along.
    """
    compiling = threading.Thread(target=lambda: plan.catalogue([]))
    compiling.start()
    try:
        yield
    finally:
        compiling.join()


def _sum(path: Path | None) -> bytes:
    """The digest of a file with a plan or terms; zeros for no file."""
    if path is None:
        return bytes(32)
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").digest()


def _plan(path: Path | None) -> Planned:
    if path is None:
        from sealpacket.core.redact.planned import Planned

        return Planned()
    from sealpacket.core.errors import Invalid
    from sealpacket.core.guarded_yaml import LARGEST
    from sealpacket.core.redact.plan import Plan, load_plan

    try:
        if path.stat().st_size > LARGEST:
            raise ClientError(
                f"{path} is larger than {show.size(LARGEST)}.",
                "Split the file, or keep only the part that matters.",
            )
        return load_plan(path.read_text("utf-8"), Plan).planned()
    except Invalid as error:
        raise ClientError(f"{path}: {error.detail}", error.remedy) from error
    except UnicodeDecodeError as error:
        raise ClientError(f"{path} is not UTF-8 text.", "Save it as UTF-8.") from error


def _terms(path: Path | None) -> list[Term]:
    from sealpacket.core.redact.known import read_terms

    if path is None:
        return []
    try:
        with path.open(encoding="utf-8-sig", newline="") as file:
            return list(read_terms(file))
    except (ValueError, UnicodeDecodeError) as error:
        raise ClientError(
            f"{path}: {error}",
            "Write one value on each line, or a table with the columns kind and value.",
        ) from error


def _files(paths: list[Path], out: Path) -> Any:
    """Every file with its name in the out folder; links are not followed out of a folder."""
    ours = out.resolve()
    for path in paths:
        if path.is_file():
            yield path, path.name
            continue
        for inner in sorted(path.rglob("*")):
            if inner.is_file() and not inner.is_symlink() and ours not in inner.resolve().parents:
                yield inner, str(Path(path.resolve().name, inner.relative_to(path)))


@contextmanager
def _bar(total: int, *, quiet: bool) -> Iterator[Callable[[int], None]]:
    """Shows on a terminal how many bytes of the total are done."""
    if quiet or not sys.stderr.isatty():
        yield lambda _octets: None
        return
    from rich.progress import (
        BarColumn,
        DownloadColumn,
        Progress,
        TextColumn,
        TimeRemainingColumn,
        TransferSpeedColumn,
    )

    with Progress(
        TextColumn("{task.description}"),
        BarColumn(complete_style="red", finished_style="red"),
        DownloadColumn(),
        TransferSpeedColumn(),
        TimeRemainingColumn(),
        console=show.progress(),
        transient=True,
    ) as bar:
        task = bar.add_task("Redacting", total=total)
        yield lambda octets: bar.update(task, completed=octets)


_LEFT = {
    "dropped": ("left out: the plan does not want it to go.", "left out: the plan does not want them to go."),
    "held": ("held: no copy was made, because the file could not be inspected.",
             "held: no copies were made, because the files could not be inspected."),
    "leaking": ("still leaks: do not send it.", "still leak: do not send them."),
}  # fmt: skip


def _tell(done: list[Done], body: dict[str, Any], out: Path) -> None:
    show.table(
        ["file", ">size", ">masked", "state", "most of it"],
        [
            (
                one.copy,
                show.size(one.size),
                sum(one.counts.values()) or "",
                one.state,
                one.reason or _most(one.counts),
            )
            for one in done
        ],
        nothing="Nothing.",
    )
    masked = sum(body["counts"].values())
    show.line(
        f"\n{len(done)} {'file' if len(done) == 1 else 'files'}, {masked} values masked; the copies are in {out}."
    )
    for state, (one, more) in _LEFT.items():
        if count := body[state]:
            show.line(f"{count} {one if count == 1 else more}", "bold red")
    for file in done:
        for leak in file.still if file.state == "leaking" else ():
            often = "once" if leak["times"] == 1 else f"{leak['times']} times"
            show.line(
                f"  {file.copy}: the original of {leak['placeholder']} is still in it {often}, {leak['where']}."
            )
    if body["leaking"]:
        show.line(
            "The legend (--legend) says which value that is. Take it out of the file by hand, and redact again."
        )
    if not body["held"] and not body["leaking"]:
        show.line("The leak check found none of the originals in any coat.", "green")


def _most(counts: dict[str, int]) -> str:
    return ", ".join(
        f"{kind} {count}" for kind, count in sorted(counts.items(), key=lambda item: -item[1])[:3]
    )
