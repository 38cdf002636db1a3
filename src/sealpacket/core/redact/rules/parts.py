"""A detector's pattern taken apart, as the native search wants it: without groups, before its value and from it on."""

from __future__ import annotations

import re
from functools import lru_cache
from itertools import pairwise

from sealpacket.core.redact import _native as native
from sealpacket.core.redact.rules.detector import LEAVE, Detector, Parts


def parts_of(detector: Detector) -> Parts:
    """The parts of a detector's pattern, and its anchors with whether each is looked for in long runs only."""
    as_it_stands = detector.lines or detector.kind == LEAVE or detector.cue
    pattern = detector.whole if as_it_stands else in_strings_too(detector.pattern)
    cue, gap, told = (detector.cue, 0, detector.pattern) if detector.cue else _over_gap(pattern)
    anchors = []
    for anchor in detector.anchors or (detector.pattern,):
        anchors.append((without_groups(anchor), in_long_run(anchor)))
        in_case = anchor.startswith(rb"(?i)") * rb"(?i)"
        bare = anchor.removeprefix(in_case)
        if pattern.startswith(_BEGINS) and bare.startswith(_LINE_BEGINS):
            bare = in_case + rb"[\"'>]" + bare.removeprefix(_LINE_BEGINS)
            anchors.append((without_groups(bare), False))
    before, behind = _parted(pattern)
    return Parts(
        pattern, without_groups(pattern), _is_whole(pattern), before, behind,
        cue, gap, told, without_groups(told), tuple(anchors),
    )  # fmt: skip


@lru_cache(2000)
def _is_whole(pattern: bytes) -> bool:
    """Whether the value is the whole match."""
    bare = pattern.removeprefix(rb"\b").removesuffix(rb"\b")
    return bare.startswith(b"(") and not bare.startswith(b"(?") and _closes(bare) == len(bare) - 1


_SIGN = re.compile(rb"\\.|\[(?:\\.|[^\]\\])*\]?|([()|])", re.DOTALL)


@lru_cache(4000)
def _signs(pattern: bytes) -> tuple[tuple[int, bytes, int], ...]:
    """The brackets and bars that build a pattern, not what is escaped or in a class: where, which, how deep."""
    depth, found = 0, []
    for hit in _SIGN.finditer(pattern):
        if sign := hit[1]:
            depth -= sign == b")"
            found.append((hit.start(), sign, depth))
            depth += sign == b"("
    return tuple(found)


def _group_of(pattern: bytes) -> int:
    """Where the group begins that is the value; 0 if there is none."""
    return next(
        (
            at
            for at, sign, _ in _signs(pattern)
            if sign == b"(" and pattern[at + 1 : at + 2] != b"?"
        ),
        0,
    )


def _closes(pattern: bytes) -> int:
    """Where the bracket closes that opens at the beginning."""
    return next(
        (place for place, sign, depth in _signs(pattern) if sign == b")" and depth == 0), -1
    )


_SIGNS_OF_RUN = re.compile(rb"(\[[^\]^][^\]]*\]|\\d)(?:\{(\d+)\})?")
_ONLY_A_RUN = re.compile(
    rb"(?:\\b|\(\?:\(\?m:\^\)\|\[\^[^\]]+\]\))?((?:" + _SIGNS_OF_RUN.pattern + rb")+)(?:\\b)?"
)
_OF_LONG_RUNS = frozenset(b"ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/_-")


@lru_cache(2000)
def in_long_run(anchor: bytes) -> bool:
    """Whether an anchor is nothing but a long run of letters, digits and their like, and one sign before it at most."""
    whole = _ONLY_A_RUN.fullmatch(anchor)
    runs = _SIGNS_OF_RUN.findall(whole[1]) if whole else []
    return any(int(many or 1) >= native.LONG for _, many in runs) and all(
        {byte for byte in range(256) if re.fullmatch(signs, bytes([byte]))} <= _OF_LONG_RUNS
        for signs, _ in runs
    )


_LINE_BEGINS, _LINE_ENDS = rb"(?m:^)", rb"\r?(?m:$)"
_BEGINS = rb"(?:(?m:^)|[:=][ \t]?\\{0,3}[\"']|<[A-Za-z]{1,12}>)"
_ENDS = rb"(?:\r?(?m:$)|\\{0,3}[\"'][ \t]*(?:[,}\]/>]|\r?(?m:$))|\\{0,3}\"[ \t]|</)"
"""Where a line begins or ends, and where a text in quotes or in an element does: a log is often shipped in one."""


@lru_cache(2000)
def in_strings_too(pattern: bytes) -> bytes:
    """A pattern for what begins or ends a line, so that it finds that in a text in quotes or in an element as well.

    One whose value may go on to the end of the line is left as it is: it would take the rest of the text with it.
    """
    group = _group_of(pattern)
    if rb"[^\r\n" in pattern[group:] or rb"." in re.sub(rb"\\.|\[[^\]]*\]", b"", pattern[group:]):
        return pattern
    if pattern.startswith(_LINE_BEGINS):
        pattern = _BEGINS + pattern.removeprefix(_LINE_BEGINS)
    if pattern.endswith(_LINE_ENDS):
        return _within(pattern.removesuffix(_LINE_ENDS)) + _ENDS
    return _within(pattern)


def _within(pattern: bytes) -> bytes:
    """The same for the ends of lines that are one of several ways to go on."""
    before, mark, after = pattern.partition(_BEGINS)
    parts = (after if mark else before).replace(_LINE_ENDS, rb"(?:\r?(?m:$)|\\{0,3}\"|<)")
    return (
        before * bool(mark)
        + mark
        + parts.replace(b"|(?m:$)", rb"|(?m:$)|\\{0,3}\"|<").replace(
            rb"(?:\r?(?m:$)|\\{0,3}\"|<|\\{0,3}\"|<)", rb"(?:\r?(?m:$)|\\{0,3}\"|<)"
        )
    )


@lru_cache(2000)
def _parted(pattern: bytes) -> tuple[bytes, bytes]:
    """What stands before the group that is the value, and the group itself.

    Both are empty where something stands behind the group, or it stands in one of several ways.
    """
    for start, sign, depth in _signs(pattern):
        if depth == 0 and sign == b"|":
            break
        if depth == 0 and sign == b"(" and pattern[start + 1 : start + 2] != b"?":
            value = pattern[start:].removesuffix(rb"\b")
            flags = re.match(rb"(?:\(\?[a-z]+\))?", pattern)
            if _closes(value) == len(value) - 1 and flags is not None:
                return pattern[:start], flags[0] + pattern[start:]
            break
    return b"", b""


_GAP = re.compile(rb"\[\^\\r\\n\]\{0,(\d{2,3})\}\?")
"""Any text, up to a length."""


def _over_gap(pattern: bytes) -> tuple[bytes, int, bytes]:
    """The two parts of a pattern with a gap before its value, and the gap's length in bytes between them.

    Empty and 0 where a pattern has no gap.
    """
    signs = _signs(pattern)
    for gap in _GAP.finditer(pattern, 0, _group_of(pattern)):
        opened = sum(
            1 if sign == b"(" else -(sign == b")") for at, sign, _ in signs if at < gap.start()
        )
        if opened == 0 and not any(sign == b"|" and depth == 0 for _, sign, depth in signs):
            return pattern[: gap.start()], int(gap[1]), pattern[gap.end() :]
    return b"", 0, b""


@lru_cache(4000)
def without_groups(pattern: bytes) -> bytes:
    """The pattern with its one capturing group made a plain one."""
    groups = [
        place
        for place, sign, _ in _signs(pattern)
        if sign == b"(" and pattern[place + 1 : place + 2] != b"?"
    ]
    parts = (
        pattern[start:end]
        for start, end in pairwise([0, *(place + 1 for place in groups), len(pattern)])
    )
    return b"?:".join(parts)
