"""The native part of the log summary, in native/: one pass over a log, in C++. Built by setup.py."""

from collections.abc import Callable

BUCKETS: int
"""Parts of a log's span in which each message is counted."""
FINE: int
"""Parts of a log's span in which the levels are counted."""

Told = tuple[int, int, int, bytes, bytes, bool, int, int, bytes | None]
"""A line's time: microseconds since 1970, where it begins and ends (bytes), and what others of its minute or day have.

That is the text before what changes (without it nothing is learned), the text behind the seconds, whether the time
ends with the seconds, the moment of the minute or the day, how many digits count seconds (0 for none), and for times
of a day, what follows hours and minutes."""

def skeleton(message: bytes, before: bytes = b"") -> bytes:
    """What is behind a line's time and before it, without what changes from one occurrence to the next."""

class Scan:
    """Counts a log's messages, levels, gaps and steps back. Moments are microseconds since 1970."""

    lines: int
    untimed: int
    octets: int
    asked: int
    """Lines whose time Python was asked for."""
    outside: int
    """Lines with times outside of the span that was named; they are counted in its first or last part."""
    too_long: int
    steps_back: int
    moment: int
    """Of the last line with a time."""
    earliest: int
    latest: int
    levels: list[list[int]]
    """By part of the span and level."""

    def __init__(
        self,
        first: int,
        last: int,
        reach: int,
        most: int,
        zones: list[str],
        known: list[str],
        read: Callable[[bytes], Told | None],
        judge: Callable[[bytes, bytes], tuple[int, bool]],
        merge: Callable[[list[tuple[bytes, int]]], list[bytes]],
    ) -> None:
        """Count from `first` to `last`, with `most` different messages at a time.

        Times are in the first `reach` bytes. `read` gives a line's time, `judge` the level of a message (by skeleton
        and example) and whether its moments are kept, `merge` the template of each skeleton. Raises ValueError for a
        pattern in `known` that cannot be read.
        """
    def feed(self, data: bytes) -> None: ...
    def finish(self) -> None:
        """A file ends; another one may follow."""
    def skeletons(self) -> list[tuple[bytes, int]]: ...
    def regroup(self, into: list[bytes]) -> None:
        """Put messages with the same new skeleton together."""
    def messages(
        self,
    ) -> list[tuple[bytes, int, int, int, int, int, bytes, bytes, list[int], list[int]]]:
        """Each with skeleton, count, bytes, first, last, level, first example, last example, moments, counts."""
    def gaps(self) -> list[tuple[int, int, int]]:
        """The longest: from, to, and the number of the line behind it."""
    def back(self) -> list[tuple[int, int, int]]:
        """The first steps back of the clock."""
    def known(self) -> list[tuple[int, int, int, bytes]]:
        """For each pattern: count, first, last, example."""
