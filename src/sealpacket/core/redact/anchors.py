"""Where it is worth looking: Hyperscan finds the anchors of all detectors and terms in one quick pass.

RE2 then tries, on each line that has one, only the detectors whose anchors it has: a line with nothing in it costs
next to nothing, and the others little. An anchor lies wholly inside every match of its detector; the tests hold that
the copy is the same without this pass.
"""

from __future__ import annotations

from collections.abc import Mapping

import hyperscan

SHIFT = 20
"""A hint is the place where an anchor ends, shifted by this, and the number of the anchor."""
LOW = (1 << SHIFT) - 1
_MOST = 60_000


class Anchors:
    """Finds the ends of all anchors in a buffer.

    `expressions` says for each anchor what it stands for, as bits; `words` are plain texts, whatever their case, that
    stand for `word_bit`. `usable` is False where an expression is more than Hyperscan can take.
    """

    def __init__(self, expressions: Mapping[bytes, int], words: list[bytes], word_bit: int) -> None:
        self.bits = [*expressions.values(), *(word_bit for _ in words)]
        every = [*expressions, *(b"(?i)" + b"".join(b"\\x%02x" % byte for byte in word) for word in words)]
        self._database = hyperscan.Database(mode=hyperscan.HS_MODE_BLOCK)
        self.usable = len(every) <= _MOST
        if self.usable:
            try:
                self._database.compile(
                    expressions=every, ids=list(range(len(every))), elements=len(every), flags=[0] * len(every)
                )
                self._scratch = hyperscan.Scratch(self._database)
            except hyperscan.error:
                self.usable = False

    def find(self, buffer: bytes) -> list[int]:
        """All hints in a buffer, in the order of their places."""
        hints: list[int] = []
        note = hints.append

        def seen(ident: int, _start: int, end: int, _flags: int, _context: object) -> None:
            note(end << SHIFT | ident)

        self._database.scan(buffer, match_event_handler=seen, scratch=self._scratch)
        hints.sort()
        return hints


def can_anchor(expression: bytes) -> bool:
    """Whether an expression can be an anchor by itself."""
    try:
        hyperscan.Database(mode=hyperscan.HS_MODE_BLOCK).compile(
            expressions=[expression], ids=[0], elements=1, flags=[hyperscan.HS_FLAG_PREFILTER]
        )
    except hyperscan.error:
        return False
    return True
