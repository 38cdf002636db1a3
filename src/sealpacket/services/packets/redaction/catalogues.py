"""The catalogue that a packet is redacted with: the register, the plan, the desk's wishes and what was decided."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from sqlalchemy.orm import Session

from sealpacket.app.context import AppContext
from sealpacket.core.kinds import KINDS
from sealpacket.core.redact import Catalogue, Placeholders, Term
from sealpacket.core.redact.plan import Action, HousePlan
from sealpacket.core.redact.search import ANYWHERE
from sealpacket.core.sheets.model import Redaction
from sealpacket.services.desks import parsed
from sealpacket.services.packets.bench import Workbench
from sealpacket.services.packets.redaction import legend_keys
from sealpacket.services.packets.redaction.decisions import decided
from sealpacket.services.packets.redaction.terms import terms_of_register
from sealpacket.services.redaction_plan import house_plan
from sealpacket.store.models import Packet


def packet_plan(app: AppContext, session: Session, packet: Packet) -> tuple[int, HousePlan]:
    """The version of the organisation's plan, and the plan with what the packet's desk wants otherwise."""
    number, plan = house_plan(app, session)
    wishes = parsed(packet.sheet).redaction if packet.sheet else Redaction()
    drops: dict[str, Action] = {
        **dict.fromkeys(wishes.drop_lines, "drop-line"),
        **dict.fromkeys(wishes.drop_files, "drop-file"),
    }
    kinds = {**plan.kinds, **{kind: action for kind, action in drops.items() if kind in KINDS}}
    return number, plan.model_copy(update={"kinds": kinds, "style": wishes.style or plan.style})


def _key_of_vendor(app: AppContext, vendor_id: str) -> bytes:
    """The key of all placeholders to one vendor, which no other vendor's can be joined with."""
    return app.lasting_key(f"placeholders of vendor {vendor_id}")


def placeholders_of(app: AppContext, packet: Packet, plan: HousePlan) -> Placeholders:
    """The placeholders of a packet: the same in exhibits, typed texts and messages."""
    key = legend_keys.placeholder_key_of(app, packet)
    if plan.scope == "vendor" and packet.asset is not None:
        key = _key_of_vendor(app, packet.asset.vendor_id)
    return Placeholders(key, plan.placeholder_style)


def catalogue_for(
    app: AppContext,
    session: Session,
    bench: Workbench,
    plan: HousePlan,
    *,
    of_files: bool = True,
    naming: Sequence[str] = (),
) -> Catalogue:
    """All that the register, the plan and the packet's decisions know.

    What the vendor needs of this packet is kept, with the reason. In texts that are typed (not `of_files`), no line and
    no file can be left out: those kinds are masked there. What the packet is about and whom it names are kept in them
    as well; `naming` are keys of people whom the text itself names to the desk.
    """
    terms, domains = terms_of_register(app, session)
    made = decided(app, bench.packet)
    terms += [
        Term(kind, value, value.casefold(), anywhere=len(value) >= ANYWHERE)
        for kind, value in made.mask_values
    ]
    masked = {value.casefold() for _, value in made.mask_values}
    in_words = {} if of_files else kept_in_words(bench, naming)
    keep = {**in_words, **kept_values(bench), **made.keep_values}
    kinds = {**plan.kinds, **made.drops}
    if not of_files:
        kinds = {kind: action for kind, action in kinds.items() if not action.startswith("drop-")}
    return (
        plan.model_copy(update={"kinds": kinds})
        .planned()
        .catalogue(
            terms,
            {value: reason for value, reason in keep.items() if value.casefold() not in masked},
            plan.whole_floor,
            {**kept_kinds(bench), **made.keep_kinds},
            {*made.mask_kinds, *made.drops},
            domains,
        )
    )


def kept_values(bench: Workbench) -> dict[str, str]:
    """Values that the vendor needs and redaction therefore leaves, each with the reason."""
    keep: dict[str, str] = {}
    reasons = {
        "asset.serial": "the packet is about this serial",
        "contract.number": "the vendor knows the contract by this number",
        "entitlement.reference": "the vendor knows the entitlement by this",
        "login.name": "the vendor knows us by this login",
    }
    for path, reason in reasons.items():
        if path in bench.facts:
            keep[str(bench.facts[path].value)] = reason
    for key in _answered(bench):
        person = bench.people.get(key, {})
        for field in ("name", "mail", "phone"):
            if person.get(field):
                keep[person[field]] = "the vendor needs the contact"
    return keep


def kept_in_words(bench: Workbench, naming: Sequence[str] = ()) -> dict[str, str]:
    """Values kept in typed text, each with the reason: the packet's own asset, and the people named as contacts, also
    by a part of their name. In exhibits these values are masked like others."""
    keep: dict[str, str] = {}
    asset = bench.packet.asset
    for host in asset.host_names if asset else ():
        keep |= dict.fromkeys((host, host.partition(".")[0]), "the packet is about this host")
    for address in asset.addresses if asset else ():
        keep[address] = "the packet is about this address"
    for key in {*_named(bench), *naming}:
        person = bench.people.get(key, {})
        name = str(person.get("name") or "")
        for value in (name, *name.split(), person.get("mail"), person.get("phone")):
            if value and len(value) > 1:
                keep[str(value)] = "the desk is told to speak to them"
    return keep


def _named(bench: Workbench) -> Iterator[str]:
    """Keys of the people named as contacts: in answers, or in later messages."""
    yield from _answered(bench)
    for message in bench.packet.messages:
        if message.taken_back_at is None:
            yield from named_by(message.act_values)


def named_by(values: Mapping[str, Any]) -> tuple[str, ...]:
    """The keys of the people whom an act names to the desk, by its values."""
    one = values.get("person")
    return (one,) if one else (*values.get("people", ()),)


def _answered(bench: Workbench) -> Iterator[str]:
    """The keys of those who are named in answers."""
    for answer in bench.answers:
        question = bench.sheet.question(answer.question) if bench.sheet else None
        if question and question.form in ("person", "people") and answer.value:
            yield from (part.strip() for part in answer.value.split(","))


def kept_kinds(bench: Workbench) -> dict[str, str]:
    """Kinds of value that this desk has to see, each with the reason that its sheet gives."""
    plan = bench.sheet.redaction if bench.sheet else None
    return (
        dict.fromkeys(plan.kept_kinds, f"{bench.sheet.name}: {plan.because}")
        if plan and bench.sheet
        else {}
    )
