"""A kit as it is written: YAML with a closed list of words. Its JSON Schema is `Kit.model_json_schema()`."""

from __future__ import annotations

import re
from datetime import timedelta
from pathlib import Path
from typing import Annotated, Any, Literal

import re2
from pydantic import (
    AfterValidator,
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Field,
    StringConstraints,
    ValidationError,
    model_validator,
)

from sealpacket.core.errors import Invalid
from sealpacket.core.guarded_yaml import read_yaml

LARGEST_KIT = 1 << 18
_MOST_VALUES = 10_000
_SIZES = {"B": 1, "kB": 10**3, "KB": 10**3, "MB": 10**6, "GB": 10**9}
_TIMES = {"s": 1, "min": 60, "h": 3600, "d": 86400}
_UNITS = {
    "second": "s", "seconds": "s", "minute": "min", "minutes": "min", "hour": "h", "hours": "h", "day": "d",
    "days": "d",
}  # fmt: skip


def _octets(value: Any) -> Any:
    if isinstance(value, int) and not isinstance(value, bool):
        return value
    found = re.fullmatch(r"(\d+(?:\.\d+)?) ?(B|kB|KB|MB|GB)", str(value).strip())
    if found is None:
        raise ValueError("is no size; write it as 20 MB")
    return int(float(found[1]) * _SIZES[found[2]])


def _duration(value: Any) -> Any:
    if isinstance(value, int) and not isinstance(value, bool):
        return timedelta(seconds=value)
    if isinstance(value, timedelta):
        return value
    found = re.fullmatch(r"(\d+(?:\.\d+)?) ?([a-z]+)", str(value).strip())
    unit = _UNITS.get(found[2], found[2]) if found else ""
    if found is None or unit not in _TIMES:
        raise ValueError("is no time; write it as 30 s, 5 min or 2 h")
    return timedelta(seconds=float(found[1]) * _TIMES[unit])


def _compiled(value: str) -> str:
    try:
        re2.compile(value)
    except re2.error:
        raise ValueError("is no regular expression (RE2)") from None
    return value


Octets = Annotated[
    int, BeforeValidator(_octets, json_schema_input_type=int | str), Field(gt=0, le=4_000_000_000)
]
Duration = Annotated[timedelta, BeforeValidator(_duration, json_schema_input_type=int | str)]
Pattern = Annotated[str, StringConstraints(max_length=400), AfterValidator(_compiled)]
Line = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=400)]
Slug = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9-]{0,40}$")]


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Expect(_Part):
    """The expected result of a step."""

    exit: list[int] = Field(
        [0], description="The result codes of a command that are good; empty: any."
    )
    least: Octets = Field(1, description="Minimum size: 1 B means not empty.")
    contains: Pattern = Field("", description="RE2 that it has to have.")
    lacks: Pattern = Field("", description="RE2 that it must not have.")
    parses: Literal["", "json", "xml", "csv", "log"] = Field(
        "", description="It can be read as that: json, xml, csv, or a log whose lines state times."
    )
    newer_than: Duration | None = Field(
        None, description="It was written within this time; of a log, its last line was: 2 h."
    )


class FillAnswer(_Part):
    """An answer that a result gives."""

    question: Annotated[str, StringConstraints(pattern=r"^[a-z][a-z0-9_]{0,60}$")] = Field(
        description="The desk's question, by its id."
    )
    pattern: Pattern = Field(description="RE2 with one group: the answer.")


class Step(_Part):
    """One thing to collect: exactly one of `run`, `files`, `get`, `ssh` and `sftp`."""

    id: Slug
    what: Line = Field(description="In words: the controllers' log.")
    run: list[Line] = Field(
        [], description="A command on this machine and its arguments; no shell."
    )
    files: list[Line] = Field([], description="Files of this machine; * and ** are wildcards.")
    get: str = Field("", max_length=600, description="An address (http or https) to get.")
    ssh: str = Field("", max_length=600, description="A command that the device runs.")
    sftp: list[Line] = Field([], description="Files of the device; * is a wildcard.")
    save: Annotated[str, StringConstraints(pattern=r"^[\w][\w.-]{0,100}$")] | Literal[""] = Field(
        "", description="The name of the file that is written."
    )
    time: Duration = Field(timedelta(seconds=60), description="The longest that it may take.")
    size: Octets = Field(50_000_000, description="The most that is kept.")
    secret: str = Field("", max_length=40, description="The secret that it needs, by its name.")
    expect: Expect = Field(Expect(), description="The expected result.")
    answers: list[FillAnswer] = Field([], description="Answers that the result gives.")
    optional: bool = Field(False, description="Without it the kit is complete.")

    @model_validator(mode="after")
    def _does_one_thing(self) -> Step:
        ways = [way for way in WAYS if getattr(self, way)]
        if len(ways) != 1:
            raise ValueError(f"does exactly one of {', '.join(WAYS)}")
        if not timedelta(0) < self.time <= timedelta(hours=2):
            raise ValueError("may take from 1 s to 2 h")
        return self

    @property
    def way(self) -> str:
        """How it is collected: run, files, get, ssh or sftp."""
        return next(way for way in WAYS if getattr(self, way))

    @property
    def name(self) -> str:
        """The name of its file, or of its folder if it collects files."""
        endings = {"json": ".json", "xml": ".xml", "csv": ".csv", "log": ".log"}
        if self.way in ("files", "sftp"):
            return self.id
        return self.save or f"{self.id}{endings.get(self.expect.parses, '.txt')}"

    def shown(self, target: str) -> str:
        """Exactly what it does, for a person to confirm."""
        there = target or "{target}"
        match self.way:
            case "run":
                return "on this machine: " + " ".join(map(_quoted, self.run))
            case "files":
                return "files of this machine: " + ", ".join(self.files)
            case "get":
                return f"get {self.get.replace('{target}', there)}"
            case "ssh":
                return f"on {there} by SSH: {self.ssh}"
            case _:
                return f"files of {there} by SFTP: " + ", ".join(self.sftp)


WAYS = ("run", "files", "get", "ssh", "sftp")


class Kit(_Part):
    """A diagnostic kit."""

    kit: Literal[1] = Field(description="The version of this language: 1.")
    name: Slug
    title: Line
    vendor: str = Field("", max_length=40, description="The vendor's key.")
    models: list[Line] = Field([], description="The models that it is for; empty: any.")
    secrets: dict[Slug, Line] = Field(
        {}, description="The secrets that it needs, by name, and what each is."
    )
    user: str = Field("", max_length=60, description="The user name on the device.")
    steps: list[Step] = Field(min_length=1, max_length=60)

    @property
    def needs_target(self) -> bool:
        """Whether it collects from a device, not from this machine alone."""
        return any(step.way in ("ssh", "sftp") or "{target}" in step.get for step in self.steps)


def _quoted(word: str) -> str:
    return word if re.fullmatch(r"[\w./:=@%+,-]+", word) else f"'{word}'"


def read_kit(text: str, name: str = "The kit") -> Kit:
    """A kit from YAML. Raises Invalid with the place of the first fault."""
    if len(text) > LARGEST_KIT:
        raise Invalid(f"{name} is too long.", "Split it into several kits.", code="too-large")
    row = read_yaml(text, "kit", _MOST_VALUES)
    if not isinstance(row, dict):
        raise Invalid(f"{name} is no kit.", "Begin it with kit: 1.", code="no-kit")
    try:
        return Kit.model_validate(row)
    except ValidationError as error:
        first = error.errors()[0]
        raise Invalid(
            f"{name}: {_place(row, first['loc'])}{_said(first)}.",
            "Correct it, then try again.",
            code="no-kit",
        ) from None


def read_kit_file(path: Path) -> Kit:
    """A kit from a YAML file. Raises Invalid."""
    return read_kit(path.read_text("utf-8", "replace"), path.name)


def _place(row: Any, place: tuple[int | str, ...]) -> str:
    words = []
    for part in place:
        row = _within(row, part)
        if isinstance(part, int):
            ident = row.get("id") if isinstance(row, dict) else None
            words.append(f"step {ident}" if ident else f"number {part + 1}")
        elif part not in ("constrained-str", "str"):
            words.append(str(part))
    if words[:1] == ["steps"] and len(words) > 1:
        del words[0]
    return " ".join(words) + " " if words else ""


def _within(row: Any, part: int | str) -> Any:
    if isinstance(row, dict):
        return row.get(part)
    return (
        row[part] if isinstance(row, list) and isinstance(part, int) and part < len(row) else None
    )


def _said(error: Any) -> str:
    kinds = {
        "extra_forbidden": "is no word of a kit",
        "missing": "is missing",
        "string_pattern_mismatch": "is no name: small letters, digits and dashes",
    }
    said = kinds.get(error["type"]) or re.sub(r"^(?:Value|Assertion) error, ", "", error["msg"])
    return said[0].lower() + said[1:]
