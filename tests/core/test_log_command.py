"""`sealpacket log`: logs looked at and cut without the service, as a person calls it."""

from __future__ import annotations

import json
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from typer.testing import CliRunner

from sealpacket.cli.program import build
from sealpacket.client import ClientError
from sealpacket.core.errors import ProblemError

LOG = "".join(f"2026-11-23 08:{minute:02d}:12 reader {minute}\n" for minute in range(60))


@pytest.fixture
def log(tmp_path: Path) -> Path:
    path = tmp_path / "kiosk.log"
    path.write_text(LOG)
    return path


def say(*words: str) -> tuple[int, str]:
    """Its exit code and what it said; what goes wrong is told as the program's entry tells it."""
    done = CliRunner().invoke(build("log"), ["log", *words])
    problem = done.exception
    told = (
        f"{problem.detail} {problem.remedy}"
        if isinstance(problem, ClientError | ProblemError)
        else ""
    )
    return done.exit_code, done.output + told


def test_the_times_of_a_log_are_told_with_what_is_doubtful(log: Path) -> None:
    code, said = say("times", str(log), "--zone", "Europe/Berlin")
    assert code == 0
    assert "no offset told, read as Europe/Berlin" in said
    assert (
        "2026-11-23 08:00:12 +01:00 to 2026-11-23 08:59:12 +01:00, as in 2026-11-23 08:00:12"
        in said
    )
    told = json.loads(say("times", str(log), "--zone", "UTC", "--json")[1])[0]
    assert (told["from"], told["ordered"]) == ("2026-11-23T08:00:12+00:00", True)


def test_the_hours_around_a_moment_are_cut_out(log: Path) -> None:
    out = log.with_name("window.log")
    code, said = say(
        "cut",
        str(log),
        "--around",
        "2026-11-23T08:40Z",
        "--hours",
        "0.1",
        "--zone",
        "UTC",
        "--out",
        str(out),
    )
    assert code == 0, said
    assert "6 lines" in said
    assert out.read_text() == "".join(LOG.splitlines(keepends=True)[37:43])
    told = json.loads(
        say("cut", str(log), "--from", "2026-11-23T08:40:12", "--to", "2026-11-23T08:40:12", "--zone", "UTC",
            "--out", str(out), "--json")[1]
    )  # fmt: skip
    assert (told["lines"], told["octets"]) == (1, 30)


@pytest.mark.parametrize(
    ("words", "why"),
    [
        ([], "The time range is missing."),
        (["--from", "2026-11-23T09:00", "--to", "2026-11-23T08:00"], "--to is before --from."),
        (["--around", "yesterday"], "yesterday is no moment."),
        (
            ["--around", "2020-01-01T00:00Z"],
            "It covers 2026-11-23 08:00:12 UTC to 2026-11-23 08:59:12 UTC.",
        ),
        (
            ["--around", "2026-11-23T08:40Z", "--zone", "Nowhere/At-All"],
            "There is no zone Nowhere/At-All.",
        ),
    ],
)
def test_what_cannot_be_cut_says_why_and_leaves_nothing(
    log: Path, words: list[str], why: str
) -> None:
    out = log.with_name("window.log")
    code, said = say(
        "cut",
        str(log),
        "--out",
        str(out),
        *(["--zone", "UTC"] if "--zone" not in words else []),
        *words,
    )
    assert code == 1
    assert why in said
    assert [path.name for path in log.parent.iterdir()] == ["kiosk.log"]


def test_a_log_is_not_written_over_by_its_own_window(log: Path) -> None:
    code, said = say("cut", str(log), "--around", "2026-11-23T08:40Z", "--out", str(log))
    assert (code, log.read_text()) == (1, LOG)
    assert "That is the log itself." in said


def test_the_clocks_of_two_logs_are_compared(tmp_path: Path) -> None:
    start = datetime(2026, 11, 23, 8, tzinfo=UTC)
    moments = [start + timedelta(seconds=20 * n) for n in range(90)]
    first, second = tmp_path / "array-a.log", tmp_path / "array-b.log"
    first.write_text(
        "".join(f"{at:%Y-%m-%dT%H:%M:%SZ} req-{n}{n} queued\n" for n, at in enumerate(moments))
    )
    late = timedelta(minutes=3, seconds=12)
    second.write_text(
        "".join(
            f"{at - late:%d/%b/%Y:%H:%M:%S +0000} req-{n}{n} done\n" for n, at in enumerate(moments)
        )
    )
    code, said = say("clocks", str(first), str(second))
    assert code == 0, said
    assert "from 2026-11-23 07:5" in said
    assert "3 min 12 s behind" in said
    told = json.loads(say("clocks", str(first), str(second), "--json")[1])
    assert [one["seconds_to_add"] for one in told["stretches"]] == [192.0]
    second.write_text(
        "".join(f"{at:%Y-%m-%dT%H:%M:%SZ} door {n} opened\n" for n, at in enumerate(moments))
    )
    code, said = say("clocks", str(first), str(second))
    assert (code, "tell of too little that is the same" in said) == (1, True)


def test_a_summary_shows_levels_what_is_new_and_known_issues(tmp_path: Path) -> None:
    path, known = tmp_path / "array.log", tmp_path / "known.yaml"
    lines = [f"2026-11-23T{m // 60:02d}:{m % 60:02d}:00Z INFO drive {m} polled" for m in range(600)]
    lines += ["2026-11-23T10:00:00Z ERROR E-3312 mirror lost"]
    path.write_text("\n".join(lines))
    known.write_text("- {key: mirror, title: The mirror, pattern: E-3312, advice: Set it to 16.}")
    code, said = say(
        "summary",
        str(path),
        "--around",
        "2026-11-23T10:00Z",
        "--known",
        str(known),
        "--zone",
        "UTC",
    )
    assert code == 0
    assert "601 lines, 2 different messages" in said
    assert "█" in said
    assert "Known issue: The mirror" in said
    assert "New around the event" in said
    told = json.loads(say("summary", str(path), "--json")[1])[0]
    assert (told["lines"], told["kinds"]) == (601, 2)


def test_logs_are_merged_by_their_moments(log: Path) -> None:
    other = log.with_name("array.log")
    other.write_text("2026-11-23T08:03:30Z E-3312\n")
    out = log.with_name("timeline.log")
    code, said = say("merge", str(log), str(other), "--zone", "UTC", "--out", str(out))
    assert (code, "61 lines of 2 logs" in said) == (0, True)
    lines = out.read_text().splitlines()
    assert lines[4] == "2026-11-23T08:03:30.000Z  array.log  2026-11-23T08:03:30Z E-3312"
    assert lines == sorted(lines)
    assert say("merge", str(log), str(out), "--out", str(out))[0] == 1
