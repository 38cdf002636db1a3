"""Sealing a packet, and its bag."""
