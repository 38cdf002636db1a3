"""Decisions of reviewers: a value is kept or masked everywhere in the packet, with a reason.

A decision holds for all exhibits of the packet, those that come later included: what it concerns is redacted again. The
custody log speaks of a value by its placeholder.
"""

from __future__ import annotations

from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, Invalid, NotFound
from sealpacket.core.kinds import KINDS
from sealpacket.core.life import OPEN
from sealpacket.core.redact import Placeholders
from sealpacket.services import redaction_plan
from sealpacket.services.packets import exhibits, workbench
from sealpacket.services.packets.redaction import legend_keys
from sealpacket.services.packets.redaction.decisions import PURPOSE, Action, decisions_of
from sealpacket.services.packets.redaction.schemas import DecisionShown
from sealpacket.services.packets.workbench import in_draft
from sealpacket.store.models import Packet, RedactionDecision

SHORTEST = 4
"""Minimum length of a value that can be decided about; shorter ones match too much."""


def decide(
    app: AppContext,
    actor: Actor,
    number: str,
    *,
    action: Action,
    kind: str,
    value: str,
    reason: str,
    as_term: bool = False,
) -> list[DecisionShown]:
    """Keep or mask a value everywhere in a draft; without a value, all of a kind. The exhibits are redacted again.

    Of a packet that is with its desk, the decision holds for the messages to come.

    Of a whole kind, lines or files can be left out as well ("drop-line", "drop-file"). With `as_term` a masked value
    becomes a term of the organisation's plan: it is masked in every packet from now on.
    Raises Invalid where the floor, or the value's length, does not allow it.
    """
    value = value.strip()
    _may(action, kind, value, as_term=as_term)
    with app.transaction(
        actor, f"value to {action}" if value else f"kind to {action}", f"packet {number}"
    ) as tx:
        packet = _open_to_decisions(tx.session, number)
        _, plan = redaction_plan.house_plan(app, tx.session)
        if action == "keep" and kind in plan.whole_floor:
            raise Invalid(
                f"A value of the kind {kind} is never kept: the organisation's plan always masks it.",
                "Leave it masked; if it was recognised wrongly, ask the keeper of the plan.",
                code="below-floor",
                field="kind",
            )
        for before, same in list(decisions_of(app, packet)):
            if (before.kind, same) == (kind, value) or (
                value and same.casefold() == value.casefold()
            ):
                packet.decisions.remove(before)
        key = legend_keys.placeholder_key_of(app, packet)
        label = Placeholders(key).of(kind, value.casefold().encode()).decode() if value else ""
        packet.decisions.insert(
            0,
            RedactionDecision(
                action=action,
                kind=kind,
                label=label,
                reason=reason,
                by=actor.name,
                value_sealed=app.seal_value(value, PURPOSE) if value else None,
            ),
        )
        tx.detail = {
            "kind": kind,
            "reason": reason,
            **({"value": label} if value else {}),
            "as_term": as_term,
        }
        if as_term:
            redaction_plan.forbid(app, tx.session, actor, value)
        _redact_again(app, tx.session, packet)
        tx.session.flush()
        return _shown(app, packet)


def _may(action: str, kind: str, value: str, *, as_term: bool) -> None:
    if kind not in KINDS:
        raise Invalid(f"There is no kind {kind}.", f"Choose from {', '.join(KINDS)}.", field="kind")
    if action.startswith("drop-") and value:
        raise Invalid(
            "Lines and files are left out for a whole kind, not for one value.",
            "Leave the value out; or mask it.",
            code="whole-kind-only",
            field="value",
        )
    if as_term and (action != "mask" or not value):
        raise Invalid(
            "Only a value that is masked can become a term.", "Leave as_term out.", field="as_term"
        )
    if value and len(value) < SHORTEST:
        raise Invalid(
            f"“{value}” is too short: it would be met in too many other words.",
            f"Choose at least {SHORTEST} characters, with the text around it.",
            code="too-short",
            field="value",
        )
    if "\n" in value or len(value) > 400:
        raise Invalid(
            "A value has one line and at most 400 characters.",
            "Choose less.",
            field="value",
        )


def undo(app: AppContext, actor: Actor, number: str, ident: str) -> list[DecisionShown]:
    """Take a decision back; the exhibits are redacted again. Raises NotFound."""
    with app.transaction(actor, "decision taken back", f"packet {number}") as tx:
        packet = _open_to_decisions(tx.session, number)
        found = next((one for one in packet.decisions if one.id == ident), None)
        if found is None:
            raise NotFound("There is no such decision.", "Open the packet's decisions again.")
        tx.detail = {
            "kind": found.kind,
            "action": found.action,
            **({"value": found.label} if found.label else {}),
        }
        packet.decisions.remove(found)
        tx.session.flush()
        _redact_again(app, tx.session, packet)
        return _shown(app, packet)


def decisions(app: AppContext, number: str) -> list[DecisionShown]:
    """All decisions of a packet, the newest first."""
    with app.database.transaction() as session:
        return _shown(app, workbench.find_packet(session, number))


def _shown(app: AppContext, packet: Packet) -> list[DecisionShown]:
    return [
        DecisionShown(
            id=row.id,
            action=row.action,
            kind=row.kind,
            value=value or row.label,
            label=row.label,
            reason=row.reason,
            by=row.by,
            at=row.at,
        )
        for row, value in decisions_of(app, packet)
    ]


def _open_to_decisions(session: Session, number: str) -> Packet:
    """A draft; or a packet that is with its desk, where a decision holds for the messages to come."""
    packet = workbench.find_packet(session, number, lock=True)
    return packet if packet.life in OPEN else in_draft(session, number)


def _redact_again(app: AppContext, session: Session, packet: Packet) -> None:
    """Have the exhibits redacted again that are not sealed and not with the desk; what is stays as it is."""
    if any(exhibit.state == "receiving" for exhibit in packet.exhibits):
        raise Conflict(
            "A file is still on its way in.", "Decide when it is here.", code="still-coming"
        )
    for exhibit in packet.exhibits:
        if exhibit.original_blob is not None and workbench.is_changeable(exhibit):
            exhibits.queue_redaction(app, session, exhibit)
