"""Looking before asking: what is open on the same thing, what was solved before, what is written down."""

from __future__ import annotations

import pytest

from sealpacket.app.context import AppContext
from sealpacket.client import Refused, SealPacket
from sealpacket.store.models import Packet

ARRAY, OTHER = "TN9-44120-A", "TN9-44121-B"


@pytest.fixture
def solved(inside: AppContext, marit: SealPacket) -> str:
    """A packet that is over, with what cured it."""
    noted = marit.packets.note(
        "Mirror link retrains on the array",
        "Writes wait; the log says E-3312 many times.",
        asset=OTHER,
    )
    with inside.database.transaction() as session:
        packet = session.query(Packet).where(Packet.number == noted.number).one()
        packet.bag_blob, packet.life = "none", "settled"
        packet.cause, packet.cure = "A firmware fault", "Link speed set to 16."
    return noted.number


def test_what_is_open_on_the_same_thing_comes_first(marit: SealPacket, teo: SealPacket) -> None:
    other = teo.packets.note("Array is slow", "Catalogue waits.", asset=ARRAY)
    found = marit.packets.similar("Volumes are slow", asset=ARRAY)
    assert found.open[0].number == other.number
    assert found.open[0].noted_by == "teo"
    own = marit.packets.similar(number=other.number)
    assert other.number not in {one.number for one in own.open}


def test_what_solved_a_packet_like_it_is_shown(marit: SealPacket, solved: str) -> None:
    found = marit.packets.similar("Writes wait for the mirror", "E3312 in the log", asset=ARRAY)
    hit = next(one for one in found.solved if one.number == solved)
    assert (hit.cure, hit.same) == ("Link speed set to 16.", ["model", "error code"])
    nothing = marit.packets.similar("The lift stops a hand above the floor")
    assert solved not in {one.number for one in nothing.solved}


def test_an_article_is_found_and_ends_a_draft(marit: SealPacket) -> None:
    marit.articles.put(
        "mirror-link", title="Mirror link retrains", vendor="tarnfell", models=["TN9"],
        text="# Mirror link retrains\n\nIf the log has E-3312, set the link speed of both controllers to 16.",
    )  # fmt: skip
    draft = marit.packets.note("Mirror link trains again and again", "E-3312", asset=ARRAY)
    found = marit.packets.similar(number=draft.number)
    assert [one.key for one in found.articles] == ["mirror-link"]
    assert "link speed" in found.articles[0].excerpt
    assert "#" not in found.articles[0].excerpt, "it is shown as words"
    ended = marit.packets.end_as_solved(draft.number, article="mirror-link")
    assert (ended.life, ended.cure) == ("withdrawn", "As in the article “Mirror link retrains”.")
    assert {one.key: one.solved for one in marit.articles.list()}["mirror-link"] == 1
    with pytest.raises(Refused) as caught:
        marit.articles.remove("mirror-link")
    assert caught.value.code == "in-use"


def test_this_solved_it_links_and_counts(marit: SealPacket, solved: str) -> None:
    draft = marit.packets.note("Mirror link retrains again", "E-3312", asset=ARRAY)
    ended = marit.packets.end_as_solved(draft.number, packet=solved)
    assert (ended.life, ended.cause, ended.cure) == (
        "withdrawn", "A firmware fault", "Link speed set to 16.",
    )  # fmt: skip
    found = marit.packets.similar("Mirror link retrains", "E-3312", asset=ARRAY)
    assert next(one for one in found.solved if one.number == solved).solved == 1
    with pytest.raises(Refused) as caught:
        marit.packets.end_as_solved(draft.number, packet=solved)
    assert caught.value.code == "not-drafting"


def test_an_hour_finds_no_article(marit: SealPacket) -> None:
    marit.articles.put(
        "sixteen", title="Sixteen ports", text="A stack of 16 members counts from 00 to 15."
    )
    try:
        assert "sixteen" not in [
            one.key for one in marit.packets.similar("Dark since 16:00").articles
        ]
        assert "sixteen" in [one.key for one in marit.packets.similar("A member is dark").articles]
    finally:
        marit.articles.remove("sixteen")


@pytest.mark.parametrize("given", [{}, {"packet": "P-0001", "article": "a"}, {"article": "none"}])
def test_what_solved_it_is_one_thing_that_there_is(
    marit: SealPacket, given: dict[str, str]
) -> None:
    draft = marit.packets.note("Something else", "Words.", asset=ARRAY)
    with pytest.raises(Refused):
        marit.packets.end_as_solved(draft.number, **given)
    assert marit.packets.get(draft.number).life == "drafting"


@pytest.mark.parametrize(
    "words", ["", "'; DROP TABLE exhibit_of; --", "a | b & !c : * '", "the of and"]
)
def test_any_words_can_be_looked_for(marit: SealPacket, words: str) -> None:
    assert marit.packets.similar(words, words).articles == []
