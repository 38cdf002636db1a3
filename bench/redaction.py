"""Redaction and the leak check, against a bare scan and against a sed script."""

from __future__ import annotations

import os
import resource
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any

from figures import best, figure

from sealpacket.core.redact import Catalogue, Outcome, Placeholders, host_terms, leak_check, person_terms, redact

HERE = Path(__file__).parent
MEGABYTES = int(os.environ.get("BENCH_MEGABYTES", "100"))


def sed_seconds(log: Path, locale: str) -> float:
    """Seconds of one sed script with a catalogue like ours."""
    with open(os.devnull, "wb") as nowhere:  # noqa: PTH123
        return best(
            lambda: subprocess.run(
                ["sed", "-E", "-f", str(HERE / "redact.sed"), str(log)], stdout=nowhere, check=True,
                env={**os.environ, "LC_ALL": locale},
            )
        )  # fmt: skip


def catalogue() -> Catalogue:
    """The full catalogue with terms as a register of this size has them."""
    terms = [term for name in ("Marit Oswin", "Teo Valcourt", "Ines Harrowgate") for term in person_terms(name)]
    for branch in range(1, 15):
        terms += host_terms([f"br{branch:02d}-kiosk{n}.quillmere.example" for n in range(1, 41)])
    return Catalogue.build(terms, domains=["quillmere.example"])


def blocks(path: Path) -> Any:
    """A file in blocks."""
    with path.open("rb") as file:
        while block := file.read(1 << 18):
            yield block


def figures() -> list[dict[str, Any]]:
    """Everything about redaction, measured in one run."""
    with tempfile.TemporaryDirectory() as folder:
        log = Path(folder, "bench.log")
        with log.open("wb") as file:
            subprocess.run([sys.executable, str(HERE / "make_log.py"), str(MEGABYTES)], stdout=file, check=True)
        size = log.stat().st_size / 1e6
        found, data = catalogue(), log.read_bytes()
        outcomes: list[Outcome] = []

        def run() -> None:
            outcome = Outcome()
            for _ in redact(blocks(log), found, Placeholders(b"k" * 32), outcome):
                pass
            outcomes.append(outcome)

        ours = best(run)
        scan = best(lambda: sum(1 for _ in found.scanner.finditer(data)))
        sed_c, sed_utf8 = sed_seconds(log, "C"), sed_seconds(log, "C.UTF-8")
        copy = b"".join(redact([data], found, Placeholders(b"k" * 32), Outcome()))
        leaks = best(lambda: leak_check([copy], outcomes[0].legend))
        memory = _memory_of_a_run(log)
    return [
        figure("log", size, "MB"),
        figure("values masked", sum(outcomes[0].counts.values()), "values"),
        figure("redaction", size / ours, "MB/s"),
        figure("bare scan of the same automaton", size / scan, "MB/s"),
        figure("leak check of the copy", size / leaks, "MB/s"),
        figure("sed, C locale", size / sed_c, "MB/s"),
        figure("sed, UTF-8 locale", size / sed_utf8, "MB/s"),
        figure("redaction : sed in C", sed_c / ours, "×"),
        figure("redaction : sed in UTF-8", sed_utf8 / ours, "×"),
        figure("memory of one redaction", memory, "MB"),
    ]


def _memory_of_a_run(log: Path) -> float:
    """The most memory (MB) that a process of its own needs for one redaction."""
    program = (
        "import sys; sys.path.insert(0, sys.argv[1]); import redaction; from pathlib import Path\n"
        "outcome = redaction.Outcome()\n"
        "blocks, keys = redaction.blocks(Path(sys.argv[2])), redaction.Placeholders(b'k' * 32)\n"
        "for _ in redaction.redact(blocks, redaction.catalogue(), keys, outcome): pass\n"
        "print(redaction.resource.getrusage(redaction.resource.RUSAGE_SELF).ru_maxrss / 1000)\n"
    )
    done = subprocess.run(
        [sys.executable, "-c", program, str(HERE), str(log)], capture_output=True, text=True, check=True
    )
    return float(done.stdout)


__all__ = ["Outcome", "Placeholders", "blocks", "catalogue", "redact", "resource"]
