"""Reading a vendor's free words for what they want of us, sentence by sentence.

Rules are data (wants.yaml) in five languages, and cautious: where a sentence may ask something, or where the language
is not known, it counts as a question that somebody has to look at.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterator, Sequence
from functools import cache
from importlib import resources

import re2
from pydantic import BaseModel, ConfigDict

from sealpacket.core.guarded_yaml import read_yaml

LONGEST = 20_000
"""Characters of a message that are read."""
MOST = 30
"""Maximum number of separate questions in one message."""


class Want(BaseModel):
    """One thing that a message wants, in its own words; `doubtful` where it only may."""

    model_config = ConfigDict(frozen=True)

    text: str
    doubtful: bool = False


class _Rules:
    """The patterns of one language, each sort as one."""

    def __init__(self, words: str, asks: list[str], perhaps: list[str], never: list[str]) -> None:
        self.words = frozenset(map(plain, words.split()))
        self.asks, self.perhaps, self.never = (
            re2.compile("|".join(f"(?:{plain(one)})" for one in some))
            for some in (asks, perhaps, never)
        )


def plain(text: str) -> str:
    """Without accents, and ß as ss: patterns know only the letters of ASCII as parts of words."""
    apart = unicodedata.normalize("NFKD", text.replace("ß", "ss").replace("’", "'"))
    return "".join(one for one in apart if not unicodedata.combining(one))


@cache
def _languages() -> dict[str, _Rules]:
    text = resources.files("sealpacket.core.wants").joinpath("wants.yaml").read_text("utf-8")
    return {
        name: _Rules(**rules) for name, rules in read_yaml(text, "the rules of wants", 5000).items()
    }


def wants_in(text: str) -> tuple[Want, ...]:
    """The questions and requests in a message, in order; empty if it only informs."""
    said = without_history(text[:LONGEST])
    rules = _rules_for(said)
    if not rules:
        whole = " ".join(said.split())
        return (Want(text=whole[:400], doubtful=True),) if whole else ()
    found: list[Want] = []
    for sentence in sentences(said):
        asks = _asks(sentence, rules)
        if asks is not None and len(found) < MOST:
            found.append(Want(text=sentence[:400], doubtful=not asks))
    sure = [one for one in found if not one.doubtful]
    return tuple(sure or found)


def _asks(sentence: str, rules: Sequence[_Rules]) -> bool | None:
    """Whether a sentence asks for sure (True), perhaps (False), or not (None)."""
    small = plain(sentence.lower())
    if any(one.never.search(small) for one in rules):
        return None
    if small.rstrip(" \"'”»)").endswith("?") or any(one.asks.search(small) for one in rules):
        return True
    return False if any(one.perhaps.search(small) for one in rules) else None


_FEW = 6
"""Words of a text in which one that is known is enough."""
_WORD = re.compile(r"[^\W\d_]+")


def _rules_for(text: str) -> list[_Rules]:
    """The language whose commonest words are in a text, or several where they are alike; none where it is not ours."""
    words = [plain(word.lower()) for word in _WORD.findall(text)]
    counts = [(sum(word in one.words for word in words), one) for one in _languages().values()]
    most = max(count for count, _ in counts)
    if most < 2 and not (most == 1 and len(words) <= _FEW):
        return []
    return [one for count, one in counts if count == most]


_HISTORY = re.compile(
    r"(?im)^(?:>.*|-{2,} ?(?:original|ursprüngliche|message d'origine|mensaje original|oorspronkelijk).*"
    r"|(?:on|am|le|el|op) .{4,120}(?:wrote|schrieb|a écrit|escribió|schreef).{0,60}:\s*)$"
)
_SIGNATURE = re.compile(r"(?m)^-- ?$")


def without_history(text: str) -> str:
    """The words of a message without what it quotes, and without its signature."""
    plain = text.replace("\r\n", "\n")
    cut = _SIGNATURE.search(plain)
    kept = plain[: cut.start()] if cut else plain
    lines: list[str] = []
    for line in kept.split("\n"):
        if _HISTORY.match(line):
            if line.startswith(">"):
                continue
            break
        lines.append(line)
    return "\n".join(lines)


_ITEM = re.compile(r"^\s*(?:\(?\d{1,2}[.)]|[a-z]\)|[-*•])\s+")
_END = re.compile(r"(?<=[.!?…])[\"'”»)]?\s+(?=[^\s])|(?<=[;])\s+")
_SHORT = re.compile(r"(?i)\b(?:nr|no|e\.g|i\.e|z\.b|bzw|ca|etc|mr|mrs|dr|art|approx|incl|tel)\.$")
_NUMBER = re.compile(r"(?<![\d.])\b\d{1,2}\.$")
_OF_A_DATE = re.compile(
    r"[a-zà-ÿ(]|(?:Jan|Feb|Mär|Maart|Mei|Mai|Apr|Avr|Abr|Jun|Juin|Jul|Juil|Aug|Ago|Sept?|Okt|Oct|Nov|De[zc]|Déc|Dic|Ene|Fév)"
    r"[a-zà-ÿ]*\b"
)
"""Text after a number with a dot that does not end a sentence: a month, or a small letter."""


def sentences(text: str) -> Iterator[str]:
    """The sentences of a text; an item of a list is one, and so is what an empty line ends."""
    paragraph: list[str] = []
    for line in [*text.split("\n"), ""]:
        if _ITEM.match(line) or not line.strip():
            yield from _split(" ".join(paragraph))
            paragraph = [_ITEM.sub("", line).strip()] if line.strip() else []
        else:
            paragraph.append(line.strip())
    yield from _split(" ".join(paragraph))


def _split(paragraph: str) -> Iterator[str]:
    begin = ""
    pieces = _END.split(paragraph)
    for place, piece in enumerate(pieces, 1):
        whole = f"{begin} {piece}".strip()
        goes_on = place < len(pieces) and _OF_A_DATE.match(pieces[place]) is not None
        if _SHORT.search(whole) or (_NUMBER.search(whole) and goes_on):
            begin = whole
            continue
        begin = ""
        if whole:
            yield whole
    if begin:
        yield begin
