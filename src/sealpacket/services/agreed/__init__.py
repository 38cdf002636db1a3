"""Agreements with vendors besides cover: limits, levels, prepaid units, licences."""
