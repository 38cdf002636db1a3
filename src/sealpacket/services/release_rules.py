"""Rules by which two people release a packet: by vendor, severity, or kind of sensitive value."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel
from sqlalchemy import select

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Invalid, NotFound
from sealpacket.core.kinds import KINDS
from sealpacket.store.models import ReleaseRule, Vendor


class ReleaseRuleShown(BaseModel):
    """A rule: packets to which all that is set applies need a second person."""

    id: str
    vendor: str | None
    severity: str | None
    kind: str | None
    reason: str
    created_at: datetime


def listed(app: AppContext) -> list[ReleaseRuleShown]:
    """All rules, the oldest first."""
    with app.database.transaction() as session:
        query = select(ReleaseRule).order_by(ReleaseRule.created_at)
        return [_shown(one) for one in session.scalars(query)]


def add(
    app: AppContext,
    actor: Actor,
    *,
    vendor: str | None,
    severity: str | None,
    kind: str | None,
    reason: str,
) -> ReleaseRuleShown:
    """Add a rule. Raises Invalid for a vendor or a kind that there is not."""
    if kind is not None and kind not in KINDS:
        raise Invalid(
            f"There is no kind {kind}.", "See the redaction plan for all kinds.", field="kind"
        )
    with app.transaction(actor, "release rule added", "release rules") as tx:
        found = None
        if vendor is not None:
            found = tx.session.scalars(select(Vendor).where(Vendor.key == vendor)).one_or_none()
            if found is None:
                raise Invalid(f"There is no vendor {vendor}.", "Choose one.", field="vendor")
        rule = ReleaseRule(vendor=found, severity=severity, kind=kind, reason=reason)
        tx.session.add(rule)
        tx.session.flush()
        tx.detail |= {"vendor": vendor, "severity": severity, "kind": kind, "reason": reason}
        return _shown(rule)


def remove(app: AppContext, actor: Actor, ident: str) -> None:
    """Remove a rule. Raises NotFound."""
    with app.transaction(actor, "release rule removed", "release rules") as tx:
        rule = tx.session.get(ReleaseRule, ident)
        if rule is None:
            raise NotFound("There is no such rule.", "List the rules, then name one of them.")
        tx.detail = _shown(rule).model_dump(mode="json")
        tx.session.delete(rule)


def _shown(rule: ReleaseRule) -> ReleaseRuleShown:
    return ReleaseRuleShown(
        id=rule.id,
        vendor=rule.vendor.key if rule.vendor else None,
        severity=rule.severity,
        kind=rule.kind,
        reason=rule.reason,
        created_at=rule.created_at,
    )
