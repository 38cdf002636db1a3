"""A packet that asks the vendor for what another packet lacks: a tie, a registration, a listing, a renewal."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.coverage.asking import ASKED
from sealpacket.core.errors import Conflict, Invalid
from sealpacket.core.life import OVER
from sealpacket.core.sheets import Sheet
from sealpacket.services.desks import parsed
from sealpacket.services.packets import workbench
from sealpacket.services.packets.acting import show
from sealpacket.services.packets.draft import drafts
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.store.models import Packet


def ask_for_cure(app: AppContext, actor: Actor, number: str, code: str) -> PacketShown:
    """Note a packet that asks the vendor for a cure of a draft's ruling; it names the draft that waits for it.

    Raises Invalid for a cure that the ruling does not have or that no vendor is asked for, Conflict if one that is
    open asks for it already.
    """
    with app.transaction(actor, "packet noted", "packet", cures=number, cure=code) as tx:
        before = workbench.need_draft(workbench.find_packet(tx.session, number, lock=True))
        ruling = workbench.answered(tx.session, before).ruling
        cure = next((one for one in ruling.cures if one.code == code), None) if ruling else None
        asking = ASKED.get(code)
        if cure is None or asking is None or before.asset is None:
            offered = [one.code for one in (ruling.cures if ruling else ()) if one.code in ASKED]
            raise Invalid(
                f"{before.number} has no cure {code} that a vendor can be asked for.",
                f"There are {', '.join(offered)}." if offered else "Mend it in the register.",
                field="cure",
            )
        if open_one := _asks_already(tx.session, before, code):
            raise Conflict(
                f"{open_one} asks for it already.", f"Go on with {open_one}.", code="asked-already"
            )
        noted = Packet(
            title=asking.title, note=asking.text, need=asking.need, for_packet=before, for_cure=code
        )
        made = drafts.new_packet(app, tx, actor, noted, before.asset.id)
        tx.session.flush()
        if made.sheet is not None and cure.target:
            made.answers = (
                contract_answers(parsed(made.sheet), cure.target) if code in _OF_CONTRACT else {}
            )
        return show(app, tx.session, made)


def _asks_already(session: Session, before: Packet, code: str) -> str | None:
    query = select(Packet.number).where(
        Packet.for_packet_id == before.id, Packet.for_cure == code, Packet.life.not_in(OVER)
    )
    return session.scalars(query.limit(1)).one_or_none()


_OF_CONTRACT = ("tie_contract", "renew", "await_start")


def contract_answers(sheet: Sheet, number: str) -> dict[str, str]:
    """The contract that a packet is about, as the answer to each question that asks for one."""
    return {
        question.id: number
        for question in sheet.questions
        if not question.fixed and any(one.take == "contract.number" for one in question.prefill)
    }
