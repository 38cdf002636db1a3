"""The one tree of errors a person can meet: a stable code, a detail (what happened), and a remedy (what to do)."""

from __future__ import annotations

from typing import Any


class ProblemError(Exception):
    """Something that stopped an act, said so that a person can go on.

    `code` is stable and may be matched by scripts; `facts` are plain values that belong to it.
    """

    code = "problem"
    title = "This did not work"

    def __init__(self, detail: str, remedy: str, *, code: str | None = None, **facts: Any) -> None:
        super().__init__(detail)
        self.detail = detail
        self.remedy = remedy
        self.facts = facts
        if code:
            self.code = code


class Invalid(ProblemError):
    """The input is not valid."""

    code = "invalid"
    title = "This cannot be taken as it is"


class NotSignedIn(ProblemError):
    """Nobody is signed in, or the sign-in has ended."""

    code = "not-signed-in"
    title = "Sign in first"


class NotAllowed(ProblemError):
    """The account's roles do not include this act."""

    code = "not-allowed"
    title = "Your roles do not include this"


class NotFound(ProblemError):
    """There is no such thing in the register."""

    code = "not-found"
    title = "There is no such thing here"


class Stale(ProblemError):
    """The record has changed since it was read."""

    code = "stale"
    title = "Someone else changed this meanwhile"


class Conflict(ProblemError):
    """The act does not fit the state that things are in."""

    code = "conflict"
    title = "Conflict with the current state"


class TooLarge(ProblemError):
    """More bytes than the limit allows."""

    code = "too-large"
    title = "This is larger than allowed"


class Unavailable(ProblemError):
    """Something we depend on is not there just now; nothing was lost."""

    code = "unavailable"
    title = "Something this needs is not there just now"


class DatabaseUnreachable(Unavailable):
    """The database is away; whatever was under way was undone whole and may be done again."""

    code = "database-unreachable"


class DiskFull(Unavailable):
    """The place for exhibits is full."""

    code = "disk-full"
    title = "The disk is full"


class Damaged(ProblemError):
    """A stored or received thing is not what it says it is."""

    code = "damaged"
    title = "This is damaged or has been altered"


class TooManyTries(ProblemError):
    """Too many wrong sign-ins in a short time."""

    code = "too-many-tries"
    title = "Too many tries"
