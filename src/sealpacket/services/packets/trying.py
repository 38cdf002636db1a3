"""Trying a sheet: a sample packet about a real thing, lodged at the desk's stand-in and nowhere else."""

from __future__ import annotations

import secrets
from datetime import UTC, datetime
from typing import Any

from sealpacket.channels import DeskAway, DeskRefused, Login, Parcel, open_desk
from sealpacket.core.coverage import Need
from sealpacket.core.errors import Conflict, Invalid, Unavailable
from sealpacket.core.sheets import Sample, Sheet, has_stops, lint, read_reference, read_refusals, sample_packet
from sealpacket.services.coverage import logins_of, rule_for
from sealpacket.services.house import Actor, House
from sealpacket.services.packets.known import facts_of, people_of
from sealpacket.services.packets.lodging import login_of
from sealpacket.services.register import KINDS
from sealpacket.store.models import Packet


def try_sheet(house: House, actor: Actor, text: str, *, asset: str, need: Need, seed: int) -> dict[str, Any]:
    """Lodge a sample packet of this sheet about an asset at its stand-in; what it said, and what was sent.

    Raises Conflict where no stand-in is configured: a sample is never sent to a real desk.
    """
    sheet, found = lint(text)
    if sheet is None or has_stops(found):
        raise Invalid("The sheet cannot be used as it is.", "See why: sealpacket desk lint FILE", code="sheet-lint")
    address = house.settings.stand_ins.get(sheet.desk)
    if not address:
        raise Conflict(f"No stand-in is configured for {sheet.desk}.",
                       "Set its address in SEALPACKET_STAND_INS; a sample is never sent to the desk itself.",
                       code="no-stand-in")  # fmt: skip
    sample, login, number = _sample(house, sheet, asset, need, seed)
    shown = {"sent": sample.cases[0].body, "cases": len(sample.cases), "reference": None, "refusals": [], "words": ""}
    with house.act(actor, "sheet tried at its stand-in", f"desk {sheet.desk}", seed=seed):
        try:
            with open_desk(sheet, address, login) as desk:
                said = [
                    desk.lodge(Parcel(f"{number}/{place}", number, case, [])) for place, case in enumerate(sample.cases)
                ]
        except DeskRefused as refusal:
            reasons = [reason.model_dump() for reason in read_refusals(sheet, refusal.body)]
            return {**shown, "refusals": reasons, "words": f"The stand-in refuses it ({refusal.status})."}
        except DeskAway as away:
            raise Unavailable(str(away), "Start the stand-in, then try again.", code="desk-away") from away
    references = [read_reference(sheet, answer) for answer in said if answer is not None]
    words = "The stand-in takes it." if references else "It was sent; the stand-in answers later."
    return {**shown, "reference": ", ".join(references) or None, "words": words}


def _sample(house: House, sheet: Sheet, asset: str, need: Need, seed: int) -> tuple[Sample, Login, str]:
    number = f"T-{secrets.randbelow(10**6):06d}"
    with house.database.transaction() as session, session.no_autoflush:
        thing = KINDS["asset"].find(session, asset)
        login = next(iter(logins_of(session, thing.vendor_id)), None)
        ruling = rule_for(session, thing, need, datetime.now(UTC).date(), login)
        packet = Packet(number=number, title="A sample of what goes wrong", need=need, noted_by="", answers={},
                        note="A sample: since this morning it does not do what it should; nothing was changed before, "
                        "a restart was tried.", placeholder_key_sealed=b"", created_at=datetime.now(UTC))  # fmt: skip
        packet.asset, packet.login = thing, login
        facts = facts_of(packet, ruling, people_of(session))
        known = {path: str(fact.value) for path, fact in facts.items() if path not in ("login.person", "site.contact")}
        way = login_of(house, packet)
        session.expunge_all()
    return sample_packet(sheet, seed, known), way, number
