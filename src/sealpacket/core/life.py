"""The life of a packet: its states, the events that move it, and the one table of transitions.

A state is how far the packet is (`Life`) and how its delivery to the desk goes (`DeliveryState`). Whoever wants to
change either names an event; `after` says what comes of it, or raises Conflict. docs/reference/packet-life.md is drawn
from this table.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from enum import StrEnum
from typing import Literal

from sealpacket.core.errors import Conflict


class Life(StrEnum):
    """How far a packet is."""

    DRAFTING = "drafting"
    SEALED = "sealed"
    LODGED = "lodged"
    ANSWERED = "answered"
    SETTLED = "settled"
    REFUSED = "refused"
    WITHDRAWN = "withdrawn"


class Turn(StrEnum):
    """Whose move it is; nobody's once the packet is over."""

    OURS = "ours"
    VENDOR = "vendor"
    NONE = "none"


class DeliveryState(StrEnum):
    """How the delivery of a sealed packet goes; a packet that is not being delivered has none."""

    QUEUED = "queued"
    SENDING = "sending"
    STALLED = "stalled"
    BY_HAND = "by_hand"
    DONE = "done"


class ConsequenceState(StrEnum):
    """How far a change of the register is that follows from an answer of a desk."""

    OFFERED = "offered"
    TAKEN = "taken"
    DISMISSED = "dismissed"
    UNDONE = "undone"


class FollowingState(StrEnum):
    """A look at the desk under way, or one that failed; none after one that went well."""

    ASKING = "asking"
    FAILED = "failed"


OPEN = (Life.LODGED, Life.ANSWERED)
"""At the desk and not over."""
AT_DESK = (*OPEN, Life.SETTLED)
"""Taken by the desk, in the order in which a case gets there."""
OVER = (Life.SETTLED, Life.WITHDRAWN)
"""Over."""
ON_ITS_WAY = (DeliveryState.QUEUED, DeliveryState.SENDING)
"""The worker delivers it."""


class Event(StrEnum):
    """Events in the life of a packet."""

    SEAL = "seal"
    REOPEN = "reopen"
    WITHDRAW = "withdraw"
    SOLVE = "solve"
    LODGE = "lodge"
    LODGE_BY_HAND = "lodge by hand"
    CANCEL = "cancel"
    SEND = "send"
    PUT_OFF = "put off"
    STALL = "stall"
    BOUNCE = "bounce"
    DELIVERED = "delivered"
    REFUSE = "refuse"
    DESK_WORKS = "desk works on it"
    DESK_ANSWERS = "desk answers"
    DESK_SETTLES = "desk settles"
    SETTLE = "settle"
    OPEN_AGAIN = "open again"


class Effect(StrEnum):
    """Further changes that a transition makes to the packet."""

    NOTE_LODGED = "note when it was lodged"
    NOTE_SETTLED = "note when it was settled"
    CLEAR_SETTLED = "forget when it was settled"
    CLEAR_CAUSE = "forget cause and cure"
    CLEAR_REFUSALS = "forget the desk's reasons"
    DROP_SEAL = "drop the seal"
    START_TRYING = "count tries from the beginning"
    STOP_TRYING = "stop trying"


Delivery = DeliveryState | None
Target = DeliveryState | Literal["same"] | None
SAME: Literal["same"] = "same"
ANY: tuple[Delivery, ...] = (None, *DeliveryState)
RESTING: tuple[Delivery, ...] = tuple(one for one in ANY if one not in ON_ITS_WAY)
"""Every state of a delivery in which the worker does nothing."""


@dataclass(frozen=True)
class State:
    """How far a packet is, and how its delivery goes."""

    life: Life
    delivery: Delivery = None


@dataclass(frozen=True)
class Transition:
    """The effect of an event in any of these states. Without `life` or `turn` they do not change."""

    event: Event
    lives: tuple[Life, ...]
    deliveries: tuple[Delivery, ...]
    life: Life | None = None
    delivery: Target = SAME
    turn: Turn | None = None
    effects: tuple[Effect, ...] = ()

    def covers(self, state: State) -> bool:
        """Whether it is about a packet in this state."""
        return state.life in self.lives and state.delivery in self.deliveries

    def target(self, state: State) -> State:
        """The state to which it leads from there."""
        delivery = state.delivery if self.delivery == SAME else self.delivery
        return State(self.life or state.life, delivery)


_KNOWN = (Life.SEALED, Life.REFUSED, *AT_DESK)
_TAKEN = (Effect.NOTE_LODGED, Effect.STOP_TRYING)

TRANSITIONS: tuple[Transition, ...] = (
    Transition(Event.SEAL, (Life.DRAFTING,), ANY, Life.SEALED, None),
    Transition(
        Event.REOPEN, (Life.SEALED, Life.REFUSED), RESTING,
        Life.DRAFTING, None, Turn.OURS, (Effect.DROP_SEAL,),
    ),
    Transition(
        Event.WITHDRAW, (Life.DRAFTING, Life.SEALED, Life.REFUSED), RESTING,
        Life.WITHDRAWN, None, Turn.NONE,
    ),
    Transition(Event.SOLVE, (Life.DRAFTING,), ANY, Life.WITHDRAWN, None, Turn.NONE),
    Transition(
        Event.LODGE, (Life.SEALED,), (None, DeliveryState.STALLED),
        None, DeliveryState.QUEUED, Turn.VENDOR, (Effect.START_TRYING,),
    ),
    Transition(Event.LODGE, (Life.SEALED,), (*ON_ITS_WAY, DeliveryState.BY_HAND)),
    Transition(Event.LODGE, AT_DESK, ANY),
    Transition(
        Event.LODGE_BY_HAND, (Life.SEALED,), (None, DeliveryState.STALLED),
        None, DeliveryState.BY_HAND,
    ),
    Transition(Event.LODGE_BY_HAND, (Life.SEALED,), (*ON_ITS_WAY, DeliveryState.BY_HAND)),
    Transition(Event.LODGE_BY_HAND, AT_DESK, ANY),
    Transition(
        Event.CANCEL, (Life.SEALED,),
        (DeliveryState.QUEUED, DeliveryState.STALLED, DeliveryState.BY_HAND),
        None, None, Turn.OURS, (Effect.STOP_TRYING,),
    ),
    Transition(Event.SEND, (Life.SEALED,), ON_ITS_WAY, None, DeliveryState.SENDING),
    Transition(Event.PUT_OFF, (Life.SEALED,), ON_ITS_WAY, None, DeliveryState.QUEUED),
    Transition(
        Event.STALL, (Life.SEALED,), ON_ITS_WAY,
        None, DeliveryState.STALLED, Turn.OURS, (Effect.STOP_TRYING,),
    ),
    Transition(
        Event.BOUNCE, (Life.LODGED,), ANY, Life.SEALED, DeliveryState.STALLED, Turn.OURS
    ),
    Transition(
        Event.DELIVERED, (Life.SEALED,), ANY,
        Life.LODGED, DeliveryState.DONE, Turn.VENDOR, (*_TAKEN, Effect.CLEAR_REFUSALS),
    ),
    Transition(Event.DELIVERED, AT_DESK, ANY, None, DeliveryState.DONE, None, _TAKEN),
    Transition(Event.DELIVERED, (Life.REFUSED,), ANY, None, None, None, _TAKEN),
    Transition(
        Event.REFUSE, (Life.SEALED, *OPEN), ANY,
        Life.REFUSED, None, Turn.OURS, (Effect.STOP_TRYING,),
    ),
    Transition(
        Event.DESK_WORKS, _KNOWN, ANY, Life.LODGED, effects=(Effect.CLEAR_SETTLED,)
    ),
    Transition(
        Event.DESK_ANSWERS, _KNOWN, ANY, Life.ANSWERED, effects=(Effect.CLEAR_SETTLED,)
    ),
    Transition(
        Event.DESK_SETTLES, _KNOWN, ANY, Life.SETTLED, effects=(Effect.NOTE_SETTLED,)
    ),
    Transition(Event.SETTLE, OPEN, ANY, Life.SETTLED, effects=(Effect.NOTE_SETTLED,)),
    Transition(Event.SETTLE, (Life.SETTLED,), ANY),
    Transition(
        Event.OPEN_AGAIN, (Life.SETTLED,), ANY,
        Life.LODGED, SAME, Turn.VENDOR, (Effect.CLEAR_SETTLED, Effect.CLEAR_CAUSE),
    ),
)  # fmt: skip
"""Every transition there is; of one event and one state there is one at most."""

HEARD = {
    Life.LODGED: Event.DESK_WORKS,
    Life.ANSWERED: Event.DESK_ANSWERS,
    Life.SETTLED: Event.DESK_SETTLES,
}
"""The event by which a desk brings a packet there."""

DELIVERY_WORDS: dict[Delivery, str] = {
    DeliveryState.QUEUED: "Waiting to be sent",
    DeliveryState.SENDING: "On its way to the desk",
    DeliveryState.BY_HAND: "To be entered by hand",
}
"""How a delivery goes, in words; the others need none, or say more."""


@dataclass(frozen=True)
class Refusal:
    """Why an event is impossible in some states, in a sentence about `{number}` that is `{life}`; and what to do."""

    event: Event
    lives: Iterable[Life]
    deliveries: Iterable[Delivery]
    detail: str
    remedy: str
    code: str


_LIVES = tuple(Life)
_IS = "{number} is {life}."
BACK_TO_DRAFTING = "Take it back to drafting first, if the desk refused it, or note a new packet."
"""The remedy if only a draft will do."""
REFUSALS: tuple[Refusal, ...] = (
    Refusal(
        Event.SEAL, _LIVES, ANY, "{number} is {life}; only a draft can be sealed.",
        BACK_TO_DRAFTING, "not-drafting",
    ),
    Refusal(
        Event.SOLVE, _LIVES, ANY, "{number} is {life}; only a draft can be changed.",
        BACK_TO_DRAFTING, "not-drafting",
    ),
    Refusal(
        Event.REOPEN, _LIVES, ANY, "{number} is {life}; it cannot go back to drafting.",
        "Only what is sealed and not on its way, or was refused, can be mended.", "not-reopenable",
    ),
    Refusal(
        Event.WITHDRAW, OVER, ANY, _IS, "It is over already: nothing is left to be given up.", "not-withdrawable",
    ),
    Refusal(
        Event.WITHDRAW, _LIVES, ANY, "{number} is {life}; the desk has it.",
        "Ask the desk to close the case.", "not-withdrawable",
    ),
    Refusal(Event.LODGE, _LIVES, ANY, _IS, "Only a sealed packet can be lodged.", "not-sealed"),
    Refusal(Event.LODGE_BY_HAND, _LIVES, ANY, _IS, "Only a sealed packet can be lodged.", "not-sealed"),
    Refusal(
        Event.CANCEL, (Life.SEALED,), (DeliveryState.SENDING,), "{number} may be with the desk already.",
        "Wait for what comes of it; then close it at the desk.", "may-be-there",
    ),
    Refusal(
        Event.CANCEL, _LIVES, ANY, "{number} is not on its way.",
        "Only a packet that waits for its desk can be held back.", "not-on-its-way",
    ),
    Refusal(
        Event.SETTLE, _LIVES, ANY, "{number} is {life}; there is no open case to settle.",
        "Only a packet that is with its desk can be settled.", "not-lodged",
    ),
    Refusal(Event.OPEN_AGAIN, _LIVES, ANY, _IS, "Only what is settled can be opened again.", "not-settled"),
    *(
        Refusal(
            event, _LIVES, ANY, "{number} is {life}; no desk can know of it.",
            "Nothing was changed. Open the packet again.", "not-lodged",
        )
        for event in HEARD.values()
    ),
    *(
        Refusal(
            event, _LIVES, ANY, "{number} is {life}; it is not being delivered.",
            "Nothing was changed. Open the packet again.", "not-on-its-way",
        )
        for event in (
            Event.SEND, Event.PUT_OFF, Event.STALL, Event.BOUNCE, Event.DELIVERED, Event.REFUSE,
        )
    ),
)  # fmt: skip
"""Refusals of impossible events; the first that matches is used."""


def possible(state: State, event: Event) -> Transition | None:
    """The transition of an event from a state; None where it is impossible."""
    return next((one for one in _of(event) if one.covers(state)), None)


def after(state: State, event: Event, number: str) -> Transition:
    """The transition of an event from a state. Raises Conflict, about the packet of that number, with a remedy."""
    found = possible(state, event)
    if found is None:
        raise refusal(state, event, number)
    return found


def refusal(state: State, event: Event, number: str) -> Conflict:
    """The error for an event that is impossible in a state, about the packet of that number."""
    why = next(
        one
        for one in REFUSALS
        if one.event == event and state.life in one.lives and state.delivery in one.deliveries
    )
    return Conflict(why.detail.format(number=number, life=state.life), why.remedy, code=why.code)


def _of(event: Event) -> Iterator[Transition]:
    return (one for one in TRANSITIONS if one.event == event)
