"""What is stored: blobs, pages, forms, and the words for what the database says."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from datetime import UTC, date, datetime
from pathlib import Path
from types import SimpleNamespace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError
from sqlalchemy import select

from sealpacket.core import errors
from sealpacket.core.errors import Damaged, Invalid, ProblemError, Unavailable
from sealpacket.services.register import forms
from sealpacket.store.blobs import Blobs
from sealpacket.store.models import Asset, Contract, Packet
from sealpacket.store.paging import after, page_of
from sealpacket.web.problems import STATUS

KEY = b"k" * 32


@pytest.fixture
def blobs(tmp_path: Path) -> Blobs:
    """A store in a folder."""
    return Blobs((tmp_path / "blobs").as_uri(), lambda: KEY)


def files(folder: Path) -> list[Path]:
    """All files of the store."""
    return [path for path in folder.rglob("*") if path.is_file()]


def test_a_blob_comes_back_with_its_size_and_sum(blobs: Blobs) -> None:
    stored = blobs.put([b"one ", b"two"])
    assert (stored.size, stored.sha256) == (7, hashlib.sha256(b"one two").hexdigest())
    assert blobs.read_all(stored.name) == b"one two"
    assert b"".join(blobs.read(stored.name, 4, 6)) == b"tw"


def test_a_put_that_fails_leaves_nothing(blobs: Blobs, tmp_path: Path) -> None:
    def broken() -> Iterator[bytes]:
        yield b"x" * 200_000
        raise Invalid("The upload broke off.", "Send it again.")

    with pytest.raises(Invalid):
        blobs.put(broken())
    assert files(tmp_path) == []


def test_removing_is_patient(blobs: Blobs, tmp_path: Path) -> None:
    stored = blobs.put([b"x"])
    for name in (stored.name, stored.name, None, "0" * 32):
        blobs.remove(name)
    assert files(tmp_path) == []


def test_a_blob_that_is_gone_or_altered_is_told(blobs: Blobs, tmp_path: Path) -> None:
    with pytest.raises(Unavailable) as caught:
        blobs.read_all("0" * 32)
    assert caught.value.code == "blob-lost"
    stored = blobs.put([b"content"])
    path = files(tmp_path)[0]
    data = path.read_bytes()
    path.write_bytes(data[:-1] + bytes([data[-1] ^ 1]))
    with pytest.raises(Damaged):
        blobs.read_all(stored.name)


def test_another_key_opens_nothing(blobs: Blobs, tmp_path: Path) -> None:
    stored = blobs.put([b"content"])
    with pytest.raises(Damaged):
        Blobs((tmp_path / "blobs").as_uri(), lambda: b"x" * 32).read_all(stored.name)


def test_an_object_store_serves_as_well_as_a_folder() -> None:
    """fsspec's memory store stands for any remote one."""
    blobs = Blobs("memory://house", lambda: KEY)
    stored = blobs.put(b"block %d " % n for n in range(20_000))
    assert blobs.read_all(stored.name).startswith(b"block 0 block 1 ")
    assert (
        b"".join(blobs.read(stored.name, 100_000, 100_010))
        == blobs.read_all(stored.name)[100_000:100_010]
    )
    blobs.remove(stored.name)
    with pytest.raises(Unavailable):
        blobs.read_all(stored.name)


@given(st.text(max_size=30), st.text(max_size=30))
def test_a_cursor_leads_back_to_its_place(value: str, ident: str) -> None:
    rows = [SimpleNamespace(serial=value, id=ident), SimpleNamespace(serial="z", id="z")]
    cursor = page_of(rows, 1, "serial", lambda row: row.id).next
    assert cursor
    statement = after(select(Asset), Asset.serial, Asset.id, cursor)
    assert list(statement.compile().params.values()) == [value, ident]


@pytest.mark.parametrize(
    ("order", "ident", "value"),
    [
        (Contract.ends_on, Contract.id, date(2026, 12, 31)),
        (Packet.created_at, Packet.id, datetime(2026, 1, 2, tzinfo=UTC)),
    ],
)
def test_cursors_carry_days_and_moments(order: Any, ident: Any, value: Any) -> None:
    rows = [
        SimpleNamespace(**{order.key: value, "id": "a"}),
        SimpleNamespace(**{order.key: value, "id": "b"}),
    ]
    cursor = page_of(rows, 1, order.key, lambda row: row.id).next
    statement = after(select(order), order, ident, str(cursor))
    assert value in statement.compile().params.values()


def test_the_last_page_has_no_cursor() -> None:
    rows = [SimpleNamespace(serial="a", id="a")]
    assert page_of(rows, 1, "serial", lambda row: row.id).next is None


@pytest.mark.parametrize(
    ("given_number", "kept"),
    [
        ("+44 1632 960112", "+441632960112"),
        ("+44(0)1632 960112", "+441632960112"),
        ("+1-632-960-1120", "+16329601120"),
    ],
)
def test_telephone_numbers_are_kept_in_e164(given_number: str, kept: str) -> None:
    assert forms.PersonForm(key="a", name="A", mail="a@b.example", phone=given_number).phone == kept


@pytest.mark.parametrize("wrong", ["01632 960112", "+", "call me", "112"])
def test_numbers_without_country_are_not_guessed(wrong: str) -> None:
    with pytest.raises(ValidationError, match="country code"):
        forms.PersonForm(key="a", name="A", mail="a@b.example", phone=wrong)


@given(st.text(max_size=40))
def test_host_names_are_host_names(text: str) -> None:
    try:
        kept = forms.AssetForm(vendor="v", product="p", serial="s", host_names=[text]).host_names[0]
    except ValidationError:
        return
    assert kept == text.strip().lower()
    assert kept.isascii()
    assert " " not in kept


@given(st.text(max_size=60))
def test_keys_are_fit_for_addresses(text: str) -> None:
    try:
        key = forms.VendorForm(key=text, name="n").key
    except ValidationError:
        return
    assert key.replace("-", "a").isalnum()
    assert key == key.lower()


def test_every_error_has_a_code_a_title_and_a_status() -> None:
    kinds = [
        kind
        for kind in vars(errors).values()
        if isinstance(kind, type) and issubclass(kind, ProblemError)
    ]
    assert len(kinds) > 8
    codes = [kind.code for kind in kinds]
    assert len(set(codes)) == len(codes)
    for kind in kinds:
        assert kind.title
        if kind is not ProblemError:
            assert any(parent in STATUS for parent in kind.__mro__)
