"""Services: one function for each act of a user, each with its own transaction."""

from sealpacket.services.packets import lines

__all__ = ["lines"]
