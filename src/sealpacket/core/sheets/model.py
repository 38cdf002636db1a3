"""The desk sheet: the declarative description of one desk, as it is written in YAML."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping
from datetime import date
from functools import cached_property
from typing import Any, Literal

from pydantic import Field, ValidationError, model_validator

from sealpacket.core.coverage import Need, Route
from sealpacket.core.errors import Invalid
from sealpacket.core.guarded_yaml import read_yaml
from sealpacket.core.kinds import KINDS
from sealpacket.core.sheets.asking import Duty, Part, Question
from sealpacket.core.sheets.rendering import BRACES
from sealpacket.core.sheets.sending import (
    FORMS_OF_CHANNELS,
    Attachments,
    Evidence,
    Replies,
    Sending,
    SplitBy,
    Writing,
)

MOST_VALUES = 60_000
"""Names, values and list items that a sheet may hold."""
_TAGS = {*FORMS_OF_CHANNELS, *FORMS_OF_CHANNELS.values()}


class Kind(Part):
    """A kind of request that the desk takes."""

    need: Need
    routes: tuple[Route, ...] = Field(min_length=1, description="The routes by which it may come.")
    cover: Literal["wanted", "not_wanted"] = Field(
        "wanted",
        description="not_wanted: the desk takes it whether or not an entitlement covers it.",
    )
    technical: bool = Field(
        True, description="false: a limit, a level, a bill; no diagnostics are asked for."
    )


class Level(Part):
    """One level of the desk's severity scale."""

    value: str = Field(max_length=40)
    label: str = Field(max_length=200)
    words: str = ""
    duties: tuple[Duty, ...] = ()


class Escalation(Part):
    """A step that the desk's rules allow when it is too slow or things get worse."""

    when: str = Field(
        max_length=300, description="In words: no first answer within the promised time."
    )
    do: str = Field(max_length=300, description="In words: call the duty manager.")
    by: str = Field("", max_length=120, description="Telephone or mail for it.")


class Severity(Part):
    """Who sets the severity, what its levels mean, and how it may be raised.

    `ours`: the question named in `question` asks for it. `desk`: nobody asks us; `levels` only tell. `computed`: from
    two answers by `table`, whose rows are the first answer and whose columns the second.
    """

    set_by: Literal["ours", "desk", "computed"]
    question: str = ""
    levels: tuple[Level, ...] = ()
    impact: str = ""
    urgency: str = ""
    table: dict[str, dict[str, str]] = {}
    raising: str = Field("", description="When it may be raised, in words.")
    escalation: tuple[Escalation, ...] = ()

    @model_validator(mode="after")
    def _says_who_sets_it(self) -> Severity:
        if self.set_by == "ours" and not self.question:
            raise ValueError("severity.question names the question that asks for it")
        if self.set_by == "computed" and not (
            self.impact and self.urgency and self.table and self.levels
        ):
            raise ValueError("a computed severity needs impact, urgency, table and levels")
        return self


Requirement = Literal[
    "mailbox_read", "contract_tied", "product_registered", "warranty_elsewhere", "purpose"
]


class Before(Part):
    """Something that has to be so before a packet is sent."""

    need: Requirement
    level: Literal["stop", "warn"] = "stop"
    words: str = Field("", max_length=300, description="Why this desk wants it.")
    question: str = Field("", description="Of a purpose: the question that says it.")


Day = Literal["mo", "tu", "we", "th", "fr", "sa", "su"]


class Hours(Part):
    """When the desk works: by day, from–to in its zone; holidays of its country (ISO 3166) and days of its own."""

    zone: str
    week: dict[Day, str] = Field(description="08:00-18:00; a day that is not named is closed.")
    holidays_of: str = Field(
        "", pattern=r"^([A-Z]{2}(-[A-Z0-9]{1,3})?)?$", description="GB, or GB-ENG."
    )
    closed_on: tuple[date, ...] = ()


class KeptQuestion(Part):
    """A question whose answer is meant to be sent in clear. Secrets and their like are masked in it all the same."""

    question: str = Field(description="The question.")
    kinds: tuple[str, ...] = Field(
        (), max_length=30, description="Only these kinds of value; empty: all."
    )
    because: str = Field(min_length=3, max_length=200, description="Why the desk has to see it.")

    @model_validator(mode="after")
    def _knows_its_kinds(self) -> KeptQuestion:
        strange = sorted(set(self.kinds) - set(KINDS))
        if strange:
            raise ValueError(f"there is no kind {strange[0]}; there are {', '.join(KINDS)}")
        return self


class Redaction(Part):
    """What of the usual plan is other for this desk. Secrets, people's data and other numbers are masked always."""

    keep: tuple[Literal["host", "ip", "mac"] | KeptQuestion, ...] = Field(
        (),
        description="Kinds of value that the desk has to see, and questions that are sent in clear.",
    )
    because: str = Field(
        "", max_length=200, description="Why it has to see the kinds; in the redaction report."
    )
    style: Literal["labels", "shapes"] | None = Field(
        None,
        description="What stands for a value, where the desk's parser wants its shape; else as the plan says.",
    )
    drop_lines: tuple[str, ...] = Field(
        (), max_length=30, description="Kinds of which the whole line is left out."
    )
    drop_files: tuple[str, ...] = Field(
        (), max_length=30, description="Kinds of which the whole file is left out."
    )

    @model_validator(mode="after")
    def _says_why(self) -> Redaction:
        if self.kept_kinds and not self.because:
            raise ValueError("say in redaction.because why the desk has to see it")
        return self

    @property
    def kept_kinds(self) -> tuple[str, ...]:
        """The kinds that the desk has to see, wherever they stand."""
        return tuple(one for one in self.keep if isinstance(one, str))

    @property
    def kept_questions(self) -> tuple[KeptQuestion, ...]:
        """The questions that are sent in clear."""
        return tuple(one for one in self.keep if isinstance(one, KeptQuestion))


class Sheet(Part):
    """A whole desk sheet."""

    sheet: Literal[1] = Field(description="The version of the sheet language.")
    desk: str = Field(pattern=r"^[a-z][a-z0-9-]{0,39}$")
    vendor: str
    name: str
    kinds: tuple[Kind, ...] = Field(min_length=1, max_length=20)
    before: tuple[Before, ...] = ()
    hours: Hours | None = None
    questions: tuple[Question, ...] = Field(max_length=400)
    severity: Severity | None = None
    evidence: tuple[Evidence, ...] = Field((), max_length=40)
    attachments: Attachments
    redaction: Redaction = Redaction()
    split: SplitBy | None = None
    write: Writing
    send: Sending
    replies: Replies

    @model_validator(mode="after")
    def _names_hold_together(self) -> Sheet:
        seen = {question.id for question in self.questions}
        for name, times in Counter(question.id for question in self.questions).items():
            if times > 1:
                raise ValueError(f"two questions are called {name}")
        for question in self.questions:
            for name in question.looks_at - seen:
                raise ValueError(
                    f"question {question.id} looks at {name}, which the sheet does not ask"
                )
        form = FORMS_OF_CHANNELS[self.send.channel]
        if self.write.form != form:
            raise ValueError(f"the channel {self.send.channel} needs write.form to be {form}")
        if form in ("form", "mail", "pdf") and not all(
            is_flat(value) for value in self.write.body.values()
        ):
            raise ValueError(f"a {form} has one text for each field: write.body must not be nested")
        for place, name in self._named():
            if name and name not in seen:
                raise ValueError(f"{place} names {name}, which the sheet does not ask")
        return self

    def _named(self) -> Iterator[tuple[str, str]]:
        """Every place outside the questions that names one."""
        for name in takes_in(self.write.body):
            if name.startswith("answers."):
                yield "write", name.split(".")[1]
        if self.severity:
            for field in ("question", "impact", "urgency"):
                yield f"severity.{field}", getattr(self.severity, field)
        if self.split:
            yield "split.question", self.split.question
        for one in self.before:
            yield "before.question", one.question
        for kept in self.redaction.kept_questions:
            yield "redaction.keep", kept.question

    @cached_property
    def by_name(self) -> dict[str, Question]:
        """Its questions by their names."""
        return {question.id: question for question in self.questions}

    @cached_property
    def taken(self) -> frozenset[str]:
        """Every path that is written into a case or the name of a file."""
        written = self.model_dump(exclude={"questions"})
        return frozenset((*takes_in(written), *_braced(written)))

    def question(self, ident: str) -> Question | None:
        """The question of that name."""
        return self.by_name.get(ident)

    def kind(self, need: str) -> Kind | None:
        """What the desk says of that kind of request."""
        return next((kind for kind in self.kinds if kind.need == need), None)


def is_flat(value: Any) -> bool:
    """Whether a part of a body gives one text: a text, or a `take` that makes no list."""
    if isinstance(value, Mapping):
        return set(value) == {"text"} or ("take" in value and "split" not in value)
    return not isinstance(value, list)


def takes_in(node: Any) -> Iterator[str]:
    """All paths that a body takes, in its lists and conditional parts too."""
    if isinstance(node, Mapping):
        if isinstance(node.get("take"), str):
            yield node["take"]
        for inner in node.values():
            yield from takes_in(inner)
    elif isinstance(node, list | tuple):
        for inner in node:
            yield from takes_in(inner)


def _braced(node: Any) -> Iterator[str]:
    """All paths that stand in braces in the texts of a sheet."""
    if isinstance(node, str):
        yield from BRACES.findall(node)
    elif isinstance(node, Mapping):
        for inner in node.values():
            yield from _braced(inner)
    elif isinstance(node, list | tuple):
        for inner in node:
            yield from _braced(inner)


def load_sheet(text: str) -> Sheet:
    """A sheet from YAML. Raises Invalid that names the place."""
    return parse_sheet(read_yaml(text, "sheet", MOST_VALUES))


def parse_sheet(body: Any) -> Sheet:
    """A sheet from its parsed form. Raises Invalid that names the place and what was expected."""
    try:
        return Sheet.model_validate(body)
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(part) for part in place_of(first["loc"])) or "the sheet"
        raise Invalid(
            f"{place}: {first['msg']}.", "Mend that place in the sheet.", code="sheet-shape"
        ) from error


def place_of(loc: tuple[str | int, ...]) -> tuple[str | int, ...]:
    """The path in the sheet of a place that pydantic names, without the tags of its unions."""
    unions = ("bool", "Condition")
    return tuple(
        part
        for number, part in enumerate(loc)
        if part not in unions
        and not (part in _TAGS and number and loc[number - 1] in ("write", "send"))
    )


def sheet_schema() -> dict[str, Any]:
    """The published JSON Schema (2020-12) of the sheet language."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **Sheet.model_json_schema()}
