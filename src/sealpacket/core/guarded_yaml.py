"""YAML that people write: read with limits that are counted before anything is built of it."""

from __future__ import annotations

from typing import Any

import yaml

from sealpacket.core.controls import CONTROL
from sealpacket.core.errors import Invalid

LARGEST = 1 << 20
MOST_NESTED = 60
"""So deep may a text be nested; its parser goes down by calling itself, and would fall through the floor."""

_LOADER: Any = getattr(yaml, "CSafeLoader", yaml.SafeLoader)
_OPENING = (yaml.FlowSequenceStartToken, yaml.FlowMappingStartToken, yaml.BlockSequenceStartToken,
            yaml.BlockMappingStartToken)  # fmt: skip
_CLOSING = (yaml.FlowSequenceEndToken, yaml.FlowMappingEndToken, yaml.BlockEndToken)
_COUNTED = (*_OPENING, yaml.BlockEntryToken, yaml.FlowEntryToken, yaml.ScalarToken)


def read_yaml(text: str, thing: str, most: int) -> Any:
    """What a YAML text holds; `thing` is what it is called, `most` how many values, names and items it may hold.

    Raises Invalid with the line, and a code such as `sheet-yaml`. Aliases are refused, so that no text can explode.
    """
    if len(text.encode("utf-8", "replace")) > LARGEST:
        raise Invalid(
            f"The {thing} is larger than 1 MB.",
            "Split the file, or keep only the part that matters.",
            code=f"{thing}-too-large",
        )
    try:
        _look_at_tokens(text, thing, most)
        return yaml.load(text, Loader=_LOADER)  # noqa: S506 - a safe loader, in C where there is one
    except yaml.YAMLError as error:
        mark = getattr(error, "problem_mark", None)
        line = min(mark.line, text.count("\n")) + 1 if mark else 1
        where = f" in line {line}" if mark else ""
        raise Invalid(
            f"The {thing} is not valid YAML{where}.",
            "Mend that line.",
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


def _look_at_tokens(text: str, thing: str, most: int) -> None:
    depth = count = 0
    for token in yaml.scan(text, Loader=_LOADER):
        depth += isinstance(token, _OPENING) - isinstance(token, _CLOSING)
        count += isinstance(token, _COUNTED)
        line = token.start_mark.line + 1
        if isinstance(token, yaml.AliasToken):
            raise Invalid(
                f"The {thing} uses YAML aliases.",
                "Write the part out where it is used.",
                code=f"{thing}-alias",
                line=line,
            )
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
        if isinstance(token, yaml.ScalarToken) and CONTROL.search(token.value):
            raise Invalid(
                f"The {thing} holds a control character in line {line}.",
                "Take it out.",
                code=f"{thing}-yaml",
                line=line,
            )
