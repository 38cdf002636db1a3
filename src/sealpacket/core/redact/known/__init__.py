"""Terms: values that are known, in all their spellings, and read off pictures."""

from __future__ import annotations

from sealpacket.core.redact.known.misread import (
    SHORTEST,
    index_of,
    looks_like,
    stretches,
    with_digits,
)
from sealpacket.core.redact.known.terms import Term, host_terms, person_terms, read_terms, texts_of

__all__ = [
    "SHORTEST",
    "Term",
    "host_terms",
    "index_of",
    "looks_like",
    "person_terms",
    "read_terms",
    "stretches",
    "texts_of",
    "with_digits",
]
