"""The reference page of a packet's life, drawn from the table of transitions."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from sealpacket.core.life import (
    ANY,
    TRANSITIONS,
    Delivery,
    DeliveryState,
    Event,
    Life,
    State,
    possible,
)

HEAD = """# The life of a packet

Generated from the table of transitions in `core/life.py` by `make generate`; do not edit. Everything that changes how
far a packet is goes through this table: what it does not list is refused, and nothing is changed.
"""
LIFE = """## How far it is

Each row is an event, each column how far the packet is before it. A dash: impossible. A star: depends on the delivery,
see below.
"""
DELIVERY = """## How the delivery of a sealed packet goes

The same for a sealed packet, by the state of its delivery. Where an event takes it further, that is said first.
"""
MORE = """## What else changes

Whose turn it is after an event (without an entry: ours while a case, a question or something unsent waits for us), and
what else changes in the packet.
"""


def page() -> str:
    """The whole page, in Markdown."""
    return "\n".join((HEAD, _drawn(), LIFE, _lives(), DELIVERY, _deliveries(), MORE, _more()))


def _drawn() -> str:
    """The lives and the events between them, as a diagram."""
    arrows: dict[tuple[str, str], list[str]] = {}
    for one in TRANSITIONS:
        for life in one.lives:
            if one.life and one.life != life:
                arrows.setdefault((life.value, one.life.value), []).append(one.event.value)
    lines = [
        f"    {start} --> {end}: {', '.join(dict.fromkeys(events))}"
        for (start, end), events in arrows.items()
    ]
    return "\n".join(("```mermaid", "stateDiagram-v2", "    [*] --> drafting", *lines, "```", ""))


def _lives() -> str:
    return _table(
        ("event", *Life), ((event, *(_by_life(event, life) for life in Life)) for event in Event)
    )


def _by_life(event: Event, life: Life) -> str:
    """Where an event leads from there, whatever its delivery; with a star where that matters."""
    states = [State(life, delivery) for delivery in (ANY if life == Life.SEALED else (None,))]
    if life not in (Life.DRAFTING, Life.SEALED, Life.REFUSED, Life.WITHDRAWN):
        states = [State(life, DeliveryState.DONE)]
    ends = {_life_after(event, state) for state in states}
    if len(ends) == 1:
        return ends.pop()
    return f"{next(end for end in ends if end != '–')} *"


def _life_after(event: Event, state: State) -> str:
    change = possible(state, event)
    return "–" if change is None else change.target(state).life.value


def _deliveries() -> str:
    columns: tuple[Delivery, ...] = (
        None,
        DeliveryState.QUEUED,
        DeliveryState.SENDING,
        DeliveryState.STALLED,
        DeliveryState.BY_HAND,
    )
    rows = (
        (event, *(_by_delivery(event, one) for one in columns))
        for event in Event
        if any(possible(State(Life.SEALED, one), event) for one in columns)
    )
    return _table(("event", *(_called(one) for one in columns)), rows)


def _by_delivery(event: Event, delivery: Delivery) -> str:
    change = possible(State(Life.SEALED, delivery), event)
    if change is None:
        return "–"
    end = change.target(State(Life.SEALED, delivery))
    return _called(end.delivery) if end.life == Life.SEALED else f"{end.life.value}"


def _called(delivery: Delivery) -> str:
    return delivery.value.replace("_", " ") if delivery else "none"


def _more() -> str:
    rows = (
        (
            one.event,
            " or ".join(life.value for life in one.lives),
            one.turn.value if one.turn else "",
            ", ".join(one.effects),
        )
        for one in TRANSITIONS
        if one.turn or one.effects
    )
    return _table(("event", "from", "turn", "and"), rows)


def _table(head: Sequence[str], rows: Iterable[Sequence[str]]) -> str:
    lines = [head, ["---"] * len(head), *rows]
    return "\n".join(f"| {' | '.join(line)} |" for line in lines) + "\n"
