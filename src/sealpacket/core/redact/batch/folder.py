"""Redacting files and folders without a service: every core works, and a run that was broken off can go on.

A text of many megabytes is cut at line ends and its parts are redacted side by side. What is done is noted in a folder
beside the copies.
"""

from __future__ import annotations

import gc
import hashlib
import json
import math
import mmap
import os
import re
import shutil
import tempfile
from collections import Counter, deque
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import Future, ProcessPoolExecutor, as_completed, wait
from contextlib import nullcontext
from dataclasses import asdict, dataclass, field
from itertools import groupby, islice, pairwise
from multiprocessing import get_context
from pathlib import Path
from typing import Any, NamedTuple

from sealpacket.core.redact.encodings import borders_of
from sealpacket.core.redact.engine import Dropped, Held
from sealpacket.core.redact.pseudonyms import Legend, Placeholders, Style
from sealpacket.core.redact.readers import HEAD, Work, copy_file, is_plain_text, stream_text
from sealpacket.core.redact.readers.base import unused_name
from sealpacket.core.redact.search import ENGINE, Catalogue
from sealpacket.core.redact.verify import (
    LeakCheck,
    Leaking,
    Suspects,
    checks_of,
    mend,
    reports_of,
    still_there,
)

PART = 8 << 20
"""How much of a large text one worker takes at once: small, so that none waits long for the last."""
_ROOM = 3 * PART
"""What a redacted part may take in the memory that all workers share; a larger one goes over a file."""
_AT_ONCE = 256 << 10
"""What is summed and written at once: so little stays in the processor's cache."""
_AHEAD = 2
"""So many parts are asked for, for each worker, before the first of them is needed."""
_SEARCHED = 32 << 20
"""How much of a large copy is looked through at once at most; of a smaller one a share, so that none waits long."""
_SHARES = 4
"""So many shares has each worker."""
_BLOCK = 1 << 20
_PLACEHOLDER_IN_NAME = re.compile(r"[a-z]+-[a-z2-7]{10}")
NO_COPY = ("held", "dropped")
"""States in which there is none."""


@dataclass
class Done:
    """What became of one file: `copied`, `held` or `dropped` (with the reason), or `leaking`.

    Names are relative to the folders.
    """

    name: str
    copy: str
    state: str
    reason: str = ""
    size: int = 0
    copy_sha256: str = ""
    counts: dict[str, int] = field(default_factory=dict)
    kept: dict[str, int] = field(default_factory=dict)
    searched: int = 0
    leaks: int = 0
    still: list[dict[str, Any]] = field(default_factory=list)
    """Of each original that is still in the copy: its placeholder, where it stands first, and how often."""


@dataclass(frozen=True)
class Job:
    """All that a worker needs: what makes the catalogue, the key of the placeholders, what tells it from others, and
    how copies look."""

    make: Callable[[], Catalogue]
    key: bytes
    words: str = ""
    style: Style = field(default_factory=Style)
    searchable: bool = False


class Journal:
    """What is done so far, and the key of the placeholders, in a folder beside the copies until a run is finished."""

    def __init__(self, folder: Path, new_key: Callable[[], bytes]) -> None:
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        self._folder = folder
        key = folder / "key"
        if not key.exists():
            key.touch(mode=0o600)
            key.write_bytes(new_key())
        self.key = key.read_bytes()

    def known(self, path: Path, name: str, words: str, out: Path) -> tuple[Done, Legend] | None:
        """What was done with a file that has not changed since, if its copy is still there."""
        note = self._note(path, name, words)
        if not note.exists():
            return None
        try:
            body = json.loads(note.read_text("utf-8"))
            done = Done(**body["done"])
            if done.state not in NO_COPY and _sum(out / done.copy) != done.copy_sha256:
                return None
            with note.with_suffix(".legend").open("rb") as file:
                return done, Legend.read(iter(lambda: file.read(_BLOCK), b""))
        except (OSError, ValueError, TypeError, KeyError):
            return None

    def write(self, path: Path, words: str, done: Done, legend: Legend) -> None:
        """Note what was done with a file."""
        note = self._note(path, done.name, words)
        kept = note.with_suffix(".legend")
        kept.touch(mode=0o600)
        with kept.open("wb") as file:
            file.writelines(legend.blocks())
        write_json(note, {"done": asdict(done)})

    def _note(self, path: Path, name: str, words: str) -> Path:
        stat = path.stat()
        told = f"{path.resolve()}|{name}|{stat.st_size}|{stat.st_mtime_ns}|{ENGINE}|{words}"
        return self._folder / f"{hashlib.sha256(told.encode()).hexdigest()[:32]}.json"

    def close(self) -> None:
        """The run is finished: nothing of it stays."""
        shutil.rmtree(self._folder, ignore_errors=True)


_here: dict[str, Any] = {}


def redact_files(
    files: list[tuple[Path, str]],
    out: Path,
    job: Job,
    *,
    journal: Journal | None = None,
    workers: int = 0,
    progress: Callable[[int], Any] | None = None,
) -> tuple[list[Done], Legend]:
    """Copy `files` (path, name relative to `out`) with everything sensitive replaced, and check the copies for leaks.

    See `copy_all`; no more of `workers` are started than are of use.
    """
    workers = _useful(workers or _cores(), (path for path, _ in files))
    done, legend = copy_all(files, out, job, journal=journal, workers=workers, progress=progress)
    _check(done, {name: path for path, name in files}, out, legend, workers)
    return sorted(done, key=lambda one: one.name), legend


def copy_all(
    files: list[tuple[Path, str]],
    out: Path,
    job: Job,
    *,
    journal: Journal | None = None,
    workers: int = 0,
    progress: Callable[[int], Any] | None = None,
) -> tuple[list[Done], Legend]:
    """Copy the files, not checked yet.

    `workers` is how many processes work side by side, 0 for one on each core. `progress` gets the bytes done so far.
    """
    _here["catalogue"], _here["placeholders"] = job.make(), Placeholders(job.key, job.style)
    _here["searchable"] = job.searchable
    legend, done = Legend(), []
    workers = workers or _cores()
    out.mkdir(parents=True, exist_ok=True)
    passed, left, finished = 0, [], []
    for path, name in files:
        known = journal.known(path, name, job.words, out) if journal else None
        if known is None:
            left.append((path, name))
            continue
        passed += path.stat().st_size
        finished.append((path, name))
        done.append(known[0])
        legend.merge(known[1])
    _named(finished, set(), legend)
    taken = {one.copy for one in done if one.state not in NO_COPY}
    for path, one, found in _redacted(_named(left, taken, legend), out, workers):
        passed += path.stat().st_size
        if progress:
            progress(passed)
        if journal:
            journal.write(path, job.words, one, found)
        smaller, legend = sorted((found, legend), key=lambda one: one.pairs)
        legend.merge(smaller)
        done.append(one)
    return done, legend


class _Source(NamedTuple):
    """A file to be redacted: its name, and that of its copy, relative to the folders."""

    path: Path
    name: str
    copy: str


def _named(files: list[tuple[Path, str]], taken: set[str], legend: Legend) -> list[_Source]:
    """The files with names for their copies, none of which is taken: what is masked in two names may be the same. The
    legend gets what is masked."""
    work = _new_work()
    named = [_Source(path, name, unused_name(work.name(name), taken)) for path, name in files]
    legend.merge(work.outcome.legend)
    return named


def _redacted(files: list[_Source], out: Path, workers: int) -> Iterator[tuple[Path, Done, Legend]]:
    """Each file with what became of it, in the order in which they are ready; so many at once."""
    with tempfile.TemporaryDirectory(dir=out, prefix=".parts-") as folder:
        pool = None
        if workers > 1:
            # Forked, so that each worker has the catalogue and the shared memory from the start; what it has it keeps,
            # so it need not look through that for what is no longer used.
            _here["shared"] = mmap.mmap(-1, workers * _AHEAD * _ROOM)
            pool = ProcessPoolExecutor(
                workers, mp_context=get_context("fork"), initializer=gc.freeze
            )
        try:
            yield from _results(files, out, Path(folder), pool)
        finally:
            if pool is not None:
                pool.shutdown(cancel_futures=True)
                _here.pop("shared").close()


def _results(
    files: list[_Source], out: Path, parts: Path, pool: ProcessPoolExecutor | None
) -> Iterator[tuple[Path, Done, Legend]]:
    """Large texts part by part, all others whole."""
    if pool is None:
        for file in files:
            one, found = _whole(file, out)
            yield file.path, one, Legend.unpacked(found)
        return
    small: dict[Future[tuple[Done, bytes]], Path] = {}
    for file in files:
        if _is_large_text(file.path, file.name):
            one, legend = _in_parts(file, out, parts, pool)
            yield file.path, one, legend
        else:
            small[pool.submit(_whole, file, out)] = file.path
    for future in as_completed(small):
        one, found = future.result()
        yield small[future], one, Legend.unpacked(found)


def _cores() -> int:
    return len(os.sched_getaffinity(0))


def _useful(workers: int, files: Iterable[Path]) -> int:
    """How many of these workers are worth starting: a little text is done sooner than one is forked.

    What is no text may take long, however small it is.
    """
    parts = 0.0
    for path in files:
        with path.open("rb") as file:
            parts += path.stat().st_size / PART if _is_text(file.read(HEAD), path.name) else 1
        if parts > workers:
            return workers
    return max(1, min(workers, math.ceil(parts)))


def _is_large_text(path: Path, name: str) -> bool:
    with path.open("rb") as file:
        head = file.read(HEAD)
    return path.stat().st_size > 4 * PART and _is_text(head, name)


def _is_text(head: bytes, name: str) -> bool:
    try:
        return is_plain_text(head, name)
    except Held:
        return False


def _new_work() -> Work:
    return Work(_here["catalogue"], _here["placeholders"], searchable=_here["searchable"])


def _whole(file: _Source, out: Path) -> tuple[Done, bytes]:
    """One file by one worker."""
    source, name, copy_name = file
    work = _new_work()
    target = out / copy_name
    target.parent.mkdir(parents=True, exist_ok=True)
    unfinished = target.with_name(f".{target.name}.part")
    done = Done(name, copy_name, "copied", size=source.stat().st_size)
    try:
        with source.open("rb") as came, unfinished.open("wb+") as goes:
            copy_file(came, goes, work, name)
        unfinished.replace(target)
        done.copy_sha256 = _sum(target)
    except Held as held:
        done.state, done.reason = _state_of(held), work.words(str(held))
    except (
        Exception
    ) as error:  # whatever a reader did not foresee holds its file, and the others go on
        done.state, done.reason = "held", f"It could not be redacted ({type(error).__name__})."
    finally:
        unfinished.unlink(missing_ok=True)
    done.counts, done.kept = dict(work.outcome.counts), dict(work.outcome.kept)
    return done, work.outcome.legend.packed()


def _state_of(held: Held) -> str:
    return "dropped" if isinstance(held, Dropped) else "held"


def _in_parts(
    file: _Source, out: Path, folder: Path, pool: ProcessPoolExecutor
) -> tuple[Done, Legend]:
    path, name, copy_name = file
    size = path.stat().st_size
    borders = borders_of(path, size, PART)
    work = _new_work()
    done = Done(name, copy_name, "copied", size=size)
    legend, counts, kept = Legend(), Counter[str](), Counter[str]()
    target = out / done.copy
    target.parent.mkdir(parents=True, exist_ok=True)
    unfinished = target.with_name(f".{target.name}.part")
    stretches = pairwise(borders)
    shared = memoryview(_here["shared"])
    asked: deque[tuple[int, Future[tuple[bytes, dict[str, int], dict[str, int], int]]]] = deque()

    def ask(place: int) -> None:
        """Have the next part redacted into a place of the shared memory."""
        for start, end in islice(stretches, 1):
            asked.append(
                (place, pool.submit(_part, str(path), start, end, place, str(folder / str(place))))
            )

    copy_sum = hashlib.sha256()
    try:
        with unfinished.open("wb", buffering=0) as goes:
            for place in range(len(shared) // _ROOM):
                ask(place)
            while asked:
                place, job = asked.popleft()
                found, part_counts, part_kept, length = job.result()
                legend.take_in(found)
                counts.update(part_counts)
                kept.update(part_kept)
                for block in _blocks_of_part(shared, place, length, folder / str(place)):
                    copy_sum.update(block)
                    goes.write(block)
                ask(place)
        unfinished.replace(target)
        done.copy_sha256 = copy_sum.hexdigest()
    except Held as held:
        done.state, done.reason = _state_of(held), work.words(str(held))
    except Exception as error:  # as for a small file
        done.state, done.reason = "held", f"It could not be redacted ({type(error).__name__})."
    finally:
        for _, job in asked:
            job.cancel()
        wait(job for _, job in asked)
        shared.release()
        unfinished.unlink(missing_ok=True)
    done.counts, done.kept = dict(counts), dict(kept)
    return done, legend


def _blocks_of_part(
    shared: memoryview, place: int, length: int, file: Path
) -> Iterator[bytes | memoryview]:
    """A redacted part from its place in the shared memory, or from the file that it was too large for."""
    begin = place * _ROOM
    for at in range(begin, begin + length, _AT_ONCE):
        yield shared[at : min(at + _AT_ONCE, begin + length)]
    if length == 0 and file.exists():
        with file.open("rb") as spilled:
            yield from iter(lambda: spilled.read(_AT_ONCE), b"")
        file.unlink()


def _part(
    path: str, start: int, end: int, place: int, file: str
) -> tuple[bytes, dict[str, int], dict[str, int], int]:
    """One part of a large text, into its place of the shared memory; gives how much that was, or 0 if it went into the
    file. What was judged is remembered for the next part of it; the legend has what is new."""
    if _here.get("file") != path:
        _here["file"], _here["work"] = path, _new_work()
    work: Work = _here["work"]
    outcome = work.outcome
    shared, begin, length = _here["shared"], place * _ROOM, 0
    blocks = stream_text(_stretch(path, start, end), work)
    for block in blocks:
        if length + len(block) > _ROOM:
            with Path(file).open("wb") as spilled:
                spilled.write(shared[begin : begin + length])
                spilled.write(block)
                spilled.writelines(blocks)
            length = 0
            break
        shared[begin + length : begin + length + len(block)] = block
        length += len(block)
    counts, kept = dict(outcome.counts), dict(outcome.kept)
    outcome.counts.clear()
    outcome.kept.clear()
    return outcome.legend.taken(), counts, kept, length


def _stretch(path: str, start: int, end: int) -> Iterator[bytes]:
    with Path(path).open("rb") as file:
        file.seek(start)
        while start < end and (block := file.read(min(_BLOCK, end - start))):
            start += len(block)
            yield block


def _check(
    done: list[Done], sources: dict[str, Path], out: Path, legend: Legend, workers: int
) -> None:
    """Search copies and their names for all originals; what leaks is redacted again with what leaked, at most twice."""
    dirty: list[Done] = []

    def check_all() -> Leaking | None:
        dirty.clear()
        copies = {one.copy: one for one in done if one.state not in NO_COPY}
        suspects = {name: Suspects() for name in copies}
        for check in checks_of(legend, _here["catalogue"].kept_values()):
            for name, met in _searched(list(copies), out, check, workers):
                suspects[name].merge(met)
            for name in copies:
                suspects[name].goes_on(check.stream([_PLACEHOLDER_IN_NAME.sub("", name).encode()]))
        values: Leaking = set()
        for name, report in reports_of(legend, suspects, _here["catalogue"].is_public).items():
            one = copies[name]
            one.leaks, one.searched, one.still = (
                len(report.leaks),
                report.searched,
                still_there(report),
            )
            one.state = "copied" if report.clean else "leaking"
            if not report.clean:
                dirty.append(one)
                values |= {(leak.kind, leak.original) for leak in report.leaks}
        return values if dirty else None

    def redact_dirty(catalogue: Catalogue) -> None:
        _here["catalogue"] = catalogue
        leaking = {one.name: one for one in dirty}
        taken = {one.copy for one in done if one.name not in leaking}
        files = _named([(sources[name], name) for name in leaking], taken, legend)
        for _, again, found in _redacted(files, out, workers):
            legend.merge(found)
            one = leaking[again.name]
            if again.copy != one.copy and one.copy not in {file.copy for file in files}:
                (out / one.copy).unlink(missing_ok=True)  # what leaked stood in its name as well
            one.copy, one.counts, one.kept = again.copy, again.counts, again.kept
            one.copy_sha256, one.state, one.reason = again.copy_sha256, again.state, again.reason

    mend(_here["catalogue"], check_all, redact_dirty)


def _searched(
    copies: list[str], out: Path, check: LeakCheck, workers: int
) -> Iterator[tuple[str, Suspects]]:
    """Each copy with what looks like an original in it; large texts in parts."""
    _here["check"] = check
    stretches = [
        (name, start, end)
        for name in copies
        for start, end in _stretches(out / name, name, workers)
    ]
    with (
        ProcessPoolExecutor(workers, mp_context=get_context("fork"))
        if workers > 1
        else nullcontext() as pool
    ):
        ask = pool.submit if pool else _at_once
        asked = [
            (name, ask(_look_through, out / name, start, end)) for name, start, end in stretches
        ]
        for name, parts in groupby(asked, key=lambda pair: pair[0]):
            met = Suspects(check.searched, check.too_short)
            for _, part in parts:
                met.goes_on(part.result())
            yield name, met


def _at_once(call: Callable[..., Suspects], *given: Any) -> Future[Suspects]:
    future: Future[Suspects] = Future()
    future.set_result(call(*given))
    return future


def _stretches(copy: Path, name: str, workers: int) -> list[tuple[int, int]]:
    """The parts in which a copy is searched; one that has no end (0) for what is not a large text."""
    size = copy.stat().st_size
    if not _is_large_text(copy, name):
        return [(0, 0)]
    share = min(_SEARCHED, -(-size // (_SHARES * workers)))
    return [(start, min(start + share, size)) for start in range(0, size, share)]


def _look_through(copy: Path, start: int, end: int) -> Suspects:
    check: LeakCheck = _here["check"]
    with copy.open("rb") as file:
        return check.part(file, start, end) if end else check.file(file)


def _sum(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def report_of(done: list[Done], plan: str) -> dict[str, Any]:
    """What was done, without a single original: for a bag, or to file away."""
    totals: Counter[str] = Counter()
    for one in done:
        totals.update(one.counts)
    return {
        "engine": ENGINE, "plan": plan, "files": len(done), "held": sum(one.state == "held" for one in done),
        "dropped": sum(one.state == "dropped" for one in done),
        "leaking": sum(one.state == "leaking" for one in done), "counts": dict(sorted(totals.items())),
        "by_file": [
            {"copy": one.copy, "state": one.state, "reason": one.reason, "size": one.size, "sha256": one.copy_sha256,
             "counts": dict(sorted(one.counts.items())), "kept": dict(sorted(one.kept.items())),
             "leak_check": {"searched": one.searched, "found": one.leaks, "still": one.still}}
            for one in done
        ],
    }  # fmt: skip


def write_json(path: Path, body: Any) -> None:
    """Write a JSON file whole or not at all, readable by its owner only."""
    _write(path, [json.dumps(body, indent=1, ensure_ascii=False), "\n"])


def write_legend(path: Path, legend: Legend) -> None:
    """The same for a legend: an object with the originals of each placeholder, as it stands in copies."""
    _write(path, legend.as_json())


def _write(path: Path, parts: Iterable[str]) -> None:
    unfinished = path.with_name(f".{path.name}.part")
    unfinished.touch(mode=0o600)
    with unfinished.open("w", encoding="utf-8") as file:
        file.writelines(parts)
    unfinished.replace(path)
