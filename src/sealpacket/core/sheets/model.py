"""The desk sheet: the declarative description of one desk, as it is written in YAML."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping
from datetime import date
from functools import cached_property
from typing import Annotated, Any, Literal, get_args

from pydantic import BeforeValidator, Field, model_validator

from sealpacket.core.coverage import Need, Route
from sealpacket.core.kinds import KINDS
from sealpacket.core.sheets.agreed import LimitsBy, UnitsBy
from sealpacket.core.sheets.asking import Choice, Duty, Part, Question
from sealpacket.core.sheets.bodies import NODE_TAGS, Group, Take, kind_of, walk
from sealpacket.core.sheets.placing import body_of
from sealpacket.core.sheets.rendering import braces_in
from sealpacket.core.sheets.reply_rules import Replies
from sealpacket.core.sheets.sending import (
    FORMATS,
    AsMail,
    AsPdf,
    Attachments,
    Evidence,
    Sending,
    SplitBy,
    Writing,
)
from sealpacket.core.sheets.updates import UpdateKind, UpdateRule

_TAGS = {*FORMATS, *(name for names in FORMATS.values() for name in names)}
FLAT = ("form", "mail", "pdf", "fields")
"""Formats that have one text for each field."""


class Kind(Part):
    """A kind of request that the desk takes."""

    need: Need = Field(description="The kind of need.")
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

    value: str = Field(max_length=40, description="The desk's value for it.")
    label: str = Field(max_length=200, description="The label that people read.")
    meaning: str = Field("", description="Its meaning: who is hindered, how fast the desk is.")
    duties: tuple[Duty, ...] = Field((), description="Duties of the contact.")


class Escalation(Part):
    """A step that the desk's rules allow when it is too slow or things get worse."""

    trigger: str = Field(
        max_length=300, description="In words: no first answer within the promised time."
    )
    action: str = Field(max_length=300, description="In words: call the duty manager.")
    contact: str = Field("", max_length=120, description="Telephone or mail for it.")
    after_hours: int = Field(
        0, ge=0, le=2000, description="Hours after lodging before which it is not allowed."
    )


class Computed(Part):
    """A severity that follows from two answers: the rows of the table are the first, its columns the second."""

    impact: str = Field(description="The question whose answers are the rows.")
    urgency: str = Field(description="The question whose answers are the columns.")
    table: dict[str, dict[str, str]] = Field(description="By impact and urgency, the level.")


PromisedTime = Annotated[str, Field(pattern=r"^(0*[1-9]\d{0,3}(min|h))?$")]


class Promises(Part):
    """Times that the desk promises for a severity, counted in the hours of the entitlement: 30min, 4h."""

    first_answer: PromisedTime = Field("", description="Until its first word about the case.")
    next_word: PromisedTime = Field("", description="From its last word, or ours, to its next one.")
    repair: PromisedTime = Field("", description="Until the repair.")


class Severity(Part):
    """The severity scale, and how it may be raised.

    A question with `sets: severity` asks us for it; `computed` works it out of two answers; else the desk sets it, and
    `levels` only tell.
    """

    levels: tuple[Level, ...] = Field(
        (), description="The scale, where no question has it already."
    )
    computed: Computed | None = Field(None, description="How it follows from two answers.")
    raising: str = Field("", description="When it may be raised, in words.")
    escalation: tuple[Escalation, ...] = Field(
        (), description="Steps that are allowed when the desk is slow."
    )
    promises: dict[str, Promises] = Field(
        default={}, description="By the value of a severity, the times that are promised for it."
    )

    @model_validator(mode="after")
    def _has_its_levels(self) -> Severity:
        if self.computed and not self.levels:
            raise ValueError("a computed severity needs its levels")
        return self


Requirement = Literal[
    "mailbox_read", "contract_tied", "product_registered", "warranty_elsewhere", "purpose"
]


class Required(Part):
    """Something that has to be so before a packet is sent."""

    requirement: Requirement = Field(description="The condition.")
    level: Literal["stop", "warn"] = Field(
        "stop", description="The consequence if it does not hold."
    )
    because: str = Field("", max_length=300, description="Why this desk wants it.")
    question: str = Field("", description="Of a purpose: the question that says it.")


Day = Literal["mo", "tu", "we", "th", "fr", "sa", "su"]
DAYS: tuple[Day, ...] = get_args(Day)


class AskedBack(Part):
    """A question that the desk asks back again and again."""

    ask: str = Field(min_length=3, max_length=400, description="The question.")
    needs: tuple[Need, ...] = Field((), description="Of which kinds of need; empty: of all.")


class Hours(Part):
    """When the desk works: by day, from–to in its zone; holidays of its country (ISO 3166) and days of its own."""

    zone: str = Field(description="Its time zone (IANA): Europe/London.")
    week: dict[Day, str] = Field(description="08:00-18:00; a day that is not named is closed.")
    holidays_of: str = Field(
        "", pattern=r"^([A-Z]{2}(-[A-Z0-9]{1,3})?)?$", description="GB, or GB-ENG."
    )
    closed_on: tuple[date, ...] = Field((), description="Days on which it is closed as well.")


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
    """Deviations from the usual redaction plan for this desk. Secrets, people's data and other numbers are always
    masked."""

    keep: tuple[Literal["host", "ip", "mac"] | KeptQuestion, ...] = Field(
        (),
        description="Kinds of value that the desk has to see, and questions that are sent in clear.",
    )
    because: str = Field(
        "", max_length=200, description="Why it has to see the kinds; in the redaction report."
    )
    style: Literal["labels", "shapes"] | None = Field(
        None,
        description="The style of placeholders, if the desk's parser needs the shape of values; else the plan's.",
    )
    drop_lines: tuple[str, ...] = Field(
        (), max_length=30, description="Kinds whose lines are left out."
    )
    drop_files: tuple[str, ...] = Field(
        (), max_length=30, description="Kinds whose files are left out."
    )

    @model_validator(mode="after")
    def _says_why(self) -> Redaction:
        if self.kept_kinds and not self.because:
            raise ValueError("say in redaction.because why the desk has to see it")
        return self

    @property
    def kept_kinds(self) -> tuple[str, ...]:
        """The kinds that the desk has to see, wherever they occur."""
        return tuple(one for one in self.keep if isinstance(one, str))

    @property
    def kept_questions(self) -> tuple[KeptQuestion, ...]:
        """The questions that are sent in clear."""
        return tuple(one for one in self.keep if isinstance(one, KeptQuestion))


class Pace(Part):
    """How many calls the desk wants at most."""

    at_once: int = Field(0, ge=0, le=50, description="At the same time; 0: as many as there are.")
    in_a_minute: int = Field(0, ge=0, le=6000, description="In a minute; 0: as many as there are.")


class Sheet(Part):
    """A whole desk sheet."""

    sheet: Annotated[Literal[2], BeforeValidator(lambda v: 2 if v == "2" else v)] = Field(
        description="The version of the sheet language."
    )
    desk: str = Field(pattern=r"^[a-z][a-z0-9-]{0,39}$", description="The short name of the desk.")
    vendor: str = Field(description="The short name of its vendor in the register.")
    name: str = Field(description="The desk's name.")
    kinds: tuple[Kind, ...] = Field(
        min_length=1, max_length=20, description="The kinds of request that it takes."
    )
    requirements: tuple[Required, ...] = Field(
        (), description="Preconditions for sending a packet."
    )
    hours: Hours | None = Field(None, description="When the desk works.")
    questions: tuple[Question, ...] = Field(max_length=400, description="Its questions, in order.")
    asked_back: tuple[AskedBack, ...] = Field(
        (),
        max_length=100,
        description="Questions that it asks back again and again: drafts ask them first.",
    )
    severity: Severity | None = Field(None, description="Its severity scale.")
    evidence: tuple[Evidence, ...] = Field(
        (), max_length=40, description="The evidence that it wants."
    )
    attachments: Attachments = Field(
        Attachments(), description="Which files it takes; without it, none."
    )
    redaction: Redaction = Field(Redaction(), description="Deviations from the redaction plan.")
    split: SplitBy | None = Field(None, description="Whether a packet becomes several cases.")
    units: UnitsBy | None = Field(None, description="Whether requests draw on prepaid units.")
    limits: LimitsBy | None = Field(None, description="Whether requests ask for limits.")
    write: Writing = Field(description="How a case is written.")
    send: Sending = Field(description="How it is sent.")
    pace: Pace = Field(Pace(), description="How many calls it wants at most.")
    replies: Replies = Field(description="How its answers are read.")
    acts: dict[UpdateKind, UpdateRule] = Field(
        default_factory=dict,
        description="How later updates are written; an act that is not named is sent as a message.",
    )

    @model_validator(mode="after")
    def _names_hold_together(self) -> Sheet:
        seen = {question.id for question in self.questions}
        for name, times in Counter(question.id for question in self.questions).items():
            if times > 1:
                raise Misplaced(("questions",), f"Two questions are called {name}.", name)
        for number, question in enumerate(self.questions):
            for name in sorted(question.looks_at - seen):
                raise Misplaced(
                    ("questions", number),
                    f"Question {question.id} looks at {name}, which the sheet does not ask.",
                    name,
                )
        formats = FORMATS[self.send.channel]
        if self.write.format not in formats:
            raise Misplaced(
                ("write", "format"),
                f"The channel {self.send.channel} writes {' or '.join(formats)}, not {self.write.format}.",
                self.write.format,
            )
        for place, name in self._named():
            if name and name not in seen:
                raise Misplaced(
                    place, f"{place[-1]} names {name}, which the sheet does not ask.", name
                )
        return self

    def _named(self) -> Iterator[tuple[tuple[str | int, ...], str]]:
        """Every place outside the questions that names one."""
        if self.severity and self.severity.computed:
            for field in ("impact", "urgency"):
                yield ("severity", "computed", field), getattr(self.severity.computed, field)
        if self.split:
            yield ("split", "question"), self.split.question
        for part, of_part in (("units", self.units), ("limits", self.limits)):
            for field in ("item", "quantity", "day", "rows", "purpose"):
                yield (part, field), getattr(of_part, field, "")
        for number, one in enumerate(self.requirements):
            yield ("requirements", number, "question"), one.question
        for number, kept in enumerate(self.redaction.keep):
            if isinstance(kept, KeptQuestion):
                yield ("redaction", "keep", number, "question"), kept.question
        if isinstance(self.write, AsPdf) and self.write.table:
            yield ("write", "table", "rows"), self.write.table.rows

    @cached_property
    def by_name(self) -> dict[str, Question]:
        """Its questions by their names."""
        return {question.id: question for question in self.questions}

    @cached_property
    def severity_question(self) -> Question | None:
        """The question that asks us for the severity."""
        return next((one for one in self.questions if one.sets == "severity"), None)

    @cached_property
    def on_duty(self) -> frozenset[str]:
        """The questions whose people have to meet the duties of a level: those that say so, or all that name one."""
        people = [one for one in self.questions if one.form == "person"]
        return frozenset(one.id for one in [o for o in people if o.on_duty] or people)

    @cached_property
    def severities(self) -> dict[str, Choice | Level]:
        """Its severities by their values: what the question that asks us offers, else the levels of the scale."""
        if self.severity_question is not None:
            return dict(self.severity_question.leaves())
        return {one.value: one for one in self.severity.levels} if self.severity else {}

    @property
    def severity_set_by(self) -> Literal["us", "desk", "computed"]:
        """Who sets the severity."""
        if self.severity_question is not None:
            return "us"
        return "computed" if self.severity and self.severity.computed else "desk"

    @cached_property
    def bodies(self) -> dict[str, Group]:
        """By kind of request, everything that is written of it: the template, and what questions write."""
        return {
            kind.need: body_of(
                self.write.bodies.get(kind.need, self.write.body),
                self.questions,
                flat=self.write.format in FLAT,
                by_hand=self.write.format == "fields",
            )
            for kind in self.kinds
        }

    def body_for(self, need: str) -> Group:
        """The body for a kind of request; that of the first kind if the desk does not take it."""
        return self.bodies.get(need) or next(iter(self.bodies.values()))

    @cached_property
    def taken(self) -> frozenset[str]:
        """Every path that is written into a case or the name of a file."""
        bodies: list[Any] = [*self.bodies.values()]
        if isinstance(self.write, AsPdf) and self.write.table:
            bodies.append(self.write.table.columns)
        if isinstance(self.write, AsMail):
            bodies.append(self.write.subject)
        found = {path for body in bodies for path in takes_in(body)}
        texts = self.model_dump(exclude={"questions"})
        return frozenset((*found, *_braced(texts)))

    @cached_property
    def drawn_on(self) -> frozenset[str]:
        """Every fact that is written into a case, or that fills an answer in."""
        return self.taken.union(one.take for question in self.questions for one in question.prefill)

    def question(self, ident: str) -> Question | None:
        """The question of that name."""
        return self.by_name.get(ident)

    def kind(self, need: str) -> Kind | None:
        """The desk's rules for a kind of request."""
        return next((kind for kind in self.kinds if kind.need == need), None)


class Misplaced(ValueError):
    """Two parts of a sheet that do not fit: the place, a whole sentence, and the word that is wrong."""

    def __init__(self, place: tuple[str | int, ...], sentence: str, word: str = "") -> None:
        super().__init__(sentence)
        self.place, self.sentence, self.word = place, sentence, word


def takes_in(body: Any) -> Iterator[str]:
    """All paths that a body takes, those in braces too."""
    for _, node in walk(body):
        if isinstance(node, Take):
            yield node.take
        elif isinstance(node, str):
            yield from braces_in(node)


def _braced(node: Any) -> Iterator[str]:
    """All paths in braces in the texts of a sheet."""
    if isinstance(node, str):
        yield from braces_in(node)
    elif isinstance(node, Mapping):
        for inner in node.values():
            yield from _braced(inner)
    elif isinstance(node, list | tuple):
        for inner in node:
            yield from _braced(inner)


_PARTS_OF_UNIONS = {"bool", "Condition", *NODE_TAGS, *_TAGS}


def place_of(loc: tuple[str | int, ...], body: Any) -> tuple[str | int, ...]:
    """The path in the sheet of a place that pydantic names, without the tags of its unions."""
    place: list[str | int] = []
    node, tagged = body, False
    for part in loc:
        if (
            loc[0] in ("write", "send")
            and not tagged
            and part in NODE_TAGS
            and part == kind_of(node)
        ):
            tagged = True
            continue
        tagged = False
        inner = _step(node, part)
        if inner is not _NOWHERE:
            node = inner
        elif part in _PARTS_OF_UNIONS or str(part).startswith(
            ("function-", "tuple[", "dict[", "lax-")
        ):
            continue
        elif part != "[key]":
            node = None
        if part != "[key]":
            place.append(part)
    return tuple(place)


_NOWHERE = object()


def _step(node: Any, part: str | int) -> Any:
    if isinstance(node, Mapping):
        return node.get(part, _NOWHERE)
    if isinstance(part, int) and isinstance(node, list | tuple) and part < len(node):
        return node[part]
    return _NOWHERE


def sheet_schema() -> dict[str, Any]:
    """The published JSON Schema (2020-12) of the sheet language."""
    schema = Sheet.model_json_schema()
    for branch in schema["$defs"]["Node"]["oneOf"]:
        if branch.get("type") == "object":
            branch["not"] = {"anyOf": [
                {"required": ["take"], "properties": {"take": {"type": "string"}}},
                {"required": ["when", "value"]},
                {"required": ["parts", "join"]},
            ]}  # fmt: skip
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **schema}
