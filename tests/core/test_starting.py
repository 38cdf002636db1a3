"""What the command has to load before it writes its first byte."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import pytest
from PIL import Image

from sealpacket.core.redact import Catalogue
from sealpacket.core.redact.batch import Job, folder, redact_files
from sealpacket.core.redact.planned import Planned

HEAVY = {"PIL", "pypdfium2", "reportlab", "lxml", "zxingcpp", "sqlite3", "pydantic", "yaml", "rich"}


def loaded(program: str) -> set[str]:
    """The packages that a Python of its own has loaded after a program."""
    said = subprocess.run(
        [
            sys.executable,
            "-c",
            f"{program}\nimport json, sys\nprint(json.dumps(sorted(sys.modules)))",
        ],
        check=True,
        capture_output=True,
        text=True,
    ).stdout
    return {name.split(".")[0] for name in json.loads(said)}


def test_text_is_redacted_without_the_readers_of_other_kinds() -> None:
    program = (
        "from sealpacket.core.redact import *\n"
        "from sealpacket.core.redact.batch import redact_files\n"
        "from sealpacket.core.redact.planned import Planned\n"
        "catalogue, outcome = Planned().catalogue(), Outcome()\n"
        "copy = b''.join(redact([b'user=odile\\n'], catalogue, Placeholders(b'k' * 32), outcome))\n"
        "assert leak_check([copy], outcome.legend).clean and b'odile' not in copy"
    )
    assert not HEAVY & loaded(program)


def test_a_process_that_others_are_forked_from_can_load_all_readers() -> None:
    assert {"PIL", "pypdfium2", "reportlab", "lxml", "zxingcpp"} <= loaded(
        "from sealpacket.core.redact.readers import load_all\nload_all()"
    )


def test_the_help_of_the_command_loads_no_engine() -> None:
    packages = loaded("import sealpacket.cli.redacting, sealpacket.cli.show")
    assert not packages & {"rich", "PIL", "pypdfium2", "yaml"}


def no_pool(*_given: object, **_more: object) -> None:
    raise AssertionError("a process was started")


def test_a_little_text_gets_no_process_of_its_own(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    text = tmp_path / "a.log"
    text.write_text("user=odile\n" * 100)
    monkeypatch.setattr(folder, "ProcessPoolExecutor", no_pool)
    done, legend = redact_files(
        [(text, "a.log")], tmp_path / "out", Job(Planned().catalogue, b"k" * 32), workers=8
    )
    assert done[0].state == "copied" and legend.pairs == 1
    assert b"odile" not in (tmp_path / "out/a.log").read_bytes()


def test_what_may_take_long_gets_one_however_small_it_is(tmp_path: Path) -> None:
    pictures = [tmp_path / f"{number}.png" for number in range(3)]
    for path in pictures:
        Image.new("RGB", (20, 20)).save(path)
    large = tmp_path / "large.log"
    large.write_bytes((b"x" * 99 + b"\n") * (2 * folder.PART // 100 + 1))
    assert folder._useful(8, pictures) == 3
    assert folder._useful(2, pictures) == 2
    assert folder._useful(8, [large]) == 3
    assert folder._useful(8, []) == 1


def test_no_plan_comes_to_what_an_empty_plan_does() -> None:
    from sealpacket.core.redact.plan import Plan

    assert Plan().planned() == Planned()
    assert isinstance(Planned().catalogue(), Catalogue)
