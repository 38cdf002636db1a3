"""Lines that go on: whether a value was broken because a text was wrapped at one width.

Where that may be is found by native code (native/wrapping.hpp).
"""

OPEN_ENDED = frozenset({"secret", "user", "key", "address", "token", "hash", "host"})
"""Kinds whose value has no form that tells where it ends: behind a mere `=` at the end of a line they do not go on."""


def goes_on(buffer: bytes, start: int, end: int) -> bool:
    """Whether the line surely goes on after its end: it is full, ends in a backslash, or is as long as in a mail."""
    return buffer[end - 1 : end] != b"=" or 60 <= end - start <= 77
