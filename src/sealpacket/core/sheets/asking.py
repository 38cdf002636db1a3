"""The questions of a desk: choices, where answers come from, and when they are asked."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, model_validator

from sealpacket.core.sheets.conversion import Layout, ValueType

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
    fact: str | None = Field(None, description="The fact that this tests, such as site.country.")
    one_of: tuple[str, ...] | None = Field(None, description="It is one of these values.")
    answered: bool | None = Field(None, description="It is answered (known), or it is not.")
    minimum: float | None = Field(None, description="It is a number and not below this one.")
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

    value: str = Field(
        max_length=100, description="The stored value, sent unless `sends` is another."
    )
    label: str = Field(max_length=200, description="The label that people read.")
    meaning: str = Field("", description="Its meaning, shown beside it.")
    duties: tuple[Duty, ...] = Field((), description="Duties of the contact if this is chosen.")
    needs: tuple[str, ...] = Field((), description="The kinds of request it fits; empty fits all.")
    sends: str = Field("", max_length=200, description="The text that is sent, if it differs.")
    choices: tuple[Choice, ...] = Field((), description="In a tree: the choices below this one.")


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
    """Where a value comes from when nobody has typed one: a fact, or `{take: fact, map: {ours: theirs}}`."""

    take: str = Field(
        description="A fact: packet.need, asset.software_version, login.person, site.time_zone, …"
    )
    map: dict[str, str] | None = Field(None, description="From our value to the desk's.")


def _sources(value: Any) -> Any:
    """One source or several, each a path or a mapping."""
    if isinstance(value, str | Mapping | Prefill):
        value = (value,)
    if not isinstance(value, list | tuple):
        return value
    return [{"take": one} if isinstance(one, str) else one for one in value]


Sources = Annotated[
    tuple[Prefill, ...],
    BeforeValidator(_sources, json_schema_input_type=str | Prefill | tuple[str | Prefill, ...]),
]
"""Where a value comes from, the first that is known: a fact, or several."""


class MaximumBy(Part):
    """The highest number by what another column says."""

    column: str = Field(description="The other column.")
    limits: dict[str, int] = Field(description="By its value, the highest number.")


class Column(Part):
    """One column of a question whose answer has rows."""

    id: str = Field(pattern=Ident, description="Its name in the sheet.")
    ask: str = Field(max_length=120, description="Its heading.")
    number: bool = Field(False, description="Every row has a whole number here.")
    minimum: int = Field(0, description="Of a number: the lowest.")
    maximum: int | None = Field(None, description="Of a number: the highest.")
    maximum_by: MaximumBy | None = Field(
        None, description="Of a number: the highest by another column."
    )
    more_than: str = Field(
        "", description="Of a number: the column whose number it has to be above."
    )
    one_of: tuple[str, ...] = Field((), description="Allowed values; empty allows any text.")


class Question(Part):
    """One thing that the desk asks."""

    id: str = Field(pattern=Ident, description="Its name in the sheet.")
    ask: str = Field(max_length=300, description="The question, in plain words.")
    form: FormName = Field(description="The form of its answer.")
    guide: str = Field("", description="Guidance for a good answer, shown beside the field.")
    to: str | dict[str, str] = Field(
        "",
        description="Where the answer is written in the body: a field, or a field for each part of it.",
    )
    type: ValueType | None = Field(None, description="The type in which it is written.")
    layout: Layout = Field("", description="Of a date or moment: how the desk writes it.")
    on_duty: bool = Field(
        False,
        description="Of a person: the duties of a choice or level are theirs. Where no question says it, they are of "
        "all who are named.",
    )
    sets: Literal["severity"] | None = Field(
        None, description="severity: this answer is the severity that we ask for."
    )
    choices: tuple[Choice, ...] = Field((), description="Of choice, several and tree.")
    required: bool | Condition = Field(
        False, description="It has to be answered, or when it has to."
    )
    shown: bool | Condition = Field(True, description="It is asked, or when it is.")
    fixed: bool | Condition = Field(False, description="A known value cannot be overwritten.")
    min_length: int = Field(0, ge=0, description="Fewest characters.")
    max_length: int = Field(4000, ge=1, le=100_000, description="Most characters.")
    pattern: str | None = Field(
        None, max_length=500, description="RE2 syntax; the whole answer has to match."
    )
    example: str = Field(
        "",
        max_length=400,
        description="An answer as it may be: shown in the field, used in previews.",
    )
    minimum: float | None = Field(None, description="Of a number: the lowest.")
    maximum: float | None = Field(None, description="Of a number: the highest.")
    whole: bool = Field(False, description="Of a number: without a fraction.")
    time: Literal["any", "past", "future"] = Field(
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
    sends: dict[str, str] = Field(
        default_factory=dict, description="Of a consent: what is sent for yes and for no."
    )
    country: str | None = Field(
        None, description="Of a state: the question or fact that says in which country."
    )
    countries: tuple[str, ...] = Field(
        (), description="Of a country: only these (ISO 3166-1 alpha-2); empty: all."
    )
    languages: tuple[str, ...] = Field(
        (), description="Of a language: only these (BCP 47); empty: any."
    )
    max_items: int = Field(
        50, ge=1, le=500, description="Of people, several choices, steps or rows: how many at most."
    )
    columns: tuple[Column, ...] = Field(
        (), max_length=12, description="Of rows: what each row says."
    )
    prefill: Sources = Field((), description="Facts that fill it; the first that is known counts.")

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
    def first_below(self) -> Mapping[str, str]:
        """By the path of every choice, also of those with choices below, the first leaf that it leads to."""
        found: dict[str, str] = {}
        for path, way in self.ways.items():
            steps = [one.value for one in way.whole]
            for depth in range(1, len(steps) + 1):
                found.setdefault("/".join(steps[:depth]), path)
        return found

    @cached_property
    def offered(self) -> list[dict[str, Any]]:
        """The same for interfaces, made once for a sheet: each path with its labels, meaning, duties and needs."""
        return [
            {
                "path": path,
                "label": way.leaf.label,
                "meaning": way.leaf.meaning,
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

    @property
    def targets(self) -> dict[str, str]:
        """By part of the answer ("" is the whole), the field that it is written to."""
        if isinstance(self.to, str):
            return {"": self.to} if self.to else {}
        return self.to

    @property
    def translation(self) -> dict[str, str]:
        """From an answer to what is sent for it, where that is another text."""
        if self.form == "consent":
            return self.sends
        return {path: way.leaf.sends for path, way in self.ways.items() if way.leaf.sends}

    @model_validator(mode="after")
    def _has_what_its_form_needs(self) -> Question:
        for name, forms in _BELONGS.items():
            given = getattr(self, name) != type(self).model_fields[name].get_default(
                call_default_factory=True
            )
            if given and self.form not in forms:
                raise ValueError(
                    f"question {self.id}: {name} belongs to {_listed(forms)}, and {self.form} has none"
                )
        for name, forms in _NEEDED.items():
            if self.form in forms and not getattr(self, name):
                raise ValueError(f"question {self.id}: the form {self.form} needs {name}")
        if self.form != "tree" and any(choice.choices for choice in self.choices):
            raise ValueError(f"question {self.id}: only a tree has choices below choices")
        if not set(self.sends) <= {"yes", "no"}:
            raise ValueError(f"question {self.id}: sends says what is sent for yes and for no")
        _within_limits(self.choices, self.id)
        return self


_BELONGS: dict[str, tuple[str, ...]] = {
    "choices": WITH_CHOICES,
    "columns": ("rows",),
    "wording": ("consent",),
    "must_agree": ("consent",),
    "sends": ("consent",),
    "time": ("date", "moment"),
    "layout": ("date", "moment"),
    "units": ("number",),
    "minimum": ("number",),
    "maximum": ("number",),
    "whole": ("number",),
    "components": ("versions",),
    "on_duty": ("person",),
    "country": ("state",),
    "countries": ("country",),
    "languages": ("language",),
    "max_items": ("people", "several", "steps", "rows"),
}
"""By property of a question, the forms that have it."""
_NEEDED: dict[str, tuple[str, ...]] = {
    "choices": WITH_CHOICES,
    "columns": ("rows",),
    "wording": ("consent",),
    "country": ("state",),
}
"""By property of a question, the forms that cannot do without it."""


def _listed(forms: tuple[str, ...]) -> str:
    return forms[0] if len(forms) == 1 else f"{', '.join(forms[:-1])} and {forms[-1]}"


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
