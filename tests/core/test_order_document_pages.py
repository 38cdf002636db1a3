"""Pages as text with places: words into lines, lines into cells, boxes on turned pages."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from sealpacket.core.order_documents import DocumentFault, Page, Word, open_document
from sealpacket.core.order_documents.page import CELL_BREAK, lines_of, turned

parts = st.floats(0, 1, allow_nan=False)


def word(text: str, left: float, top: float, height: float = 10) -> Word:
    return Word(text, left, top, left + 6 * len(text), top + height)


def test_words_become_lines_from_above_and_from_the_left() -> None:
    lines = lines_of([word("two", 60, 30), word("one", 20, 10), word("first", 20, 30)], 0.9)
    assert [line.text for line in lines] == ["one", f"first{CELL_BREAK}two"]


def test_more_room_than_between_words_parts_cells() -> None:
    near, far = [word("a", 0, 0), word("b", 10, 0)], [word("a", 0, 0), word("b", 30, 0)]
    assert [lines_of(words, 0.9)[0].text for words in (near, far)] == ["a b", "a  b"]


def test_words_of_two_sizes_on_one_line_stand_in_it_together() -> None:
    [line] = lines_of(
        [word("Total", 0, 10, 14), word("£", 60, 13, 8), word("412", 70, 12, 10)], 0.9
    )
    assert line.text.split() == ["Total", "£", "412"]


def test_a_part_of_a_line_finds_its_words() -> None:
    [line] = lines_of([word("Contract", 0, 0), word("number", 52, 0), word("T-2210", 120, 0)], 0.9)
    start = line.text.index("T-2210")
    assert [found.text for found in line.within(start, start + 6)] == ["T-2210"]
    assert [found.text for found in line.within(0, start)] == ["Contract", "number"]
    assert line.within(start + 6, start + 9) == []


def test_a_place_is_in_parts_of_the_page_as_it_is_shown() -> None:
    page = Page(0, "picture", 200, 100, (), turn=90)
    place = page.place([Word("x", 20, 10, 40, 20)])
    assert (place.left, place.top, place.right, place.bottom) == (0.8, 0.1, 0.9, 0.2)


def test_a_word_that_sticks_out_is_cut_at_the_edge() -> None:
    place = Page(3, "picture", 100, 100, ()).place([Word("x", -5, 90, 50, 130)])
    assert (place.page, place.left, place.bottom) == (3, 0.0, 1.0)


@given(parts, parts, parts, parts, st.sampled_from([0, 90, 180, 270]))
def test_a_turn_and_its_way_back_are_nothing(
    one: float, two: float, three: float, four: float, turn: int
) -> None:
    box = min(one, two), min(three, four), max(one, two), max(three, four)
    there = turned(turn, *box)
    assert there[0] <= there[2] and there[1] <= there[3]
    assert turned(360 - turn, *there) == pytest.approx(box)


@given(
    st.lists(
        st.tuples(
            st.text("abcxyz019", min_size=1, max_size=6), st.integers(0, 500), st.integers(0, 500)
        ),
        max_size=30,
    )
)
def test_no_word_is_lost_and_each_stands_where_its_line_says(
    rows: list[tuple[str, int, int]],
) -> None:
    lines = lines_of([word(text, left, top) for text, left, top in rows], 0.9)
    assert sorted(found.text for line in lines for found in line.words) == sorted(
        text for text, _, _ in rows
    )
    for line in lines:
        for found, start in zip(line.words, line.starts, strict=True):
            assert line.text[start : start + len(found.text)] == found.text
        assert [found.left for found in line.words] == sorted(found.left for found in line.words)


def mail(body: str, *more: str) -> bytes:
    return ("\n".join(("From: a@b.example", "Subject: Order", *more)) + f"\n\n{body}").encode()


@pytest.mark.parametrize(
    ("raw", "text"),
    [
        (mail("Größe: 3", "Content-Type: text/plain; charset=utf-8"), "Größe: 3"),
        (mail("Gr=F6=DFe", "Content-Type: text/plain; charset=iso-8859-1", "Content-Transfer-Encoding: quoted-printable"), "Größe"),
        (mail("R3LDtsOfZQ==", "Content-Type: text/plain; charset=utf-8", "Content-Transfer-Encoding: base64"), "Größe"),
        (mail("plain", "Content-Type: text/plain; charset=no-such-thing"), "plain"),
        (mail("<p>A &amp; B</p><script>bad()</script><ul><li>C</li></ul>", "Content-Type: text/html"), "A & B\nC"),
        (mail("one\ttwo\n  | three | four |"), "one  two\nthree  four"),
    ],
)  # fmt: skip
def test_mails_are_read_in_any_coat(raw: bytes, text: str) -> None:
    lines = [line.text for line in open_document(raw).pages[0].lines]
    assert [line for line in lines[2:] if line] == text.split("\n")


def test_a_mail_of_too_many_parts_is_not_walked_through() -> None:
    head = b'From: a@b.example\nSubject: x\nMIME-Version: 1.0\nContent-Type: multipart/mixed; boundary="x"\n\n'
    with pytest.raises(DocumentFault, match="too many parts"):
        open_document(head + b"--x\nContent-Type: text/plain\n\nhello\n" * 200 + b"--x--\n")


def test_a_very_long_mail_is_read_as_far_as_it_matters() -> None:
    page = open_document(mail("\n".join("word " * 200 for _ in range(5000)))).pages[0]
    assert (len(page.lines), page.width) == (2000, 400)
