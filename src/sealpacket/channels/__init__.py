"""How packets go out and replies come in: the channel stands in the desk's sheet, its address in the settings."""

from sealpacket.channels.desk import Desk, DeskAway, DeskRefused, Outgoing, open_desk

__all__ = ["Desk", "DeskAway", "DeskRefused", "Outgoing", "open_desk"]
