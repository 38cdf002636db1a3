"""On behalf of a colleague who is not in the register: their details are kept for the next time."""

from __future__ import annotations

import re
import unicodedata

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Invalid
from sealpacket.services.packets import workbench
from sealpacket.services.packets.draft import drafts
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.services.register.acts import added, noted
from sealpacket.services.register.forms import Form, Mail, PersonForm, Phone, Short
from sealpacket.services.register.kinds import KINDS
from sealpacket.store.models import Person


class ColleagueForm(Form):
    """A colleague on whose behalf a packet is sent, or whom the vendor is to speak to."""

    name: Short
    mail: Mail
    phone: Phone


def name_colleague(
    app: AppContext, actor: Actor, number: str, question: str, colleague: ColleagueForm
) -> PacketShown:
    """Answer a question for a person with a colleague; who has that mail address in the register is taken as kept.

    Raises Invalid for a question that names no person.
    """
    with app.transaction(actor, "colleague named", f"packet {number}", question=question) as tx:
        packet = workbench.need_draft(workbench.find_packet(tx.session, number, lock=True))
        asked = workbench.sheet_of(packet).question(question)
        if asked is None or asked.form != "person":
            raise Invalid(
                f"{question} names no person.", "Choose a question for a person.", field="question"
            )
        person = _known(tx.session, colleague.mail)
        if person is None:
            kind = KINDS["person"]
            form = PersonForm(key=_free_key(tx.session, colleague.name), **colleague.model_dump())
            person = added(app, tx.session, kind, form)
            noted(tx, actor, kind, person, "added")
        key = person.key
        tx.subject = f"packet {packet.number}"
        tx.detail |= {"person": key}
    return drafts.answer(app, actor, number, {question: key})


def _known(session: Session, mail: str) -> Person | None:
    query = select(Person).where(func.lower(Person.mail) == mail.lower())
    return session.scalars(query.order_by(Person.created_at).limit(1)).one_or_none()


def _free_key(session: Session, name: str) -> str:
    """A key that nobody has: the name in plain letters, with a number if it is taken."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    base = re.sub(r"[^a-z0-9]+", "-", plain).strip("-").lstrip("0123456789-")[:50] or "colleague"
    taken = set(session.scalars(select(Person.key).where(Person.key.startswith(base))))
    return next(
        key
        for key in (base, *(f"{base}-{place}" for place in range(2, 10_000)))
        if key not in taken
    )
