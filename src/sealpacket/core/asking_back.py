"""Questions that a desk is likely to ask back, learnt from those that it asked about packets like this one.

Questions are told apart by their significant words, so that the same one in other words counts once. The narrowest
group of like packets decides that is large enough: those of the same product and category, of either, or all.
"""

from __future__ import annotations

import hashlib
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import timedelta

MOST = 2
"""Questions that are offered of a packet at most."""
FEWEST = 3
"""Like packets without which nothing is learnt."""
SHARE = 0.34
"""The share of like packets of which a question has been asked from which on it is offered."""
ALIKE = 0.5
"""Two questions with this share of their words in common are the same one."""
_STEM = 5
_FILLERS = """
a all also an and any are as at be been but by can could did do does else for from give has have how i if in is it its
kindly me more need of on or our please provide run send should so tell that the their them there these they this to us
was we what when where which who why will with would you your
der die das den dem des ein eine und oder ist sind war wir sie ihr bitte noch uns welche welcher welches wie wann wo auf
mit von zu im
"""
_SAYS_NOTHING = frozenset(_FILLERS.split())


@dataclass(frozen=True)
class Like:
    """A packet that the desk has had: what it was about, and the questions that it asked, with the time they cost."""

    product: str = ""
    category: str = ""
    asked: tuple[tuple[str, timedelta], ...] = ()


@dataclass(frozen=True)
class Foreseen:
    """A question that is likely to be asked: of `asked_in` packets among `like` ones, and the time it cost on average.

    `because` is what these packets have in common with this one.
    """

    text: str
    asked_in: int
    like: int
    cost: timedelta
    because: str

    @property
    def id(self) -> str:
        """A name of the question, the same for the same words in another order."""
        return ident_of(self.text)


def ident_of(text: str) -> str:
    """A name of a question, from its significant words."""
    return hashlib.sha256(" ".join(sorted(words_of(text))).encode()).hexdigest()[:12]


def words_of(text: str) -> frozenset[str]:
    """The significant words of a question, cut to their beginnings."""
    found = re.findall(r"[^\W\d_]{2,}", text.lower())
    return frozenset(one[:_STEM] for one in found if one not in _SAYS_NOTHING)


def same(one: frozenset[str], other: frozenset[str]) -> bool:
    """Whether two questions, by their words, are the same one."""
    if not one or not other:
        return False
    return len(one & other) / len(one | other) >= ALIKE


@dataclass
class _Group:
    """Questions that are the same one, and the packets of which they were asked."""

    text: str
    words: frozenset[str]
    packets: set[int] = field(default_factory=set)
    cost: timedelta = timedelta()


def foreseen(
    past: Sequence[Like], product: str, category: str, told: Iterable[str] = ()
) -> list[Foreseen]:
    """The questions that are likely to be asked of a packet about a product and category, the likeliest first.

    `told` are texts that answer some already: a question whose words are all in one of them is not offered.
    """
    known = [words_of(one) for one in told]
    found: list[Foreseen] = []
    for group, because in _groups(past, product, category):
        if len(group) < FEWEST:
            continue
        for one in _asked(group):
            share = len(one.packets) / len(group)
            if share < SHARE or len(one.packets) < 2:
                continue
            if any(one.words <= words for words in known):
                continue
            if any(same(one.words, words_of(other.text)) for other in found):
                continue
            cost = one.cost / len(one.packets)
            found.append(Foreseen(one.text, len(one.packets), len(group), cost, because))
        break
    found.sort(key=lambda one: (-one.asked_in / one.like, -one.cost, one.text))
    return found[:MOST]


def _groups(
    past: Sequence[Like], product: str, category: str
) -> Iterable[tuple[Sequence[Like], str]]:
    """Like packets, the narrowest group first."""
    if product and category:
        both = [one for one in past if one.product == product and one.category == category]
        yield both, "of this product and category"
    if category:
        yield [one for one in past if one.category == category], "of this category"
    if product:
        yield [one for one in past if one.product == product], "of this product"
    yield past, "at this desk"


def _asked(group: Sequence[Like]) -> list[_Group]:
    """The questions of some packets; the same one in other words counts once."""
    groups: list[_Group] = []
    for place, packet in enumerate(group):
        for text, cost in packet.asked:
            words = words_of(text)
            if not words:
                continue
            one = next((kept for kept in groups if same(kept.words, words)), None)
            if one is None:
                one = _Group(text, words)
                groups.append(one)
            if place not in one.packets:
                one.packets.add(place)
                one.cost += cost
    return groups
