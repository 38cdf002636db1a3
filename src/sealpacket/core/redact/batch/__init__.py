"""Files and folders on all processors, without the service."""

from __future__ import annotations

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
