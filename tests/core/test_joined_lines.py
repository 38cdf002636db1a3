"""No match hides the value of another: two lines joined on one are masked as each of them is."""

from __future__ import annotations

import io
import random
import re
from pathlib import Path

import pytest

from sealpacket.core.redact import Catalogue, Outcome, Placeholders
from sealpacket.core.redact.engine import Run
from sealpacket.core.redact.readers import Work, copy_file
from tests.some import ALL

CATALOGUE = Catalogue.build(domains=["quillmere.example"])
LINES = [
    line.partition(" ||| ")[0].replace("\\t", "\t")
    for line in (Path(__file__).parent / "hard_lines.txt").read_text("utf-8").splitlines()
    if " ||| " in line and not line.startswith("#")
]
JOINTS = (" ", "; ", "\t", ", ", " | ")
PAIRS = 1500 if ALL else 500


def neutral(line: str) -> str:
    """A line of the same shape that tells of nothing: what a value may need before or behind it is there, no label is."""
    for shape, sign in (("[^\\x00-\\x7f]", "x"), ("[A-Z]", "X"), ("[a-z]", "x"), ("[0-9]", "0")):
        line = re.sub(shape, sign, line)
    return line


class Masked:
    """What of a line is masked."""

    def __init__(self) -> None:
        self._run = Run(CATALOGUE, Placeholders(b"k" * 32), Outcome())

    def spans(self, line: str) -> list[tuple[int, int]]:
        return [(span.start, span.end) for span in self._run.spans(line.encode())]

    def left(self, line: str, wanted: list[tuple[int, int]]) -> list[bytes]:
        """What of the wanted stretches is not masked in a line, marks aside."""
        data, free = line.encode(), bytearray(line.encode())
        for start, end in self.spans(line):
            free[start:end] = b" " * (end - start)
        return [data[a:b] for a, b in wanted if re.search(rb"\w", bytes(free[a:b]))]


def pairs(turn: int) -> list[tuple[str, str, str]]:
    """Two lines and what joins them, at random but always the same."""
    chance = random.Random(turn)
    return [
        (chance.choice(LINES), chance.choice(JOINTS), chance.choice(LINES)) for _ in range(PAIRS)
    ]


@pytest.mark.parametrize("turn", [1, 2, 3])
def test_what_is_masked_beside_a_line_that_tells_nothing_is_masked_beside_every_other(
    turn: int,
) -> None:
    masked, lost = Masked(), {}
    for first, joint, second in pairs(turn):
        whole, border = first + joint + second, len((first + joint).encode())
        before = [
            one
            for one in masked.spans(first + joint + neutral(second))
            if one[1] <= len(first.encode())
        ]
        behind = [(a, b) for a, b in masked.spans(neutral(first) + joint + second)
                  if len(neutral(first) + joint) <= a]  # fmt: skip
        shift = border - len(neutral(first) + joint)
        left = masked.left(whole, before + [(a + shift, b + shift) for a, b in behind])
        if left:
            lost[whole] = left
    assert lost == {}


@pytest.mark.parametrize("encoding", ["utf-8", "utf-16", "utf-16-be", "latin-1"])
def test_they_are_so_in_any_encoding(encoding: str) -> None:
    """Joined lines that hold a password behind quotes, cookies or other values, as a file of that encoding."""
    swallowing = ["Set-Cookie: sid=8f3b2a9c11; Path=/; HttpOnly", "Cookie: a=b; c=d", "Authorization: Digest username=x",
                  "password: correct horse battery staple", "card 4111 1111 1111 1111", "note: Teo Brandt called"]  # fmt: skip
    for line in swallowing:
        for first, second in (
            (line, "PGPASSWORD='kestrel-77-Alder' psql"),
            ("PGPASSWORD='kestrel-77-Alder' psql", line),
        ):
            for joint in JOINTS:
                content = f"{first}{joint}{second}\n" * 3
                target = io.BytesIO()
                copy_file(
                    io.BytesIO(content.encode(encoding)),
                    target,
                    Work(CATALOGUE, Placeholders(b"k" * 32)),
                    "a.log",
                )
                copy = target.getvalue().decode(encoding)
                assert "kestrel-77-Alder" not in copy, content
                assert "8f3b2a9c11" not in copy, content


def test_the_line_that_was_sent_in_part_is_masked_now() -> None:
    run = Run(CATALOGUE, Placeholders(b"k" * 32), Outcome())
    cookie = (
        "Set-Cookie: sid=8f3b2a9c11; "
        + "step " * 200
        + "PGPASSWORD='heron-Lake7' psql -h db07 and 'more'"
    )
    copy = run.text(cookie.encode())
    assert b"heron-Lake7" not in copy
    assert b"db07" not in copy
