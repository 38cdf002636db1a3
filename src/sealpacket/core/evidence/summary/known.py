"""Known issues: what a line means, and what to do about it."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Annotated, Any

import re2
from pydantic import (
    BaseModel,
    ConfigDict,
    Field,
    StringConstraints,
    ValidationError,
    field_validator,
)

from sealpacket.core.errors import Invalid
from sealpacket.core.guarded_yaml import read_yaml

_Line = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=400)]
MOST = 2000
"""Issues in one list."""
_MOST_VALUES = 25 * MOST


class KnownIssue(BaseModel):
    """One known issue. `pattern` is a regular expression (RE2) that a line of a log has to have."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    key: Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9-]{0,62}$")]
    title: _Line
    pattern: _Line
    meaning: Annotated[str, StringConstraints(max_length=4000)] = ""
    advice: Annotated[str, StringConstraints(max_length=4000)] = ""
    fixed_in: Annotated[str, StringConstraints(max_length=200)] = Field(
        default="", description="The versions in which it is fixed"
    )
    link: Annotated[str, StringConstraints(max_length=400, pattern=r"^$|^https://[^\s]+$")] = Field(
        default="", description="Our note about it, at an address of https"
    )
    vendor: str = ""
    models: list[str] = Field(default=[], description="Only for these models; empty for any")

    @field_validator("pattern")
    @classmethod
    def _compiles(cls, pattern: str) -> str:
        try:
            compiled = re2.compile(pattern)
        except re2.error as error:
            raise ValueError(f"is no regular expression: {_said(error)}") from None
        if compiled.search("") is not None:
            raise ValueError("would match any line")
        return pattern


def _said(error: Exception) -> str:
    said = error.args[0] if error.args else ""
    return said.decode(errors="replace") if isinstance(said, bytes) else str(said)


def read_known(text: str, name: str = "The list") -> list[KnownIssue]:
    """Known issues from YAML: a list of them. Raises Invalid with the place of what is wrong."""
    rows = read_yaml(text, "list", _MOST_VALUES) or []
    if not isinstance(rows, list) or len(rows) > MOST:
        raise Invalid(
            f"{name} is no list of known issues.",
            f"Write up to {MOST:,} of them, each with key, title and pattern.",
            code="no-list",
        )
    found: dict[str, KnownIssue] = {}
    for number, row in enumerate(rows, 1):
        issue = make_known(row, f"{name}, issue {number}: ")
        if issue.key in found:
            raise Invalid(f"{name} has two issues {issue.key}.", "Rename one.", code="doubled")
        found[issue.key] = issue
    return list(found.values())


def make_known(row: Any, where: str = "") -> KnownIssue:
    """A known issue from its parts. Raises Invalid, with `where` before what is wrong."""
    try:
        return KnownIssue.model_validate(row)
    except ValidationError as error:
        first = error.errors()[0]
        field = ".".join(map(str, first["loc"])) or "it"
        said = re.sub(r"^Value error, ", "", first["msg"])
        raise Invalid(
            f"{where}{field} {said[0].lower()}{said[1:]}.",
            "Correct it, then try again.",
            code="no-issue",
        ) from None


def read_known_file(path: Path) -> list[KnownIssue]:
    """Known issues from a YAML file. Raises Invalid."""
    return read_known(path.read_text("utf-8", "replace"), path.name)
