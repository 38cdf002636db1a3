"""Names that stand beside their values, in any grammar: members of objects, elements, attributes, arguments, options,
queries, lists. Whether a name tells anything, others decide (columns.py)."""

from __future__ import annotations

import re
from collections.abc import Iterator

_KEY = rb"([A-Za-z][\w. \x80-\xff-]{1,40})"
_WORD = rb"([A-Za-z][\w.\x80-\xff-]{1,40})"
_QUOTED = rb"\"[^\"\r\n]{2,200}\"|'[^'\r\n]{2,200}'"
_CELL = rb"(?:\s[^<>\r\n]*)?>[ \t]*"
_GRAMMARS = (
    # an element of an array, two arguments
    (b"]", re.compile(rb"\[[\"']" + _KEY + rb"[\"']\][ \t]*=[ \t]*[\"']([^\"'\r\n]{2,200})[\"']")),
    (b"(", re.compile(rb"[(,][ \t]*[\"']" + _KEY + rb"[\"'],[ \t]*[\"']([^\"'\r\n]{2,200})[\"'][ \t]*[\])]")),
    # an option, a property that a program is started with
    (b"--", re.compile(rb"[ \t\"'\[]--" + _WORD + rb"[ \t]+(" + _QUOTED + rb"|[^\s\"'<>|;,-][^\s\"'<>|;,]{1,200})")),
    (b" -D", re.compile(rb"[ \t\"'\[]-D" + _WORD + rb"=(" + _QUOTED + rb"|[^\s\"'<>|;,]{2,200})")),
    # a name in bold letters, a value in brackets
    (b"**", re.compile(rb"\*\*" + _KEY + rb":?\*\*:?[ \t]+([^\s*|][^\r\n*|]{1,40})[ \t]*(?=[\r\n|]|\Z)")),
    (b"<", re.compile(rb"(?<![\w.-])" + _KEY + rb"[ \t]*[:=][ \t]*<([^<>/\r\n]{2,200})>")),
    # an element with its value in an attribute, or in the element behind it
    (b"alue=", re.compile(rb"<" + _WORD + rb"[ \t](?:[^<>\r\n]*?[ \t])?[vV]alue=[\"']([^\"'<>\r\n]{2,200})[\"']")),
    (
        b"</",
        re.compile(
            rb"<(?:key|dt|th|label|b|strong)" + _CELL + rb"([^<>\r\n]{2,40}?):?[ \t]*</[a-z]+>[ \t]*<[a-z]+"
            + _CELL + rb"([^<>\r\n]{2,200})<"
        ),
    ),
)  # fmt: skip
"""A sign that is in each, and its expression: a name, a value."""
_VALUE = re.compile(rb"(?i)alue\\*[\"']?\s*[:=]\s*\\*[\"']([^\"'\\\r\n<>]{1,400})[\"'\\]")
_NAMED = re.compile(
    rb"(?i)\b(?:name|key|field|label|id|param(?:eter)?|attribute|option|setting|property|title|question)\\*[\"']?\s*[:=]\s*\\*[\"']"
    rb"([^\"'\\\r\n<>]{1,40})\\*[\"'][\s,]*\\*[\"']?\Z"
    rb"|[\"']([^\"'\\\r\n<>]{1,40})\\*[\"']\s*:\s*\{\s*\\*[\"']?\Z"
)
_NAME_AND_VALUE = 160
"""In a name and a value that stand side by side, each with what says so: how far the name may be."""
_LEAF = re.compile(
    rb"<(?:[A-Za-z][\w.-]*:)?([A-Za-z][\w.\x80-\xff-]{1,40})(?:\s[^<>\r\n]*)?>([^<>\r\n]{2,400})</"
)
"""An element with nothing but a text, whose name tells of it."""
_MARKUP = frozenset(
    b"a b i u s p em tt td th li dt dd h1 h2 h3 h4 h5 h6 q pre code kbd var div span samp strong small sub sup cite dfn"
    b" title option label para literal command filename emphasis term text string value style script button caption"
    b" legend summary font center big del ins mark".split()
)
"""Names of elements that only say how a text looks."""
_QUERY = re.compile(
    rb"[?&;]([A-Za-z][\w.\x80-\xff-]{0,40})=([^&\s\"'<>;#+,]+,?\+(?:[^&\s\"'<>;#,]|,\+)*)"
)
"""A value of a query with plus signs for blanks."""
_OPENED = re.compile(
    rb"(?:[\"']" + _KEY + rb"\\?[\"'][ \t]*:|(?<![\w.-])" + _WORD + rb"[ \t]*[:=])[ \t]*\["
)
_IN_BRACKETS = re.compile(
    rb"\s*((?:\\?[\"'][^\"'\[\]\r\n]{1,200}[\"']\s*,?\s*){1,200}|[A-Za-z][^\[\]{}\"':\r\n]{2,400}(?=\]))"
)
_ABOVE = re.compile(rb"[ \t]*(?:-[ \t]+)?[\"']?([A-Za-z][\w. -]{1,40})[\"']?[ \t]*:[ \t]*\r?\n")
_ON_LINES = re.compile(
    rb"((?:[ \t]*-[ \t]+[\"']?[^\s\"'\[\]{}:#&*|>-][^\r\n:\"']{1,100}[\"']?[ \t]*(?:\r?\n|\Z)){1,200})"
)
_ITEM = re.compile(
    rb"(?m)[\"']([^\"'\\\r\n]{2,200})[\"'\\]|(?:^[ \t]*-[ \t]+|^|,[ \t]*)([^\s\"',-][^,\r\n\"']{1,200})"
)
"""Values in a list that has a name, in brackets or on a line each, and one of them."""
_LONGEST_LIST, _AHEAD = 8192, 100

ANCHORS = (
    rb"alue\\{0,3}[\"']?[ \t]*[:=][ \t]*\\{0,3}[\"']", rb"</[A-Za-z]", rb"[?&][A-Za-z]", rb"[\"']\][ \t]?=[ \t]?[\"']",
    rb"[\"'][A-Za-z][A-Za-z_.-]{1,40}[\"'],[ \t]?[\"']", rb"[ \t]--[a-z]", rb"[ \t]-D[A-Za-z]", rb"\*\*",
    rb"[:=] ?<[A-Za-z0-9]", rb"[ \t]value=[\"']", rb"</(?:key|dt|th|label|b|strong)>[ \t]*<",
    rb"[a-z]s[\"']?:[ \t]?\r?(?m:$)",
    rb"[A-Za-z0-9_][\"'\\]{0,2}[ \t]?[:=][ \t]?\[[ \t]?(?:[\"'\\A-Za-z]|\r?(?m:$))",
)  # fmt: skip
"""What a line has in which a name stands beside its value."""

Pair = tuple[bytes, int, bytes]
"""A name, where its value begins in the text, and the value."""


def pairs_in(text: bytes, start: int, end: int, limit: int) -> Iterator[Pair]:
    """The pairs of one line; none begins at or behind `limit`."""
    close = min(end, limit)
    for leaf in _LEAF.finditer(text, start, close):
        if leaf[1].lower() not in _MARKUP:
            yield leaf[1], leaf.start(2), leaf[2]
    line = text[start:close]
    for sign, grammar in _GRAMMARS:
        for pair in grammar.finditer(text, start, close) if sign in line else ():
            yield pair[1], pair.start(2), pair[2]
    for value in _VALUE.finditer(text, start, end):
        begin = value.start() - 1
        if begin >= limit:
            break
        named = _NAMED.search(text, max(0, begin - _NAME_AND_VALUE), begin)
        if named:
            yield named[1] or named[2], value.start(1), value[1]


def queries_in(text: bytes, start: int, end: int) -> Iterator[Pair]:
    """The values of a line's queries that have plus signs for blanks, with blanks."""
    for query in _QUERY.finditer(text, start, end):
        yield query[1], query.start(2), query[2].replace(b"+", b" ")


def lists_in(text: bytes, start: int, end: int, limit: int) -> Iterator[Pair]:
    """The values of lists that begin on a line and may go on below it, each with the name of the list and that of one
    of them."""
    close = min(end + _LONGEST_LIST, limit)
    if text.find(b"[", start, end) >= 0:
        heads, body = list(_OPENED.finditer(text, start, end)), _IN_BRACKETS
    elif text[end : end + _AHEAD].lstrip().startswith(b"-"):
        above = _ABOVE.match(text, start, end + 1)
        heads, body = [above] if above else [], _ON_LINES
    else:
        return
    for head in heads:
        listed = body.match(text, head.end(), close)
        if listed is None:
            continue
        name = head[head.lastindex or 1]
        for item in _ITEM.finditer(listed[1]):
            value = 1 if item[1] else 2
            for label in dict.fromkeys((name, name.removesuffix(b"s"))):
                yield label, listed.start(1) + item.start(value), item[value]
