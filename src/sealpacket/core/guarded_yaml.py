"""YAML that people write: read with limits that are counted before anything is built of it."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

import yaml

from sealpacket.core.controls import CONTROL
from sealpacket.core.errors import Invalid

LARGEST = 1 << 20
MOST_NESTED = 60
"""So deep may a text be nested; its parser goes down by calling itself, and would fall through the floor."""

_LOADER: Any = getattr(yaml, "CSafeLoader", yaml.SafeLoader)


def read_yaml(text: str, thing: str, most: int) -> Any:
    """Parse a YAML text with limits; `thing` names it in errors, `most` is the maximum number of values, names and
    items.

    Raises Invalid with the line, and a code such as `sheet-yaml`. Aliases are refused, so that no text can explode.
    """
    for _ in yaml_events(text, thing, most):
        pass
    with _told(text, thing):
        return yaml.load(text, Loader=_LOADER)  # noqa: S506 - a safe loader, in C where there is one


def yaml_events(text: str, thing: str, most: int) -> Iterator[Any]:
    """The events of a YAML text (scalars, starts, ends) with their positions. Raises as read_yaml does."""
    if len(text.encode("utf-8", "replace")) > LARGEST:
        raise Invalid(
            f"The {thing} is larger than 1 MB.",
            "Split the file, or keep only the part that matters.",
            code=f"{thing}-too-large",
        )
    depth = count = 0
    with _told(text, thing):
        event: Any
        for event in yaml.parse(text, Loader=_LOADER):
            match event:
                case yaml.ScalarEvent():
                    count += 1
                    _look_at_scalar(event, thing)
                case yaml.CollectionStartEvent():
                    depth, count = depth + 1, count + 1
                case yaml.CollectionEndEvent():
                    depth -= 1
                case yaml.AliasEvent():
                    raise Invalid(
                        f"The {thing} uses YAML aliases.",
                        "Write the part out where it is used.",
                        code=f"{thing}-alias",
                        line=_line(event),
                    )
            _within(depth, count, most, thing, event)
            yield event


def _line(event: Any) -> int:
    return int(event.start_mark.line) + 1


def _within(depth: int, count: int, most: int, thing: str, event: Any) -> None:
    line = _line(event)
    if depth > MOST_NESTED:
        raise Invalid(
            f"The {thing} is nested too deeply.",
            "Write it flatter.",
            code=f"{thing}-nested",
            line=line,
        )
    if count > most:
        raise Invalid(
            f"The {thing} holds more than {most} values and names.",
            "Split the file, or keep only the part that matters.",
            code=f"{thing}-too-large",
            line=line,
        )


def _look_at_scalar(event: Any, thing: str) -> None:
    if CONTROL.search(event.value):
        line = _line(event)
        raise Invalid(
            f"The {thing} holds a control character in line {line}.",
            "Take it out.",
            code=f"{thing}-yaml",
            line=line,
        )


@contextmanager
def _told(text: str, thing: str) -> Iterator[None]:
    """Report what the parser cannot read in our own words."""
    try:
        yield
    except yaml.YAMLError as error:
        mark = getattr(error, "problem_mark", None)
        line = min(mark.line, text.count("\n")) + 1 if mark else 1
        where = f" in line {line}" if mark else ""
        words, remedy = _reason(error)
        raise Invalid(
            f"The {thing} is not valid YAML{where}{words}.",
            remedy,
            code=f"{thing}-yaml",
            line=line,
        ) from error
    except (RecursionError, ValueError) as error:
        raise Invalid(
            f"The {thing} is nested too deeply or holds an impossible value.",
            "Write it flatter.",
            code=f"{thing}-yaml",
            line=1,
        ) from error


_REASONS = (
    ("mapping values are not allowed", ": a colon and a blank begin a new entry here",
     "Put the text into quotes, or begin the entry on a line of its own."),
    ("did not find expected ',' or", ": a bracket or brace is not closed",
     "Close it, and put texts that hold a comma, a bracket or a brace into quotes."),
    ("did not find expected key", ": the indentation fits no entry above it",
     "Indent the line like its neighbours; a text that begins with a quote ends with it."),
    ("did not find expected '-'", ": a list entry is expected here", "Begin the line with “- ”, or indent it further."),
    ("could not find expected ':'", ": a name without its colon", "Write “name: value”."),
    ("found character that cannot start", ": a tab, or one of @ and `, cannot begin a text",
     "Indent with blanks, and put the text into quotes."),
    ("unexpected end of stream", ": a quote is not closed", "Close it."),
    ("found unknown escape", ": a backslash in double quotes means something else",
     "Use single quotes for patterns: '[0-9]+\\.[0-9]+'."),
)  # fmt: skip
"""Of what the parser says: our words for it, and what to do."""


def _reason(error: yaml.YAMLError) -> tuple[str, str]:
    """Why a text is no YAML, in our words, and what to do."""
    said = f"{getattr(error, 'context', '') or ''} {getattr(error, 'problem', '') or ''}"
    for part, words, remedy in _REASONS:
        if part in said:
            return words, remedy
    return "", "Check brackets, quotes and indentation in that line and the one above it."
