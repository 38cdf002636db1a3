"""Show the organisation's redaction plan: what is kept and masked in every packet, and the floor below all plans."""

from __future__ import annotations

from typing import Any

import yaml
from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Invalid, Stale
from sealpacket.core.redact.plan import HousePlan, load_plan
from sealpacket.core.redact.rules.rule import BadRule, read_rules
from sealpacket.core.redact.rules.trial import Tried, try_rule
from sealpacket.services.packets.redaction.schemas import RuleLine, RulesTried, RuleTried
from sealpacket.store.models import RedactionPlan
from sealpacket.store.register_cache import of_register

PLAN_PURPOSE = "redaction plan"


def house_plan(app: AppContext, session: Session) -> tuple[int, HousePlan]:
    """The number of the plan's version and the plan; 0 and an empty one before the first."""
    return of_register(session, ("plan",), lambda: _read(app, session))


def _read(app: AppContext, session: Session) -> tuple[int, HousePlan]:
    row = session.scalars(
        select(RedactionPlan).order_by(RedactionPlan.number.desc()).limit(1)
    ).one_or_none()
    if row is None:
        return 0, HousePlan()
    return row.number, HousePlan.model_validate_json(app.open_value(row.body_sealed, PLAN_PURPOSE))


def show_plan(app: AppContext) -> dict[str, Any]:
    """The plan as it is now, as YAML; who put it there and when."""
    with app.database.transaction() as session:
        number, plan = house_plan(app, session)
        row = session.get(RedactionPlan, number)
        return {
            "number": number,
            "yaml": to_yaml(plan),
            "floor": sorted(plan.whole_floor),
            "by": row.by if row else "",
            "at": row.at if row else None,
        }


def to_yaml(plan: HousePlan) -> str:
    """The plan as one would write it."""
    body = plan.model_dump(mode="json", exclude_defaults=True) | {"plan": 1}
    return str(yaml.safe_dump(body, sort_keys=False, allow_unicode=True, width=100))


def put_plan(app: AppContext, actor: Actor, text: str, number: int) -> dict[str, Any]:
    """A new version of the plan, in YAML, made from version `number`. Raises Invalid, and Stale if it is older."""
    plan = load_plan(text, HousePlan)
    with app.transaction(actor, "redaction plan put", "redaction plan") as tx:
        latest, before = house_plan(app, tx.session)
        if latest != number:
            raise Stale(
                "The redaction plan has been changed since you read it.",
                "Read it again and repeat your change.",
            )
        if plan == before:
            tx.audited = False
        else:
            _add(app, tx.session, actor, plan, latest + 1)
        tx.detail = {
            "version": latest + 1,
            "kinds": dict(plan.kinds),
            "own": [rule.id for rule in plan.own],
        }
    return show_plan(app)


def try_rules(text: str, sample: str) -> RulesTried:
    """Try rules in TOML on a sample and on the frozen files; nothing is kept. Raises Invalid."""
    try:
        file = read_rules(text)
    except BadRule as error:
        raise Invalid(
            f"The rules cannot be read: {error}",
            "Correct them; docs/redaction.md shows one.",
            field="rules",
        ) from error
    if len(file.rule) > _MOST_TRIED:
        raise Invalid(
            f"These are {len(file.rule)} rules.",
            f"Try at most {_MOST_TRIED} at once.",
            field="rules",
        )
    return RulesTried(rules=[_tried(try_rule(rule, sample)) for rule in file.rule])


def _tried(one: Tried) -> RuleTried:
    return RuleTried(
        rule=one.rule,
        faults=list(one.faults),
        lines=[RuleLine(number=line.number, text=line.text) for line in one.found],
        values=one.values,
        frozen_values=one.frozen_values,
        frozen_others=one.frozen_others,
    )


_MOST_TRIED = 50


def forbid(app: AppContext, session: Session, actor: Actor, value: str) -> None:
    """Have a value masked in every packet from now on."""
    number, plan = house_plan(app, session)
    if value not in plan.forbid:
        _add(
            app,
            session,
            actor,
            plan.model_copy(update={"forbid": (*plan.forbid, value)}),
            number + 1,
        )


def _add(app: AppContext, session: Session, actor: Actor, plan: HousePlan, number: int) -> None:
    sealed = app.seal_value(plan.model_dump_json(exclude_defaults=True), PLAN_PURPOSE)
    session.add(RedactionPlan(number=number, body_sealed=sealed, by=actor.name))
    session.flush()
