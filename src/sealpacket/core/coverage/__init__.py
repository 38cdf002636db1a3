"""Cover: from candidates to a ruling with its reasons, for one day or over time."""

from sealpacket.core.coverage.ahead import Extension, Term, align, gaps, serving_days
from sealpacket.core.coverage.candidate_index import CandidateIndex
from sealpacket.core.coverage.model import (
    Basis,
    Candidate,
    Carrier,
    Cure,
    HostCover,
    Listing,
    Login,
    Need,
    PassedOver,
    Question,
    Reach,
    Route,
    Ruling,
    Thing,
)
from sealpacket.core.coverage.ruling import replay, rule
from sealpacket.core.coverage.timeline import CoverSpan, timeline

__all__ = [
    "Basis",
    "Candidate",
    "CandidateIndex",
    "Carrier",
    "CoverSpan",
    "Cure",
    "Extension",
    "HostCover",
    "Listing",
    "Login",
    "Need",
    "PassedOver",
    "Question",
    "Reach",
    "Route",
    "Ruling",
    "Term",
    "Thing",
    "align",
    "gaps",
    "replay",
    "rule",
    "serving_days",
    "timeline",
]  # fmt: skip
