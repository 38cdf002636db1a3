"""What vendors want in their own words: 300 messages as they are really written, half of them set aside."""

from __future__ import annotations

from pathlib import Path

import pytest

from sealpacket.core.wants import sentences, wants_in, without_history

FOLDER = Path(__file__).parent / "vendor_words"
LANGUAGES = ("en", "de", "fr", "es", "nl")


def messages(language: str, *, aside: bool) -> list[tuple[bool, str]]:
    """Whether each asks, and its words. Rules were made with every second pair; the other pairs were set aside."""
    lines = (FOLDER / f"{language}.txt").read_text("utf-8").splitlines()
    found = []
    for place, line in enumerate(lines):
        label, _, text = line.partition("\t")
        if (place // 2 % 2 == 1) is aside:
            found.append((label == "ask", text.replace("\\n", "\n")))
    return found


@pytest.mark.parametrize("aside", [False, True], ids=["known", "set aside"])
@pytest.mark.parametrize("language", LANGUAGES)
def test_no_question_is_missed(language: str, aside: bool) -> None:
    missed = [text for asks, text in messages(language, aside=aside) if asks and not wants_in(text)]
    assert missed == []


@pytest.mark.parametrize("aside", [False, True], ids=["known", "set aside"])
def test_few_others_are_taken_for_questions(aside: bool) -> None:
    others = [text for one in LANGUAGES for asks, text in messages(one, aside=aside) if not asks]
    taken = [text for text in others if wants_in(text)]
    assert len(taken) <= len(others) / 10, taken


@pytest.mark.parametrize(
    ("text", "wanted"),
    [
        (
            "Hello,\n1. Which firmware?\n2) Please send the log.\n- Since when?\n\nRegards",
            ["Which firmware?", "Please send the log.", "Since when?"],
        ),
        ("It is done.\n\n> Could you send us the log?\n> Thanks", []),
        ("It is done.\nOn 3 Nov 2026, Teo wrote:\nCould you send the log?", []),
        ("It is done.\n-- \nAny questions? Call the hotline!", []),
        ("The release is no. 7.4. Could you install it?", ["Could you install it?"]),
        ("We can come between 9 and 11. Is somebody there?", ["Is somebody there?"]),
        ("We ring at 8. Can you open the door?", ["Can you open the door?"]),
        ("Können Sie am 3. Dezember öffnen?", ["Können Sie am 3. Dezember öffnen?"]),
        ("", []),
    ],
)  # fmt: skip
def test_what_is_read_of_a_message(text: str, wanted: list[str]) -> None:
    assert [one.text for one in wants_in(text)] == wanted


def test_a_language_that_is_not_known_is_doubtful_as_a_whole() -> None:
    (one,) = wants_in("Proszę przesłać dziennik zdarzeń obu kontrolerów do jutra rana.")
    assert (one.doubtful, one.text.startswith("Proszę")) == (True, True)


def test_what_is_certain_hides_what_is_only_likely() -> None:
    found = wants_in("Please restart it whenever you can. Which firmware does it run?")
    assert [(one.text, one.doubtful) for one in found] == [("Which firmware does it run?", False)]


def test_a_hostile_text_takes_no_time() -> None:
    for text in ("please " * 5000, "?" * 20_000, "> " * 9000, "a. " * 6000, "\n" * 20_000):
        wants_in(text)
        list(sentences(without_history(text)))
