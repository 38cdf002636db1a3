"""Ask-backs are learnt: the same question in other words counts once, and a year of packets is foreseen."""

from __future__ import annotations

import random
from datetime import timedelta

from sealpacket.core.asking_back import FEWEST, MOST, Like, foreseen, ident_of, same, words_of
from tests.some import SEED

DAY = timedelta(days=1)
FIRMWARE = (
    "Which firmware do both controllers run?",
    "Please tell us the firmware of both controllers.",
    "What firmware are the controllers on, both of them?",
)


def test_the_same_question_in_other_words_is_one() -> None:
    for text in FIRMWARE:
        assert same(words_of(FIRMWARE[0]), words_of(text)), text
    assert not same(words_of(FIRMWARE[0]), words_of("Which host loses its path?"))
    assert not same(words_of("1, 2?"), words_of("3?"))
    assert ident_of("Which firmware runs on controllers?") == ident_of(
        "On controllers, which firmware runs?"
    )


def test_what_was_asked_of_like_packets_is_foreseen() -> None:
    past = [
        *(Like("tn9", "restart", ((text, DAY),)) for text in FIRMWARE),
        Like("tn9", "restart"),
        Like("tn9", "restart"),
        *(Like("tn4", "latency", (("Which host is slow?", DAY),)) for _ in range(9)),
    ]
    (one,) = foreseen(past, "tn9", "restart")
    assert (one.asked_in, one.like, one.cost, one.because) == (
        3,
        5,
        DAY,
        "of this product and category",
    )
    assert one.text == FIRMWARE[0]
    told = "Both controllers have firmware 7.4.2."
    assert foreseen(past, "tn9", "restart", [told]) == []
    (other,) = foreseen(past, "tn7", "offline")
    assert (other.text, other.because) == ("Which host is slow?", "at this desk")


def test_little_is_not_enough() -> None:
    few = [Like("tn9", "restart", ((FIRMWARE[0], DAY),))] * (FEWEST - 1)
    assert foreseen(few, "tn9", "restart") == []
    rare = [*few[:1], *[Like("tn9", "restart")] * 20]
    assert foreseen(rare, "tn9", "restart") == []
    assert foreseen([], "", "") == []


def question(kind: str, chance: random.Random) -> str:
    """A question of a kind, in one of the ways in which people put it."""
    put = chance.choice(
        (
            "Which {0} does it have?",
            "Please send us the {0}.",
            "What is the {0}?",
            "Could you tell the {0}?",
        )
    )
    return put.format(kind)


KINDS = (
    "controller firmware", "multipath policy", "host adapter model", "cable length", "airflow temperature",
    "replica schedule", "snapshot retention", "license edition", "driver build", "rack position",
    "power feed", "switch zoning", "queue depth", "block size", "upgrade date", "backup window",
)  # fmt: skip


def test_a_year_of_packets_is_mostly_foreseen() -> None:
    """1,000 packets of a simulated year: the desk's habits hang on product and category, with chance added."""
    chance = random.Random(SEED)
    habits = {
        (product, category): chance.sample(KINDS, chance.choice((0, 1, 1, 2)))
        for product in ("tn4", "tn7", "tn9")
        for category in ("restart", "latency", "offline", "capacity", "path")
    }
    past: list[Like] = []
    asked = hit = needless = 0
    worst = 0
    for _ in range(1000):
        product, category = chance.choice(list(habits))
        kinds = [one for one in habits[product, category] if chance.random() < 0.75]
        if chance.random() < 0.1:
            kinds.append(chance.choice(KINDS))
        kinds = list(dict.fromkeys(kinds))
        offered = [words_of(one.text) for one in foreseen(past, product, category)]
        really = [question(one, chance) for one in kinds]
        asked += len(really)
        hit += sum(any(same(words, words_of(text)) for words in offered) for text in really)
        spare = sum(not any(same(words, words_of(text)) for text in really) for words in offered)
        needless, worst = needless + spare, max(worst, spare)
        past.append(Like(product, category, tuple((text, DAY) for text in really)))
    assert hit / asked > 0.6, (hit, asked)
    assert worst <= 2, worst
    assert needless / 1000 < 0.7, needless
    assert MOST >= 2
