"""Inspection of one piece of evidence: whether it has content, for which hours, and from which machine."""

from __future__ import annotations

import json
import re
import zipfile
from collections import Counter
from collections.abc import Callable, Collection, Iterable, Iterator, Mapping, Sequence
from datetime import UTC, datetime, tzinfo
from pathlib import Path
from typing import Literal
from xml.parsers.expat import ExpatError
from xml.parsers.expat.errors import messages

from pydantic import BaseModel, ConfigDict, Field

from sealpacket.core.errors import Invalid
from sealpacket.core.evidence._native import skeleton
from sealpacket.core.evidence.logfile import LogFile
from sealpacket.core.evidence.series import LogSeries
from sealpacket.core.evidence.summary import KnownIssue, Summary, summarise, templates
from sealpacket.core.evidence.times import Reader
from sealpacket.core.evidence.xml_text import EntitiesDeclared, read_through

Kind = Literal["log", "text", "picture", "document", "archive", "other"]
_HEAD, _TAIL = 1 << 18, 1 << 14
_SHORT_LINES = 14
"""A file with more lines than that has more than a header."""
_MOST_MACHINES = 20
_ITSELF = 0.5
"""Share of lines that makes a machine the log's source."""
_FEW_NAMED = 2
"""More labelled machines than this make the file an inventory."""
_TOKEN = re.compile(r"[A-Za-z0-9][A-Za-z0-9._:-]{2,120}")
_NAMED = re.compile(
    r"(?i)(?:^|[\s,;{(\"'<])(?:serial(?:[ _-]?(?:number|no\.?|nr\.?))?|s/n|host[ _-]?name|sys(?:tem)?[ _-]?name|"
    r"node(?:name)?|device(?:[ _-]?(?:name|id))?|machine|unit|computer(?:name)?|chassis)"
    r"[\"']?\s{0,20}[:=]\s{0,4}[\"']?([A-Za-z0-9][\w.:-]{2,80})"
)
_PROMPT = re.compile(r"^([A-Za-z0-9][\w.-]{2,60})[#>$] ?\S")
_ASKED = re.compile(r"^[\w.@~:/-]{1,60}[#>$%]( .{0,120})?$")
"""A prompt, and what was asked behind it."""
_HEADER_LINE = re.compile(
    r"^\s*(?:[#;*=\-_~/!+|].*|\[[\w .-]+\]|[A-Z][\w /()-]{0,40}: ?.{0,80}|.{0,80}:\s*|<\?xml[^>]*\?>|"
    r"[\w ]{0,60}\blog\b.{0,80})$"
)
_FAILED = re.compile(
    r"(?i)command not found|permission denied|no such file|access (?:is )?denied|not recognized|timed out|^usage:|"
    r"connection (?:refused|reset)|unknown (?:command|option)|not permitted|authentication failed|unauthori[sz]ed|"
    r"no (?:data|entries|records|rows|results|events|output)\b|nothing to (?:report|show)|"
    r"\b0 (?:entries|records|rows|events)"
)
_CUT = re.compile(
    r"(?i)\[?\b(?:output )?truncated\b|\boutput limit\b|\bsize limit (?:was )?reached|\bcut off (?:here|at)|"
    r"--more--|\blines? (?:omitted|suppressed|skipped) at the end|\bmore lines? not shown"
)
_CONTROLS = bytes(byte for byte in range(32) if byte not in b"\t\n\r\f\x1b")
_SEPARATED = re.compile(r"[,;\t|]")


class Machine(BaseModel):
    """A machine of the register that a piece of evidence names; `itself` if it is the one that wrote it."""

    model_config = ConfigDict(frozen=True)

    asset: str
    name: str
    itself: bool


class Look(BaseModel):
    """The result of inspecting a piece of evidence. `empty` and `truncated` are parts of sentences that say why.

    Nothing of the text itself is in it: it is kept in clear, and shown to those who may not see originals.
    """

    model_config = ConfigDict(frozen=True)

    kind: Kind
    lines: int = 0
    empty: str = Field(default="", description="Why it says nothing")
    truncated: str = Field(default="", description="Why its end seems to be missing")
    first: datetime | None = Field(default=None, description="When its first line was written")
    last: datetime | None = None
    told_zone: bool = True
    unsure_days: bool = Field(
        default=False, description="Day and month could be the other way round"
    )
    restarts: list[datetime] = []
    machines: list[Machine] = []


Owners = Callable[[Collection[str]], Mapping[str, str]]
"""The assets to which serial numbers, host names and addresses (in lower case) belong, by those that belong to one."""


def look_at(
    path: Path,
    owners: Owners,
    *,
    zone: tzinfo = UTC,
    near: datetime | None = None,
    known: Sequence[KnownIssue] = (),
) -> tuple[Look, Summary | None]:
    """Look at a file; of a log there is a summary, too. `near` is when it was written last, if the file does not say.

    Only a log is read whole. Anything else is judged by its beginning and its end.
    """
    with path.open("rb") as file:
        head = file.read(_HEAD)
    kind = _kind_of(head)
    if kind in ("picture", "document", "archive", "other") and not head.startswith(b"\x1f\x8b"):
        return Look(kind=kind, **_of_bytes(path, kind, head)), None
    try:
        log = LogFile(path, zone, near=near)
        series = LogSeries([log])
        said = b"".join(_first(log.chunks(), _HEAD)).decode("utf-8", "replace")
    except Invalid as problem:
        return _without_times(path, head, problem, owners), None
    header = _header_only(said) if len(said) < _HEAD else ""
    if header:
        return Look(kind="text", lines=said.count("\n"), empty=header, **_named(said, owners)), None
    summary = summarise(series, known)
    times = log.times()
    look = Look(
        kind="log",
        lines=summary.lines,
        truncated=_cut_short(path, log),
        first=summary.first,
        last=summary.last,
        told_zone=times.told_zone,
        unsure_days=times.unsure_days,
        restarts=[one.at for one in summary.restarts][-5:],
        machines=_machines(_samples(said, summary), owners),
    )
    return look, summary


def _first(pieces: Iterable[bytes], octets: int) -> Iterable[bytes]:
    for piece in pieces:
        yield piece[:octets]
        octets -= len(piece)
        if octets <= 0:
            return


def _kind_of(head: bytes) -> Kind:
    if head.startswith((b"\x89PNG", b"\xff\xd8\xff", b"GIF8", b"BM", b"II*\0", b"MM\0*")):
        return "picture"
    if head.startswith(b"%PDF"):
        return "document"
    if head.startswith(b"PK"):
        return "archive"
    wide = head.startswith((b"\xff\xfe", b"\xfe\xff")) or head[1::2].count(0) * 3 > len(head)
    controls = len(head) - len(head.translate(None, _CONTROLS))
    return "other" if controls * 50 > len(head) and not wide else "text"


def _of_bytes(path: Path, kind: Kind, head: bytes) -> dict[str, str]:
    """Faults of a file that is not text."""
    with path.open("rb") as file:
        file.seek(max(0, path.stat().st_size - _TAIL))
        tail = file.read()
    if kind == "archive":
        try:
            with zipfile.ZipFile(path) as archive:
                if not any(info.file_size for info in archive.infolist()):
                    return {"empty": "is an archive without a file that says anything"}
        except (zipfile.BadZipFile, OSError, ValueError):
            return {"truncated": "is an archive that cannot be opened"}
    if kind == "document" and b"%%EOF" not in tail:
        return {"truncated": "is a PDF whose end is missing"}
    if head.startswith(b"\x89PNG") and b"IEND" not in tail[-16:]:
        return {"truncated": "is a picture whose end is missing"}
    if head.startswith(b"\xff\xd8\xff") and b"\xff\xd9" not in tail[-64:]:
        return {"truncated": "is a picture whose end is missing"}
    return {}


def _without_times(path: Path, head: bytes, problem: Invalid, owners: Owners) -> Look:
    """Inspect a text without times, or a broken packed file."""
    if problem.code == "broken":
        return Look(kind="archive", truncated="is a packed file whose end is missing")
    said = head.decode("utf-8", "replace")
    complete = path.stat().st_size <= _HEAD
    lines = [line for line in said.splitlines() if line.strip()]
    if not lines:
        return Look(kind="text", empty="holds nothing but blank space")
    empty = (_refused(said) or _header_only(said) or _says_nothing(said)) if complete else ""
    end = said if complete else _tail_of(path)
    truncated = "" if empty else _cut_mark(end) or (_unclosed(said) if complete else "")
    return Look(
        kind="text", lines=len(lines), empty=empty, truncated=truncated, **_named(said, owners)
    )


def _tail_of(path: Path) -> str:
    with path.open("rb") as file:
        file.seek(max(0, path.stat().st_size - _TAIL))
        return file.read().decode("utf-8", "replace")


def _lines_of(said: str) -> list[str]:
    return [line.strip("\ufeff\r ") for line in said.splitlines() if line.strip("\ufeff\r \t\0")]


def _refused(said: str) -> str:
    """Why a short text says nothing: it is what a program says instead of an answer."""
    lines = _lines_of(said)
    said_so = [number for number, line in enumerate(lines, 1) if _FAILED.search(line)]
    if not said_so or len(lines) > 5:
        return ""
    about = (_FAILED.search, _HEADER_LINE.match, _ASKED.match)
    if not all(any(fits(line) for fits in about) for line in lines):
        return ""
    where = f" in line {said_so[0]}" if len(lines) > 1 else ""
    return f"holds only what a program said instead of an answer{where}"


def _header_only(said: str) -> str:
    """Why a short text says nothing: it is a header."""
    lines = _lines_of(said)
    if len(lines) > _SHORT_LINES:
        return ""
    if not lines:
        return "holds nothing but blank space"
    if all(_HEADER_LINE.match(line) or _is_column_row(line, lines) for line in lines):
        return "holds a header and nothing else"
    return ""


def _is_column_row(line: str, lines: Sequence[str]) -> bool:
    """Whether a line names columns: the last one that there is, with words between separators."""
    cells = [cell.strip("\"' ") for cell in _SEPARATED.split(line)]
    named = len(cells) > 1 and all(re.match(r"^[^\W\d][\w .()/%-]{0,40}$", cell) for cell in cells)
    return line == lines[-1] and named


def _says_nothing(said: str) -> str:
    text = said.strip("\ufeff \r\n\t\0")
    if text in ("{}", "[]", "null", '""', "()"):
        return "holds an empty answer"
    if re.fullmatch(r"(?s)<\?xml[^>]*\?>\s*<(\w+)[^>]*(?:/>|>\s*</\1>)", text):
        return "holds an XML document without content"
    return ""


def _unclosed(said: str) -> str:
    """Why a JSON or XML text is not complete."""
    text = said.strip("\ufeff \r\n\t\0")
    if text.startswith(("{", "[")):
        try:
            json.loads(text)
        except json.JSONDecodeError as error:
            at_end = error.pos >= len(text) - 1 or "Unterminated" in error.msg
            return "is JSON that ends in the middle" if at_end else ""
    if text.startswith("<?xml") or (text.startswith("<") and text.endswith(">")):
        try:
            read_through(text)
        except EntitiesDeclared:
            return ""
        except ExpatError as error:
            unclosed = messages[error.code] in _OPEN
            return "is XML that ends in the middle" if unclosed else ""
    return ""


_OPEN = ("no element found", "unclosed token", "unclosed CDATA section")


def _cut_mark(end: str) -> str:
    for line in [line for line in end.splitlines() if line.strip()][-3:]:
        if _CUT.search(line):
            return "says in its last lines that it was cut off"
    return ""


def _cut_short(path: Path, log: LogFile) -> str:
    """Why the end of a log seems to be missing."""
    if log.packed:
        return ""
    end = _tail_of(path)
    marked = _cut_mark(end)
    if marked or end.endswith("\n"):
        return marked
    *others, last = end.splitlines()[1:] or [""]
    return "ends in the middle of a line" if _is_part(last, others, log.reader()) else ""


def _is_part(last: str, others: Sequence[str], reader: Reader) -> bool:
    """Whether a line is the beginning of one of the others, and none of them whole but for what changes."""
    if _is_open(last) and not any(map(_is_open, others)):
        return True
    tokens = _tokens_of(last, reader)
    whole = {tuple(_tokens_of(line, reader)) for line in others}
    if tuple(tokens) in whole:
        return False
    return any(
        len(one) >= len(tokens)
        and list(one[: len(tokens) - 1]) == tokens[:-1]
        and one[len(tokens) - 1].startswith(tokens[-1])
        for one in whole
    )


def _tokens_of(line: str, reader: Reader) -> list[str]:
    """The words of a line's message, without what changes from one to the next."""
    _, stamp = reader.stamp(line)
    start, end = (stamp.start, stamp.end) if stamp is not None else (0, 0)
    text = skeleton(line[end:].encode(), line[:start].encode()).decode("utf-8", "replace")
    return re.split(rf"[ {templates.GLUE.decode()}]", text)


def _is_open(line: str) -> bool:
    """Whether quotes or brackets are opened that are not closed, or there is a space for a word that is not there."""
    if line.endswith((" ", "\t", ",")):
        return True
    return line.count('"') % 2 == 1 or any(
        line.count(pair[0]) > line.count(pair[1]) for pair in _BRACKETS
    )


_BRACKETS = ("()", "[]", "{}")


def _samples(said: str, summary: Summary) -> list[str]:
    """Lines of a log from its beginning, and an example of each message."""
    return [*said.splitlines()[:4000], *(message.example for message in summary.messages)]


def _named(said: str, owners: Owners) -> dict[str, list[Machine]]:
    return {"machines": _machines(said.splitlines()[:4000], owners)}


def _machines(lines: Sequence[str], owners: Owners) -> list[Machine]:
    """The machines of the register that lines name, those that wrote them first."""
    counts: Counter[str] = Counter()
    names: dict[str, str] = {}
    keyed: set[str] = set()
    words = {token for line in lines for token in _tokens(line)}
    owned = owners({name.lower() for word in words for name in _names_in(word)}) if words else {}
    for line in lines:
        here: dict[str, str] = {}
        for token in _TOKEN.findall(line[:2000]):
            asset, name = _owner(token, owned)
            if asset is not None:
                here.setdefault(asset, name)
        counts.update(here.keys())
        names = here | names
        for found in (_NAMED.search(line), _PROMPT.match(line)):
            own_name = _owner(found[1], owned)[0] if found is not None else None
            if own_name is not None:
                keyed.add(own_name)
    written = {asset for asset, count in counts.items() if count >= max(1, len(lines)) * _ITSELF}
    own = written or (keyed if len(keyed) <= _FEW_NAMED else set())
    sorted_assets = sorted(counts, key=lambda asset: (asset not in own, -counts[asset], asset))
    return [
        Machine(asset=asset, name=names[asset], itself=asset in own)
        for asset in sorted_assets[:_MOST_MACHINES]
    ]


def _tokens(line: str) -> Iterator[str]:
    """All words of a line that may be names of machines."""
    yield from _TOKEN.findall(line[:2000])
    yield from (found[1] for found in (_NAMED.search(line), _PROMPT.match(line)) if found)


def _names_in(word: str) -> Iterator[str]:
    """The names that a word may be: the whole of it, and the first label of a host name."""
    name = word.strip(".:-")
    if name:
        yield name
        if "." in name and not name[0].isdigit():
            yield name.split(".", 1)[0]


def _owner(word: str, owned: Mapping[str, str]) -> tuple[str | None, str]:
    """The asset that a word names, and the part of the word that is a name of the register."""
    names = list(_names_in(word))
    known = ((owned[name.lower()], name) for name in names if name.lower() in owned)
    return next(known, (None, names[-1] if names else ""))
