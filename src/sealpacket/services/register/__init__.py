"""Keeping the register: forms of its records, and the acts on them."""

from sealpacket.services.register.acts import change, create, find_assets, get, listed
from sealpacket.services.register.kinds import KINDS, Kind

__all__ = ["KINDS", "Kind", "change", "create", "find_assets", "get", "listed"]
