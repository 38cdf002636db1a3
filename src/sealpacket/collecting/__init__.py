"""Collecting evidence by kits: on this machine, over HTTP, and from devices over SSH and SFTP. It only reads."""

from sealpacket.collecting.running import Access, run_kit

__all__ = ["Access", "run_kit"]
