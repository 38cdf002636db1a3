"""Build the native parts, and take the console and the files of an installation along.

Everything else is in pyproject.toml.
"""

import os
import shutil
import sys
from pathlib import Path

from pybind11.setup_helpers import Pybind11Extension
from setuptools import setup
from setuptools.command.build_py import build_py

CORE = "src/sealpacket/core"
LITTLE_MEMORY = ["--param", "ggc-min-expand=20", "--param", "ggc-min-heapsize=65536"]
"""The compiler tidies up more often: it takes half of the memory, and a third longer."""
WITHOUT_FOLDERS = [f"-ffile-prefix-map={folder}=." for folder in (Path.cwd(), sys.prefix)]
"""The same bytes, whatever folder they are built in."""
CONSOLE = Path("console/dist")
SANITIZED = ["-O1", "-g", "-fsanitize=address,undefined", "-fno-sanitize-recover=undefined"]


def native(package: str, libraries: list[str]) -> Pybind11Extension:
    """The module `_native` of a package of the core, from its folder native/."""
    folder = f"{CORE}/{package}/native"
    return Pybind11Extension(
        f"sealpacket.core.{package}._native",
        sorted(str(path) for path in Path(folder).glob("*.cpp")),
        depends=[str(path) for path in Path(folder).glob("*.hpp")],
        libraries=libraries,
        cxx_std=20,
        extra_compile_args=SANITIZED if _wanted("SANITIZE") else ["-O2", "-g0", *WITHOUT_FOLDERS, *LITTLE_MEMORY],
        extra_link_args=SANITIZED if _wanted("SANITIZE") else [],
    )


def _wanted(what: str) -> bool:
    """SEALPACKET_SANITIZE: no fault of memory goes by. SEALPACKET_COMPILED: they lie in their places already."""
    return bool(os.environ.get(f"SEALPACKET_{what}"))


class WithConsole(build_py):
    """Modules, and the built console if there is one: `make release` builds it first."""

    def run(self) -> None:
        """Copy the console beside the code that serves it."""
        super().run()
        if not self.editable_mode and (CONSOLE / "index.html").exists():
            ignored = shutil.ignore_patterns(".*")
            place = Path(self.build_lib) / "sealpacket/web/console"
            shutil.copytree(CONSOLE, place, dirs_exist_ok=True, ignore=ignored)


def _shared() -> list[tuple[str, list[str]]]:
    """The files of ops/, by the folders where the wheel puts them: share/sealpacket/…"""
    found: dict[str, list[str]] = {}
    for path in sorted(Path("ops").rglob("*")):
        if path.is_file():
            place = Path("share/sealpacket") / path.parent.relative_to("ops")
            found.setdefault(str(place), []).append(str(path))
    return [*found.items()]


setup(
    cmdclass={"build_py": WithConsole},
    data_files=_shared(),
    ext_modules=[]
    if _wanted("COMPILED")
    else [native("redact", ["re2", "b2"]), native("evidence", ["re2"])],
    options={
        "build_ext": {"parallel": 2}
    },  # one unit each: several would instantiate the same templates
)
