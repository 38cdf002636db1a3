"""Meaning of words in a message: its level, a start or a stop, a version or a reading."""

from __future__ import annotations

import re
from collections.abc import Iterator

import re2

_LEVEL_NUMBERS = {
    1: "emerg emergency alert crit critical fatal panic",
    2: "error err severe failure",
    3: "warn warning",
    4: "notice info information informational",
    5: "debug trace verbose fine finer finest",
}
_NUMBER_OF = {word: number for number, words in _LEVEL_NUMBERS.items() for word in words.split()}
_LETTERS = {"F": 1, "C": 1, "E": 2, "W": 3, "I": 4, "N": 4, "D": 5, "V": 5, "T": 5}
_WORDS = "|".join(sorted(_NUMBER_OF, key=len, reverse=True))
_SHOUTED = re.compile(rf"(?<![\w-])({_WORDS.upper()})(?![\w-])")
_KEYED = re.compile(rf"(?i)\b(?:level|severity|lvl|loglevel|prio(?:rity)?)\W{{1,4}}({_WORDS})\b")
_SET_OFF = re.compile(rf"(?i)(?:^|[\[(<|] ?|\s)({_WORDS})(?: ?[\])>|:]|$)")
_LETTER = re.compile(
    r"^(?:\S{0,24} )?[\[(<|/]?([FCEWINDVT])(?:[\])>|/]| ?[:|/-] | (?=[\w.*/-]+ ?[:(\[]))"
)
_REQUEST = re.compile(r'HTTP/\S+ ?" ([45])xx')
_RESTART = re.compile(
    r"(?i)\b(?:re-?boot(?:ed|ing)?|boot(?:ed|ing)? (?:up|complete|linux|kernel)?|power(?:ed)?[ -](?:on|up|off|down)|"
    r"cold start|warm start|re-?start(?:ed|ing)?\b|system (?:start|stop|halt)\w*|shut(?:ting)?[ -]?down|"
    r"start(?:ing|ed)? up|start-?up (?:complete|finished|done)|service (?:start|stopp)ed|firmware loaded|"
    r"linux version)\b"
)
_NOT_RESTART = re.compile(
    r"(?i)\b(?:no|not|without|before|after|until|since last|re-?start(?:s|ed)? in|scheduled|required|needed)\b"
)
_FACT = re.compile(
    r"(?i)\b(?P<name>firmware|software|program|release|version|build|kernel|bios|driver|image)s?\b"
    r"(?P<more>(?: (?:version|release|rev(?:ision)?|level))?)[ :=\"']{1,4}v?(?P<value>\d+(?:\.\d+){1,5}[\w.-]{0,24})"
)
_UNITS = r"(?:%|°?C\b|°?F\b|V\b|A\b|W\b|rpm\b|[GMT]B\b|days?\b|h\b)"
_READING = re.compile(
    r"(?i)\b(?P<name>temperature|temp|battery(?: charge| health)?|charge|load|usage|used|full|free|uptime|"
    r"fan(?: speed)?|wear|fill(?:ed)?|capacity|humidity|voltage)\b[ :=\"']{1,4}"
    rf"(?P<value>\d+(?:[.,]\d+)? ?{_UNITS})"
)

_MAY_TELL = re2.compile(
    r"(?i)boot|power|start|shut|firmware|linux|software|program|release|version|build|kernel|bios|driver|image|temp|"
    r"batter|charge|load|usage|used|full|free|uptime|fan|wear|fill|capacity|humidity|voltage"
)


def may_tell(text: str) -> bool:
    """Whether is_restart and tells_facts are worth asking about a message; they take longer."""
    return _MAY_TELL.search(text) is not None


def level_of(skeleton: str) -> int:
    """The number of the level that a message states, 1 to 5; 0 for none."""
    head = skeleton[:120]
    found = _SHOUTED.search(head) or _KEYED.search(skeleton[:600])
    if found is None and (letter := _LETTER.match(head)) is not None:
        return _LETTERS[letter[1]]
    found = found or _SET_OFF.search(head[:60])
    if found is not None:
        return _NUMBER_OF[found[1].lower()]
    request = _REQUEST.search(skeleton)
    return {"5": 2, "4": 3}.get(request[1], 0) if request else 0


def is_restart(text: str) -> bool:
    """Whether a message says that a machine or a program starts or stops."""
    return bool(_RESTART.search(text)) and not _NOT_RESTART.search(text)


def tells_facts(text: str) -> bool:
    """Whether a line states a version or a reading."""
    return bool(_FACT.search(text) or _READING.search(text))


def facts_in(text: str) -> Iterator[tuple[str, str]]:
    """Names and values of the versions and readings in a line."""
    for found in _FACT.finditer(text):
        yield f"{found['name']}{found['more']}".lower(), found["value"].rstrip(".-")
    for found in _READING.finditer(text):
        yield found["name"].lower(), found["value"]
