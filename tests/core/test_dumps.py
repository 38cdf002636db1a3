"""Dumps: what stands in one is found over the ends of its lines, and the dump stays one."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sealpacket.core.redact import (
    Catalogue,
    Legend,
    Outcome,
    Placeholders,
    Term,
    host_terms,
    leak_check,
    person_terms,
    redact,
)
from sealpacket.core.redact.encodings.dumps import dumps_in

CATALOGUE = Catalogue.build(
    [*person_terms("Ines Harrowgate"), *host_terms(["br07-kiosk2.quillmere.example"]),
     Term("asset", "LK40-7731-0931", "lk40-7731-0931")],
    domains=["quillmere.example"],
)  # fmt: skip
MESSAGE = (
    b"GET /loans HTTP/1.1\r\nHost: br07-kiosk2.quillmere.example\r\nX-Note: serial LK40-7731-0931, "
    b"asked by Ines Harrowgate\r\npassword=Tr0ub4dor-77\r\n\r\n\0\1\2\3 end"
)
VALUES = [b"br07-kiosk2", b"LK40-7731", b"Harrowgate", b"Tr0ub4dor"]


def as_text(data: bytes) -> str:
    return "".join(chr(byte) if 32 <= byte < 127 else "." for byte in data)


def rows(data: bytes) -> list[tuple[int, bytes]]:
    return [(at, data[at : at + 16]) for at in range(0, len(data), 16)]


def swapped(data: bytes) -> bytes:
    return b"".join(data[at : at + 2][::-1] for at in range(0, len(data), 2))


def words(data: bytes, size: int) -> str:
    return " ".join(data[at : at + size].hex() for at in range(0, len(data), size))


def in_halves(data: bytes) -> str:
    return f"{words(data[:8], 1)}  {words(data[8:], 1)}"


DUMPS: dict[str, Callable[[bytes], str]] = {
    "one by one, with bars": lambda b: "\n".join(f"{at:08x}  {in_halves(row):49} |{as_text(row)}|" for at, row in rows(b))
    + f"\n{len(b):08x}\n",
    "words, with text": lambda b: "\n".join(f"{at:08x}: {words(row, 2):39}  {as_text(row)}" for at, row in rows(b)),
    "of a packet": lambda b: "\n".join(f"\t0x{at:04x}:  {words(row, 2):39}  {as_text(row)}" for at, row in rows(b)),
    "words of four": lambda b: "\n".join(f"{at:06x} {words(row, 4)}" for at, row in rows(b)),
    "octal": lambda b: "\n".join(f"{at:07o} " + " ".join(f"{n:03o}" for n in row) for at, row in rows(b)),
    "words changed about": lambda b: "\n".join(f"{at:07x} {words(swapped(row), 2)}" for at, row in rows(b))
    + f"\n{len(b):07x}\n",
    "capitals": lambda b: "\n".join(f"{at:04X}  {words(row, 1).upper()}" for at, row in rows(b)),
    "behind the head of a log": lambda b: "\n".join(
        f"Nov 27 10:00:0{at // 16 % 10} br07 kernel: [12.3] {at:08x}: {words(row, 2):39}  {as_text(row)}" for at, row in rows(b)
    ),
}  # fmt: skip


@pytest.mark.parametrize("form", DUMPS)
def test_what_is_in_a_dump_is_masked_and_the_dump_stays_one(form: str) -> None:
    text = f"before\n{DUMPS[form](MESSAGE)}\nafter\n".encode()
    outcome = Outcome()
    copy = b"".join(redact([text], CATALOGUE, Placeholders(b"k" * 32), outcome))
    assert copy.startswith(b"before\n")
    assert copy.endswith(b"\nafter\n")
    beneath = [dump.data for dump in dumps_in(copy)]
    whole = next(data for data in beneath if data.startswith(b"GET"))
    assert [value for value in VALUES if value in whole or value in copy] == []
    assert whole.startswith(b"GET /loans HTTP/1.1\r\nHost: [host:")
    assert whole.endswith(b"\r\n\r\n\0\1\2\3 end")
    assert {"host", "asset", "person", "secret"} <= set(outcome.counts)
    assert leak_check([copy], outcome.legend).clean


@pytest.mark.parametrize("form", DUMPS)
def test_a_dump_with_nothing_in_it_stays_as_it_is(form: str) -> None:
    text = DUMPS[form](
        b"the belt stops and goes on again, and nobody knows why it does " * 3
    ).encode()
    text = text.replace(b"br07 kernel", b"kernel")
    assert b"".join(redact([text], CATALOGUE, Placeholders(b"k" * 32), Outcome())) == text


@pytest.mark.parametrize("form", DUMPS)
def test_the_leak_check_reads_dumps_by_its_own_means(form: str) -> None:
    legend = Legend()
    legend.add(b"[secret:aaaaaaaaaa]", b"Tr0ub4dor-77")
    assert not leak_check([DUMPS[form](MESSAGE).encode()], legend).clean


@pytest.mark.parametrize(
    "line",
    [
        "20261127 10 20 30 40 50 60 70 80 90",
        "0000 4111 2222 3333 4444 5555 6666 is no dump of anything",
        "cafe babe dead beef",
        "000000: ",
        "abc 68 65 6c 6c",
        "1234 ffff ffff ffff",
    ],
)
def test_lines_of_numbers_are_gone_through_without_harm(line: str) -> None:
    text = f"{line}\n".encode() * 3
    assert b"".join(redact([text], CATALOGUE, Placeholders(b"k" * 32), Outcome())) == text
    for dump in dumps_in(text):
        assert dump.written(dump.data, [b""]) == text[dump.start : dump.end]


def test_what_stands_before_the_lines_of_a_dump_is_masked_with_it() -> None:
    text = (
        DUMPS["behind the head of a log"](MESSAGE)
        .replace(" br07 kernel", " tiller04 kernel")
        .encode()
    )
    outcome = Outcome()
    copy = b"".join(redact([text], CATALOGUE, Placeholders(b"k" * 32), outcome))
    assert b"tiller04" not in copy
    assert copy.count(b"[host:") >= copy.count(b"\n")


@pytest.mark.parametrize(
    "odd",
    [
        "00000010: 4142 4344 x546 4748",
        "00000010: 4142  4344 4546 4748",
        "00000010: 4142 4344 4546 4748 password=Tr0ub4dor-77",
    ],
)
def test_a_line_that_is_written_otherwise_is_not_of_the_dump(odd: str) -> None:
    whole = b"host br07-kiosk2"
    text = f"00000000: {words(whole[:8], 2)}\n00000008: {words(whole[8:], 2)}\n{odd}\n".encode()
    copy = b"".join(redact([text], CATALOGUE, Placeholders(b"k" * 32), Outcome()))
    last = copy.splitlines()[-1]
    assert b"Tr0ub4dor" not in last
    assert last.startswith(b"00000010: ")
    assert [dump.data for dump in dumps_in(copy)][0].startswith(b"host [host:")


@given(
    st.lists(
        st.sampled_from(
            [
                "0",
                "1f",
                "00000010",
                "4142",
                "4344 4546 4748 ",
                "  ",
                ": ",
                "|",
                "AB",
                "\t",
                "x",
                "\n",
                "0000000 ",
            ]
        ),
        max_size=60,
    )
)
@settings(max_examples=300, deadline=None)
def test_anything_like_a_dump_is_gone_through_without_harm(parts: list[str]) -> None:
    text = "".join(parts).encode()
    outcome = Outcome()
    copy = b"".join(redact([text], CATALOGUE, Placeholders(b"k" * 32), outcome))
    assert outcome.counts or copy == text
    for dump in dumps_in(text):
        assert dump.rows[0].start == dump.start
        assert len(dump.data) >= len(dump.rows)


def test_what_only_looks_like_a_line_of_a_dump_hides_nothing() -> None:
    copy = b"".join(
        redact([b"1001  4111 1111 1111 1111\n"], CATALOGUE, Placeholders(b"k" * 32), Outcome())
    )
    assert b"1111" not in copy
