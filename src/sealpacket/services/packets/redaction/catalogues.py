"""The catalogue that a packet is redacted with: the register, the plan, the desk's wishes and what was decided."""

from __future__ import annotations

from typing import TYPE_CHECKING

from sqlalchemy.orm import Session

from sealpacket.app.context import AppContext
from sealpacket.core.kinds import KINDS
from sealpacket.core.redact import Catalogue, Placeholders, Term
from sealpacket.core.redact.catalogue import ANYWHERE
from sealpacket.core.redact.plan import Action, HousePlan
from sealpacket.core.sheets.model import Redaction
from sealpacket.services.desks import parsed
from sealpacket.services.packets.redaction import legend_keys
from sealpacket.services.packets.redaction.decisions import decided
from sealpacket.services.packets.redaction.terms import terms_of_register
from sealpacket.services.redaction_plan import house_plan
from sealpacket.store.models import Packet

if TYPE_CHECKING:
    from sealpacket.services.packets.workbench import Workbench


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
    """What stands for masked values of a packet: the same in exhibits, in what is typed, and in messages."""
    key = legend_keys.placeholder_key_of(app, packet)
    if plan.scope == "vendor" and packet.asset is not None:
        key = _key_of_vendor(app, packet.asset.vendor_id)
    return Placeholders(key, plan.placeholder_style)


def catalogue_for(
    app: AppContext, session: Session, bench: Workbench, plan: HousePlan, *, of_files: bool = True
) -> Catalogue:
    """All that the register, the plan and the packet's decisions know.

    What the vendor needs of this packet is kept, with the reason. In texts that are typed (not `of_files`), no line and
    no file can be left out: those kinds are masked there.
    """
    terms, domains = terms_of_register(app, session)
    made = decided(app, session, bench.packet)
    terms += [
        Term(kind, value, value.casefold(), anywhere=len(value) >= ANYWHERE)
        for kind, value in made.mask_values
    ]
    masked = {value.casefold() for _, value in made.mask_values}
    keep = {**kept_values(bench), **made.keep_values}
    kinds = {**plan.kinds, **made.drops}
    if not of_files:
        kinds = {kind: action for kind, action in kinds.items() if not action.startswith("drop-")}
    return plan.model_copy(update={"kinds": kinds}).catalogue(
        terms,
        {value: reason for value, reason in keep.items() if value.casefold() not in masked},
        plan.whole_floor,
        {**kept_kinds(bench), **made.keep_kinds},
        {*made.mask_kinds, *made.drops},
        domains,
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
    for answer in bench.answers:
        question = bench.sheet.question(answer.question) if bench.sheet else None
        if question and question.form in ("person", "people") and answer.value:
            for key in (part.strip() for part in answer.value.split(",")):
                person = bench.people.get(key, {})
                for field in ("name", "mail", "phone"):
                    if person.get(field):
                        keep[person[field]] = "the vendor needs the contact"
    return keep


def kept_kinds(bench: Workbench) -> dict[str, str]:
    """Kinds of value that this desk has to see, each with the reason that its sheet gives."""
    plan = bench.sheet.redaction if bench.sheet else None
    return (
        dict.fromkeys(plan.kept_kinds, f"{bench.sheet.name}: {plan.because}")
        if plan and bench.sheet
        else {}
    )
