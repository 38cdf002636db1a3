"""Tables that are drawn in a text: only the heads tell what stands in their columns."""

from __future__ import annotations

import pytest

from sealpacket.core.redact import Catalogue, Outcome, Placeholders
from sealpacket.core.redact.engine import Run

BARS = """Gebruiker | Werkplek | Tijd
lkramer   | WS-0087  | 07:12
jdvries   | WS-0088  | 07:13

after the table lkramer2 | WS-0089 | 07:14
"""


def copy_of(text: str) -> str:
    return Run(Catalogue.build(), Placeholders(b"k" * 32), Outcome()).text(text.encode()).decode()


def test_rows_between_bars_need_no_rule_below_their_heads() -> None:
    rows = copy_of(BARS).split("\n")
    assert [row.count("[user:") for row in rows[1:3]] == [1, 1]
    assert [row.count("[host:") for row in rows[1:3]] == [1, 1]
    assert rows[4].startswith("after the table lkramer2 |")


@pytest.mark.parametrize(
    "text",
    [
        "le  | he\nella | she\n",
        "user | shell\n12 | 34 | 56\n",
        "count | size | time\n12 | 34 | 56\n",
    ],
)
def test_bars_alone_make_no_table(text: str) -> None:
    assert copy_of(text).split("\n")[1:] == text.split("\n")[1:]


def test_heads_may_have_letters_beyond_ascii() -> None:
    copy = copy_of(
        "Gerätename     Prénom      état\nweir-kiosk-2   Odile       ok\nweir-kiosk-3   Tove        ok\n"
    )
    assert "weir-kiosk" not in copy and "Odile" not in copy and "Tove" not in copy
