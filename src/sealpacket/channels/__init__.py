"""How packets go out and replies come in. Which channel a desk uses stands in its sheet; its address in the settings."""

from sealpacket.channels.desk import Desk, DeskAway, DeskRefused, open_desk

__all__ = ["Desk", "DeskAway", "DeskRefused", "open_desk"]
