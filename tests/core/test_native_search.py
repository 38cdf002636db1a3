"""The native part of the engine against plain Python that does the same, slowly."""

from __future__ import annotations

import base64
import binascii
import hashlib
import random
import re
from collections import Counter
from functools import partial

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sealpacket.core.redact import Catalogue, Legend, Outcome, Placeholders, Term, redact
from sealpacket.core.redact import _native as native
from sealpacket.core.redact.engine import Run, Span
from sealpacket.core.redact.pseudonyms import legend as legend_module
from sealpacket.core.redact.rules import REGISTRY, Detector
from sealpacket.core.redact.rules.ordinary import ORDINARY
from sealpacket.core.redact.rules.predicates import credentials

KEY = bytes(range(32))
FEW = settings(max_examples=120, deadline=None)
WORDS = st.sampled_from(
    [
        "br07",
        "kiosk2",
        "BR12",
        "Marit",
        "marit",
        "x",
        "9",
        "-",
        ".",
        "_",
        " ",
        ", ",
        "é",
        "\n",
        "=",
        "TN9",
        "44120",
    ]
)
TEXTS = st.lists(WORDS, max_size=30).map("".join)


@given(st.sampled_from(["host", "mail"]), st.binary(max_size=300))
@FEW
def test_a_label_is_keyed_blake2b_in_base32(kind: str, canonical: bytes) -> None:
    digest = hashlib.blake2b(kind.encode() + b"\0" + canonical, key=KEY, digest_size=10).digest()
    bits = int.from_bytes(digest[:7], "big") >> 6
    alphabet = "abcdefghijklmnopqrstuvwxyz234567"
    signs = "".join(alphabet[bits >> (45 - 5 * place) & 31] for place in range(10))
    assert Placeholders(KEY).of(kind, canonical) == f"[{kind}:{signs}]".encode()


@pytest.mark.parametrize("key", [b"", b"short", b"k" * 33])
def test_a_key_of_another_length_is_refused(key: bytes) -> None:
    with pytest.raises(ValueError, match="32 bytes"):
        Placeholders(key)


PAIRS = st.lists(
    st.tuples(st.sampled_from([b"[a:b]", b"[c:d]", b"[e:f]"]), st.binary(max_size=40)), max_size=200
)


LITTLE = st.sampled_from([legend_module.IN_MEMORY, 1500, 0])
"""How much of a legend is in memory: all of it, some, or nothing."""


def filled(pairs: list[tuple[bytes, bytes]], in_memory: int) -> Legend:
    """A legend that came together pair by pair."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(legend_module, "IN_MEMORY", in_memory)
        patch.setattr(legend_module, "_PART", 100)
        legend = Legend()
        for pair in pairs:
            legend.add(*pair)
            legend.make_room()
    return legend


@given(PAIRS, PAIRS, LITTLE, LITTLE)
@FEW
def test_a_legend_is_a_set_of_pairs_however_it_came_together(
    first: list[tuple[bytes, bytes]], second: list[tuple[bytes, bytes]], little: int, less: int
) -> None:
    one, other = filled(first, little), filled(second, less)
    one.merge(other)
    assert list(one.originals()) == sorted({*first, *second})
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(legend_module, "IN_MEMORY", 0)
        one.add(b"[a:b]", b"one more")
        one.make_room()
    second = [*second, (b"[a:b]", b"one more")]
    assert list(Legend.unpacked(one.packed()).originals()) == list(one.originals())
    assert list(Legend.from_bytes(one.to_bytes()).originals()) == list(one.originals())
    assert list(Legend.unpacked(one.taken()).originals()) == sorted({*first, *second})
    assert list(one.originals()) == []


def test_a_legend_is_written_down_now_and_then_and_not_each_time(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(legend_module, "IN_MEMORY", 100_000)
    legend = Legend()
    for number in range(20_000):
        legend.add(b"[secret:%010d]" % number, b"value-%d" % number)
        legend.make_room()
    assert 10 < len(legend._runs) < 40
    assert legend.native.memory() < 100_000
    assert sum(1 for _ in legend.originals()) == len(legend) == 20_000


@given(PAIRS, st.integers(0, 50), LITTLE)
@FEW
def test_a_legend_tells_what_was_met_most_often(
    pairs: list[tuple[bytes, bytes]], most: int, little: int
) -> None:
    legend = filled(pairs, little)
    counted = Counter(pairs)
    expected = sorted(
        ((*pair, counted[pair]) for pair in counted), key=lambda row: (-row[2], row[0], row[1])
    )
    assert legend.tallies(most) == expected[:most]
    assert len(legend) == len({placeholder for placeholder, _ in pairs})


@pytest.mark.parametrize("cut", [1, 3, 5, 11])
def test_a_legend_that_is_cut_off_is_told(cut: int) -> None:
    legend = Legend()
    legend.add(b"[a:b]", b"original")
    whole = legend.to_bytes()
    assert list(Legend.from_bytes(whole).originals()) == [(b"[a:b]", b"original")]
    with pytest.raises(ValueError, match="cut off"):
        Legend.from_bytes(whole[:-cut])


def test_a_legend_that_was_kept_as_json_is_still_read() -> None:
    old = b'{"[a:b]":["one","tw\\u00e9"],"[c:d]":["x"]}'
    assert list(Legend.from_bytes(old).originals()) == [
        (b"[a:b]", b"one"),
        (b"[a:b]", b"tw\xe9"),
        (b"[c:d]", b"x"),
    ]


@given(
    st.lists(st.lists(WORDS, min_size=1, max_size=6).map("".join), min_size=1, max_size=12), TEXTS
)
@FEW
def test_terms_are_found_as_a_plain_search_finds_them(spellings: list[str], text: str) -> None:
    """Whether anything is found at all; of what overlaps, the first and longest counts."""
    terms = [
        Term("custom", spelling, spelling)
        for spelling in spellings
        if len(spelling) >= 4 and "\n" not in spelling
    ]
    run = Run(Catalogue.build(terms, detectors=[]), Placeholders(KEY), Outcome())
    copy = run.text(text.encode()).decode()
    wanted = [
        rf"{r'(?<![A-Za-z0-9_])' if re.match('[A-Za-z0-9_]', t.spelling) else ''}{re.escape(t.spelling)}"
        rf"{r'(?![A-Za-z0-9_])' if re.search('[A-Za-z0-9_]$', t.spelling) else ''}"
        for t in terms
    ]
    found = bool(wanted) and re.search("|".join(wanted), text, re.ASCII) is not None
    assert ("[custom:" in copy) >= found
    for pattern in wanted:
        assert re.search(pattern, copy, re.ASCII) is None


@given(
    st.lists(st.binary(min_size=4, max_size=14), min_size=1, max_size=20),
    st.binary(max_size=200),
    st.data(),
)
@FEW
def test_originals_are_searched_for_whatever_their_case(
    originals: list[bytes], filler: bytes, data: st.DataObject
) -> None:
    legend = Legend()
    for original in originals:
        legend.add(b"[secret:a]", original)
    text = filler + data.draw(st.sampled_from(originals)).swapcase() + filler
    found = {(text[start:end], start) for start, end in searched(legend).search(text)}
    for original in originals:
        low = original.lower()
        for start in range(len(text) - len(low) + 1):
            alone = start == 0 or not (_is_word(text[start - 1]) and _is_word(text[start]))
            if text[start : start + len(low)].lower() == low and (len(low) >= 8 or alone):
                assert (text[start : start + len(low)], start) in found


def searched(
    legend: Legend, exempt: tuple[bytes, ...] = (), share: int = 0, shares: int = 1
) -> native.Originals:
    """All originals of a legend."""
    originals = native.Originals(legend.pairs, list(exempt), native.Ordinary([]), share, shares)
    for part in legend.parts():
        originals.add(part)
    originals.close()
    return originals


def _is_word(byte: int) -> bool:
    return byte < 128 and (chr(byte).isalnum() or byte == 95)


def test_what_the_plan_keeps_is_not_searched_for() -> None:
    legend = Legend()
    for original in (b"Kept-Value", b"secret-value", b"abc"):
        legend.add(b"[secret:a]", original)
    originals = searched(legend, (b"kept-value",))
    assert (originals.searched, originals.not_searched) == (1, 2)
    text = b"kept-value secret-value abc"
    assert [text[start:end] for start, end in originals.search(text)] == [b"secret-value"]


@given(st.lists(st.binary(min_size=4, max_size=14), min_size=1, max_size=40), st.integers(1, 5))
@FEW
def test_every_original_is_in_one_share(values: list[bytes], shares: int) -> None:
    legend = Legend()
    for value in values:
        legend.add(b"[secret:a]", value)
    parts = [searched(legend, share=share, shares=shares) for share in range(shares)]
    assert sum(part.searched for part in parts) == len({value.lower() for value in values})
    for value in values:
        assert sum((0, len(value)) in part.search(value) for part in parts) == 1


def _readable(found: list[bytes]) -> bytes:
    odd = bytes(set(range(256)) - set(range(32, 127)) - set(b"\t\r\n\0"))
    return b"".join(
        one + b"\n"
        for one in found
        if len(one) >= 6 and (len(one) - len(one.translate(None, odd))) * 4 <= len(one)
    )


CODED = st.lists(
    st.one_of(
        st.binary(max_size=30).map(base64.b64encode), st.binary(max_size=30).map(base64.urlsafe_b64encode), st.binary(max_size=30).map(binascii.hexlify),
        st.binary(max_size=30).map(lambda v: v.hex(" ").encode()), st.binary(max_size=30).map(lambda v: v.hex(":").upper().encode()),
        st.text("abc XYZ=:\n\\+/", max_size=20).map(str.encode), st.text("hello world 0123", max_size=40).map(lambda t: base64.b64encode(t.encode())),
        st.text("hello world 0123", max_size=40).map(lambda t: t.encode().hex(" ").encode()),
    ),
    max_size=8,
).map(b" ".join)  # fmt: skip


@given(CODED, st.sampled_from([12, 61]))
@FEW
def test_base64_and_hex_are_decoded_wherever_they_stand(text: bytes, shortest: int) -> None:
    runs = re.findall(rb"[A-Za-z0-9+/_-]{%d,}" % shortest, text)
    decoded = [
        base64.b64decode(run.replace(b"-", b"+").replace(b"_", b"/") + b"=" * (-len(run) % 4))
        for run in runs
        if len(run) % 4 != 1
    ]
    assert native.in_base64(text, shortest) == _readable(decoded)
    runs = re.findall(rb"[0-9A-Fa-f]{%d,}" % shortest, text)
    assert native.in_hex(text, shortest) == _readable(
        [binascii.unhexlify(run[: len(run) & ~1]) for run in runs]
    )


@given(CODED)
@FEW
def test_spaced_hex_is_decoded_wherever_it_stands(text: bytes) -> None:
    """What a plain search finds is in it; where more stands together, more may come out."""
    found = native.in_spaced_hex(text)
    for hit in re.finditer(
        rb"(?<![0-9A-Fa-f :])(?:[0-9A-Fa-f]{2}[ :]){7,}[0-9A-Fa-f]{2}(?![0-9A-Fa-f :])", text
    ):
        plain = binascii.unhexlify(hit[0].translate(None, b" :"))
        assert _readable([plain]) in found + (b"\n" if not found else b"")


@given(
    st.lists(
        st.sampled_from([b"abc", b"=", b"\\", b"\r", b"\n", b" ", b"\t", b"", b"\r\n"]), max_size=40
    ).map(b"".join)
)
@FEW
def test_lines_are_put_together_again(text: bytes) -> None:
    lines = re.split(rb"\r?\n[ \t]*", text)
    wanted = b"".join(re.sub(rb"[=\\]\Z", b"", line) for line in lines[:-1]) + lines[-1]
    assert native.joined(text, b"")[0] == wanted


@given(
    st.lists(st.one_of(CODED, st.just(b"\n"), st.just(b"\n > "), st.just(b"=\n")), max_size=12).map(
        b"".join
    )
)
@FEW
def test_what_goes_over_a_join_is_found_there(text: bytes) -> None:
    """With the places, each reader gives of the whole what is not in one line, and nothing that the whole has not."""
    for border in (b"", b" "):
        whole, joins = native.joined(text, border)
        readers = (
            partial(native.in_base64, shortest=12),
            partial(native.in_hex, shortest=12),
            native.in_numbers,
        )
        for reader in readers:
            everywhere, over = reader(whole).split(b"\n"), reader(whole, joins=joins).split(b"\n")
            assert set(over) <= set(everywhere)
            assert set(everywhere) <= set(over) | set(reader(text).split(b"\n"))
        assert native.marks_in(whole) | native.marks_in(text) == native.marks_in(
            whole, joins
        ) | native.marks_in(text)


@given(
    st.lists(
        st.sampled_from([b"tbrandt", b"harrowgate", b"\n", b" ", b"10.64.5.11", b"x" * 40]),
        max_size=30,
    )
)
@FEW
def test_originals_over_a_join_are_found_there(words: list[bytes]) -> None:
    wanted = [
        b"tbrandtharrowgate",
        b"10.64.5.1110.64.5.11",
        b"tbrandt harrowgate",
        b"harrowgate",
        b"tbrandt" * 5,
    ]
    legend = Legend()
    for number, one in enumerate(wanted):
        legend.add(b"[custom:%d]" % number, one)
    originals = native.Originals(len(wanted), [], ORDINARY, 0, 1)
    for part in legend.parts():
        originals.add(part)
    originals.close()
    text = b"".join(words)
    for border in (b"", b" "):
        whole, joins = native.joined(text, border)
        everywhere = [whole[start:end] for start, end in originals.search(whole)]
        over = [whole[start:end] for start, end in originals.search_over(whole, joins)]
        within = [text[start:end] for start, end in originals.search(text)]
        assert set(over) <= set(everywhere) <= set(over) | set(within)


@given(
    st.lists(
        st.tuples(
            st.sampled_from(
                [
                    b"a" * 60,
                    b"b" * 60,
                    b"word",
                    b"soft=",
                    b"back\\",
                    b"",
                    b"c" * 30,
                    b"x" * 59 + b" ",
                ]
            ),
            st.sampled_from([b"\n", b"\r\n"]),
        ),
        max_size=12,
    )
)
@FEW
def test_ends_of_wrapped_lines(lines: list[tuple[bytes, bytes]]) -> None:
    text = b"".join(line + end for line, end in lines)
    split = text.split(b"\n")
    lengths = [len(line) for line in split]
    width = max(lengths)
    full = width if 40 <= width <= 1000 and lengths.count(width) >= max(3, len(lengths) // 4) else 0
    wanted, end = [], -1
    for number, line in enumerate(split[:-1]):
        end += len(line) + 1
        bare = line.removesuffix(b"\r") if len(line) > 1 else line
        following = split[number + 1]
        wrapped = (
            full
            and len(line) == full
            and re.search(rb"[A-Za-z0-9@._%+/:-]\Z", bare)
            and re.match(rb"[A-Za-z0-9@._%+/:-]", following)
        )
        if (wrapped and line[:3] != (text[end + 1 : end + 4])) or bare[-1:] in (b"=", b"\\"):
            wanted.append(end)
    assert native.LineEnds(text).wrapped() == wanted


@given(st.binary(max_size=600))
@FEW
def test_bytes_that_no_text_has_are_counted(data: bytes) -> None:
    odd = bytes(n for n in range(1, 32) if n not in (8, 9, 10, 11, 12, 13, 27)) + b"\x7f"
    assert native.odd_bytes(data) == (len(data) - len(data.translate(None, odd)), data.count(0))
    ends = native.LineEnds(data)
    assert all(ends.before(limit) == data[:limit].count(b"\n") for limit in range(len(data) + 1))


def test_a_pattern_that_cannot_be_read_is_told() -> None:
    with pytest.raises(ValueError, match="missing"):
        native.Pattern(b"(a")
    with pytest.raises(ValueError, match="special only"):
        Run(Catalogue.build(), Placeholders(KEY), Outcome())._pass.between(0, 1, 1, 0)


ANCHORS = [
    rb"(?i)(?:user|name)[\"'\\\s]{0,4}[=:>]", rb"\d{1,3}\.\d{1,3}\.", rb"\bab+\b", rb"(?m:^)x", rb"y(?m:$)", rb"[^\r\n@]+@[a-z]",
    rb"a(?:b|cd)?e", rb"\Bq", rb"[A-Z]{2,3}-[0-9A-F]{4}", rb"(?i:K)i", rb"\x3d\w\W", rb"(?:\b)*z", rb"1{2,}", rb"[.\w-]+!",
    rb"\S\s\S{3}", rb"a.c|\[b\]", rb"(?i)[^a-y]k", rb"-[+-/]\.", rb"u{0,2}v{3}",
]  # fmt: skip
"""Of every construct that anchors have."""
LINES = st.lists(
    st.sampled_from([*(bytes([sign]) for sign in b"abcdexyzquvkKi019.-_@=:>[]!\" \\\n\n\r\xe9"), b"user", b"Name", b"AB-01F2", b"10.4."]),
    max_size=120,
).map(b"".join)  # fmt: skip


def lines_by_python(
    patterns: list[re.Pattern[bytes]], text: bytes
) -> list[tuple[int, int, list[int]]]:
    found, start = [], 0
    for line in text.split(b"\n"):
        numbers = [number for number, one in enumerate(patterns) if one.search(line)]
        if numbers:
            found.append((start, start + len(line), numbers))
        start += len(line) + 1
    return found


PYTHON = [
    re.compile(one.replace(b"(?m:^)", b"^").replace(b"(?m:$)", rb"\Z"), re.ASCII) for one in ANCHORS
]
ALL_ANCHORS = native.Anchors(ANCHORS)


@given(LINES, st.integers(1, 200))
@settings(max_examples=300, deadline=None)
def test_anchors_are_found_on_the_lines_where_python_finds_them(text: bytes, times: int) -> None:
    """Long texts are gone through in four parts side by side."""
    for whole in (text, (text + b"\n") * times, text * times):
        assert ALL_ANCHORS.lines(whole) == lines_by_python(PYTHON, whole)


def test_a_pattern_that_asks_for_too_many_states_hides_nothing() -> None:
    """Which of the last seventeen signs were a `w`: that is more than any table holds."""
    chance = random.Random(7)
    own = Detector("custom", "own", rb"(w[xw]{17}y)", (), None)
    catalogue = Catalogue.build(detectors=[own])
    lines = [bytes(chance.choice(b"wx") for _ in range(60)) for _ in range(4000)]
    text = b"".join(
        line + (b"y\n" if number % 40 == 7 else b"\n") for number, line in enumerate(lines)
    )
    outcome = Outcome()
    copy = b"".join(redact([text], catalogue, Placeholders(KEY), outcome))
    assert copy == re.sub(rb"w[wx]{17}y", lambda hit: Placeholders(KEY).of("custom", hit[0]), text)
    assert outcome.counts["custom"] > 20


@pytest.mark.parametrize(
    "pattern",
    [
        b"(a",
        b"a)",
        b"[a",
        b"*a",
        b"a{5,2}",
        rb"\pL",
        rb"\1",
        b"(?=a)",
        b"[[:alpha:]]",
        b"a{2000}",
        b"[b-a]",
    ],
)
def test_what_anchors_cannot_read_is_told(pattern: bytes) -> None:
    with pytest.raises(ValueError, match=r"\w"):
        native.Anchors([pattern])


@pytest.mark.parametrize("pattern", [rb"\pL{3}-\d{4}", rb"[[:upper:]]{2}/\d{3}"])
def test_a_kind_of_ones_own_is_found_whatever_its_syntax(pattern: bytes) -> None:
    """Custom kinds may use all that RE2 reads."""
    own = Detector("custom", "own", b"(" + pattern + b")", ())
    catalogue = Catalogue.build(detectors=[own, *REGISTRY])
    text = b"ticket ABC-1234 at 10.40.7.22\nnothing here\n AB/123 for ABC-1235, AB/124\n"
    copy = b"".join(redact([text], catalogue, Placeholders(KEY), Outcome()))
    assert (
        re.search(pattern.replace(rb"\pL", b"[A-Z]").replace(b"[[:upper:]]", b"[A-Z]"), copy)
        is None
    )
    assert b"10.40.7.22" not in copy
    assert b"nothing here" in copy


def test_an_automaton_that_is_full_is_shared_out_and_finds_the_same() -> None:
    chance = random.Random(5)
    patterns = [rb"x[a-z]{22}y", rb"(?m:^)b[^c]{9}(?m:$)", rb"\bzz"]
    lines = [
        "".join(chance.choices("xyabcz ", (60, 60, 30, 30, 2, 20, 1), k=chance.randrange(80)))
        for _ in range(9_000)
    ]
    text = "\n".join(lines).encode()
    anchors = native.Anchors(patterns)
    assert anchors.shares == 1
    expected = [
        (line, [number for number, one in enumerate(_in_python(patterns)) if re.search(one, line)])
        for line in text.split(b"\n")
    ]
    for _ in range(2):
        found = [(text[start:end], numbers) for start, end, numbers in anchors.lines(text)]
        assert found == [(line, numbers) for line, numbers in expected if numbers]
        assert anchors.shares > 1
    assert anchors.states > 0
    assert [line[2] for line in anchors.lines(b"one\nx" + b"a" * 22 + b"y\nb        .\n")] == [
        [0],
        [1],
    ]


def _in_python(patterns: list[bytes]) -> list[bytes]:
    return [one.replace(b"(?m:^)", b"^").replace(b"(?m:$)", b"$") for one in patterns]


RUNS_OF = [
    rb"[a-z][_-][A-Za-z0-9]{20}",
    rb"\b[A-Z]{4}[A-Z0-9]{16}\b",
    rb"(?:(?m:^)|[^0-9A-Fa-f])[0-9A-Fa-f]{16}",
]


@given(
    st.lists(
        st.sampled_from(
            ["a_", "A", "b", "7" * 5, "F" * 16, " ", "\n", "z" * 9, "-", "\u00e9", "ABCDEFGH"]
        ),
        max_size=40,
    )
)
@FEW
def test_an_anchor_in_a_long_run_is_found_where_the_pattern_is(parts: list[str]) -> None:
    """Each stands for a detector of its own, whose value is then masked; else its line is not even looked at."""
    text = "".join(parts).encode()
    for pattern in RUNS_OF:
        detector = Detector("secret", "a run", b"(" + pattern + b")", (pattern,))
        outcomes = []
        for everywhere in (False, True):
            outcome = Outcome()
            catalogue = Catalogue.build(detectors=[detector], everywhere=everywhere)
            outcomes.append(b"".join(redact([text], catalogue, Placeholders(KEY), outcome)))
        assert outcomes[0] == outcomes[1]


@given(st.lists(st.tuples(st.integers(0, 30), st.integers(1, 9)), max_size=12), st.integers(0, 12))
@FEW
def test_spans_that_overlap_are_put_together(stretches: list[tuple[int, int]], cut: int) -> None:
    """The one that begins first and is the longest stays; of another what sticks out behind it."""
    spans = [Span(start, start + length, b"x", "host") for start, length in stretches]
    chosen: list[tuple[int, int]] = []
    for span in sorted(spans, key=lambda one: (one.start, -one.end)):
        free = chosen[-1][1] if chosen else 0
        if span.end > free:
            chosen.append((max(span.start, free), span.end))
    made = native.Pass.together(native.Pass.spans(spans[:cut]), spans[cut:])
    catalogue = Catalogue.build(detectors=())
    listed = Run(catalogue, Placeholders(KEY), Outcome())._pass.listed(made)
    assert [(span.start, span.end) for span in listed] == chosen


@given(
    st.lists(
        st.sampled_from(
            [
                "-",
                "--",
                "==",
                "|",
                "+",
                " ",
                "  ",
                "\t",
                "\n",
                "\r\n",
                "word",
                "NAME",
                "7",
                ":",
                "#",
                "copy (",
                "insert into",
            ]
        ),
        max_size=40,
    )
)
@FEW
def test_lines_are_known_by_their_shape(parts: list[str]) -> None:
    text = "".join(parts).encode()
    shapes = native.LineEnds(text).shapes()
    starts = [0, *(hit.end() for hit in re.finditer(rb"\n", text))]
    lines = {start: text[start:].split(b"\n")[0] for start in starts if start < len(text)}
    assert shapes.rules == [
        at for at, line in lines.items() if re.match(rb"[ \t|+:]*(?:--|==)", line)
    ]
    assert all(re.fullmatch(rb"[A-Za-z_\-/.#%() \t]+\r?", lines[at]) for at in shapes.heads)
    assert all(
        text[one[0] : one[1]].strip() and text[one[2] : one[3]] in text for one in shapes.labelled
    )
    begins = [
        line
        for line in lines.values()
        if re.match(rb"(?i)[ \t]*insert[ \t]", line) and b"into" in line.lower()
    ]
    assert shapes.puts_rows or not begins


def test_an_anchor_with_more_than_a_run_is_looked_for_on_the_whole_line() -> None:
    for pattern in (rb"CARD: [0-9]{16}", rb"\b[0-9]{16} of readers", rb"(?:no|nr)\. [A-Z]{20}"):
        catalogue = Catalogue.build(
            detectors=[Detector("custom", "own", b"(" + pattern + b")", (pattern,))]
        )
        text = b"CARD: 2111111111111112\n2111111111111112 of readers\nnr. ABCDEFGHIJKLMNOPQRST\n"
        outcome = Outcome()
        b"".join(redact([text], catalogue, Placeholders(KEY), outcome))
        assert outcome.counts == {"custom": 1}, pattern


PARTS_OF_VALUES = (
    "p", "Xy9!", "none", "password", "get", "cfg", ".", "(", "[", "0", "self.", "key", "/home", "/", "~/a", " ", "�", "**",
    "${A}", "[mail:abcdefghij]", "7",
)  # fmt: skip


@given(st.lists(st.sampled_from(PARTS_OF_VALUES), max_size=5).map("".join))
@FEW
def test_what_can_be_a_secret_is_told_natively(text: str) -> None:
    value = text.encode()
    mark = min((place for place in (value.find(b"("), value.find(b"[")) if place > 0), default=0)
    if mark:
        called = ORDINARY.has(value[:mark])
    else:
        called = value.startswith((b"self.", b"cls.", b"this.")) and ORDINARY.has(value)
    folder = value[:1] in (b"/", b"~", b" ") and native.Pattern(credentials.FOLDER).is_whole(
        value.strip()
    )
    said = native.Pattern(credentials.NO_SECRET).is_whole(value)
    assert credentials.is_secret(value) == (
        len(text.replace("�", "").encode()) > 1 and not (said or called or folder)
    )


def test_a_legend_is_in_order_of_its_texts_however_they_begin() -> None:
    legend, chance = Legend(), random.Random(9)
    pairs = set()
    for _ in range(3000):
        placeholder = chance.choice(
            [b"[host:", b"[ip:", b"x" * chance.randrange(20)]
        ) + chance.choice([b"", b"\0", b"a", b"\xff"])
        pairs.add((placeholder, bytes(chance.choices(b"ab\0\xff", k=chance.randrange(4)))))
    for pair in chance.sample(sorted(pairs), len(pairs)):
        legend.add(*pair)
    assert list(legend.originals()) == sorted(pairs)


def test_values_that_come_again_after_many_others_have_the_same_placeholder() -> None:
    """More different values than are remembered, twice: what was forgotten is judged again, and as before."""
    catalogue = Catalogue.build()
    lines = [
        b"client=10.%d.%d.%d ok\n" % (number >> 16, number >> 8 & 255, number & 255)
        for number in range(200_000)
    ]
    outcome = Outcome()
    made = b"".join(
        redact([b"".join(lines), b"".join(lines[:5000])], catalogue, Placeholders(KEY), outcome)
    ).split(b"\n")
    assert made[:5000] == made[200_000:205_000]
    assert (len(set(made[:200_000])), outcome.counts["ip"], len(outcome.legend)) == (
        200_000,
        205_000,
        200_000,
    )
