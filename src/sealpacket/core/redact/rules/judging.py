"""Judgements on values, as rules write them: `secret and not one_of("local", "remote") and length >= 6`.

The names are those of PREDICATES and of TESTS below. `length`, `digits` and `words` are compared with
numbers. A function judges a part of the value (`behind(":", password)`) or compares it with texts,
whatever their case.
"""

from __future__ import annotations

import ast
import operator
from collections.abc import Callable, Iterable
from functools import cache, reduce

from sealpacket.core.redact.rules import vocabulary
from sealpacket.core.redact.rules.predicates import PREDICATES
from sealpacket.core.redact.rules.predicates.base import digits_of
from sealpacket.core.redact.rules.predicates.numbers import is_valid

Judgement = Callable[[bytes], bool]


class BadJudgement(ValueError):
    """An expression that cannot be read, with the reason."""


TESTS: dict[str, Judgement] = {
    "only_letters": bytes.isalpha,
    "only_digits": bytes.isdigit,
    "in_capitals": bytes.isupper,
    "in_small": bytes.islower,
    "capitalised": bytes.istitle,
    "has_capital": lambda value: any(65 <= byte <= 90 for byte in value),
    "has_small": lambda value: any(97 <= byte <= 122 for byte in value),
    "has_letter": lambda value: any(byte > 64 for byte in value),
}
_MEASURES: dict[str, Callable[[bytes], int]] = {
    "length": len,
    "digits": lambda value: len(digits_of(value)),
    "words": lambda value: len(value.split()),
}
_COMPARED: dict[type[ast.cmpop], Callable[[int, int], bool]] = {
    ast.Lt: operator.lt, ast.LtE: operator.le, ast.Gt: operator.gt, ast.GtE: operator.ge, ast.Eq: operator.eq,
}  # fmt: skip


@cache
def judgement(expression: str) -> Judgement:
    """What an expression says of a value. Raises BadJudgement."""
    try:
        tree = ast.parse(expression, mode="eval")
    except (SyntaxError, ValueError, RecursionError, MemoryError) as error:
        raise BadJudgement(f"“{expression}” cannot be read") from error
    return _built(tree.body)


def all_hold(expressions: Iterable[str]) -> Judgement | None:
    """Whether all of some expressions hold; None if there is none. Raises BadJudgement."""
    parts = tuple(judgement(one) for one in expressions)
    return _each_of(parts) if parts else None


def _each_of(parts: tuple[Judgement, ...]) -> Judgement:
    """All of some judgements; one by itself stays what it is, since some are native."""
    return reduce(lambda one, other: lambda value: one(value) and other(value), parts)


def _built(node: ast.expr) -> Judgement:
    if isinstance(node, ast.Name):
        found = PREDICATES.get(node.id) or TESTS.get(node.id)
        if found is None:
            raise BadJudgement(f"there is no judgement “{node.id}”")
        return found
    if isinstance(node, ast.BoolOp):
        parts = tuple(_built(one) for one in node.values)
        if isinstance(node.op, ast.And):
            return _each_of(parts)
        return reduce(lambda one, other: lambda value: one(value) or other(value), parts)
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not):
        inner = _built(node.operand)
        return lambda value: not inner(value)
    if isinstance(node, ast.Compare):
        return _compared(node)
    if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and not node.keywords:
        return _called(node.func.id, node.args)
    raise BadJudgement(f"“{ast.unparse(node)}” is no judgement")


def _compared(node: ast.Compare) -> Judgement:
    measures = tuple(_measure(one) for one in (node.left, *node.comparators))
    try:
        comparisons = tuple(_COMPARED[type(one)] for one in node.ops)
    except KeyError as error:
        raise BadJudgement(f"“{ast.unparse(node)}” is no comparison") from error

    if len(comparisons) == 1 and isinstance(node.comparators[0], ast.Constant):
        (first, _), number, compared = measures, measures[1](b""), comparisons[0]
        return lambda value: compared(first(value), number)

    def holds(value: bytes) -> bool:
        found = [measure(value) for measure in measures]
        return all(how(found[place], found[place + 1]) for place, how in enumerate(comparisons))

    return holds


def _measure(node: ast.expr) -> Callable[[bytes], int]:
    if isinstance(node, ast.Constant) and type(node.value) is int:
        number = node.value
        return lambda _value: number
    if isinstance(node, ast.Name) and node.id in _MEASURES:
        return _MEASURES[node.id]
    raise BadJudgement(f"“{ast.unparse(node)}” is no number; there are {', '.join(_MEASURES)}")


def _called(name: str, arguments: list[ast.expr]) -> Judgement:
    if name in _OF_TEXTS:
        texts = frozenset(text.lower() for one in arguments for text in _texts(one))
        if not texts:
            raise BadJudgement(f"{name}() compares with one text or more")
        return _OF_TEXTS[name](texts)
    if name in _OF_PARTS:
        if len(arguments) != 2:
            raise BadJudgement(f'{name}() takes signs and a judgement: {name}(":", secret)')
        return _OF_PARTS[name](_text(arguments[0]), _built(arguments[1]))
    if name == "stdnum" and len(arguments) == 1:
        return _checked_by(_text(arguments[0]).decode())
    raise BadJudgement(f"there is no judgement “{name}” of this kind")


def _text(node: ast.expr) -> bytes:
    if isinstance(node, ast.Constant) and isinstance(node.value, str):
        return node.value.encode()
    raise BadJudgement(f"“{ast.unparse(node)}” is no text in quotes")


def _texts(node: ast.expr) -> Iterable[bytes]:
    """A text in quotes, or all words of a list that is named."""
    if not isinstance(node, ast.Name):
        return (_text(node),)
    try:
        return vocabulary.words(node.id.replace("_", "-"))
    except KeyError as error:
        raise BadJudgement(f"there is no list of words “{node.id}”") from error


def _checked_by(module: str) -> Judgement:
    """The check of a number by python-stdnum, such as `nl.bsn`; the module is loaded when it is needed first."""
    if not module.replace(".", "").replace("_", "").isalnum():
        raise BadJudgement(f"“{module}” is no module of python-stdnum")

    return lambda value: is_valid(module, value.decode("ascii", "replace"))


def _parts(value: bytes, signs: bytes) -> list[bytes]:
    """The parts of a value between any of some signs, without blanks around them."""
    for sign in signs[1:]:
        value = value.replace(bytes([sign]), signs[:1])
    return [part for one in value.split(signs[:1]) if (part := one.strip())]


def _ends_at(value: bytes, signs: bytes, *, last: bool) -> int:
    """Where the first or last of some signs stands; -1 if there is none."""
    places = [place for place, byte in enumerate(value) if byte in signs]
    return -1 if not places else places[-1] if last else places[0]


def _before(signs: bytes, judge: Judgement) -> Judgement:
    def holds(value: bytes) -> bool:
        place = _ends_at(value, signs, last=False)
        return judge(value if place < 0 else value[:place])

    return holds


def _behind(signs: bytes, judge: Judgement, *, last: bool = False) -> Judgement:
    def holds(value: bytes) -> bool:
        place = _ends_at(value, signs, last=last)
        if place < 0:
            return judge(value if last else b"")
        return judge(value[place + 1 :].strip() if last else value[place + 1 :])

    return holds


def _begins(texts: frozenset[bytes]) -> Judgement:
    beginnings = tuple(texts)
    return lambda value: value.lower().startswith(beginnings)


def _ends(texts: frozenset[bytes]) -> Judgement:
    endings = tuple(texts)
    return lambda value: value.lower().endswith(endings)


_OF_TEXTS: dict[str, Callable[[frozenset[bytes]], Judgement]] = {
    "one_of": lambda texts: lambda value: value.lower() in texts,
    "begins": _begins,
    "ends": _ends,
    "has": lambda texts: lambda value: any(text in value.lower() for text in texts),
    "only": lambda texts: lambda value: not value.strip(b"".join(texts)),
}
"""Comparisons of a whole value with texts in small letters."""
_OF_PARTS: dict[str, Callable[[bytes, Judgement], Judgement]] = {
    "before": _before,
    "behind": _behind,
    "behind_last": lambda signs, judge: _behind(signs, judge, last=True),
    "bare": lambda signs, judge: lambda value: judge(value.strip(signs)),
    "without": lambda signs, judge: lambda value: judge(value.translate(None, signs)),
    "some_part": lambda signs, judge: (
        lambda value: any(judge(part) for part in _parts(value, signs))
    ),
    "every_part": lambda signs, judge: (
        lambda value: all(judge(part) for part in _parts(value, signs))
    ),
}
"""Judgements of parts of a value: `signs` are where it is divided, or what is left out."""
