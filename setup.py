"""Build the native parts: the redaction engine's and the log summary's; everything else is in pyproject.toml."""

import os
from pathlib import Path

from pybind11.setup_helpers import Pybind11Extension
from setuptools import setup

CORE = "src/sealpacket/core"
SANITIZED = ["-O1", "-g", "-fsanitize=address,undefined", "-fno-sanitize-recover=undefined"]


def native(package: str, libraries: list[str]) -> Pybind11Extension:
    """The module `_native` of a package of the core, from its folder native/."""
    folder = f"{CORE}/{package}/native"
    return Pybind11Extension(
        f"sealpacket.core.{package}._native",
        [f"{folder}/module.cpp"],
        depends=[str(path) for path in Path(folder).glob("*.hpp")],
        libraries=libraries,
        cxx_std=20,
        extra_compile_args=SANITIZED if _wanted("SANITIZE") else ["-O3", "-g0"],
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
