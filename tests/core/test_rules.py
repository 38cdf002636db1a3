"""The rules that ship with the product: each keeps its own examples; and what is said of a rule that cannot be used."""

from __future__ import annotations

import pytest

from sealpacket.core.redact.rules.judging import BadJudgement, judgement
from sealpacket.core.redact.rules.rule import BadRule, Rule, faults_of, read_rules
from sealpacket.core.redact.rules.rule import families as read_families

FAMILIES = read_families()
RULES = [rule for file in FAMILIES.values() for rule in file.rule]
MOST = 350


@pytest.mark.parametrize("family", FAMILIES)
def test_each_rule_finds_what_it_shows_and_leaves_what_it_says(family: str) -> None:
    assert [fault for rule in FAMILIES[family].rule for fault in faults_of(rule)] == []


def test_the_rules_are_few_and_each_has_a_name_of_its_own() -> None:
    assert len(RULES) <= MOST
    assert len({rule.id for rule in RULES}) == len(RULES)
    patterns = [shape.pattern for rule in RULES for shape in rule.shape]
    assert len(set(patterns)) > 0.99 * len(patterns)


@pytest.mark.parametrize(
    ("expression", "holds", "fails"),
    [
        ("secret", "lhm#83-cO", "none"),
        ("has_digit and length >= 4", "ab12", "a1"),
        ("not only_letters", "a-b", "ab"),
        ("2 < length < 5", "abc", "abcde"),
        ("digits == 2 or digits == 4", "a12", "a123"),
        ("words > 1", "two words", "one"),
        ('one_of("local", "Remote")', "REMOTE", "remotes"),
        ("one_of(no_domains)", "workgroup", "quillmere"),
        ('begins("fd:", "env:")', "ENV:x", "x"),
        ('ends("=", ".log")', "a.LOG", "a.logs"),
        ('has("://")', "a://b", "a:b"),
        ('only("abc")', "cab", "cabs"),
        ('before(":", only_digits)', "12:x", "x:12"),
        ('behind(":", only_digits)', "x:12", "12:x"),
        ('behind_last("_-", has_digit)', "a-b_c1", "a1-b"),
        ('bare("\'", only_digits)', "'12'", "'1x'"),
        ('without(".", only_digits)', "1.2", "1.x"),
        ('some_part(", ", only_digits)', "a, 12", "a, b"),
        ('every_part(" ", capitalised)', "Odile Marchmont", "Odile marchmont"),
        ('stdnum("nl.bsn")', "111222333", "111222334"),
        ("checks", "4111 1111 1111 1111", "4111 1111 1111 1112"),
        ("not (in_capitals or in_small)", "Ab", "AB"),
    ],
)
def test_a_judgement_says_what_counts(expression: str, holds: str, fails: str) -> None:
    assert judgement(expression)(holds.encode())
    assert not judgement(expression)(fails.encode())


@pytest.mark.parametrize(
    ("expression", "words"),
    [
        ("", "cannot be read"),
        ("secret and", "cannot be read"),
        ("(" * 500 + "secret" + ")" * 500, "cannot be read"),
        ("nothing", "no judgement “nothing”"),
        ("length", "no judgement “length”"),
        ("length > 'a'", "is no number"),
        ("length != 3", "is no comparison"),
        ("size > 3", "there are length, digits, words"),
        ("one_of()", "one text or more"),
        ("one_of(nothing)", "no list of words"),
        ("before(secret)", "takes signs and a judgement"),
        ('before(":", "x")', "is no judgement"),
        ('stdnum("os; import os")', "no module"),
        ("__import__('os')", "no judgement “__import__”"),
        ("(lambda: 1)()", "is no judgement"),
        ("value.lower", "is no judgement"),
    ],
)
def test_a_judgement_that_cannot_be_read_says_why(expression: str, words: str) -> None:
    with pytest.raises(BadJudgement) as told:
        judgement(expression)
    assert words in str(told.value)


FILE = """
origin = "a test"
licence = "none"

[[rule]]
id = "reader-card"
kind = "reader"
validator = 'digits >= 4'
match = ['card «Q1234567»']
leave = ['card Q12']

  [[rule.shape]]
  pattern = '''
    (?i:\\bcard[ \\t]+
    )(Q[0-9]+)'''
"""


def test_a_pattern_may_go_over_lines_and_use_pieces() -> None:
    (rule,) = read_rules(FILE).rule
    (detector,) = rule.detectors()
    assert detector.pattern == rb"(?i:\bcard[ \t]+)(Q[0-9]+)"
    assert faults_of(rule) == []
    (shape,) = rule.shape
    piece = rule.model_copy(update={"shape": (shape.model_copy(update={"pattern": "({{ip}})"}),)})
    assert next(piece.detectors()).pattern == rb"((?:\d{1,3}\.){3}\d{1,3})"


@pytest.mark.parametrize(
    ("old", "new", "words"),
    [
        ("kind = ", "kind: ", "no TOML"),
        ("match = ['card «Q1234567»']", "", "match"),
        ("leave = ['card Q12']", "", "leave"),
        ("leave = ", "leaves = ", "leave"),
        ('id = "reader-card"', 'id = "Reader card"', "id"),
        ('licence = "none"', "licence = 1", "licence"),
    ],
)
def test_a_file_that_cannot_be_read_says_where(old: str, new: str, words: str) -> None:
    with pytest.raises(BadRule, match=words):
        read_rules(FILE.replace(old, new, 1))


@pytest.mark.parametrize(
    ("old", "new", "words"),
    [
        ('"reader"', '"colour"', "there is no kind “colour”"),
        ("'digits >= 4'", "'digit >= 4'", "is no number"),
        ("Q[0-9]+", "{{nothing}}", "there is no piece {{nothing}}"),
        ("(Q[0-9]+)", "Q[0-9]+", "the pattern has 0 groups"),
        ("(Q[0-9]+)", "(Q[0-9]+", "the pattern cannot be read"),
        ("Q12'", "Q12345'", "it finds “Q12345” in “card Q12345”, which it has to leave"),
        ("«Q1234567»", "«Q123456»7", "in “card «Q123456»7” it finds Q1234567"),
        ("«Q1234567»", "«7654321»", "it is found in none of the rule's examples"),
        ("validator = ", 'same = "colour"\nvalidator = ', "same is one of lower, digits"),
        ("  pattern", "  anchors = ['kart']\n  pattern", "none of its anchors is in"),
        ("  pattern", "  anchors = ['(']\n  pattern", "an anchor cannot be read"),
    ],
)
def test_a_rule_that_does_not_do_what_it_says_is_refused(old: str, new: str, words: str) -> None:
    (rule,) = read_rules(FILE.replace(old, new, 1)).rule
    assert words in " ".join(faults_of(rule))


def test_every_family_says_where_it_is_from() -> None:
    assert all(file.origin and file.licence for file in FAMILIES.values())
    assert isinstance(RULES[0], Rule)
