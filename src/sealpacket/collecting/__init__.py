"""Collecting evidence by kits: on this machine, over HTTP, and from devices over SSH and SFTP. It only reads."""

from sealpacket.collecting.running import Access, files_of, run_kit, run_step

__all__ = ["Access", "files_of", "run_kit", "run_step"]
