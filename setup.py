"""Build the native part of the redaction engine; everything else is in pyproject.toml."""

from glob import glob

from pybind11.setup_helpers import Pybind11Extension
from setuptools import setup

FOLDER = "src/sealpacket/core/redact/native"

setup(
    ext_modules=[
        Pybind11Extension(
            "sealpacket.core.redact._native",
            [f"{FOLDER}/module.cpp"],
            depends=glob(f"{FOLDER}/*.hpp"),
            libraries=["re2", "b2"],
            cxx_std=20,
            extra_compile_args=["-O3"],
        )
    ]
)
