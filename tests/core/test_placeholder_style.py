"""Placeholders that keep shapes, times that are shifted, lines and files that are left out."""

from __future__ import annotations

import csv
import io
import ipaddress
import zipfile
from datetime import timedelta
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from stdnum import luhn

from sealpacket.core.redact import Catalogue, Outcome, Placeholders, leak_check, redact
from sealpacket.core.redact.batch.folder import Job, redact_files
from sealpacket.core.redact.engine import Dropped
from sealpacket.core.redact.plan import Plan
from sealpacket.core.redact.pseudonyms.placeholders import Style
from sealpacket.core.redact.pseudonyms.shaping import Shaped
from sealpacket.core.redact.pseudonyms.times import Shift
from sealpacket.core.redact.readers import Work, copy_file

KEY = b"k" * 32
LOG = b"""10.40.3.4 and 10.40.3.9 and 198.51.100.7 by ines@quillmere.example
mac 02:1a:ab:cd:ef:01 and 02-1A-AB-CD-EF-01, card 4111 1111 1111 1111, password=hunter22
host=br07-kiosk2.quillmere.example BR07-KIOSK2 up, fd40::7 down
"""


def shaped(text: bytes, style: Style = Style("shapes"), key: bytes = KEY) -> tuple[str, Outcome]:
    outcome = Outcome()
    catalogue = Catalogue.build(domains=["quillmere.example"])
    copy = b"".join(redact([text], catalogue, Placeholders(key, style), outcome))
    return copy.decode(), outcome


def test_shapes_are_kept_and_nothing_is_left() -> None:
    copy, outcome = shaped(LOG, Style("shapes", check_digits=True))
    first, second, public = (
        word for word in copy.split() if word[0].isdigit() and word.count(".") == 3
    )
    assert first.rsplit(".", 1)[0] == second.rsplit(".", 1)[0]
    assert first != second
    assert all(
        ipaddress.ip_address(one) in ipaddress.ip_network("240.0.0.0/4")
        for one in (first, second, public)
    )
    assert "@redacted.invalid\n" in copy
    one, other = copy.split("mac ")[1].split(",")[0].split(" and ")
    assert one.replace(":", "") == other.replace("-", "").lower()
    assert int(one[:2], 16) & 3 == 2
    card = copy.split("card ")[1].split(",")[0]
    assert luhn.is_valid(card.replace(" ", ""))
    assert [len(part) for part in card.split()] == [4, 4, 4, 4]
    assert leak_check([copy.encode()], outcome.legend).clean
    assert not leak_check([LOG], outcome.legend).clean


def test_the_same_again_and_another_key_another() -> None:
    assert shaped(LOG)[0] == shaped(LOG)[0]
    assert not set(shaped(LOG)[0].split()) & set(shaped(LOG, key=b"j" * 32)[0].split()) - set(
        LOG.decode().split()
    )


def test_the_legend_reads_a_reply_in_clear() -> None:
    copy, outcome = shaped(LOG)
    host = copy.split("host=")[1].split()[0]
    assert outcome.legend.resolve([f"Please look at {host}."]) == [
        "Please look at br07-kiosk2.quillmere.example."
    ]
    labelled = Outcome()
    text = b"".join(redact([LOG], Catalogue.build(), Placeholders(KEY), labelled)).decode()
    label = text.split()[0]
    assert labelled.legend.resolve([f"({label})"]) == ["(10.40.3.4)"]


@given(st.lists(st.from_regex(r"[0-9]{6}", fullmatch=True), unique=True, max_size=60))
def test_no_two_numbers_of_one_length_become_one(numbers: list[str]) -> None:
    shape = Shaped(KEY, Placeholders(KEY).of)
    made = [shape("reader", number.encode(), number.encode()) for number in numbers]
    assert len(set(made)) == len(numbers)
    assert all(len(one) == 6 and one.isdigit() for one in made)


@pytest.mark.parametrize(
    ("time", "moved"),
    [
        ("2026-11-03T08:12:11.123+01:00", "2026-09-27T06:12:11.123+01:00"),
        ("on 2026-03-01 it", "on 2026-01-22 it"),
        ("[03/Nov/2026:08:12:11 +0000]", "[27/Sep/2026:06:12:11 +0000]"),
        ("Nov  3 08:12:11 host", "Sep 27 06:12:11 host"),
        ("Tue, 03 Nov 2026 01:12:11 +0000", "Sat, 26 Sep 2026 23:12:11 +0000"),
        ("Tue Nov  3 08:12:11 2026", "Sun Sep 27 06:12:11 2026"),
        ('"ts": 1730621531123, n=1730621531', '"ts": 1727417531123, n=1730621531'),
        ("2026-13-45 is no day, nor 1.2.2026-11-03x", "2026-13-45 is no day, nor 1.2.2026-09-26x"),
    ],
)
def test_times_move_and_keep_their_form(time: str, moved: str) -> None:
    assert Shift(timedelta(days=-37, hours=-2)).shifted(time.encode()).decode() == moved


@given(st.binary(max_size=200), st.integers(-4000, 4000))
def test_a_shift_never_changes_a_length(text: bytes, days: int) -> None:
    assert len(Shift(timedelta(days=days)).shifted(text)) == len(text)


def test_a_plan_says_how_all_of_it_looks() -> None:
    plan = Plan.model_validate(
        {"style": "shapes", "check_digits": True, "shift_times": "-P37DT2H", "scope": "vendor"}
    )
    assert plan.placeholder_style == Style("shapes", True, timedelta(days=-37, hours=-2))
    with pytest.raises(ValueError, match="at most"):
        Plan.model_validate({"shift_times": "P99999D"})


def copied(plan: dict[str, str], data: bytes, name: str) -> tuple[bytes, Work]:
    work = Work(Plan.model_validate({"kinds": plan}).planned().catalogue(), Placeholders(KEY))
    target = io.BytesIO()
    copy_file(io.BytesIO(data), target, work, name)
    return target.getvalue(), work


def test_a_line_is_left_out_whole_and_its_values_are_searched_for() -> None:
    text = b"one\nloan 4111111111111111 by elsie@x.example due\r\nfrom 10.40.3.4\n"
    copy, work = copied({"card": "drop-line"}, text, "a.log")
    assert copy.startswith(b"one\n[line left out: it held a card]\r\nfrom [ip:")
    assert work.outcome.counts == {"card": 1, "mail": 1, "ip": 1}
    assert {original for _, original in work.outcome.legend.originals()} >= {
        b"4111111111111111",
        b"elsie@x.example",
    }


def test_a_row_of_a_table_is_left_out_and_lines_of_json_and_xml_are_only_masked() -> None:
    copy, _ = copied({"card": "drop-line"}, b"a,b\n4111111111111111,x\n1,2\n", "a.csv")
    assert list(csv.reader(copy.decode().splitlines())) == [
        ["a", "b"],
        ["[line left out: it held a card]"],
        ["1", "2"],
    ]
    copy, _ = copied({"card": "drop-line"}, b'{"card": "4111111111111111",\n"b": 1}\n', "a.json")
    assert b'"[card:' in copy
    copy, _ = copied({"card": "drop-line"}, b"<a>\n<c>4111111111111111</c>\n</a>\n", "a.xml")
    assert b"<c>[card:" in copy


def test_a_file_is_left_out_whole_also_with_what_it_is_packed_in(tmp_path: Path) -> None:
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w") as archive:
        archive.writestr("a.log", "card 4111111111111111\n")
    for data, name in ((b"card 4111111111111111\n", "a.log"), (packed.getvalue(), "a.zip")):
        with pytest.raises(Dropped, match="card"):
            copied({"card": "drop-file"}, data, name)
    for name, line in (("a.log", "card 4111111111111111\n"), ("b.log", "10.40.3.4\n")):
        (tmp_path / name).write_text(line)
    job = Job(
        lambda: Plan.model_validate({"kinds": {"card": "drop-file"}}).planned().catalogue(), KEY
    )
    done, _ = redact_files(
        [(tmp_path / n, n) for n in ("a.log", "b.log")], tmp_path / "out", job, workers=1
    )
    assert [(one.name, one.state) for one in done] == [("a.log", "dropped"), ("b.log", "copied")]
    assert not (tmp_path / "out" / "a.log").exists()
