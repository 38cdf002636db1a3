"""Seal Packet: the register of what support we bought, and the packets we send vendors on the strength of it."""

__version__ = "0.1.0"
