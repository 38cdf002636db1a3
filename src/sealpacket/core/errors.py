"""The one tree of errors a person can meet: a stable code, a sentence, and a way out."""

from __future__ import annotations

from typing import Any


class Trouble(Exception):
    """Something that stopped an act, said so that a person can go on.

    `code` is stable and may be matched by scripts; `facts` are plain values that belong to it.
    """

    code = "trouble"
    title = "This did not work"

    def __init__(self, sentence: str, way_out: str, *, code: str | None = None, **facts: Any) -> None:
        super().__init__(sentence)
        self.sentence = sentence
        self.way_out = way_out
        self.facts = facts
        if code:
            self.code = code


class Invalid(Trouble):
    """What was given cannot be taken as it is."""

    code = "invalid"
    title = "This cannot be taken as it is"


class NotSignedIn(Trouble):
    """Nobody is signed in, or the sign-in has ended."""

    code = "not-signed-in"
    title = "Sign in first"


class NotAllowed(Trouble):
    """The account's roles do not include this act."""

    code = "not-allowed"
    title = "Your roles do not include this"


class NotFound(Trouble):
    """There is no such thing in the register."""

    code = "not-found"
    title = "There is no such thing here"


class Stale(Trouble):
    """The record has changed since it was read."""

    code = "stale"
    title = "Someone else changed this meanwhile"


class Conflict(Trouble):
    """The act does not fit the state that things are in."""

    code = "conflict"
    title = "This does not fit as things stand"


class TooLarge(Trouble):
    """More bytes than the limit allows."""

    code = "too-large"
    title = "This is larger than allowed"


class Unavailable(Trouble):
    """Something we depend on is not there just now; nothing was lost."""

    code = "unavailable"
    title = "Something this needs is not there just now"


class DatabaseUnreachable(Unavailable):
    """The database is away; whatever was under way was undone whole and may be done again."""

    code = "database-unreachable"


class DiskFull(Unavailable):
    """The place for exhibits is full."""

    code = "disk-full"
    title = "There is no room left"


class Damaged(Trouble):
    """A stored or received thing is not what it says it is."""

    code = "damaged"
    title = "This is damaged or has been altered"


class TooManyTries(Trouble):
    """Too many wrong sign-ins in a short time."""

    code = "too-many-tries"
    title = "Too many tries"
