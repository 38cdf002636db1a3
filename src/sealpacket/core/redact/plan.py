"""Redaction plans: what is kept and what is masked, by kind; and kinds of one's own. Data.

Below every plan lies the organisation's floor: kinds that are masked whatever a plan says.
"""

from __future__ import annotations

from datetime import timedelta
from typing import Literal, TypeVar

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from sealpacket.core.errors import Invalid
from sealpacket.core.guarded_yaml import read_yaml
from sealpacket.core.kinds import FLOOR, KINDS
from sealpacket.core.redact.planned import Planned
from sealpacket.core.redact.pseudonyms import Shift, Style
from sealpacket.core.redact.rules.rule import Rule, faults_of

Action = Literal["keep", "mask", "drop-line", "drop-file"]
_MOST_VALUES = 60_000


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class OwnRule(Rule):
    """A rule of one's own: the same as those that ship with the product."""

    kind: str = Field("custom", description="What the values are.")

    @model_validator(mode="after")
    def _does_what_it_says(self) -> OwnRule:
        if faults := faults_of(self):
            raise ValueError(faults[0])
        return self


class Plan(_Part):
    """What happens to each kind. Kinds that are not named are masked."""

    plan: Literal[1] = 1
    name: str = Field("", max_length=80)
    kinds: dict[str, Action] = Field(
        default_factory=dict,
        description="By kind: keep, mask, drop-line (of a log or a table), drop-file.",
    )
    style: Literal["labels", "shapes"] = Field(
        "labels", description="What stands for a value: [host:…], or its shape."
    )
    check_digits: bool = Field(
        False, description="In the style of shapes: masked card and reader numbers check."
    )
    shift_times: timedelta = Field(
        timedelta(0), description="By how much all times are shifted (ISO 8601: -P37D)."
    )
    scope: Literal["packet", "vendor"] = Field(
        "packet",
        description="Within what a value has the same placeholder: one packet, or all to one vendor.",
    )
    searchable: bool = Field(
        False, description="The words that are left on the pages of a PDF can be found as text."
    )
    allow: tuple[str, ...] = Field((), max_length=5000, description="Values that are kept.")
    forbid: tuple[str, ...] = Field(
        (), max_length=20_000, description="Values that are masked wherever they stand."
    )
    domains: tuple[str, ...] = Field(
        (), max_length=200, description="Domains of one's own: each name under one is a host."
    )
    public_hosts: Literal["keep", "mask"] = Field(
        "keep",
        description="Hosts of pages that anyone can open, such as the source of a licence; never our own.",
    )
    own: tuple[OwnRule, ...] = Field((), max_length=100, description="Rules of one's own.")

    @property
    def placeholder_style(self) -> Style:
        """How the placeholders of this plan look."""
        return Style(self.style, self.check_digits, self.shift_times)

    @model_validator(mode="after")
    def _shifts_by_a_few_years(self) -> Plan:
        Shift(self.shift_times)
        return self

    @model_validator(mode="after")
    def _knows_its_kinds(self) -> Plan:
        strange = sorted(set(self.kinds) - set(KINDS))
        if strange:
            raise ValueError(f"there is no kind {strange[0]}; there are {', '.join(KINDS)}")
        return self

    def planned(self) -> Planned:
        """What the plan comes to."""
        return Planned(
            self.name,
            self.kinds,
            self.allow,
            self.forbid,
            self.domains,
            self.public_hosts == "keep",
            tuple(one for rule in self.own for one in rule.detectors()),
            self.placeholder_style,
            self.searchable,
        )


class HousePlan(Plan):
    """An organisation's own plan: it holds for every packet, and its floor is added to the least that is masked."""

    floor: tuple[str, ...] = Field(
        (), max_length=40, description="Kinds that no desk, packet or person can have kept."
    )

    @model_validator(mode="after")
    def _floor_has_kinds(self) -> HousePlan:
        strange = sorted(set(self.floor) - set(KINDS))
        if strange:
            raise ValueError(f"floor: there is no kind {strange[0]}; there are {', '.join(KINDS)}")
        return self

    @property
    def whole_floor(self) -> frozenset[str]:
        """The least that is masked."""
        return FLOOR | frozenset(self.floor)


AnyPlan = TypeVar("AnyPlan", bound=Plan)


def load_plan(text: str, model: type[AnyPlan]) -> AnyPlan:
    """The plan that a text in YAML gives. Raises Invalid with what is wrong and where."""
    body = read_yaml(text, "plan", _MOST_VALUES)
    if not isinstance(body, dict | None):
        raise Invalid(
            "This is no plan.", "A plan is a mapping: plan, kinds, allow, forbid …", field="yaml"
        )
    try:
        return model.model_validate(body or {})
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"]) or "plan"
        raise Invalid(
            f"{where}: {first['msg']}", "Mend the plan; docs/redaction.md shows one.", field="yaml"
        ) from error
