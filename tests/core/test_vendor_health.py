"""What vendors report of their services, read from feeds; and when it may explain a fault."""

from __future__ import annotations

import json
from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from sealpacket.core.errors import Invalid
from sealpacket.core.vendor_health import (
    STALE,
    FeedMapping,
    Report,
    ReportSort,
    ReportState,
    may_explain,
    named_in,
    read_reports,
    state_of,
)

NOW = datetime(2026, 12, 1, 12, 0, tzinfo=UTC)


def atom(title: str, summary: str, category: str = "") -> bytes:
    return (
        '<feed xmlns="http://www.w3.org/2005/Atom"><entry><id>urn:r:1</id>'
        f"<title>{title}</title><updated>2026-12-01T09:00:00Z</updated>"
        f'<category term="{category}"/><summary>{summary}</summary></entry></feed>'
    ).encode()


def report(**more: object) -> Report:
    plain = Report(
        ident="1",
        sort=ReportSort.TROUBLE,
        title="Slow",
        summary="",
        link="",
        about="",
        begins_at=NOW - timedelta(hours=3),
        ends_at=None,
        updated_at=NOW - timedelta(hours=1),
        over=False,
    )
    return plain._replace(**more)  # type: ignore[arg-type]


def test_trouble_in_atom_begins_when_it_was_published() -> None:
    (read,) = read_reports(atom("Sign-in fails", "Investigating."))
    assert (read.sort, read.over) == (ReportSort.TROUBLE, False)
    assert read.begins_at == datetime(2026, 12, 1, 9, 0, tzinfo=UTC)


@pytest.mark.parametrize(
    ("title", "summary", "category", "sort", "over"),
    [
        ("Sign-in fails", "Resolved: it works.", "", ReportSort.TROUBLE, True),
        ("Sign-in fails", "Not yet known why.", "resolved", ReportSort.TROUBLE, True),
        ("Database maintenance", "Next week.", "", ReportSort.MAINTENANCE, False),
        ("Database", "Next week.", "scheduled", ReportSort.MAINTENANCE, False),
        ("Mail does not work", "We look at it.", "", ReportSort.TROUBLE, False),
    ],
)
def test_words_tell_the_sort_and_the_end(
    title: str, summary: str, category: str, sort: ReportSort, over: bool
) -> None:
    (read,) = read_reports(atom(title, summary, category))
    assert (read.sort, read.over) == (sort, over)


def test_control_characters_are_not_taken_along() -> None:
    (read,) = read_reports(atom("Slow &amp;#27;[31m", "&amp;#7; in &lt;b&gt;north-1&lt;/b&gt;"))
    assert "\x1b" not in read.title
    assert "\x07" not in read.summary
    assert read.summary.endswith("in north-1")


def test_planned_work_has_its_times_in_the_text() -> None:
    text = "From 2026-12-05 22:00 UTC to 2026-12-06T02:30:00+01:00, in north-2."
    (read,) = read_reports(atom("Planned maintenance", text))
    assert read.begins_at == datetime(2026, 12, 5, 22, 0, tzinfo=UTC)
    assert read.ends_at == datetime(2026, 12, 6, 1, 30, tzinfo=UTC)


def test_json_is_read_by_its_mapping() -> None:
    mapping = FeedMapping(
        items="$.incidents[*]",
        title="$.name",
        state="$.phase",
        begins="$.at.from",
        places="$.components[*].name",
    )
    body = {
        "incidents": [
            {
                "id": 7,
                "name": "Disks\n slow",
                "phase": "resolved",
                "at": {"from": "2026-12-01T08:00:00Z"},
                "components": [{"name": "west-1"}, {"name": "Fast disks"}],
                "link": "javascript:alert(1)",
            },
            {"id": 8, "name": ""},
            {"name": "without id"},
            "not an object",
        ]
    }
    (read,) = read_reports(json.dumps(body).encode(), mapping)
    assert (read.ident, read.title, read.over, read.link) == ("7", "Disks slow", True, "")
    assert read.begins_at == datetime(2026, 12, 1, 8, 0, tzinfo=UTC)
    assert named_in(read.about, {"w": ["west-1"], "e": ["east-1"]}) == ["w"]


@pytest.mark.parametrize("data", [b"", b"{", b"<html/>", b"12", b"\xff\xfe", b"[" * 100_000])
@pytest.mark.parametrize("mapping", [None, FeedMapping()])
def test_what_is_no_feed_is_refused(data: bytes, mapping: FeedMapping | None) -> None:
    with pytest.raises(Invalid):
        read_reports(data, mapping)


@given(st.recursive(st.none() | st.text() | st.integers() | st.booleans(), lambda inner: st.lists(inner) | st.dictionaries(st.sampled_from(["id", "title", "begins", "ends", "places", "state"]), inner)))  # fmt: skip
def test_any_json_gives_reports_or_a_refusal(body: object) -> None:
    try:
        found = read_reports(json.dumps(body).encode(), FeedMapping())
    except Invalid:
        return
    assert all(one.ident and one.title for one in found)


def test_states() -> None:
    assert state_of(report(), NOW) is ReportState.ONGOING
    assert state_of(report(over=True), NOW) is ReportState.OVER
    assert state_of(report(begins_at=NOW + timedelta(days=1)), NOW) is ReportState.PLANNED
    assert state_of(report(ends_at=NOW), NOW) is ReportState.OVER
    silent = report(begins_at=NOW - 2 * STALE, updated_at=NOW - STALE - timedelta(hours=1))
    assert state_of(silent, NOW) is ReportState.OVER
    assert state_of(silent._replace(ends_at=NOW + timedelta(days=1)), NOW) is ReportState.ONGOING


def test_what_began_in_its_time_may_be_explained() -> None:
    ended = report(over=True)
    hour = timedelta(hours=1)
    assert may_explain(ended, NOW - 2 * hour, NOW)
    assert may_explain(ended, NOW - 4 * hour, NOW), "an hour before it was published"
    assert not may_explain(ended, NOW - 5 * hour, NOW)
    assert may_explain(ended, NOW, NOW)
    assert not may_explain(ended, NOW + 2 * hour, NOW)
    assert may_explain(report(), NOW + 2 * hour, NOW), "it still goes on"
    assert not may_explain(report(begins_at=None, updated_at=None), NOW, NOW)


def test_names_are_whole_words() -> None:
    names = {"a": ["OB-F220", "Firewall"], "b": ["F2"]}
    assert named_in("the ob-f220 restarts", names) == ["a"]
    assert named_in("OB-F2201 and firewalls", names) == []
    assert named_in("F2", names) == [], "too short to tell"
