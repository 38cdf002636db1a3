"""The proof that nothing is left: the leak check, which shares nothing with the search, and mending."""

from __future__ import annotations

from sealpacket.core.redact.verify.leaks import (
    SAMPLE,
    Blind,
    IsPublic,
    Leak,
    LeakCheck,
    LeakReport,
    Suspects,
    check_file,
    check_texts,
    checks_of,
    find_canaries_beside,
    leak_check,
    reports_of,
    still_there,
)
from sealpacket.core.redact.verify.mending import Leaking, mend

__all__ = [
    "SAMPLE",
    "Blind",
    "IsPublic",
    "Leak",
    "LeakCheck",
    "LeakReport",
    "Leaking",
    "Suspects",
    "check_file",
    "check_texts",
    "checks_of",
    "find_canaries_beside",
    "leak_check",
    "mend",
    "reports_of",
    "still_there",
]
