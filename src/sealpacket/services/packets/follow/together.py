"""One act on many packets: each in a transaction of its own, so that a refusal holds up no other."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from enum import StrEnum

from pydantic import BaseModel, Field

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Invalid, NotAllowed, ProblemError
from sealpacket.services.packets.follow import messages, ownership
from sealpacket.services.packets.lodge import deliveries
from sealpacket.services.packets.seal import seals

MOST = 200


class TogetherAct(StrEnum):
    """An act that many packets can have at once."""

    HAND_OVER = "hand_over"
    TAKE_OVER = "take_over"
    COMMENT = "comment"
    SETTLE = "settle"
    SEAL = "seal"
    LODGE = "lodge"


class TogetherDone(BaseModel):
    """Whether it is done to one packet."""

    number: str = Field(description="The number of the packet.")
    problem: str = Field(description="Why it is not done, and what to do; empty: it is done.")


def act_together(
    app: AppContext,
    actor: Actor,
    act: TogetherAct,
    numbers: Sequence[str],
    *,
    to: str = "",
    text: str = "",
) -> list[TogetherDone]:
    """Do one thing to many packets, in the order of their numbers; of each it is said whether it is done.

    `to` is the account to hand them over to, `text` the words for it or for the desks. Raises Invalid for one that is
    missing, NotAllowed for whoever may not seal or lodge.
    """
    if act in (TogetherAct.SEAL, TogetherAct.LODGE) and "releaser" not in actor.roles:
        raise NotAllowed("This needs the role releaser.", "Ask somebody who has it.")
    if act == TogetherAct.HAND_OVER and not to:
        raise Invalid("Nobody is named to take them.", "Name an account.", field="to")
    if act == TogetherAct.COMMENT and not text:
        raise Invalid("The comment is empty.", "Write what the desks should read.", field="text")
    acts: dict[TogetherAct, Callable[[str], object]] = {
        TogetherAct.HAND_OVER: lambda number: ownership.hand_over(app, actor, number, to, text),
        TogetherAct.TAKE_OVER: lambda number: ownership.take_over(app, actor, number),
        TogetherAct.COMMENT: lambda number: messages.comment(app, actor, number, text),
        TogetherAct.SEAL: lambda number: seals.seal(app, actor, number),
        TogetherAct.LODGE: lambda number: deliveries.lodge(app, actor, number),
        TogetherAct.SETTLE: lambda number: ownership.settle(app, actor, number),
    }
    return [_one(acts[act], number) for number in sorted({one.upper() for one in numbers})]


def _one(act: Callable[[str], object], number: str) -> TogetherDone:
    try:
        act(number)
    except ProblemError as problem:
        return TogetherDone(number=number, problem=f"{problem.detail} {problem.remedy}")
    return TogetherDone(number=number, problem="")
