"""Redaction and the leak check, against a bare scan and against a sed script."""

from __future__ import annotations

import os
import random
import shutil
import subprocess
import sys
import tempfile
from functools import partial
from pathlib import Path
from typing import Any

from figures import RUNS, best, by_turns, figure, peak_memory, seconds

from sealpacket.core.redact import (
    Catalogue,
    Outcome,
    Placeholders,
    Term,
    leak_check,
    redact,
)
from sealpacket.core.redact import _native as native
from sealpacket.core.redact.batch import Job, folder
from sealpacket.core.redact.known import read_terms

HERE = Path(__file__).parent
MEGABYTES = int(os.environ.get("BENCH_MEGABYTES", "100"))


def sed(log: Path, locale: str) -> None:
    """Run one sed script with a catalogue like ours."""
    with open(os.devnull, "wb") as nowhere:  # noqa: PTH123
        subprocess.run(
            ["sed", "-E", "-f", str(HERE / "redact.sed"), str(log)],
            stdout=nowhere,
            check=True,
            env={**os.environ, "LC_ALL": locale},
        )


TERMS = 20_000
"""Of hosts, serials and people, as a register has them: hosts under one domain, serials with one beginning."""


def register() -> list[str]:
    """The values of a large register, as the lines of a file of terms."""
    chance = random.Random(3)  # noqa: S311 - invented terms
    first = [
        "Marit",
        "Teo",
        "Ines",
        "Pauli",
        "Sol",
        "Ada",
        "Bruno",
        "Celia",
        "Dorit",
        "Emil",
        "Fenna",
        "Gero",
    ]
    made = ["kind,value"]
    for number in range(TERMS // 4):
        last = "".join(
            chance.choice("bcdfglmnrstv") + chance.choice("aeiou") for _ in range(3)
        ).title()
        made.append(f"person,{first[number % 12]} {last}")
        made.append(f"asset,TN9-{chance.randrange(10**5):05d}-{chance.choice('ABC')}")
    for number in range(TERMS // 2):
        sort = chance.choice(["kiosk", "sorter", "desk", "printer"])
        made.append(f"host,br{number % 40:02d}-{sort}{number // 40}.quillmere.example")
    return made


def terms() -> list[Term]:
    """Its terms."""
    return list(read_terms(register()))


def catalogue(known: list[Term] | None = None) -> Catalogue:
    """The full catalogue with these terms, or those of a large register."""
    return Catalogue.build(terms() if known is None else known, domains=["quillmere.example"])


def programs(path: Path, megabytes: int = 12) -> None:
    """A text of many sorts of lines: Python's own library, one file behind the other."""
    with path.open("wb") as file:
        for source in sorted(Path(os.__file__).parent.glob("**/*.py")):
            if "site-packages" not in source.parts and file.tell() < megabytes * 1_000_000:
                file.write(source.read_bytes())


SAMPLE = 16 << 20
"""In so much of the log every sort of value stands that the rest has."""


def blocks(path: Path) -> Any:
    """A file in blocks."""
    with path.open("rb") as file:
        while block := file.read(1 << 18):
            yield block


def figures() -> list[dict[str, Any]]:
    """Everything about redaction, measured in one run."""
    with tempfile.TemporaryDirectory() as place:
        log = Path(place, "bench.log")
        with log.open("wb") as file:
            subprocess.run(
                [sys.executable, str(HERE / "make_log.py"), str(MEGABYTES)], stdout=file, check=True
            )
        size = log.stat().st_size / 1e6
        # First of all, while this process is small: the workers are forked from it.
        known = terms()
        job = Job(lambda: catalogue(known), b"k" * 32)
        one, two = _by_one_and_two(log, Path(place), job)
        command_one, command_two, sed_beside = _whole_command(log, Path(place))
        several = Path(place, "several.py")
        programs(several)
        found, data = catalogue(), log.read_bytes()
        bare = native.Pattern(found.pattern_for(data[:SAMPLE]))
        outcomes: list[Outcome] = []

        def run() -> None:
            outcome = Outcome()
            for _ in redact(blocks(log), found, Placeholders(b"k" * 32), outcome):
                pass
            outcomes[:] = [outcome]

        ours, scan, sed_c, sed_utf8 = by_turns(
            run, lambda: bare.count(data), lambda: sed(log, "C"), lambda: sed(log, "C.UTF-8")
        )
        copy = b"".join(redact([data], found, Placeholders(b"k" * 32), Outcome()))
        leaks = best(lambda: leak_check([copy], outcomes[0].legend))
        memory = _memory_of_a_run(log)
        mixed = several.read_bytes()
        apart, sed_apart = by_turns(
            lambda: b"".join(redact([mixed], catalogue(known), Placeholders(b"k" * 32), Outcome())),
            lambda: sed(several, "C"),
        )
    return [
        figure("log", size, "MB"),
        figure("terms", TERMS, "values"),
        figure("values masked", sum(outcomes[0].counts.values()), "values"),
        figure("redaction, one core", size / ours, "MB/s"),
        figure(
            "bare scan by one RE2 of the detectors that find something here", size / scan, "MB/s"
        ),
        figure("sed, C locale", size / sed_c, "MB/s"),
        figure("sed, UTF-8 locale", size / sed_utf8, "MB/s"),
        figure("redaction : sed in C", sed_c / ours, "×", at_least=3),
        figure("redaction : sed in UTF-8", sed_utf8 / ours, "×", at_least=8),
        figure("redaction : bare scan", scan / ours, "×", at_least=0.5),
        figure("the whole command on one core, leak check included", size / command_one, "MB/s"),
        figure("the whole command : sed in C", sed_beside / command_one, "×", at_least=1.2),
        figure("the whole command: two cores : one", command_one / command_two, "×", at_least=1.8),
        figure("two workers : one, the leak check apart", one / two, "×"),
        figure("leak check of the copy, in all coats", size / leaks, "MB/s"),
        figure("memory of one redaction", memory, "MB", 300),
        figure("Python's library, catalogue included", len(mixed) / 1e6 / apart, "MB/s"),
        figure("sed on it, C locale", len(mixed) / 1e6 / sed_apart, "MB/s"),
    ]


def _by_one_and_two(log: Path, place: Path, job: Job) -> tuple[float, float]:
    """Seconds of one large text by one worker and by two, by turns, each the best of some runs.

    Without the leak check, which is one process; copies of the run before are deleted outside of what is measured.
    """
    taken: dict[int, list[float]] = {1: [], 2: []}
    for workers in [1, 2] * RUNS:
        out = place / f"out{workers}"
        shutil.rmtree(out, ignore_errors=True)
        act = partial(folder.copy_all, [(log, "a.log")], out, job, workers=workers)
        taken[workers].append(seconds(act))
    return min(taken[1]), min(taken[2])


def _whole_command(log: Path, place: Path) -> list[float]:
    """Seconds of the whole command where it may use one core, and where it may use two, and of sed beside them."""
    known = place / "terms.csv"
    known.write_text("\n".join(register()) + "\n")
    cores = sorted(os.sched_getaffinity(0))[:2]

    def redact_on(some: list[int]) -> None:
        out = place / "out"
        shutil.rmtree(out, ignore_errors=True)
        words = ["redact", str(log), "--out", str(out), "--terms", str(known)]
        subprocess.run(
            [str(Path(sys.executable).with_name("sealpacket")), *words],
            check=True,
            capture_output=True,
            preexec_fn=lambda: os.sched_setaffinity(0, some),
        )

    return by_turns(lambda: redact_on(cores[:1]), lambda: redact_on(cores), lambda: sed(log, "C"))


def _memory_of_a_run(log: Path) -> float:
    """The most memory (MB) that a process of its own needs for one redaction."""
    program = (
        "import sys; sys.path.insert(0, sys.argv[1]); import redaction; from pathlib import Path\n"
        "outcome = redaction.Outcome()\n"
        "blocks, keys = redaction.blocks(Path(sys.argv[2])), redaction.Placeholders(b'k' * 32)\n"
        "for _ in redaction.redact(blocks, redaction.catalogue(), keys, outcome): pass\n"
        "print(redaction.peak_memory())\n"
    )
    done = subprocess.run(
        [sys.executable, "-c", program, str(HERE), str(log)],
        capture_output=True,
        text=True,
        check=True,
    )
    return float(done.stdout)


__all__ = ["Outcome", "Placeholders", "blocks", "catalogue", "peak_memory", "redact"]
