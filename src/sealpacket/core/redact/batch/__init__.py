"""Files and folders on all processors, without the service."""

from __future__ import annotations

from importlib.util import find_spec

from sealpacket.core.redact.batch.folder import (
    Done,
    Job,
    Journal,
    redact_files,
    report_of,
    write_json,
    write_legend,
)

__all__ = ["Done", "Job", "Journal", "redact_files", "report_of", "write_json", "write_legend"]

# Readers are loaded late: what any of them needs has to be there before the first file is read.
for _package in (
    "re2",
    "PIL",
    "pypdfium2",
    "reportlab",
    "lxml",
    "zxingcpp",
    "isal",
    "zstandard",
    "stdnum",
):
    if find_spec(_package) is None:
        raise ModuleNotFoundError(f"No module named {_package!r}", name=_package)
