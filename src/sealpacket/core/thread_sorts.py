"""The sorts of entries in the thread of a packet."""

from enum import StrEnum


class ThreadSort(StrEnum):
    """A sort of entry."""

    THEIRS = "theirs"
    OURS = "ours"
    FILE = "file"
    STATE = "state"
    SHIPMENT = "shipment"
    ACCESS = "access"
    DECISION = "decision"
