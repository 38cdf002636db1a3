"""A log's summary: what it covers, what it repeats, what is new in it, and what is known about that."""

from sealpacket.core.evidence.summary.building import in_window, summarise
from sealpacket.core.evidence.summary.known import KnownIssue, read_known, read_known_file
from sealpacket.core.evidence.summary.model import Summary

__all__ = ["KnownIssue", "Summary", "in_window", "read_known", "read_known_file", "summarise"]
