"""Finding what an order document says: labelled values, dates in prose, and the table of what was bought."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta
from functools import cache
from importlib.resources import files
from typing import NamedTuple

import yaml
from pydantic import BaseModel

from sealpacket.core.money import to_minor
from sealpacket.core.order_documents.page import CELL_BREAK, Line, Page, Place, Word
from sealpacket.core.tables import CellFault
from sealpacket.core.tables.cells import to_date

_MOST_ITEMS = 2000
_ID = r"[A-Za-z0-9](?:[A-Za-z0-9./_-]{1,40}[A-Za-z0-9])"
_DATE = (
    r"\d{4}-\d{2}-\d{2}|\d{1,2}[./-]\d{1,2}[./-]\d{2,4}"
    r"|\d{1,2}(?:st|nd|rd|th|\.)? [^\W\d]{3,9}\.?,? \d{4}|[^\W\d]{3,9}\.? \d{1,2}(?:st|nd|rd|th)?,? \d{4}"
)
_MONEY = re.compile(
    r"(?P<a>[A-Z]{3}|[£€$])\s?(?P<n>\d[\d.,' ]*\d|\d)|(?P<m>\d[\d.,' ]*\d|\d)\s?(?P<b>[A-Z]{3}\b|[£€$])"
)
_SIGNS = {"£": "GBP", "€": "EUR", "$": "USD"}
_SPAN = re.compile(rf"({_DATE})\s*(?:to|until|till|through|bis|[-–—])\s*({_DATE})", re.IGNORECASE)
_LENGTH = re.compile(
    rf"(\d{{1,3}}|one|two|three|five) (months?|years?) (?:from|starting|as of|ab) ({_DATE})",
    re.IGNORECASE,
)
_NUMBERS = {"one": 1, "two": 2, "three": 3, "five": 5}
_IDS = ("contract", "reference")
_DATES = ("starts_on", "ends_on", "notice_on")


class Proposal(BaseModel):
    """A value that an order document proposes for a field.

    `value` is as the register would keep it (ISO 8601 dates; money in minor units and currency: `118400 GBP`), `read`
    as the document has it, `place` where. `sure`: it is beside its label and can be read in one way only.
    """

    field: str
    value: str
    read: str
    place: Place
    sure: bool = True


class Item(BaseModel):
    """One item that was bought: its serial, and other values of its row."""

    serial: Proposal
    product: Proposal | None = None
    name: Proposal | None = None
    site: Proposal | None = None


class Reading(BaseModel):
    """All that an order document proposes; of several proposals for a field the likeliest comes first."""

    proposals: list[Proposal] = []
    items: list[Item] = []
    covered: list[Place] = []

    def best(self, name: str) -> Proposal | None:
        """The likeliest proposal for a field."""
        return next((proposal for proposal in self.proposals if proposal.field == name), None)


@dataclass(frozen=True)
class Known:
    """Facts of the register: names of vendors by key, and which words are serials or part numbers."""

    vendors: Mapping[str, str] = field(default_factory=dict)
    serials: frozenset[str] = frozenset()
    products: frozenset[str] = frozenset()


class _Cell(NamedTuple):
    text: str
    start: int
    words: tuple[Word, ...]


class _Found(NamedTuple):
    """The position of a value: page, line, start and end."""

    page: Page
    line: Line
    start: int
    end: int

    @property
    def text(self) -> str:
        return self.line.text[self.start : self.end]

    @property
    def place(self) -> Place:
        return self.page.place(self.line.within(self.start, self.end))


@cache
def _labels() -> Mapping[str, str]:
    """Every label in its plain form, with its field."""
    text = files("sealpacket.core.order_documents").joinpath("labels.yaml").read_text("utf-8")
    return {
        _plain(label): name for name, labels in yaml.safe_load(text).items() for label in labels
    }


@cache
def _labelled() -> re.Pattern[str]:
    """A label anywhere in a line, the longest first, and what parts it from its value."""
    labels = sorted(
        (label for label, name in _labels().items() if not name.startswith("item_")),
        key=len,
        reverse=True,
    )
    words = "|".join(re.escape(label).replace(r"\ ", r"[ -]") for label in labels)
    return re.compile(
        rf"(?<![\w-])(?P<label>{words})(?![\w-])(?P<sign>\.?\s*[:#]|\.)?(?P<room>\s*)",
        re.IGNORECASE,
    )


def _plain(text: str) -> str:
    return re.sub(r"[^\w/]+", " ", text.casefold()).strip()


def id_like(pages: Iterable[Page]) -> set[str]:
    """All words of an order document that could be a serial or a part number."""
    words = (
        word.text.strip(".,;:()[]") for page in pages for line in page.lines for word in line.words
    )
    return {
        word
        for word in words
        if len(word) >= 3 and re.search(r"\d", word) and re.fullmatch(_ID, word)
    }


def read_order_document(
    pages: Sequence[Page], known: Known | None = None, sender: str = ""
) -> Reading:
    """The proposal read from an order document. Nothing of it is certain: a person decides."""
    known = known or Known()
    reading = Reading()
    for page in pages:
        for number, line in enumerate(page.lines):
            reading.proposals += _labelled_values(page, number)
            reading.proposals += _terms(page, line)
        reading.items += _items(page)
    reading.items += _loose_serials(pages, known, {item.serial.value for item in reading.items})
    reading.items = reading.items[:_MOST_ITEMS]
    reading.proposals += _vendors(pages, known, sender)
    reading.proposals = _once(reading.proposals)
    secrets = {proposal.value for proposal in reading.proposals if proposal.field == "passcode"}
    reading.covered = [place for page in pages for place in _occurrences(page, secrets)]
    return reading


def _once(proposals: list[Proposal]) -> list[Proposal]:
    """Each value of a field once: the sure ones first, otherwise in the order of the order document."""
    ordered = sorted(proposals, key=lambda proposal: not proposal.sure)
    kept: dict[tuple[str, str], Proposal] = {}
    for proposal in ordered:
        kept.setdefault((proposal.field, proposal.value.casefold()), proposal)
    return list(kept.values())


def _labelled_values(page: Page, number: int) -> Iterator[Proposal]:
    """Values after their label in the line, in the next cell, or below it."""
    line = page.lines[number]
    for match in _labelled().finditer(line.text):
        name = _labels()[_plain(match["label"])]
        starts_cell = match.start() == 0 or line.text[: match.start()].endswith(CELL_BREAK)
        beside = bool(match["sign"]) or match["room"].startswith(CELL_BREAK)
        end = match.end()
        if beside or (end < len(line.text) and (name in (*_IDS, "passcode") or starts_cell)):
            found = _Found(page, line, end, _cell_end(line.text, end))
            sure = beside and starts_cell
            proposals = list(_values(name, found, sure=sure, loose=not beside))
            if proposals:
                yield from proposals
                continue
        if starts_cell and _ends_cell(line.text, match):
            below = _below(page, number, line.within(match.start("label"), match.end("label")))
            if below is not None:
                yield from _values(name, below, sure=True, loose=False)


def _ends_cell(text: str, match: re.Match[str]) -> bool:
    rest = text[match.end("label") :]
    return not rest.strip(" :.#") or re.match(r"[:.#]?" + CELL_BREAK, rest) is not None


def _cell_end(text: str, start: int) -> int:
    end = text.find(CELL_BREAK, start)
    return len(text) if end < 0 else end


def _below(page: Page, number: int, label: list[Word]) -> _Found | None:
    """The cell under a label, if it is near."""
    left, right = label[0].left, label[-1].right
    for line in page.lines[number + 1 : number + 3]:
        if not line.words or line.words[0].top - label[0].bottom > 3 * label[0].height:
            continue
        for cell in _cells(line):
            if cell.words[0].left < right and cell.words[-1].right > left:
                return _Found(page, line, cell.start, cell.start + len(cell.text))
    return None


def _cells(line: Line) -> list[_Cell]:
    cells, start = [], 0
    for text in line.text.split(CELL_BREAK):
        if text.strip():
            cells.append(_Cell(text, start, tuple(line.within(start, start + len(text)))))
        start += len(text) + len(CELL_BREAK)
    return [cell for cell in cells if cell.words]


def _values(name: str, found: _Found, *, sure: bool, loose: bool) -> Iterator[Proposal]:
    """The value that a field can take from a piece of text; `loose`: only values that cannot be mistaken for prose."""
    if name in _IDS or name == "passcode":
        yield from _identifier(name, found, sure=sure, loose=loose)
    elif name in _DATES:
        match = re.match(rf"\s*(?:on\s+)?({_DATE})", found.text)
        if match:
            yield from _date(name, match[1], found, match.span(1), sure=sure)
    elif loose:
        return
    elif name == "cost":
        match = _MONEY.search(found.text)
        if match:
            yield from _money(match, found, sure=sure)
    elif name != "term":
        text = found.text.strip()
        if 1 < len(text) <= 200:
            start = found.text.index(text)
            yield _proposal(name, text, found, (start, start + len(text)), sure=sure)


def _identifier(name: str, found: _Found, *, sure: bool, loose: bool) -> Iterator[Proposal]:
    """An identifier has a digit and is no date; in prose a passcode has a digit too."""
    if name == "passcode":
        match = re.match(r"\s*(?:is\s+)?(\S{3,60}?)[.,;]?(?:\s|$)", found.text)
        right = match and (re.search(r"\d", match[1]) or not loose)
    else:
        match = re.match(
            rf"\s*(?:number|no\.?|nr\.?|#)?\s*({_ID})(?![\w-])", found.text, re.IGNORECASE
        )
        right = match and re.search(r"\d", match[1]) and not re.fullmatch(_DATE, match[1])
    if match and right:
        yield _proposal(name, match[1], found, match.span(1), sure=sure)


def _proposal(
    name: str, value: str, found: _Found, span: tuple[int, int], *, sure: bool
) -> Proposal:
    here = found._replace(start=found.start + span[0], end=found.start + span[1])
    return Proposal(field=name, value=value, read=here.text, place=here.place, sure=sure)


def _date(
    name: str, text: str, found: _Found, span: tuple[int, int], *, sure: bool
) -> Iterator[Proposal]:
    try:
        day, other = to_date(text, "day"), _other_way(text)
    except CellFault:
        return
    if day is not None:
        yield _proposal(name, day.isoformat(), found, span, sure=sure and other in (None, day))
        if other not in (None, day):
            yield _proposal(name, other.isoformat(), found, span, sure=False)


def _other_way(text: str) -> date | None:
    """The day if the month comes first, if that is a day at all."""
    try:
        return (
            to_date(text, "month")
            if re.fullmatch(r"\d{1,2}[./-]\d{1,2}[./-]\d{2,4}", text)
            else None
        )
    except CellFault:
        return None


def _money(match: re.Match[str], found: _Found, *, sure: bool) -> Iterator[Proposal]:
    number, sign = match["n"] or match["m"], match["a"] or match["b"]
    currency = _SIGNS.get(sign, sign)
    amount = _amount(number)
    if amount is not None:
        yield _proposal(
            "cost", f"{to_minor(amount, currency)} {currency}", found, match.span(), sure=sure
        )


def _amount(text: str) -> float | None:
    """A number with whatever marks part its thousands; the last mark with two digits behind it is the decimal one."""
    digits = re.sub(r"[ ']", "", text)
    decimal = re.search(r"[.,](\d{1,2})$", digits)
    whole = re.sub(r"\D", "", digits[: decimal.start()] if decimal else digits)
    return float(f"{whole}.{decimal[1]}") if decimal and whole else float(whole) if whole else None


def _terms(page: Page, line: Line) -> Iterator[Proposal]:
    """A first and a last day in one line, or a length and a first day."""
    whole = _Found(page, line, 0, len(line.text))
    for match in _SPAN.finditer(line.text):
        if _labels().get(_before(line.text, match.start())) != "notice_on":
            yield from _date("starts_on", match[1], whole, match.span(1), sure=True)
            yield from _date("ends_on", match[2], whole, match.span(2), sure=True)
    for match in _LENGTH.finditer(line.text):
        try:
            start = to_date(match[3], "day")
        except CellFault:
            continue
        if start is None:
            continue
        number = _NUMBERS.get(match[1].lower()) or int(match[1])
        months = number * (12 if match[2].lower().startswith("year") else 1)
        yield from _date("starts_on", match[3], whole, match.span(3), sure=True)
        ends = _months_on(start, months) - timedelta(days=1)
        yield _proposal("ends_on", ends.isoformat(), whole, match.span(), sure=True)


def _before(text: str, start: int) -> str:
    return _plain(text[:start].rsplit(CELL_BREAK, maxsplit=1)[-1])


def _months_on(start: date, months: int) -> date:
    """The same day a number of months later, or the last of that month."""
    years, month = divmod(start.month - 1 + months, 12)
    year = start.year + years
    last = (date(year + (month == 11), (month + 1) % 12 + 1, 1) - timedelta(days=1)).day
    return date(year, month + 1, min(start.day, last))


def _items(page: Page) -> Iterator[Item]:
    """Rows of tables whose headings name serials."""
    columns: dict[str, tuple[float, float]] = {}
    for line in page.lines:
        cells = _cells(line)
        headings = {
            _labels().get(_plain(cell.text), f"column {place}"): cell
            for place, cell in enumerate(cells)
        }
        if "item_serial" in headings and sum(name.startswith("item_") for name in headings) > 1:
            columns = {
                name: (cell.words[0].left, cell.words[-1].right) for name, cell in headings.items()
            }
            continue
        if columns:
            yield from _row(page, line, cells, columns)


def _row(
    page: Page, line: Line, cells: list[_Cell], columns: dict[str, tuple[float, float]]
) -> Iterator[Item]:
    by_column: dict[str, _Cell] = {}
    for cell in cells:
        by_column.setdefault(_nearest(cell, columns), cell)
    serials = by_column.get("item_serial")
    if serials is None or _labelled().match(line.text):
        return

    def of(column: str) -> Proposal | None:
        cell = by_column.get(column)
        if cell is None:
            return None
        found = _Found(page, line, cell.start, cell.start + len(cell.text))
        name = column.removeprefix("item_")
        return _proposal(name, cell.text.strip(), found, (0, len(cell.text)), sure=True)

    for match in re.finditer(_ID, serials.text):
        if re.search(r"\d", match[0]) and len(match[0]) >= 4:
            found = _Found(page, line, serials.start, serials.start + len(serials.text))
            serial = _proposal("serial", match[0], found, match.span(), sure=True)
            yield Item(
                serial=serial,
                product=of("item_product"),
                name=of("item_name"),
                site=of("item_site"),
            )


def _nearest(cell: _Cell, columns: Mapping[str, tuple[float, float]]) -> str:
    """The column whose heading is above a cell, or nearest to it."""
    left, right = cell.words[0].left, cell.words[-1].right

    def apart(name: str) -> tuple[float, float]:
        over, until = columns[name]
        return max(over - right, left - until, 0.0), abs(left - over)

    return min(columns, key=apart)


def _loose_serials(pages: Sequence[Page], known: Known, seen: set[str]) -> Iterator[Item]:
    """Serials outside of tables: behind a label, or known to the register."""
    labelled = re.compile(
        rf"(?<![\w-])(?:serial (?:numbers?|nos?\.?)|serials?|s/n|seriennummern?)\.?\s*[:#]?\s*"
        rf"((?:{_ID}(?:\s*(?:,|;|and)\s*)?)+)",
        re.IGNORECASE,
    )
    for page in pages:
        for line in page.lines:
            spans = [match.span(1) for match in labelled.finditer(line.text)]
            for match in re.finditer(_ID, line.text):
                inside = any(start <= match.start() < end for start, end in spans)
                wanted = (inside and re.search(r"\d", match[0]) and len(match[0]) >= 4) or match[
                    0
                ] in known.serials
                if wanted and match[0] not in seen:
                    seen.add(match[0])
                    found = _Found(page, line, 0, len(line.text))
                    product = _product_in(line, found, known)
                    yield Item(
                        serial=_proposal("serial", match[0], found, match.span(), sure=inside),
                        product=product,
                    )


def _product_in(line: Line, found: _Found, known: Known) -> Proposal | None:
    for match in re.finditer(_ID, line.text):
        if match[0] in known.products:
            return _proposal("product", match[0], found, match.span(), sure=True)
    return None


def _vendors(pages: Sequence[Page], known: Known, sender: str) -> Iterator[Proposal]:
    """Vendors that the order document names, the one named first and oftenest in full first."""
    told: list[tuple[int, Proposal]] = []
    for key, name in known.vendors.items():
        pattern = re.compile(rf"(?<!\w){re.escape(name)}(?!\w)", re.IGNORECASE)
        places = [
            _Found(page, line, *match.span())
            for page in pages
            for line in page.lines
            for match in pattern.finditer(line.text)
        ]
        if places:
            first = places[0]
            weight = len(places) + (10 if name.split()[0].casefold() in sender.casefold() else 0)
            told.append(
                (weight, Proposal(field="vendor", value=key, read=first.text, place=first.place))
            )
    yield from (proposal for _, proposal in sorted(told, key=lambda item: -item[0]))


def _occurrences(page: Page, secrets: set[str]) -> Iterator[Place]:
    for line in page.lines:
        for secret in secrets:
            start = line.text.find(secret)
            while start >= 0:
                yield page.place(line.within(start, start + len(secret)))
                start = line.text.find(secret, start + 1)
