"""Names of more than two parts: Xanthe van der Morvik, Ximo Larrea Etxo, van der Morvik, Xanthe.

What tells of a name looks for two. Here such a text gets a view in which each name has two at most: small words before
a surname, second given names, first surnames and initials are left out, and belong to the last name.
"""

from __future__ import annotations

import re
from collections.abc import Iterator

from sealpacket.core.redact.encodings import View, view_with
from sealpacket.core.redact.rules import NO_PART_OF_A_NAME, is_ordinary

_SMALL = (
    rb"(?i:v[ao]n|vom|zum?|zur|de[nlmrs]?|dell[ae]|dei|degli|dal|d[aiou]|dos|das|l[aeo]|las|los|'t|te[nr]|a[fv]|bin"
    rb"|bint|ibn|el|al|abu)"
)
"""What stands before a surname in one language or another."""
PARTICLE = rb"(?:(?m:^)|[ +\t\"'=:>(,;])" + _SMALL + rb"[ +][A-Z\xc3-\xdf]"
"""Where such a view is worth making, as an anchor; without small words, three names are looked for natively."""
_NAME = rb"[A-Z\xc3-\xdf][A-Za-z\x80-\xff'-]*[a-zA-Z\x80-\xff]|[A-Z]\.?"
_LEADS = rb"(?:" + _SMALL + rb"[ +])*"
_ONE = _LEADS + rb"(?:" + _NAME + rb")"
_RUN = re.compile(rb"(?<![\w\x80-\xff.'-])" + _ONE + rb"(?:[ +]" + _ONE + rb")*(?![\w\x80-\xff])")
_PART = re.compile(rb"(" + _LEADS + rb")(" + _NAME + rb")(?:[ +]|$)")
_FIRST_BEHIND = re.compile(rb", (" + _NAME + rb")(?![\w\x80-\xff'-]| (?:" + _NAME + rb"))")
"""A given name behind the surname."""


def full_names_in(raw: bytes) -> View | None:
    """The view, if there is such a name; what was left out begins the place of the name behind it."""
    cuts = (cut for run in _RUN.finditer(raw) for cut in _cuts(run[0], run.start(), raw))
    return view_with(raw, ((start, end + 1, raw[end : end + 1]) for start, end in cuts))


def _cuts(run: bytes, base: int, raw: bytes) -> Iterator[tuple[int, int]]:
    """What is left out of words with capitals that stand side by side, each before a name."""
    names: list[re.Match[bytes]] = []
    for part in [*_PART.finditer(run), None]:
        if part is not None and not _is_no_name(part[2]):
            names.append(part)
            continue
        if names:
            first, last = names[0], names[-1]
            behind = _FIRST_BEHIND.match(raw, base + last.end(2))
            if behind and not _is_no_name(behind[1]):
                if first.start() < last.start(2):
                    yield base + first.start(), base + last.start(2)
            else:
                if first[1]:
                    yield base + first.start(), base + first.start(2)
                if len(names) > 2 or (len(names) > 1 and last[1]):
                    yield base + first.end(), base + last.start(2)
        names = []


def _is_no_name(word: bytes) -> bool:
    return len(word) > 2 and (is_ordinary(word.lower()) or word.lower() in NO_PART_OF_A_NAME)
