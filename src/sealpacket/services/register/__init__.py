"""Keeping the register: forms of its records, and the acts on them."""

from sealpacket.services.register import export, intake
from sealpacket.services.register.acts import (
    Narrow,
    change,
    create,
    get,
    history,
    listed,
)
from sealpacket.services.register.dated import RenewForm, amend, move, renew, transfer
from sealpacket.services.register.kind import Kind
from sealpacket.services.register.kinds import KINDS

__all__ = [
    "KINDS", "Kind", "Narrow", "RenewForm", "amend", "change", "create", "export", "get", "history",
    "intake", "listed", "move", "renew", "transfer",
]  # fmt: skip
