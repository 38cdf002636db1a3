"""The life of a packet: one table of transitions, and a refusal with a remedy for everything else."""

from __future__ import annotations

from itertools import product

import pytest
from hypothesis import given
from hypothesis import strategies as st

from sealpacket.core.errors import Conflict
from sealpacket.core.life import (
    AT_DESK,
    HEARD,
    ON_ITS_WAY,
    OVER,
    TRANSITIONS,
    DeliveryState,
    Event,
    Life,
    State,
    Turn,
    after,
    possible,
)

STATES = [State(life, delivery) for life, delivery in product(Life, (None, *DeliveryState))]
FRESH = State(Life.DRAFTING)


def walked(events: list[Event]) -> list[State]:
    """The states of a packet from its note on, one for each event; what is impossible changes nothing."""
    states = [FRESH]
    for event in events:
        change = possible(states[-1], event)
        states.append(change.target(states[-1]) if change else states[-1])
    return states


def reachable() -> set[State]:
    """Every state that a packet can ever be in."""
    found, new = set(), {FRESH}
    while new:
        found |= new
        new = {
            change.target(state)
            for state in new
            for event in Event
            if (change := possible(state, event))
        } - found
    return found


def test_of_an_event_in_a_state_there_is_one_transition_at_most() -> None:
    for event, state in product(Event, STATES):
        assert sum(one.event == event and one.covers(state) for one in TRANSITIONS) <= 1


def test_every_event_and_every_life_is_met() -> None:
    assert {one.event for one in TRANSITIONS} == set(Event)
    assert {state.life for state in reachable()} == set(Life)
    assert {state.delivery for state in reachable()} == {None, *DeliveryState}


@pytest.mark.parametrize("event", Event)
def test_what_is_impossible_is_refused_with_a_remedy(event: Event) -> None:
    for state in STATES:
        if possible(state, event) is not None:
            assert after(state, event, "P-0001").event == event
            continue
        with pytest.raises(Conflict) as refused:
            after(state, event, "P-0001")
        said = f"{refused.value.detail} {refused.value.remedy}"
        assert "P-0001" in said
        assert "{" not in said
        assert refused.value.remedy.endswith((".", "close"))
        assert refused.value.code != "conflict"


@given(st.lists(st.sampled_from(Event), max_size=60))
def test_random_events_keep_a_packet_whole(events: list[Event]) -> None:
    for state in walked(events):
        if state.life in (Life.DRAFTING, Life.WITHDRAWN, Life.REFUSED):
            assert state.delivery is None, "nothing of it is being delivered"
        if state.delivery == DeliveryState.DONE:
            assert state.life in AT_DESK


@given(st.lists(st.sampled_from(Event), max_size=60))
def test_nothing_leaves_the_house_unsealed(events: list[Event]) -> None:
    """What its desk has, or is on its way there, was sealed and not taken back since."""
    is_sealed = False
    states = walked(events)
    for event, before, now in zip(events, states, states[1:], strict=False):
        if before != now:
            is_sealed = event == Event.SEAL or (is_sealed and event != Event.REOPEN)
        if now.life in AT_DESK or now.delivery in ON_ITS_WAY:
            assert is_sealed


def test_what_is_withdrawn_stays_so_and_what_is_settled_can_be_opened_again() -> None:
    moving = [event for event in Event if possible(State(Life.WITHDRAWN), event)]
    assert moving == []
    settled = State(Life.SETTLED, DeliveryState.DONE)
    assert after(settled, Event.OPEN_AGAIN, "P-1").target(settled).life == Life.LODGED
    assert after(settled, HEARD[Life.ANSWERED], "P-1").target(settled).life == Life.ANSWERED


def test_what_is_on_its_way_is_neither_taken_back_nor_given_up() -> None:
    for delivery, event in product(ON_ITS_WAY, (Event.REOPEN, Event.WITHDRAW, Event.SEAL)):
        assert possible(State(Life.SEALED, delivery), event) is None
    assert possible(State(Life.SEALED, DeliveryState.SENDING), Event.CANCEL) is None


def test_lodging_twice_is_lodging_once() -> None:
    for life in AT_DESK:
        assert possible(State(life, DeliveryState.DONE), Event.LODGE) is not None
    queued = after(State(Life.SEALED), Event.LODGE, "P-1").target(State(Life.SEALED))
    again = after(queued, Event.LODGE, "P-1")
    assert (again.target(queued), again.turn, again.effects) == (queued, None, ())


def test_whoever_is_to_move_is_said_with_the_state() -> None:
    for one in TRANSITIONS:
        if one.life in (Life.REFUSED, Life.DRAFTING):
            assert one.turn == Turn.OURS
        if one.life == Life.WITHDRAWN:
            assert one.turn == Turn.NONE
    assert set(OVER) == {Life.SETTLED, Life.WITHDRAWN}
