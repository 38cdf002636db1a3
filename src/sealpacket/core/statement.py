"""A vendor's statement beside the register: what only one side has, what differs, and which serials are mistyped."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence, Set
from datetime import date
from typing import Literal

from pydantic import BaseModel, ConfigDict

Sort = Literal["only_ours", "only_theirs", "differs", "mistyped"]
SlipKind = Literal["alike", "swapped", "missing", "extra", "other"]
MOST_SLIPS = 5000
COMPARED = ("contract", "level", "starts_on", "ends_on", "site")
"""The fields of a line that are compared, if the statement has them."""

_ALIKE = ("0OQD", "1IL", "5S", "8B", "2Z", "6G", "UV")
_FOLD = {letter: group[0] for group in _ALIKE for letter in group}
_MARKS = str.maketrans("", "", " -_./")


class CoverLine(BaseModel):
    """One thing under one contract, as one side has it; empty or None is not said."""

    model_config = ConfigDict(frozen=True)
    serial: str
    contract: str = ""
    level: str = ""
    starts_on: date | None = None
    ends_on: date | None = None
    site: str = ""
    product: str = ""


class Slip(BaseModel):
    """One difference between two serials: positions from 1, and the characters on our side and on theirs."""

    kind: SlipKind
    at: int
    ours: str
    theirs: str

    def say(self, here: str = "here", there: str = "there") -> str:
        """The slip in words; `here` and `there` are what our side and theirs are called."""
        match self.kind:
            case "swapped":
                return f"characters {self.at} and {self.at + 1} are swapped: {self.ours} {here}, {self.theirs} {there}"
            case "missing":
                return f"character {self.at}, {_said(self.ours)}, is missing {there}"
            case "extra":
                return f"there is {_said(self.theirs)} more {there}, before our character {self.at}"
            case _:
                return (
                    f"character {self.at}: {_said(self.ours)} {here}, {_said(self.theirs)} {there}"
                )


class Difference(BaseModel):
    """One difference between the register and the statement."""

    sort: Sort
    serial: str
    ours: CoverLine | None = None
    theirs: CoverLine | None = None
    fields: list[str] = []
    slips: list[Slip] = []

    def say(self, whose: str = "their") -> str:
        """The difference in a sentence; in one to the vendor the statement is `your`s."""
        statement = f"{whose} statement"
        if self.sort == "only_ours" and self.ours:
            return f"{self.serial} is on {_contract(self.ours)} by our records; {statement} does not list it there."
        if self.sort == "only_theirs" and self.theirs:
            return f"{self.serial} is on {statement}, on {_contract(self.theirs)}; our records do not have it there."
        differing = "; ".join(
            f"{_NAMES[name]}: {_value(self.ours, name)} by our records, {_value(self.theirs, name)} on {statement}"
            for name in self.fields
        )
        if self.sort == "mistyped" and self.theirs:
            slips = "; ".join(slip.say("on the thing", f"on {statement}") for slip in self.slips)
            told = (
                f"On the thing stands {self.serial}, on {statement} {self.theirs.serial}: {slips}."
            )
            return f"{told} Also {differing}." if differing else told
        return f"{self.serial}: {differing}."


_NAMES = {"contract": "contract", "level": "level", "starts_on": "start of cover", "ends_on": "end of cover",
          "site": "site"}  # fmt: skip


def _contract(line: CoverLine) -> str:
    return f"contract {line.contract}" if line.contract else "a contract"


def _value(line: CoverLine | None, name: str) -> str:
    return str(getattr(line, name, None) or "none")


class Comparison(BaseModel):
    """How many lines agree, and all differences by serial."""

    agreeing: int
    differences: list[Difference]


def _said(character: str) -> str:
    if not character.isalnum():
        return f"“{character}”"
    return f"the digit {character}" if character.isdigit() else f"the letter {character}"


def plain_serial(serial: str) -> str:
    """A serial for comparison: without spaces and marks, in capitals."""
    return serial.upper().translate(_MARKS)


def folded(serial: str) -> str:
    """A plain serial in which characters that look alike are the same."""
    return "".join(_FOLD.get(letter, letter) for letter in plain_serial(serial))


def compare(
    ours: Iterable[CoverLine],
    theirs: Iterable[CoverLine],
    said: Set[str],
    *,
    known: Set[str] = frozenset(),
    day: date | None = None,
) -> Comparison:
    """Compare two lists of cover. Only fields in `said`, those that the statement has columns for, are compared.

    Lines of one serial are paired by contract where both name one, otherwise by their ends, the last first. `known`
    are plain serials of things that we have, covered or not: none of them is taken for a mistyped one. What ended on
    our side before `day` is compared with what they say of it, and otherwise not missed.
    """
    by_serial: dict[str, tuple[list[CoverLine], list[CoverLine]]] = defaultdict(lambda: ([], []))
    for side, lines in enumerate((ours, theirs)):
        for line in lines:
            by_serial[plain_serial(line.serial)][side].append(line)
    agreeing = 0
    found: list[Difference] = []
    lonely: tuple[list[CoverLine], list[CoverLine]] = ([], [])
    for mine, yours in by_serial.values():
        for one, other in _paired(mine, yours):
            if one is not None and other is not None:
                fields = _differing(one, other, said)
                agreeing += not fields
                if fields:
                    found.append(
                        Difference(
                            sort="differs", serial=one.serial, ours=one, theirs=other, fields=fields
                        )
                    )
            elif one is not None and not (day and one.ends_on and one.ends_on < day):
                lonely[0].append(one)
            elif other is not None:
                lonely[1].append(other)
    ours_known = known | {serial for serial, (mine, _) in by_serial.items() if mine}
    found += _lonely(*lonely, said, ours_known)
    return Comparison(agreeing=agreeing, differences=sorted(found, key=_order))


def _order(item: Difference) -> tuple[str, str, str]:
    return item.serial, item.sort, (item.ours or item.theirs or CoverLine(serial="")).contract


def _paired(
    mine: Sequence[CoverLine], yours: Sequence[CoverLine]
) -> Iterator[tuple[CoverLine | None, CoverLine | None]]:
    left, right = list(mine), list(yours)
    for line in mine:
        same = next(
            (other for other in right if line.contract and other.contract == line.contract), None
        )
        if same is not None:
            left.remove(line)
            right.remove(same)
            yield line, same
    left.sort(key=_end, reverse=True)
    right.sort(key=_end, reverse=True)
    for place in range(max(len(left), len(right))):
        yield (
            (left[place] if place < len(left) else None),
            (right[place] if place < len(right) else None),
        )


def _end(line: CoverLine) -> tuple[date, str]:
    return line.ends_on or date.max, line.contract


def _differing(one: CoverLine, other: CoverLine, said: Set[str]) -> list[str]:
    """The fields that differ. What the statement leaves empty in a line is not said of it."""
    differing = []
    for name in COMPARED:
        here, there = getattr(one, name), getattr(other, name)
        if name not in said or there in ("", None):
            continue
        if isinstance(there, str) and isinstance(here, str):
            here, there = here.casefold().strip(), there.casefold().strip()
        if here != there:
            differing.append(name)
    return differing


def _lonely(
    mine: list[CoverLine], yours: list[CoverLine], said: Set[str], known: Set[str]
) -> Iterator[Difference]:
    """Lines that only one side has: those whose serials are likely mistyped become pairs."""
    strange = [line for line in yours if plain_serial(line.serial) not in known]
    pairs = list(likely_pairs(mine, strange))
    paired = {id(line) for pair in pairs for line in pair}
    for line, other in pairs:
        yield Difference(
            sort="mistyped",
            serial=line.serial,
            ours=line,
            theirs=other,
            fields=_differing(line, other, said),
            slips=slips(line.serial, other.serial),
        )
    for line in mine:
        if id(line) not in paired:
            yield Difference(sort="only_ours", serial=line.serial, ours=line)
    for line in yours:
        if id(line) not in paired:
            yield Difference(sort="only_theirs", serial=line.serial, theirs=line)


def likely_pairs(
    ours: Sequence[CoverLine], theirs: Sequence[CoverLine]
) -> Iterator[tuple[CoverLine, CoverLine]]:
    """Lines of ours and of theirs whose serials are likely the same, mistyped.

    First those that differ only in characters that look alike, then those one slip apart (a swap, one character more,
    less or other). Only where neither has a second candidate: serials that count up are alike by nature. With more
    than `MOST_SLIPS` lonely lines only look-alikes are paired.
    """
    left, right = dict(enumerate(ours)), dict(enumerate(theirs))
    for keys in (_whole, _around):
        if keys is _around and max(len(left), len(right)) > MOST_SLIPS:
            return
        for place, other in _lonely_pairs(left, right, keys):
            yield left.pop(place), right.pop(other)


def _lonely_pairs(
    left: Mapping[int, CoverLine], right: Mapping[int, CoverLine], keys: Callable[[str], set[str]]
) -> list[tuple[int, int]]:
    """Places left and right whose lines share a key, and neither of them with any other line."""
    near: dict[int, set[int]] = defaultdict(set)
    back: dict[int, set[int]] = defaultdict(set)
    places: dict[str, list[int]] = defaultdict(list)
    for place, line in left.items():
        for key in keys(line.serial):
            places[key].append(place)
    for place, line in right.items():
        for other in {other for key in keys(line.serial) for other in places.get(key, ())}:
            if _may_be(left[other], line):
                near[other].add(place)
                back[place].add(other)
    alone = ((place, next(iter(others))) for place, others in near.items() if len(others) == 1)
    return [(place, other) for place, other in alone if len(back[other]) == 1]


def _whole(serial: str) -> set[str]:
    return {folded(serial)}


def _around(serial: str) -> set[str]:
    """The folded serial, and what is left without one of its characters: two that are one slip apart share one."""
    whole = folded(serial)
    return (
        {whole, *(whole[:place] + whole[place + 1 :] for place in range(len(whole)))}
        if len(whole) > 4
        else {whole}
    )


def _may_be(one: CoverLine, other: CoverLine) -> bool:
    """Whether two lines may be about one thing: of no two contracts or products, their serials one slip apart."""
    if one.contract and other.contract and one.contract.casefold() != other.contract.casefold():
        return False
    if one.product and other.product and one.product.casefold() != other.product.casefold():
        return False
    mine, yours = folded(one.serial), folded(other.serial)
    return mine == yours or len(slips(mine, yours)) == 1


def slips(ours: str, theirs: str) -> list[Slip]:
    """The fewest slips that turn one serial into the other (optimal string alignment), case and spaces aside."""
    mine, yours = ours.upper(), theirs.upper()
    rows, columns = len(mine) + 1, len(yours) + 1
    cost = [
        [max(row, column) if not row or not column else 0 for column in range(columns)]
        for row in range(rows)
    ]
    for row in range(1, rows):
        for column in range(1, columns):
            other = mine[row - 1] != yours[column - 1]
            best = min(
                cost[row - 1][column] + 1,
                cost[row][column - 1] + 1,
                cost[row - 1][column - 1] + other,
            )
            if _is_swap(mine, yours, row, column):
                best = min(best, cost[row - 2][column - 2] + 1)
            cost[row][column] = best
    return list(_back(mine, yours, cost))[::-1]


def _is_swap(mine: str, yours: str, row: int, column: int) -> bool:
    return (
        row > 1
        and column > 1
        and mine[row - 1] != yours[column - 1]
        and mine[row - 1] == yours[column - 2]
        and mine[row - 2] == yours[column - 1]
    )


def _back(mine: str, yours: str, cost: list[list[int]]) -> Iterator[Slip]:
    row, column = len(mine), len(yours)
    while row or column:
        here = cost[row][column]
        if (
            row
            and column
            and mine[row - 1] == yours[column - 1]
            and here == cost[row - 1][column - 1]
        ):
            row, column = row - 1, column - 1
        elif _is_swap(mine, yours, row, column) and here == cost[row - 2][column - 2] + 1:
            yield Slip(
                kind="swapped",
                at=row - 1,
                ours=mine[row - 2 : row],
                theirs=yours[column - 2 : column],
            )
            row, column = row - 2, column - 2
        elif row and column and here == cost[row - 1][column - 1] + 1:
            alike = _FOLD.get(mine[row - 1], mine[row - 1]) == _FOLD.get(
                yours[column - 1], yours[column - 1]
            )
            kind: SlipKind = "alike" if alike else "other"
            yield Slip(kind=kind, at=row, ours=mine[row - 1], theirs=yours[column - 1])
            row, column = row - 1, column - 1
        elif row and here == cost[row - 1][column] + 1:
            yield Slip(kind="missing", at=row, ours=mine[row - 1], theirs="")
            row -= 1
        else:
            yield Slip(kind="extra", at=row + 1, ours="", theirs=yours[column - 1])
            column -= 1
