"""Answering what a desk is likely to ask, before it asks."""

from __future__ import annotations

from datetime import UTC, datetime

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import NotFound
from sealpacket.services.packets.acting import draft_act
from sealpacket.services.packets.bench import Workbench
from sealpacket.services.packets.foreseeing import foreseen_for
from sealpacket.services.packets.schemas import PacketShown

_NOTE = "packet.note"


def answer_foreseen(
    app: AppContext, actor: Actor, number: str, ident: str, answer: str
) -> PacketShown:
    """Answer a question before the desk asks it: question and answer go into the note, or into what was typed in its
    place. An empty answer dismisses the question.

    Raises NotFound for a question that is not offered, Conflict for a packet that is a draft no more.
    """
    with draft_act(app, actor, "packet changed", number) as act:
        packet = act.packet
        offered = {one.id: one for one in foreseen_for(act.session, act.bench)}
        one = offered.get(ident)
        if one is None:
            raise NotFound(
                "This question is not offered, or is dealt with already.", "Open the packet again."
            )
        if answer:
            said = f"{one.text} {answer}"
            question = _typed_note(act.bench)
            if question is None:
                packet.note = f"{packet.note}\n\n{said}".strip()
            else:
                packet.answers = {
                    **packet.answers, question: f"{packet.answers[question]}\n\n{said}"
                }  # fmt: skip
        act.detail |= {"foreseen": ident, "answered": bool(answer)}
        at = datetime.now(UTC).isoformat()
        done = {"id": ident, "text": one.text, "answered": bool(answer), "by": actor.name, "at": at}
        packet.foreseen = [*packet.foreseen, done]
    return act.shown


def _typed_note(bench: Workbench) -> str | None:
    """The question that takes the note, if somebody has typed another answer to it."""
    for question in bench.sheet.questions if bench.sheet else ():
        if any(source.take == _NOTE for source in question.prefill) and (
            question.id in bench.packet.answers
        ):
            return question.id
    return None
