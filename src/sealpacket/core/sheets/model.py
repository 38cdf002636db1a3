"""The desk sheet: the declarative description of one desk, as it is written in YAML."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Annotated, Any, Literal

import yaml
from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from sealpacket.core.coverage import Need, Route
from sealpacket.core.errors import Invalid

LARGEST_SHEET = 1 << 20

Ident = r"^[a-z][a-z0-9_]{0,39}$"
JsonPath = str


class _Part(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class Condition(_Part):
    """True where the named question has one of the values, or is answered; or where all, any or none of others hold."""

    question: str | None = Field(None, description="The question that this looks at.")
    one_of: tuple[str, ...] | None = Field(None, description="Its answer is one of these values.")
    answered: bool | None = Field(None, description="It is answered, or it is not.")
    all: tuple[Condition, ...] | None = Field(None, description="All of these hold.")
    any: tuple[Condition, ...] | None = Field(None, description="At least one of these holds.")
    none: tuple[Condition, ...] | None = Field(None, description="None of these holds.")


class Choice(_Part):
    """One value that can be chosen. In a tree it may have choices below it; only a leaf is an answer."""

    value: str = Field(max_length=100)
    label: str = Field(max_length=200)
    words: str = Field("", description="What it means, shown beside it.")
    duties: tuple[Literal["reachable_day_and_night"], ...] = Field(
        (), description="What choosing this obliges the contact to."
    )
    choices: tuple[Choice, ...] = ()


class Prefill(_Part):
    """Where a value comes from when nobody has typed one."""

    take: str = Field(description="A fact: packet.need, asset.software_version, login.person, site.time_zone, …")
    map: dict[str, str] | None = Field(None, description="From our value to the desk's.")


class Question(_Part):
    """One thing that the desk asks."""

    id: str = Field(pattern=Ident)
    ask: str = Field(max_length=300, description="The question, in plain words.")
    form: Literal["text", "long", "choice", "tree", "person", "moment", "zone"]
    guide: str = Field("", description="What a good answer says, shown beside the field.")
    choices: tuple[Choice, ...] = ()
    required: bool | Condition = False
    shown: bool | Condition = True
    at_least: int = Field(0, ge=0, description="Fewest characters.")
    at_most: int = Field(4000, ge=1, le=100_000, description="Most characters.")
    pattern: str | None = Field(None, description="RE2 syntax; the whole answer has to match.")
    example: str = Field(
        "", max_length=400, description="An answer as it may be: shown in the field, used in previews."
    )
    prefill: tuple[Prefill, ...] = ()

    def leaves(self) -> Iterator[tuple[str, Choice]]:
        """All answers of a choice or tree, each as its path (values joined by `/`) and its choice."""

        def walk(choices: tuple[Choice, ...], above: str) -> Iterator[tuple[str, Choice]]:
            for choice in choices:
                path = f"{above}/{choice.value}" if above else choice.value
                if choice.choices:
                    yield from walk(choice.choices, path)
                else:
                    yield path, choice

        return walk(self.choices, "")

    @model_validator(mode="after")
    def _has_choices(self) -> Question:
        if (self.form in ("choice", "tree")) != bool(self.choices):
            raise ValueError(f"question {self.id}: choices belong to the forms choice and tree, and only to them")
        return self


class Attachments(_Part):
    """What the desk takes as attachments. Sizes are bytes."""

    most: int = Field(ge=0, description="How many.")
    each: int = Field(gt=0, description="Bytes of one.")
    together: int = Field(gt=0, description="Bytes of all.")
    endings: tuple[str, ...] = Field((), description="Allowed endings of the name, such as .log; empty allows all.")


class Writing(_Part):
    """How the packet is written: a JSON tree, or the fields of a form; `{take: path}` stands for a value."""

    form: Literal["json", "form"]
    body: dict[str, Any]


class _OverHttp(_Part):
    """Paths are below the desk's address, which is configured, never part of a sheet."""

    sign_in: Literal["bearer", "basic"] = Field(
        "bearer", description="The login's secret as bearer token (RFC 6750), or its name and secret (RFC 7617)."
    )
    lodge: str = Field(pattern=r"^/")
    follow: str = Field(pattern=r"^/")
    answer: str = Field(pattern=r"^/")
    answer_body: dict[str, Any]


class HttpJson(_OverHttp):
    """JSON over HTTP, attachments by tus 1.0 before it."""

    channel: Literal["http_json"]
    uploads: str = Field(pattern=r"^/", description="Where tus 1.0 uploads are created.")


class HttpForm(_OverHttp):
    """One form with its attachments (multipart/form-data, RFC 7578)."""

    channel: Literal["http_form"]
    files: str = Field(pattern=r"^[A-Za-z][A-Za-z0-9_.-]{0,39}$", description="The form's field for attachments.")


FORMS_OF_CHANNELS = {"http_json": "json", "http_form": "form"}
"""By channel, the form in which a packet is written for it."""

Sending = Annotated[HttpJson | HttpForm, Field(discriminator="channel")]
"""How it is sent."""


class StatusWord(_Part):
    """What one of the desk's status words means for us."""

    life: Literal["lodged", "answered", "settled"]
    turn: Literal["ours", "vendor"]


class Messages(_Part):
    """Where the desk's messages stand in its description of a case."""

    each: JsonPath
    id: JsonPath
    text: JsonPath
    at: JsonPath
    asks: JsonPath


class Cure(_Part):
    """What to do about a refusal."""

    sentence: str
    act: str = ""


class Refusals(_Part):
    """Where reasons stand in a refusal, and what cures each."""

    each: JsonPath
    code: JsonPath
    text: JsonPath
    cures: dict[str, Cure] = {}


class Replies(_Part):
    """How the desk answers (JSONPath, RFC 9535)."""

    reference: JsonPath
    status: JsonPath
    words: dict[str, StatusWord]
    messages: Messages
    refusals: Refusals


class Takes(_Part):
    """What belongs to this desk at all."""

    routes: tuple[Route, ...]
    needs: tuple[Need, ...]


class Sheet(_Part):
    """A whole desk sheet."""

    sheet: Literal[1] = Field(description="The version of the sheet language.")
    desk: str = Field(pattern=r"^[a-z][a-z0-9-]{0,39}$")
    vendor: str
    name: str
    takes: Takes
    questions: tuple[Question, ...] = Field(max_length=400)
    attachments: Attachments
    write: Writing
    send: Sending
    replies: Replies

    @model_validator(mode="after")
    def _names_hold_together(self) -> Sheet:
        seen: set[str] = set()
        for question in self.questions:
            if question.id in seen:
                raise ValueError(f"two questions are called {question.id}")
            seen.add(question.id)
        for question in self.questions:
            for condition in (question.required, question.shown):
                if isinstance(condition, Condition):
                    for name in names_in(condition):
                        if name not in seen:
                            raise ValueError(f"question {question.id} looks at {name}, which the sheet does not ask")
        form = FORMS_OF_CHANNELS[self.send.channel]
        if self.write.form != form:
            raise ValueError(f"the channel {self.send.channel} needs write.form to be {form}")
        if form == "form" and any(isinstance(value, list) or not _is_flat(value) for value in self.write.body.values()):
            raise ValueError("a form has one text for each field: write.body must not be nested")
        for name in re.findall(r"'answers\.([a-z0-9_]+)'", repr(self.write.body)):
            if name not in seen:
                raise ValueError(f"write takes answers.{name}, which the sheet does not ask")
        return self

    def question(self, ident: str) -> Question | None:
        """The question of that name."""
        return next((q for q in self.questions if q.id == ident), None)


def _is_flat(value: Any) -> bool:
    return not isinstance(value, dict) or ("take" in value and "split" not in value)


def names_in(condition: Condition) -> Iterator[str]:
    """All questions that a condition looks at."""
    if condition.question:
        yield condition.question
    for group in (condition.all, condition.any, condition.none):
        for inner in group or ():
            yield from names_in(inner)


def load_sheet(text: str) -> Sheet:
    """A sheet from YAML. Raises Invalid that names the place."""
    return parse_sheet(read_yaml(text))


def read_yaml(text: str) -> Any:
    """What a YAML text holds. Raises Invalid; aliases are refused, so that no text can explode."""
    if len(text) > LARGEST_SHEET:
        raise Invalid(
            "The sheet is larger than 1 MB.", "Split off what is not about this desk.", code="sheet-too-large"
        )
    try:
        alias = next((t for t in yaml.scan(text, Loader=yaml.SafeLoader) if isinstance(t, yaml.AliasToken)), None)
        if alias is not None:
            raise Invalid("The sheet uses YAML aliases.", "Write the part out where it is used.", code="sheet-alias",
                          line=alias.start_mark.line + 1)  # fmt: skip
        return yaml.safe_load(text)
    except yaml.YAMLError as error:
        mark = getattr(error, "problem_mark", None)
        where = f" in line {mark.line + 1}" if mark else ""
        raise Invalid(f"The sheet is no valid YAML{where}.", "Mend that line.", code="sheet-yaml",
                      line=mark.line + 1 if mark else 1) from error  # fmt: skip


def parse_sheet(body: Any) -> Sheet:
    """A sheet from its parsed form. Raises Invalid that names the place and what was expected."""
    try:
        return Sheet.model_validate(body)
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"] if part not in FORMS_OF_CHANNELS) or "the sheet"
        raise Invalid(f"{place}: {first['msg']}.", "Mend that place in the sheet.", code="sheet-shape") from error


def sheet_schema() -> dict[str, Any]:
    """The published JSON Schema (2020-12) of the sheet language."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **Sheet.model_json_schema()}
