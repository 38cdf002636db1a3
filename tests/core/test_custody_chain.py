"""The custody log's chain: gaps, changes and exchanges are all found."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from sealpacket.core.custody import GENESIS, Link, chain_hash, verify_chain


def chain(length: int) -> list[Link]:
    """A whole log."""
    links: list[Link] = []
    previous = GENESIS
    for seq in range(1, length + 1):
        entry: dict[str, Any] = {
            "actor": "marit",
            "action": f"act {seq}",
            "detail": {"n": seq, "ü": [1, None, True]},
        }
        digest = chain_hash(previous, entry)
        links.append(Link(seq, entry, previous, digest))
        previous = digest
    return links


def test_a_whole_log_holds() -> None:
    links = chain(20)
    report = verify_chain(links)
    assert (report.entries, report.last_hash, report.broken_at) == (20, links[-1].hash, None)


def test_an_empty_log_holds() -> None:
    assert verify_chain([]).last_hash == GENESIS


@pytest.mark.parametrize("place", [0, 7, 19])
def test_a_changed_entry_is_found(place: int) -> None:
    links = chain(20)
    links[place] = replace(links[place], entry={**links[place].entry, "actor": "nobody"})
    report = verify_chain(links)
    assert (report.broken_at, report.reason) == (place + 1, "its content has been altered")


@pytest.mark.parametrize("place", [0, 7, 18])
def test_a_removed_entry_is_found(place: int) -> None:
    links = chain(20)
    del links[place]
    report = verify_chain(links)
    assert (report.broken_at, report.reason) == (place + 1, f"entry {place + 1} is missing")


def test_a_rewritten_entry_with_its_own_hash_made_new_is_found_at_the_next() -> None:
    links = chain(5)
    entry = {**links[2].entry, "actor": "nobody"}
    links[2] = Link(3, entry, links[2].previous, chain_hash(links[2].previous, entry))
    report = verify_chain(links)
    assert (report.broken_at, report.reason) == (4, "it does not follow the entry before")


def test_exchanged_entries_are_found() -> None:
    links = chain(6)
    links[2], links[3] = replace(links[3], seq=3), replace(links[2], seq=4)
    assert verify_chain(links).broken_at == 3


@given(
    st.dictionaries(
        st.text(max_size=8), st.integers(-(2**53) + 1, 2**53 - 1) | st.text(max_size=8), max_size=6
    )
)
def test_the_hash_does_not_depend_on_the_order_of_fields(entry: dict[str, Any]) -> None:
    assert chain_hash(GENESIS, entry) == chain_hash(GENESIS, dict(reversed(entry.items())))
