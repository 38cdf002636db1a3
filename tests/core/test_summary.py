"""Summaries of logs: what is counted is right, and what matters is found."""

from __future__ import annotations

import gzip
from collections import Counter
from collections.abc import Iterable
from datetime import UTC, datetime, timedelta
from pathlib import Path
from random import Random

import pytest

from sealpacket.core.errors import Invalid
from sealpacket.core.evidence._native import Scan, skeleton
from sealpacket.core.evidence.logfile import LogFile
from sealpacket.core.evidence.series import LogSeries, series_name, series_of, timeline
from sealpacket.core.evidence.summary import Summary, read_known, summarise, templates, words
from sealpacket.core.evidence.summary.scanning import micros, reader_of
from tests.core import message_makers
from tests.core.log_makers import NOT_IN, PLACES, WRITERS, Made, make_log
from tests.some import SEED

DAY = datetime(2026, 11, 23, tzinfo=UTC)


def write(path: Path, lines: Iterable[str]) -> LogSeries:
    path.write_text("".join(f"{line}\n" for line in lines))
    return LogSeries([LogFile(path)])


def at(minutes: float) -> str:
    return f"{DAY + timedelta(minutes=minutes):%Y-%m-%dT%H:%M:%SZ}"


def calm(count: int, first: float = 0) -> list[str]:
    """A line each minute."""
    return [f"{at(first + number)} INFO reader {number} polled" for number in range(count)]


@pytest.mark.parametrize("place", PLACES)
def test_the_native_part_reads_the_same_times(tmp_path: Path, place: str) -> None:
    for writer in WRITERS:
        if (writer, place) not in NOT_IN:
            compare_times(tmp_path / f"{writer}.log", make_log(writer, place, SEED, count=60))


def compare_times(path: Path, made: Made) -> None:
    path.write_text("".join(f"{line}\n" for line in made.lines))
    file = LogFile(path, near=made.near)
    times = file.times()
    scan = Scan(
        micros(times.first), micros(times.last), file.reach * 2, 1000, ["UTC", "CET", "z"], [],
        reader_of(file), lambda text, line: (0, False), lambda rows: [text for text, _ in rows],
    )  # fmt: skip
    known = 0
    for line, told in zip(made.lines, made.told, strict=True):
        scan.feed(f"{line}\n".encode())
        if told is not None:
            known = micros(told if told.tzinfo else told.replace(tzinfo=UTC))
        assert scan.moment // 1_000_000 == known // 1_000_000, (path.name, line)
    assert scan.lines == len(made.lines)


def test_messages_are_put_together_as_they_were_made() -> None:
    """Over twelve logs; of a hundred, one or two have two messages that differ only in what others have as a value."""
    accuracies = [_accuracy(Random(f"messages {number} {SEED}")) for number in range(12)]
    assert sum(accuracies) / len(accuracies) >= 0.95, accuracies


def _accuracy(r: Random) -> float:
    lines, truth = message_makers.make_log(r, message_makers.make_templates(r), 4000)
    texts = [skeleton(line[20:].encode()) for line in lines]
    counts = Counter(texts)
    became = dict(zip(counts, templates.merge(list(counts.items())), strict=True))
    return message_makers.grouping_accuracy(truth, [became[text].decode() for text in texts])


def test_all_lines_are_counted_by_message_and_level(tmp_path: Path) -> None:
    r = Random(7)
    lines, _ = message_makers.make_log(r, message_makers.make_templates(r), 5000)
    found = summarise(write(tmp_path / "a.log", lines))
    assert (found.lines, sum(level.total for level in found.levels)) == (5000, 5000)
    for level in ("error", "warning", "info", "debug"):
        shouted = {"warning": "WARN"}.get(level, level.upper())
        counted = next(one for one in found.levels if one.level == level)
        assert counted.total == sum(f" {shouted} " in line for line in lines)
        assert sum(counted.counts) == counted.total


def test_gaps_restarts_and_a_clock_set_back_are_found(tmp_path: Path) -> None:
    lines = [
        *calm(600),
        f"{at(640)} kernel: system start, release 7.4.2",
        *calm(200, 641),
        *calm(300, 800),
    ]
    found = summarise(write(tmp_path / "a.log", lines))
    assert [(gap.start, gap.end, gap.line) for gap in found.gaps] == [
        (DAY + timedelta(minutes=599), DAY + timedelta(minutes=640), 601)
    ]
    assert [restart.at for restart in found.restarts] == [DAY + timedelta(minutes=640)]
    step = found.steps_back[0]
    assert (step.before - step.after, found.steps_back_total) == (timedelta(minutes=40), 1)
    assert [(fact.name, fact.value) for fact in found.facts] == [("release", "7.4.2")]


def test_what_is_new_or_more_frequent_around_the_event_is_marked(tmp_path: Path) -> None:
    lines = calm(1000)
    lines += [f"{at(number * 10)} WARN retry {number} of mirror" for number in range(70)]
    lines += [f"{at(700 + number)} WARN retry {number} of mirror" for number in range(100)]
    lines += [f"{at(720)} ERROR E-3312 mirror lost"]
    window = (DAY + timedelta(minutes=690), DAY + timedelta(minutes=810))
    found = summarise(write(tmp_path / "a.log", sorted(lines)), (), window)
    marks = {message.text: (message.marks, message.factor) for message in found.messages}
    assert marks["ERROR E-3312 mirror lost"] == (["rare", "new"], None)
    said, factor = marks["WARN retry * of mirror"]
    assert said == ["frequent", "more"]
    assert factor is not None
    assert 6 < factor < 11
    assert "more" not in marks["INFO reader * polled"][0]


KNOWN = """
- key: mirror-retrain
  title: Mirror link retrains
  pattern: E-3312 .*mirror
  advice: Set the link speed to 16.
  fixed_in: 7.4.4
- key: other
  title: Something else
  pattern: E-9999
"""


def test_known_issues_come_with_advice(tmp_path: Path) -> None:
    lines = [
        *calm(50),
        f"{at(51)} ERROR E-3312 lost the mirror",
        f"{at(52)} ERROR E-3312 lost the mirror",
    ]
    found = summarise(write(tmp_path / "a.log", lines), read_known(KNOWN))
    assert [(issue.key, issue.count, issue.advice) for issue in found.issues] == [
        ("mirror-retrain", 2, "Set the link speed to 16.")
    ]
    assert found.issues[0].first == DAY + timedelta(minutes=51)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("- {key: a, title: A, pattern: '('}", "issue 1: pattern is no regular expression"),
        ("- {key: a, title: A, pattern: 'x*'}", "would match any line"),
        ("- {key: A B, title: A, pattern: x}", "issue 1: key"),
        ("- {key: a, title: A, pattern: x}\n- {key: a, title: A, pattern: y}", "two issues a"),
        ("- {key: a, titel: A, pattern: x}", "issue 1"),
        ("a: [", "not valid YAML in line"),
        ("just words", "no list"),
    ],
)
def test_a_list_of_known_issues_says_what_is_wrong_with_it(text: str, said: str) -> None:
    with pytest.raises(Invalid) as caught:
        read_known(text)
    assert said in caught.value.detail


@pytest.mark.parametrize(
    ("text", "level"),
    [
        ("* ERROR lendd: x", "error"), ("kiosk lendd: warning: low", "warning"), ("[info] started", "info"),
        ('{"level":"warn","msg":"x"}', "warning"), ("E reader: no answer", "error"), ("no error was found", ""),
        ("<Critical> power", "critical"), ('* - - "GET * HTTP/*" 5xx *', "error"), ("I went home", ""),
        ("[DEBUG] x", "debug"),
    ],
)  # fmt: skip
def test_levels_are_read_from_the_words(text: str, level: str) -> None:
    numbers = {"": 0, "critical": 1, "error": 2, "warning": 3, "info": 4, "debug": 5}
    assert words.level_of(text) == numbers[level]


def test_rotated_files_are_one_log(tmp_path: Path) -> None:
    (tmp_path / "app.log").write_text("\n".join(calm(60, 120)))
    (tmp_path / "app.log.1").write_text("\n".join(calm(60, 60)))
    (tmp_path / "app.log.2.gz").write_bytes(gzip.compress("\n".join(calm(60)).encode()))
    (tmp_path / "other-20261123.log").write_text("\n".join(calm(5)))
    names = ["app.log", "app.log.1", "app.log.2.gz", "other-20261123.log"]
    logs = series_of([LogFile(tmp_path / name) for name in names])
    assert [[file.path.name for file in log.files] for log in logs] == [names[2::-1], names[3:]]
    assert [log.name for log in logs] == ["app.log", "other.log"]
    found = summarise(logs[0])
    assert (found.lines, found.steps_back_total, found.gaps) == (180, 0, [])
    cut = b"".join(logs[0].window(DAY + timedelta(minutes=59), DAY + timedelta(minutes=60)))
    assert cut.decode().split("\n")[1].startswith(at(60))


@pytest.mark.parametrize("name", ["a.log", "syslog", "messages-1.2", "kiosk-07.log"])
def test_names_that_are_not_rotated_differ(name: str) -> None:
    assert series_name(Path(name)) != series_name(Path("b.log"))


def test_several_logs_are_one_timeline(tmp_path: Path) -> None:
    a = write(tmp_path / "a.log", calm(10))
    b = write(tmp_path / "b.log", [*calm(3, 2.5)[:2], "  more of it", calm(3, 2.5)[2]])
    lines = list(timeline([a, b]))
    assert [moment for moment, _, _ in lines] == sorted(moment for moment, _, _ in lines)
    assert [line for _, number, line in lines if number][2] == b"  more of it\n"
    moved = list(timeline([a, b], offsets=[timedelta(), timedelta(minutes=-2.5)]))
    assert next(moment for moment, number, _ in moved if number) == DAY
    inside = list(timeline([a, b], DAY + timedelta(minutes=3), DAY + timedelta(minutes=4)))
    assert len(inside) == 4


def test_writers_with_different_clocks_are_told_apart(tmp_path: Path) -> None:
    r = Random(5)
    lines = [
        f"{at(number / 10 - (47 if name == 'c1' else 0))} {name} drive {r.randint(1, 48)} polled"
        for number in range(3000)
        for name in [r.choice(("c0", "c0", "c1"))]
    ]
    found = summarise(write(tmp_path / "a.log", lines))
    assert [(one.name, round(one.ahead / 60)) for one in found.writers] == [("c0", 0), ("c1", -47)]
    assert "Several clocks" in found.notes[0]


def test_a_log_whose_messages_are_all_different_stays_small(tmp_path: Path) -> None:
    r = Random(11)
    letters = "abcdefghijklmnop"
    lines = [
        f"{at(number / 100)} WARN {' '.join(''.join(r.choices(letters, k=5)) for _ in range(6))}"
        for number in range(60_000)
    ]
    lines.append(f"{at(601)} ERROR the mirror is lost")
    found = summarise(write(tmp_path / "a.log", lines))
    assert found.lines == 60_001
    assert found.kinds < 9000
    assert sum(level.total for level in found.levels if level.level == "warning") == 60_000
    assert [one.total for one in found.levels if one.level == "error"] == [1]


def test_a_line_without_end_and_broken_text_are_survived(tmp_path: Path) -> None:
    path = tmp_path / "a.log"
    endless = b"x" * 300_000
    path.write_bytes(
        b"\n".join(
            [
                *(line.encode() for line in calm(100)),
                at(101).encode() + b" \xff\xfe " + endless,
                b"",
            ]
        )
    )
    found = summarise(LogSeries([LogFile(path)]))
    assert (found.lines, found.octets) == (101, path.stat().st_size)
    assert "Lines longer than 64 KB: 1." in found.notes[-1]


def test_the_same_log_gives_the_same_summary(tmp_path: Path) -> None:
    lines, _ = message_makers.make_log(Random(3), message_makers.make_templates(Random(3)), 4000)
    log = write(tmp_path / "a.log", lines)
    first, second = summarise(log), summarise(LogSeries([LogFile(tmp_path / "a.log")]))
    assert first == second
    assert Summary.model_validate_json(first.model_dump_json()) == first
