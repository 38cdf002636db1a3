"""What a desk asks: questions, their choices, where their answers come from, and when they are asked."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

Ident = r"^[a-z][a-z0-9_]{0,39}$"
MOST_LEAVES = 5000
MOST_DEPTH = 8

FormName = Literal[
    "text", "long", "steps", "choice", "several", "tree", "number", "date", "moment", "zone", "version", "versions",
    "consent", "address", "country", "state", "phone", "mail", "language", "person", "people", "rows",
]  # fmt: skip
WITH_CHOICES = ("choice", "several", "tree")


class Part(BaseModel):
    """A part of a sheet: never changed, and nothing in it that the language does not know."""

    model_config = ConfigDict(frozen=True, extra="forbid")


class Condition(Part):
    """True where an earlier answer or a fact is as said; or where all, any or none of others hold."""

    question: str | None = Field(None, description="The earlier question that this looks at.")
    fact: str | None = Field(None, description="The fact that this looks at, such as site.country.")
    one_of: tuple[str, ...] | None = Field(None, description="It is one of these values.")
    answered: bool | None = Field(None, description="It is answered (known), or it is not.")
    at_least: float | None = Field(None, description="It is a number and not below this one.")
    all: tuple[Condition, ...] | None = Field(None, description="All of these hold.")
    any: tuple[Condition, ...] | None = Field(None, description="At least one of these holds.")
    none: tuple[Condition, ...] | None = Field(None, description="None of these holds.")

    @model_validator(mode="after")
    def _looks_at_one_thing(self) -> Condition:
        if self.question and self.fact:
            raise ValueError("a condition looks at a question or at a fact, not at both: use `all`")
        return self


Duty = Literal["reachable_day_and_night"]


class Choice(Part):
    """One value that can be chosen. In a tree it may have choices below it; only a leaf is an answer."""

    value: str = Field(max_length=100)
    label: str = Field(max_length=200)
    words: str = Field("", description="What it means, shown beside it.")
    duties: tuple[Duty, ...] = Field((), description="What choosing this obliges the contact to.")
    needs: tuple[str, ...] = Field((), description="The kinds of request it fits; empty fits all.")
    choices: tuple[Choice, ...] = ()


@dataclass(frozen=True)
class Way:
    """A leaf, and the choices above it from the top down."""

    leaf: Choice
    above: tuple[Choice, ...]

    @property
    def whole(self) -> tuple[Choice, ...]:
        """All of it, from the top down to the leaf."""
        return (*self.above, self.leaf)


class Prefill(Part):
    """Where a value comes from when nobody has typed one."""

    take: str = Field(
        description="A fact: packet.need, asset.software_version, login.person, site.time_zone, …"
    )
    map: dict[str, str] | None = Field(None, description="From our value to the desk's.")


class HighestBy(Part):
    """The highest number by what another column says."""

    column: str
    limits: dict[str, int]


class Column(Part):
    """One column of a question whose answer has rows."""

    id: str = Field(pattern=Ident)
    ask: str = Field(max_length=120)
    number: bool = Field(False, description="Every row has a whole number here.")
    lowest: int = Field(0, description="Of a number.")
    highest: int | None = Field(None, description="Of a number.")
    highest_by: HighestBy | None = Field(
        None, description="Of a number: the highest by another column."
    )
    more_than: str = Field(
        "", description="Of a number: the column whose number it has to be above."
    )
    one_of: tuple[str, ...] = Field((), description="Allowed values; empty allows any text.")


class Question(Part):
    """One thing that the desk asks."""

    id: str = Field(pattern=Ident)
    ask: str = Field(max_length=300, description="The question, in plain words.")
    form: FormName
    guide: str = Field("", description="What a good answer says, shown beside the field.")
    choices: tuple[Choice, ...] = ()
    required: bool | Condition = False
    shown: bool | Condition = True
    fixed: bool | Condition = Field(False, description="What is known may not be typed over.")
    at_least: int = Field(0, ge=0, description="Fewest characters.")
    at_most: int = Field(4000, ge=1, le=100_000, description="Most characters.")
    pattern: str | None = Field(
        None, max_length=500, description="RE2 syntax; the whole answer has to match."
    )
    example: str = Field(
        "",
        max_length=400,
        description="An answer as it may be: shown in the field, used in previews.",
    )
    lowest: float | None = Field(None, description="Of a number.")
    highest: float | None = Field(None, description="Of a number.")
    when: Literal["any", "past", "coming"] = Field(
        "any",
        description="Of a date or moment: it is not after the day of sending, or not before it.",
    )
    units: tuple[str, ...] = Field(
        (), description="Of a number: it is followed by one of these, as in `3 kVA`."
    )
    components: tuple[str, ...] = Field(
        (), description="Of versions: what has a version of its own, one on a line."
    )
    wording: str = Field("", description="Of a consent: the full words that are agreed to.")
    must_agree: bool = Field(False, description="Of a consent: without it the desk takes nothing.")
    country: str | None = Field(
        None, description="Of a state: the question or fact that says in which country."
    )
    countries: tuple[str, ...] = Field(
        (), description="Of a country: only these (ISO 3166-1 alpha-2); empty: all."
    )
    languages: tuple[str, ...] = Field(
        (), description="Of a language: only these (BCP 47); empty: any."
    )
    most: int = Field(
        50, ge=1, le=500, description="Of people, several choices, steps or rows: how many at most."
    )
    columns: tuple[Column, ...] = Field(
        (), max_length=12, description="Of rows: what each row says."
    )
    prefill: tuple[Prefill, ...] = ()

    @cached_property
    def ways(self) -> Mapping[str, Way]:
        """All answers of a choice or tree by their path: the values from the top down, joined by `/`."""

        def walk(
            choices: tuple[Choice, ...], above: tuple[Choice, ...]
        ) -> Iterator[tuple[str, Way]]:
            for choice in choices:
                if choice.choices:
                    yield from walk(choice.choices, (*above, choice))
                else:
                    yield "/".join(one.value for one in (*above, choice)), Way(choice, above)

        return dict(walk(self.choices, ()))

    @cached_property
    def offered(self) -> list[dict[str, Any]]:
        """The same for interfaces, made once for a sheet: each path with its labels, words, duties and needs."""
        return [
            {
                "path": path,
                "label": way.leaf.label,
                "words": way.leaf.words,
                "duties": list(way.leaf.duties),
                "above": [one.label for one in way.above],
                "needs": list(way.leaf.needs),
            }
            for path, way in self.ways.items()
        ]

    @property
    def looks_at(self) -> set[str]:
        """The questions that its conditions look at."""
        conditions = (
            one for one in (self.required, self.shown, self.fixed) if isinstance(one, Condition)
        )
        return {name for condition in conditions for name in names_in(condition)}

    def leaves(self) -> Iterator[tuple[str, Choice]]:
        """All answers of a choice or tree, each as its path and its choice."""
        return ((path, way.leaf) for path, way in self.ways.items())

    def labels(self, path: str) -> list[str]:
        """The labels from the top down to the choice of that path."""
        labels, choices = [], self.choices
        for value in path.split("/"):
            choice = next((c for c in choices if c.value == value), None)
            if choice is None:
                break
            labels.append(choice.label)
            choices = choice.choices
        return labels

    @model_validator(mode="after")
    def _has_what_its_form_needs(self) -> Question:
        if (self.form in WITH_CHOICES) != bool(self.choices):
            raise ValueError(
                f"question {self.id}: choices belong to choice, several and tree, and only to them"
            )
        if (self.form == "rows") != bool(self.columns):
            raise ValueError(f"question {self.id}: columns belong to the form rows, and only to it")
        if (self.form == "consent") != bool(self.wording):
            raise ValueError(
                f"question {self.id}: wording belongs to the form consent, and only to it"
            )
        if self.when != "any" and self.form not in ("date", "moment"):
            raise ValueError(
                f"question {self.id}: when belongs to date and moment, and only to them"
            )
        if self.form == "state" and not self.country:
            raise ValueError(
                f"question {self.id}: say in `country` which question or fact tells the country"
            )
        if self.form != "tree" and any(choice.choices for choice in self.choices):
            raise ValueError(f"question {self.id}: only a tree has choices below choices")
        _within_limits(self.choices, self.id)
        return self


def _within_limits(choices: tuple[Choice, ...], ident: str) -> None:
    count, level = 0, [choices]
    for _ in range(MOST_DEPTH + 1):
        level = [choice.choices for group in level for choice in group]
        count += len(level)
        if not any(level):
            break
    else:
        raise ValueError(f"question {ident}: the tree is deeper than {MOST_DEPTH} levels")
    if count > MOST_LEAVES:
        raise ValueError(f"question {ident}: there are more than {MOST_LEAVES} choices")


def names_in(condition: Condition) -> Iterator[str]:
    """All questions that a condition looks at."""
    if condition.question:
        yield condition.question
    for group in (condition.all, condition.any, condition.none):
        for inner in group or ():
            yield from names_in(inner)


def facts_in(condition: Condition) -> Iterator[str]:
    """All facts that a condition looks at."""
    if condition.fact:
        yield condition.fact
    for group in (condition.all, condition.any, condition.none):
        for inner in group or ():
            yield from facts_in(inner)
