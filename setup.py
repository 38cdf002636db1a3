"""Build the native parts: the redaction engine's and the log summary's; everything else is in pyproject.toml."""

import os
from pathlib import Path

from pybind11.setup_helpers import Pybind11Extension
from setuptools import setup

CORE = "src/sealpacket/core"
LITTLE_MEMORY = ["--param", "ggc-min-expand=20", "--param", "ggc-min-heapsize=65536"]
"""The compiler tidies up more often: it takes half of the memory, and a third longer."""
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
        extra_compile_args=SANITIZED if _wanted("SANITIZE") else ["-O2", "-g0", *LITTLE_MEMORY],
        extra_link_args=SANITIZED if _wanted("SANITIZE") else [],
    )


def _wanted(what: str) -> bool:
    """SEALPACKET_SANITIZE: no fault of memory goes by. SEALPACKET_COMPILED: they lie in their places already."""
    return bool(os.environ.get(f"SEALPACKET_{what}"))


setup(
    ext_modules=[]
    if _wanted("COMPILED")
    else [native("redact", ["re2", "b2"]), native("evidence", ["re2"])],
    options={
        "build_ext": {"parallel": 2}
    },  # one unit each: several would instantiate the same templates
)
