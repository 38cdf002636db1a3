"""Houses for the tests: each file has one of its own, copied from one that is filled once in a test run."""

from __future__ import annotations

import fcntl
import os
import shutil
import subprocess
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from threading import Thread

from sealpacket.demo.cluster import Cluster
from sealpacket.demo.house import STANDINS, RunningHouse
from tests.forks import Launcher, import_all, popen, rehearse

CONSOLE = Path(__file__).parent.parent / "console/dist"
RUN = "SEALPACKET_RUN"
"""Environment variable with the folder of the test run."""
SETTINGS = {"LARGEST_UPLOAD": "40000000", "FOLLOW_EVERY": "3600"}
"""Uploads are limited to 40 MB; nobody looks at a desk unless a test asks for it."""
_NOBODY = 9
"""A port at which nobody listens."""
_SHARED_MEMORY = Path("/dev/shm")


class TestHouse(RunningHouse):
    """A house whose processes are forked from one that has imported them."""

    __test__ = False

    def __init__(
        self,
        folder: Path,
        settings: dict[str, str] | None = None,
        processes: int = 1,
        *,
        provider: bool = False,
    ) -> None:
        super().__init__(
            folder,
            console=CONSOLE,
            settings={**SETTINGS, **(settings or {})},
            durable=False,
            devices=False,
            provider=provider,
            processes=processes,
            popen=popen,
        )


class CopiedHouse(TestHouse):
    """A house whose tables are there already, and whose data nobody needs any more when it ends."""

    def __exit__(self, *_error: object) -> None:
        self.stop(at_once=True)

    def _migrate(self) -> None:
        pass


@contextmanager
def copied_house(
    settings: dict[str, str] | None = None, processes: int = 1, *, provider: bool = False
) -> Iterator[RunningHouse]:
    """A running house with the demo world in it, without stand-in devices; `provider`: with the OpenID provider."""
    original = _original(Path(os.environ[RUN]))
    with new_folder("sealpacket-test-") as folder:
        house = CopiedHouse(folder / "house", settings, processes, provider=provider)
        try:
            _copy(original, house)
            with house:
                yield house
                assert house.ended() is None, f"{house.ended()} has ended; see its log above"
        finally:
            house.cluster.remove()


@contextmanager
def new_folder(prefix: str) -> Iterator[Path]:
    """A folder in memory that is gone afterwards; the postgres account can come there."""
    folder = Path(
        tempfile.mkdtemp(prefix=prefix, dir=_SHARED_MEMORY if _SHARED_MEMORY.is_dir() else None)
    )
    folder.chmod(0o755)
    try:
        yield folder
    finally:
        shutil.rmtree(folder, ignore_errors=True)


@contextmanager
def shared_by_the_run(*, with_house: bool = True) -> Iterator[None]:
    """What all processes of one test run share: the launcher, the words on pictures, the house that is copied.

    `with_house`: it is filled while the tests are still being collected.
    """
    with new_folder("sealpacket-run-") as folder:
        os.environ[RUN] = str(folder)
        _read_pictures_once(folder)
        launcher = Launcher(folder)
        filling = Thread(target=_original, args=(folder,))
        try:
            if with_house:
                import_all()
                filling.start()
            yield
        finally:
            if with_house:
                filling.join()
            launcher.close()
            Cluster.at(folder / "original/postgres").remove()


def _read_pictures_once(run: Path) -> None:
    """Put a tesseract first on the path that asks the real one about each picture once, and remembers what it said."""
    real = shutil.which("tesseract")
    if real is None:
        return
    program, known = run / "bin/tesseract", run / "pictures"
    program.parent.mkdir()
    known.mkdir()
    program.write_text(_TESSERACT.format(real=real, known=known))
    program.chmod(0o755)
    os.environ["PATH"] = f"{program.parent}{os.pathsep}{os.environ['PATH']}"


_TESSERACT = """#!/bin/sh
new=$(mktemp {known}/new.XXXXXX)
trap 'rm -f "$new" "$new.said"' EXIT
cat >"$new"
said={known}/$(echo "$@" | cat - "$new" | sha256sum | cut -c1-64)
if [ ! -e "$said" ]; then
  {real} "$@" <"$new" >"$new.said" || exit
  mv "$new.said" "$said"
fi
cat "$said"
"""


def _original(run: Path) -> RunningHouse:
    """The house that is copied, ended. Whoever needs it first fills it, and the others wait."""
    made = run / "original.made"
    with (run / "original.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        house = TestHouse(run / "original")
        if not made.exists():
            with house:
                pass
            _rehearse_in_a_copy(house)
            made.touch()
    return house


def _rehearse_in_a_copy(original: RunningHouse) -> None:
    with new_folder("sealpacket-rehearsal-") as folder:
        house = CopiedHouse(folder / "house")
        try:
            _copy(original, house)
            house.standin_ports = dict.fromkeys(STANDINS, _NOBODY)
            house.cluster.start()
            rehearse(house.environment(), house.sign_ins["marit"])
        finally:
            house.cluster.remove()


def _copy(original: RunningHouse, house: RunningHouse) -> None:
    left_out = shutil.ignore_patterns("log", "running", "postgres")
    shutil.copytree(original.folder, house.folder, ignore=left_out)
    subprocess.run(
        ["cp", "-a", str(original.cluster.folder), str(house.cluster.folder)], check=True
    )
