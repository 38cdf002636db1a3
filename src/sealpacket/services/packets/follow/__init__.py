"""Packets at their desk: cases, messages and acts."""
