"""Fuzz every reader with atheris, kind by kind: seeds that are well formed, changed as coverage rewards it.

    python tools/fuzz.py [--seconds 60] [KIND …]

A change may end as held, or as a copy that the leak check passes after at most two mends. Whatever else comes up is a
crash, and its input is kept in var/fuzz. Runs of more than ten seconds, and more than two gigabytes, are crashes too.
"""

from __future__ import annotations

import argparse
import io
import subprocess
import sys
import zipfile
from collections.abc import Callable
from pathlib import Path

ROOT = Path(__file__).parent.parent
FOLDER = ROOT / "var/fuzz"
SLOWEST, MOST_MEMORY, LONGEST = 10, 2048, 1 << 16
INCOMING, SLOWEST_MAIL, MOST_FOR_MAIL = "incoming", 2, 400
"""Mails of desks, as the gate and the mailbox read them. The interpreter with atheris has 200 MB by itself."""
sys.path.insert(0, str(ROOT))


def seeds() -> dict[str, list[bytes]]:
    """Well-formed files of every kind, with things in them that must go."""
    from tests.core import seeds as made
    from tests.core.hostile_mails import MAILS

    mails = [data for data in MAILS.values() if len(data) <= LONGEST]
    return {**made.by_kind(), INCOMING: mails}


def run_one(kind: str, arguments: list[str]) -> None:
    """Fuzz one kind in this process, which libFuzzer ends."""
    import atheris

    with atheris.instrument_imports(
        include=["sealpacket.core.redact", "sealpacket.core.sheets.mails"],
        enable_loader_override=False,
    ):
        acts = {INCOMING: reading, "png": drawing, "pdf": drawing}
        act = acts[kind]() if kind in acts else copying(f"a.{kind}")
    atheris.Setup(["fuzz", *arguments], act)
    atheris.Fuzz()


def copying(name: str) -> Callable[[bytes], None]:
    """What is done with each input: copied, checked, mended if it leaks, and looked at from outside."""
    from tests.core.seeds import CATALOGUE

    from sealpacket.core.redact import Held, Legend, Placeholders, check_file
    from sealpacket.core.redact.readers import Limits, Work, copy_file

    def act(data: bytes) -> None:
        catalogue, legend = CATALOGUE, Legend()
        for _ in range(3):
            work = Work(
                catalogue, Placeholders(b"k" * 32), limits=Limits(free=16 << 20, total=64 << 20)
            )
            target = io.BytesIO()
            try:
                copy_file(io.BytesIO(data), target, work, name)
            except Held:
                return
            legend.merge(work.outcome.legend)
            report = check_file(target, legend, exempt=catalogue.kept_values())
            if report.clean:
                break
            catalogue = catalogue.with_values({(leak.kind, leak.original) for leak in report.leaks})
        else:
            raise AssertionError(f"it leaks after two mends: {report.leaks[:3]}")
        if zipfile.is_zipfile(target):
            with zipfile.ZipFile(target) as archive:
                assert all(
                    not n.startswith("/") and ".." not in n.split("/") for n in archive.namelist()
                )

    return act


def reading() -> Callable[[bytes], None]:
    """A mail is read, or refused as one that cannot be."""
    from sealpacket.core.errors import Invalid
    from sealpacket.core.sheets.mails import mail_files, read_mail

    def act(data: bytes) -> None:
        try:
            read_mail(data)
        except Invalid as refused:
            assert not isinstance(refused.__cause__, MemoryError)
        mail_files(data)

    return act


def drawing() -> Callable[[bytes], None]:
    """Pictures and pages are only drawn: reading words off them is tesseract's work, and slow."""
    from sealpacket.core.redact import Held
    from sealpacket.core.redact.readers.pages import page_picture

    def act(data: bytes) -> None:
        try:
            page_picture(io.BytesIO(data), 1)
        except (Held, IndexError):
            return

    return act


def main() -> int:
    """Every kind in a process of its own; 1 if any crashed."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("kinds", nargs="*")
    parser.add_argument("--seconds", type=int, default=60)
    parser.add_argument("--one", help=argparse.SUPPRESS)
    asked, rest = parser.parse_known_args()
    if asked.one:
        run_one(asked.one, rest)
        return 0
    bad = []
    known = seeds()
    for kind in asked.kinds or known:
        corpus = FOLDER / kind
        corpus.mkdir(parents=True, exist_ok=True)
        for number, seed in enumerate(known[kind]):
            (corpus / f"seed-{number}").write_bytes(seed)
        print(f"{kind}: {asked.seconds} seconds", flush=True)
        done = subprocess.run(
            [
                sys.executable,
                __file__,
                "--one",
                kind,
                str(corpus),
                f"-max_total_time={asked.seconds}",
                f"-timeout={SLOWEST_MAIL if kind == INCOMING else SLOWEST}",
                f"-rss_limit_mb={MOST_FOR_MAIL if kind == INCOMING else MOST_MEMORY}",
                f"-max_len={LONGEST}",
                f"-artifact_prefix={FOLDER}/{kind}-",
            ],
            capture_output=True,
            text=True,
            check=False,
        )
        told = done.stderr.strip().splitlines()
        print(
            "  "
            + next(
                (line for line in reversed(told) if line.startswith("Done") or "DONE" in line),
                told[-1],
            ),
            flush=True,
        )
        if done.returncode:
            bad.append(kind)
            print("\n".join(told[-40:]), flush=True)
    print(f"crashed: {', '.join(bad)}" if bad else "nothing crashed")
    return 1 if bad else 0


if __name__ == "__main__":
    sys.exit(main())
