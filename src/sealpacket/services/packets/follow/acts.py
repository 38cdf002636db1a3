"""Acts on an open case other than messages: each is checked, then sent as the sheet describes."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, Invalid, NotFound
from sealpacket.core.life import Event, Life, Turn
from sealpacket.core.sheets import UpdateKind
from sealpacket.core.sheets.checks.severity import duty_faults
from sealpacket.services.packets import clocks, workbench
from sealpacket.services.packets.acting import packet_act
from sealpacket.services.packets.facts import people_of
from sealpacket.services.packets.follow import outbox
from sealpacket.services.packets.follow.contacts import contacts_of
from sealpacket.services.packets.follow.news import sum_up
from sealpacket.services.packets.follow.outbox import NewUpdate, need_open
from sealpacket.services.packets.follow.possible import too_late
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.store.models import Packet

_BEST = 5


def change_severity(
    app: AppContext, actor: Actor, number: str, level: str, text: str = "", *, case: str = ""
) -> PacketShown:
    """Ask the desk for another severity. Raises Conflict where nobody could meet its duties."""
    with packet_act(app, actor, "severity changed", number, level=level) as act:
        packet = need_open(act.packet)
        sheet = workbench.sheet_of(packet)
        asked = sheet.severities.get(level)
        if asked is None:
            raise Invalid(
                f"{sheet.name} has no severity {level}.",
                f"Choose one of {', '.join(sheet.severities)}."
                if sheet.severities
                else "The desk sets it itself.",
                code="no-such",
                field="level",
            )
        people = people_of(act.session)
        contacts = [people[key] for key in contacts_of(packet, sheet) if key in people]
        fault = next(duty_faults(asked.label, asked.duties, contacts, people), None)
        if fault is not None:
            raise Conflict(fault.sentence, f"{fault.remedy}, then change it.", code="duty")
        values = {"act.level": level, "act.label": asked.label}
        update = NewUpdate(text, "severity", case, values=values)
        outbox.write(app, act.session, packet, actor.name, update)
    return act.shown


def escalate(
    app: AppContext, actor: Actor, number: str, step: int, text: str, *, case: str = ""
) -> PacketShown:
    """Escalate by a rule of the desk's sheet (`step` from 0). Raises Conflict before the rule allows it."""
    with packet_act(app, actor, "packet escalated", number, step=step) as act:
        packet = need_open(act.packet)
        sheet, rules = workbench.sheet_of(packet), clocks.rules_of(packet)
        if not 0 <= step < len(rules):
            raise NotFound(
                f"{sheet.name} has no such rule for escalating.",
                f"It has {len(rules)}." if rules else "Write to the desk what has become worse.",
            )
        _need_reason(text, "Say what has become worse.")
        allowed = clocks.allowed_at(packet, rules[step])
        if allowed is not None and datetime.now(UTC) < allowed:
            raise Conflict(
                f"{sheet.name} may be asked for it from {allowed:%d %b %H:%M} UTC on.",
                "Wait until then, or write a comment.",
                code="too-early",
            )
        update = NewUpdate(text, "escalate", case, values={"act.trigger": rules[step].trigger})
        outbox.write(app, act.session, packet, actor.name, update)
    return act.shown


def _need_reason(text: str, remedy: str) -> None:
    if len(text.strip()) < 3:
        raise Invalid("The reason is missing.", remedy, field="text")


def change_contact(
    app: AppContext, actor: Actor, number: str, person: str, text: str = "", *, case: str = ""
) -> PacketShown:
    """Name somebody else of the register whom the desk shall speak to. Raises Invalid for somebody who is not in the
    register, or lacks mail or telephone."""
    with packet_act(app, actor, "contact changed", number, person=person) as act:
        packet = need_open(act.packet)
        people = people_of(act.session)
        if person not in people:
            raise Invalid(
                f"“{person}” is not a person in the register.",
                "Add them to the register, or name another one.",
                code="no-such",
                field="person",
            )
        found = people[person]
        if not found.get("mail") or not found.get("phone"):
            raise Invalid(
                f"{found['name']} has no {'mail address' if not found.get('mail') else 'telephone'} in the register.",
                "Add it there first.",
                field="person",
            )
        values = {
            "person": person, "act.name": found["name"], "act.mail": found["mail"], "act.phone": found["phone"],
        }  # fmt: skip
        update = NewUpdate(text, "contact", case, values=values)
        outbox.write(app, act.session, packet, actor.name, update)
    return act.shown


def change_told(
    app: AppContext,
    actor: Actor,
    number: str,
    people: Sequence[str],
    text: str = "",
    *,
    case: str = "",
) -> PacketShown:
    """Name all of the register whom the desk shall keep informed from now on. Raises Invalid for people who are not
    in the register, or too many."""
    with packet_act(app, actor, "people told changed", number, count=len(people)) as act:
        packet = need_open(act.packet)
        sheet, known = workbench.sheet_of(packet), people_of(act.session)
        strange = [key for key in people if key not in known]
        question = next((q for q in sheet.questions if q.form == "people"), None)
        most = question.max_items if question else 20
        if strange or len(set(people)) < len(people) or not 0 < len(people) <= most:
            raise Invalid(
                f"“{strange[0]}” is not a person in the register."
                if strange
                else f"{sheet.name} tells from 1 to {most} people, each once.",
                "Name people of the register.",
                code="no-such" if strange else "people",
                field="people",
            )
        mails = ", ".join(str(known[key]["mail"]) for key in people)
        update = NewUpdate(text, "told", case, values={"people": [*people], "act.people": mails})
        outbox.write(app, act.session, packet, actor.name, update)
    return act.shown


def accept(
    app: AppContext, actor: Actor, number: str, text: str = "", *, case: str = ""
) -> PacketShown:
    """Accept the answer that the desk proposes; it can close the case."""
    return _on_an_answer(app, actor, number, "accept", text, case)


def contest(
    app: AppContext, actor: Actor, number: str, text: str, *, case: str = ""
) -> PacketShown:
    """Say that the answer which the desk proposes does not solve it, and why."""
    _need_reason(text, "Say what is still wrong.")
    return _on_an_answer(app, actor, number, "contest", text, case)


def _on_an_answer(
    app: AppContext, actor: Actor, number: str, kind: UpdateKind, text: str, case: str
) -> PacketShown:
    words = {"accept": "answer accepted", "contest": "answer contested"}[kind]
    with packet_act(app, actor, words, number) as act:
        packet = need_open(act.packet)
        proposed = [one for one in packet.cases if one.life == Life.ANSWERED]
        label = case or workbench.only_case(proposed)
        named = workbench.case_named(packet, label)
        if named.life != Life.ANSWERED:
            raise Conflict(
                "The desk has proposed no answer yet.",
                "Look at the desk, or withdraw the packet.",
                code="no-answer",
            )
        outbox.write(app, act.session, packet, actor.name, NewUpdate(text, kind, label))
        named.turn = Turn.VENDOR
        _over(packet)
        sum_up(packet)
    return act.shown


def _over(packet: Packet) -> None:
    """Close doubtful questions that came with the desk's answer."""
    for message in packet.messages:
        for one in message.questions:
            if one.open and one.doubtful:
                one.done_at = datetime.now(UTC)


def rate(
    app: AppContext, actor: Actor, number: str, rating: int, text: str = "", *, case: str = ""
) -> PacketShown:
    """Rate the help from 1 (bad) to 5 (good), once there is an answer. Raises Conflict before there is an answer,
    Invalid for another number."""
    with packet_act(app, actor, "help rated", number, rating=rating) as act:
        packet = act.packet
        if packet.life not in (Life.ANSWERED, Life.SETTLED):
            raise Conflict(
                f"{packet.number} has no answer yet that could be rated.",
                "Wait for one.",
                code="no-answer",
            )
        if not 1 <= rating <= _BEST:
            raise Invalid("A rating goes from 1 to 5.", "Choose one of them.", field="rating")
        update = NewUpdate(text, "rate", case, values={"act.rating": rating})
        outbox.write(app, act.session, packet, actor.name, update)
    return act.shown


def close(app: AppContext, actor: Actor, number: str, text: str, *, case: str = "") -> PacketShown:
    """Ask the desk to close a case that needs no more help."""
    with packet_act(app, actor, "closing asked for", number, reason=text) as act:
        packet = need_open(act.packet)
        outbox.write(app, act.session, packet, actor.name, NewUpdate(text, "close", case))
    return act.shown


def open_again(
    app: AppContext, actor: Actor, number: str, text: str, *, case: str = ""
) -> PacketShown:
    """Ask the desk to reopen a settled case. Raises Conflict once the desk's time for that is over."""
    with packet_act(app, actor, "opened again", number) as act:
        packet = act.packet
        sheet = workbench.sheet_of(packet)
        rule = sheet.acts.get("open_again")
        late = too_late(packet, rule.within_days if rule else 0)
        packet.advance(Event.OPEN_AGAIN)
        if late:
            raise Conflict(late, "Note a packet that follows this one.", code="too-late")
        named = workbench.case_named(packet, case)
        named.life, named.turn = Life.LODGED, Turn.VENDOR
        sum_up(packet)
        outbox.write(app, act.session, packet, actor.name, NewUpdate(text, "open_again", case))
    return act.shown
