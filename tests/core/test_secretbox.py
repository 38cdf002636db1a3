"""Encryption at rest: what was stored comes back, whole or in ranges, and nothing altered does."""

from __future__ import annotations

import itertools

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sealpacket.core.errors import Damaged
from sealpacket.core.keyring import KeyRing, key_id
from sealpacket.core.secretbox import (
    HEADER,
    SEGMENT,
    decrypt,
    decrypt_range,
    encrypt,
    encrypt_stream,
    is_current,
)

MASTER = b"m" * 32


def read(
    stored: bytes,
    start: int = 0,
    end: int | None = None,
    master: bytes = MASTER,
    purpose: str = "blob",
) -> bytes:
    """The plain bytes of a range."""
    return b"".join(
        decrypt_range(master, lambda o, n: stored[o : o + n], len(stored), start, end, purpose)
    )


def content(size: int) -> bytes:
    """Bytes that differ by place."""
    return bytes(itertools.islice(itertools.cycle(range(251)), size))


def seal(data: bytes, step: int = 10_000) -> bytes:
    """Stored form, given in blocks of `step`."""
    return b"".join(encrypt_stream(MASTER, (data[i : i + step] for i in range(0, len(data), step))))


@pytest.mark.parametrize(
    "size", [0, 1, SEGMENT - 1, SEGMENT, SEGMENT + 1, 3 * SEGMENT, 3 * SEGMENT + 5]
)
def test_what_was_stored_comes_back(size: int) -> None:
    data = content(size)
    assert read(seal(data)) == data


@given(st.integers(0, 200_000), st.integers(0, 210_000), st.integers(0, 210_000))
@settings(max_examples=40, deadline=None)
def test_any_range_comes_back(size: int, start: int, length: int) -> None:
    data = content(size)
    assert read(seal(data), start, start + length) == data[start : start + length]


def test_the_blocks_given_do_not_matter() -> None:
    data = content(150_000)
    assert {read(seal(data, step)) == data for step in (1_000, 65_536, 149_999)} == {True}


def test_the_same_data_is_never_stored_alike() -> None:
    assert seal(b"same") != seal(b"same")
    assert b"same" not in seal(b"same")


@pytest.mark.parametrize("place", [0, 5, HEADER, HEADER + 10, HEADER + SEGMENT + 20, -1])
def test_an_altered_byte_is_seen(place: int) -> None:
    stored = bytearray(seal(content(SEGMENT + 500)))
    stored[place] ^= 1
    with pytest.raises(Damaged):
        read(bytes(stored))


@pytest.mark.parametrize("cut", [1, 16, 516, SEGMENT, SEGMENT + 516])
def test_a_cut_off_end_is_seen(cut: int) -> None:
    stored = seal(content(2 * SEGMENT + 500))
    with pytest.raises(Damaged):
        read(stored[:-cut])


def test_exchanged_segments_are_seen() -> None:
    stored = seal(content(3 * SEGMENT))
    whole = SEGMENT + 16
    parts = [stored[HEADER + i * whole : HEADER + (i + 1) * whole] for i in range(3)]
    with pytest.raises(Damaged):
        read(stored[:HEADER] + parts[1] + parts[0] + parts[2])


def test_another_key_or_purpose_opens_nothing() -> None:
    with pytest.raises(Damaged):
        read(seal(b"data"), master=b"x" * 32)
    with pytest.raises(Damaged):
        read(seal(b"data"), purpose="login secret")


def test_an_empty_file_is_damage() -> None:
    with pytest.raises(Damaged):
        read(b"")


def test_small_values() -> None:
    assert (
        decrypt(MASTER, encrypt(MASTER, b"larch-4471", "contract passcode"), "contract passcode")
        == b"larch-4471"
    )
    with pytest.raises(Damaged):
        decrypt(MASTER, encrypt(MASTER, b"larch-4471", "contract passcode"), "login secret")


def test_a_ring_reads_what_its_former_keys_wrote_and_writes_with_the_newest() -> None:
    old, new = KeyRing((b"a" * 32,)), KeyRing((b"b" * 32, b"a" * 32))
    stored = encrypt(old, b"kept", "x")
    assert decrypt(new, stored, "x") == b"kept"
    assert (is_current(old, stored), is_current(new, stored)) == (True, False)
    assert is_current(new, encrypt(new, b"kept", "x"))
    with pytest.raises(Damaged, match=key_id(b"a" * 32).hex()) as caught:
        decrypt(KeyRing((b"b" * 32,)), stored, "x")
    assert caught.value.code == "key-missing"
