"""Vendor statements: taken in, compared with the register, and each difference decided by a person."""

from sealpacket.services.statements.comparing import COMPARE, compare_statement
from sealpacket.services.statements.deciding import ask, decide
from sealpacket.services.statements.keeping import differences, drop, get, listed, receive

__all__ = [
    "COMPARE",
    "ask",
    "compare_statement",
    "decide",
    "differences",
    "drop",
    "get",
    "listed",
    "receive",
]
