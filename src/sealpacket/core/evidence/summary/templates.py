"""Messages that differ in a word only: is it a value, or are they two messages?

A skeleton is a message of which the native part has already replaced numbers, paths, addresses and quoted text by
`*`. Its tokens are separated by a space, or by GLUE where they touch. Names of people, hosts or volumes have no such
shape; they show only by what else is in their place.
"""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Callable, Iterator, Sequence
from itertools import combinations

GLUE = b"\x1f"
_SPLIT = re.compile(rb"[ \x1f]")
_WORD = re.compile(rb"[^\W_][\w.\-/@:+]*$|[\x80-\xff]")
LEVELS = frozenset(
    b"emerg emergency alert crit critical fatal panic error err severe warn warning notice info information debug "
    b"trace verbose fine finer finest".split()
)
"""Words for the level of a message, in lower case."""
_STATES = frozenset(
    b"up down on off open opened closed close closing start started starting stop stopped stopping enable enabled "
    b"disable disabled success successful succeeded fail failed failure failing ok okay bad good read write reads "
    b"writes reading writing online offline active inactive standby degraded healthy unhealthy normal true false "
    b"yes no added removed created deleted updated changed attached detached mounted unmounted connected "
    b"disconnected connect disconnect accepted refused rejected denied granted allowed blocked begin begins began "
    b"end ends ended done complete completed finished loaded unloaded locked unlocked lost found full empty low "
    b"high primary secondary master replica left right in out received sent send receive upper lower first last "
    b"get put post head delete patch options timeout timed expired renewed "
    b"running waiting ready busy idle present missing clean dirty rising falling".split()
)
"""Words that say what happened: two messages that differ in one of them are two."""
_INTRODUCING = frozenset(
    b"user account login named name by from host node server service unit device volume disk drive pool job queue "
    b"table file session group role site branch library title reader patron member client peer process thread "
    b"task module plugin interface bucket database tenant customer owner operator agent worker project zone "
    b"region channel topic printer station kiosk shelf copy entitled for".split()
)
"""Words that a name follows."""
_MANY, _FEW_MANY = 6, 10
_MOST_PAIRS = 200_000

Tokens = tuple[bytes, ...]


def merge(skeletons: Sequence[tuple[bytes, int]], *, pairs: bool = True) -> list[bytes]:
    """The template of each skeleton, in the same order: itself, or one with `*` for further values.

    Takes time in proportion to the number of tokens; with `pairs`, and few skeletons, also two names in one message
    are found.
    """
    split = [tuple(_SPLIT.split(text)) for text, _ in skeletons]
    became: dict[Tokens, Tokens] = {}
    by_length: dict[int, list[Tokens]] = defaultdict(list)
    for tokens in dict.fromkeys(split):
        by_length[len(tokens)].append(tokens)
    for group in by_length.values():
        became |= _merged(group, pairs)
    values = {
        word
        for tokens, template in became.items()
        for word, token in zip(tokens, template, strict=True)
        if token != word and word.lower() not in _STATES
    }
    by_length.clear()
    for template in dict.fromkeys(became.values()):
        by_length[len(template)].append(template)
    last = {one: now for group in by_length.values() for one, now in _of_values(group, values)}
    became = {tokens: last.get(template, template) for tokens, template in became.items()}
    return [
        _joined(text, became[tokens]) for (text, _), tokens in zip(skeletons, split, strict=True)
    ]


def _joined(text: bytes, tokens: Tokens) -> bytes:
    """Tokens with the separators of a skeleton."""
    gaps = [*_SPLIT.findall(text), b""]
    return b"".join(token + gap for token, gap in zip(tokens, gaps, strict=True))


def _merged(group: list[Tokens], pairs: bool) -> dict[Tokens, Tokens]:
    """Group the skeletons of one length."""
    became = {tokens: tokens for tokens in group}
    finders = (_differing_in_one, *((_differing_in_two, _differing_in_one) if pairs else ()))
    for finder in finders:
        for _ in range(6):
            now = sorted(set(became.values()))
            wild = finder(now)
            if not wild:
                break
            for start, tokens in became.items():
                places = wild.get(tokens)
                if places:
                    became[start] = _starred(tokens, places)
    return became


def _of_values(group: list[Tokens], values: set[bytes]) -> Iterator[tuple[Tokens, Tokens]]:
    """Skeletons that differ in a word that is a value in other messages, and what becomes of them."""
    wild = _differing_in_one(group, lambda words: all(word in values for word in words))
    for tokens, places in wild.items():
        yield tokens, _starred(tokens, places)


def _starred(tokens: Tokens, places: set[int]) -> Tokens:
    return tuple(b"*" if place in places else token for place, token in enumerate(tokens))


def _differing_in_one(
    group: list[Tokens], are_values: Callable[[Sequence[bytes]], bool] = lambda words: False
) -> dict[Tokens, set[int]]:
    """For each skeleton the places whose word is a value, because others are the same but for it."""
    alike: dict[tuple[int, Tokens], list[Tokens]] = defaultdict(list)
    for tokens in group:
        for place, token in enumerate(tokens):
            if token == b"*" or _WORD.match(token):
                alike[place, tokens[:place] + tokens[place + 1 :]].append(tokens)
    wild: dict[Tokens, set[int]] = defaultdict(set)
    for (place, rest), members in alike.items():
        if len(members) < 2:
            continue
        words = [one[place] for one in members]
        if are_values(words) or _is_value(words, rest, place):
            for one in members:
                if one[place] != b"*":
                    wild[one].add(place)
    return wild


def _differing_in_two(group: list[Tokens]) -> dict[Tokens, set[int]]:
    """Like _differing_in_one, for messages with two names whose pairs occur once or twice."""
    if len(group) * len(group[0]) ** 2 > _MOST_PAIRS * 2:
        return {}
    alike: dict[tuple[int, int, Tokens], list[Tokens]] = defaultdict(list)
    for tokens in group:
        for a, b in _pairs_of(tokens):
            alike[a, b, tokens[:a] + tokens[a + 1 : b] + tokens[b + 1 :]].append(tokens)
    wild: dict[Tokens, set[int]] = defaultdict(set)
    for (a, b, rest), members in alike.items():
        left, right = {one[a] for one in members}, {one[b] for one in members}
        if min(len(left), len(right)) < 3 or len(members) < 4 or sum(map(_is_telling, rest)) < 2:
            continue
        before = members[0][:b]
        if _is_value(sorted(left), rest, a) and _is_value(
            sorted(right), (*before[:a], b"*", *before[a + 1 :]), b
        ):
            for one in members:
                wild[one] |= {place for place in (a, b) if one[place] != b"*"}
    return wild


def _pairs_of(tokens: Tokens) -> Iterator[tuple[int, int]]:
    places = [place for place, token in enumerate(tokens) if _WORD.match(token)]
    return combinations(places, 2)


def _is_telling(token: bytes) -> bool:
    """Whether a token is a word of the message's own."""
    return token != b"*" and len(token) > 1 and bool(_WORD.match(token))


def _is_value(words: Sequence[bytes], rest: Tokens, place: int) -> bool:
    """Whether these words in one place are values, given the rest of the message."""
    if b"*" in words:
        return True
    low = [word.lower() for word in words]
    if any(word in LEVELS for word in low):
        return False
    states = sum(word in _STATES for word in low)
    if states * 3 > len(words):
        return False
    telling = sum(map(_is_telling, rest))
    if telling == 0:
        return False
    if len(words) >= (_MANY if telling > 1 else _FEW_MANY):
        return True
    before = next((one.lower() for one in reversed(rest[:place]) if one not in _QUIET), b"")
    if before in _INTRODUCING:
        return True
    return sum(map(_is_name, words)) * 3 > len(words) * 2


_QUIET = frozenset((b"=", b":", b'"', b"'", b"(", b"[", b"<", b","))


def _is_name(word: bytes) -> bool:
    """Whether a word looks like the name of a thing: with digits, dots, dashes, or capitals within."""
    return bool(re.search(rb"[a-z][A-Z]|[\w][._\-/@][\w]|\d", word))
