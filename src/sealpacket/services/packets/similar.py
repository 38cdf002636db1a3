"""Looking before asking: what is open on the same thing, what was solved before, and what we have written down."""

from __future__ import annotations

import re
import time
from collections.abc import Sequence
from datetime import UTC, date, datetime
from typing import Any

from pydantic import BaseModel, Field
from sqlalchemy import select, text
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, Invalid
from sealpacket.core.life import OPEN, Event, Life
from sealpacket.services.articles import find_article
from sealpacket.services.packets import workbench
from sealpacket.services.packets.acting import draft_act
from sealpacket.services.packets.naming import NamedAsset, named_in
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.services.register.kinds import KINDS
from sealpacket.store.models import Asset, Packet, Solution

_SHOWN, _LOOKED_AT = 6, 400
_SHARE = 0.02
"""Use the rarest words until they match this share of packets."""
_UNKNOWN_SHARE = 0.0005
_MOST_WORDS, _ALL_OF = 8, 3


class SimilarPacket(BaseModel):
    """A packet like the one that is being noted, and what solved it. `same` says what they have in common."""

    number: str
    title: str
    life: Life
    vendor: str | None
    asset: str | None
    noted_by: str
    created_at: datetime
    cause: str
    cure: str
    same: list[str]
    solved: int = Field(description="Number of drafts that it has made needless.")


class SimilarArticle(BaseModel):
    """An article that is about the same; `excerpt` is where."""

    key: str
    title: str
    written_on: date
    excerpt: str


class Similar(BaseModel):
    """Similar packets and articles. `open` are open packets on the same asset, whoever noted them."""

    open: list[SimilarPacket]
    solved: list[SimilarPacket]
    articles: list[SimilarArticle]
    named: list[NamedAsset] = Field(
        description="Assets that it may be about, while none is named, the surest first."
    )


def similar(
    app: AppContext, title: str, note: str = "", asset: str | None = None, number: str = ""
) -> Similar:
    """Find packets and articles similar to a note, or to the draft `number`."""
    with app.database.snapshot() as session:
        about = KINDS["asset"].find(session, asset) if asset else None
        own = ""
        if number:
            packet = workbench.find_packet(session, number)
            own, about = packet.id, packet.asset
            title, note = packet.title, packet.note
        words = f"{title} {note}"[:4000]
        found = _Search(session, words, about, own)
        return Similar(
            open=found.open(),
            solved=found.solved(),
            articles=found.articles(),
            named=[] if about is not None else named_in(session, words),
        )


class _Search:
    def __init__(self, session: Session, words: str, about: Asset | None, own: str) -> None:
        self._session, self._about, self._own = session, about, own
        self._codes = list(
            session.scalar(text("SELECT error_codes(:words, '{}'::jsonb)"), {"words": words}) or ()
        )
        lexemes = session.scalar(
            text("SELECT tsvector_to_array(to_tsvector('english', :words))"), {"words": words}
        )
        self._lexemes, one_will_do = _distinctive(session, lexemes or [])
        self._given: dict[str, Any] = {
            "query": (" | " if one_will_do else " & ").join(map(_quoted, self._lexemes)),
            "codes": self._codes,
            "own": own,
            "title": words[:200],
            "product": about.product_id if about else "",
            "models": [about.product.part_number] if about else [],
            "vendor": about.vendor.key if about else "",
        }

    def open(self) -> list[SimilarPacket]:
        """The open packets on the same thing, the newest first."""
        if self._about is None:
            return []
        query = (
            select(Packet)
            .where(Packet.asset_id == self._about.id, Packet.id != self._own)
            .where(Packet.life.in_((Life.DRAFTING, *OPEN)))
            .order_by(Packet.created_at.desc())
            .limit(_SHOWN)
        )
        return [_shown(one, ["thing"], 0) for one in self._session.scalars(query)]

    def solved(self) -> list[SimilarPacket]:
        """Packets that are over, the most alike first."""
        if not self._lexemes and not self._codes:
            return []
        rows = self._session.execute(text(_LIKE), self._given).all()
        packets = {
            one.id: one
            for one in self._session.scalars(
                select(Packet).where(Packet.id.in_([row.id for row in rows]))
            )
        }
        return [
            _shown(packets[row.id], _common(row), row.solved) for row in rows if row.id in packets
        ]

    def articles(self) -> list[SimilarArticle]:
        """Articles about the same."""
        if not self._lexemes and not self._codes:
            return []
        rows = self._session.execute(text(_ARTICLES), self._given).all()
        return [
            SimilarArticle(
                key=row.key,
                title=row.title,
                written_on=row.written_on,
                excerpt=_without_marks(row.excerpt),
            )
            for row in rows
        ]


_LIKE = f"""
    WITH near AS (
        SELECT p.id, p.title, p.asset_id, p.cure, p.codes, p.words, p.created_at
        FROM packet p
        WHERE (p.words @@ to_tsquery('simple', :query) OR p.codes && CAST(:codes AS text[]))
          AND p.life IN ('settled', 'answered', 'lodged') AND p.id <> :own
        ORDER BY (p.codes && CAST(:codes AS text[])) DESC, p.created_at DESC
        LIMIT {_LOOKED_AT}
    ), rated AS (
        SELECT n.id, n.created_at, a.product_id = :product AS product, n.codes && CAST(:codes AS text[]) AS code,
               ts_rank(n.words, to_tsquery('simple', :query)) * 4 + similarity(n.title, :title)
               + (a.product_id = :product)::int * 0.4 + (n.codes && CAST(:codes AS text[]))::int * 0.6
               + (n.cure <> '')::int * 0.2 AS worth
        FROM near n LEFT JOIN asset a ON a.id = n.asset_id
    )
    SELECT best.*, (SELECT count(*) FROM solution s WHERE s.by_packet_id = best.id) AS solved
    FROM (SELECT * FROM rated WHERE worth > 0.35 ORDER BY worth DESC, created_at DESC LIMIT {_SHOWN}) best
    ORDER BY worth DESC, created_at DESC
"""  # noqa: S608 - two numbers of ours
_ARTICLES = f"""
    SELECT key, title, written_on,
           ts_headline('english', text, to_tsquery('simple', :query),
                       'MaxWords=35, MinWords=20, StartSel="", StopSel=""') AS excerpt
    FROM article
    WHERE (words @@ to_tsquery('simple', :query) OR codes && CAST(:codes AS text[]))
      AND (vendor IN ('', :vendor) OR :vendor = '')
    ORDER BY (codes && CAST(:codes AS text[])) DESC, models ?| CAST(:models AS text[]) DESC,
             ts_rank(words, to_tsquery('simple', :query)) DESC, written_on DESC
    LIMIT {_SHOWN}
"""  # noqa: S608 - a number of ours


_LINKED = re.compile(r"!?\[([^\]]*)\]\([^)\s]*\)?")
_MARKS = re.compile(r"[`*]+|(?<!\S)(?:#{1,6}|>|[-+])(?=\s)")


def _without_marks(markdown: str) -> str:
    """A piece of Markdown as one line of words."""
    return " ".join(_MARKS.sub("", _LINKED.sub(r"\1", markdown)).split())


def _quoted(lexeme: str) -> str:
    """A lexeme as a query has it, whatever is in it."""
    return "'" + lexeme.replace("\\", "\\\\").replace("'", "''") + "'"


_SHARES: dict[str, tuple[float, dict[str, float]]] = {}
_KEPT_FOR = 600.0


_TELLS_NOTHING = re.compile(r"-?[\d.,:]{1,3}")
"""A number of up to three signs, such as an hour or a minute, is in texts about anything."""


def _distinctive(session: Session, lexemes: Sequence[str]) -> tuple[list[str], bool]:
    """The distinctive words, by the database's statistics; and whether one match is enough.

    Where even the rarest is frequent, a packet has to have all of the few rarest.
    """
    address = str(session.get_bind())
    kept = _SHARES.get(address)
    if kept is None or time.monotonic() - kept[0] > _KEPT_FOR:
        row = session.execute(
            text(
                "SELECT CAST(most_common_elems AS text)::text[], most_common_elem_freqs FROM pg_stats "
                "WHERE schemaname = current_schema() AND tablename = 'packet' AND attname = 'words'"
            )
        ).one_or_none()
        known = dict(zip(row[0], row[1], strict=False)) if row and row[0] else {}
        kept = _SHARES[address] = (time.monotonic(), known)
    told = [one for one in lexemes if len(one) > 1 and not _TELLS_NOTHING.fullmatch(one)]
    rated = sorted((kept[1].get(one, _UNKNOWN_SHARE), one) for one in told)
    if rated and rated[0][0] > _SHARE:
        return [one for _, one in rated[:_ALL_OF]], False
    taken: list[str] = []
    share = 0.0
    for part, one in rated[:_MOST_WORDS]:
        share += part
        if share > _SHARE:
            break
        taken.append(one)
    return taken, True


def _common(row: Any) -> list[str]:
    return [
        word for word, holds in (("model", row.product), ("error code", row.code)) if holds
    ] or ["words"]


def _shown(packet: Packet, same: list[str], solved: int) -> SimilarPacket:
    asset = packet.asset
    return SimilarPacket(
        number=packet.number,
        title=packet.title,
        life=packet.life,
        vendor=asset.vendor.name if asset else None,
        asset=(asset.name or asset.serial) if asset else None,
        noted_by=packet.noted_by,
        created_at=packet.created_at,
        cause=packet.cause,
        cure=packet.cure,
        same=same,
        solved=solved,
    )


def end_as_solved(
    app: AppContext, actor: Actor, number: str, *, packet: str = "", article: str = ""
) -> PacketShown:
    """This solved it: end a draft with a link to the packet or the article that made it needless; it is counted.
    Raises Invalid unless one of them is named, Conflict for the draft itself."""
    if bool(packet) == bool(article):
        raise Invalid(
            "Say what solved it: a packet or an article.", "Name one of them.", field="packet"
        )
    with draft_act(app, actor, "packet solved by what was known", number) as act:
        draft = act.packet
        solution = Solution(packet_id=draft.id, by=actor.name, at=datetime.now(UTC))
        if packet:
            other = workbench.find_packet(act.session, packet)
            if other.id == draft.id:
                raise Conflict(
                    "A packet does not solve itself.", "Name another one.", code="itself"
                )
            solution.by_packet_id = other.id
            draft.cause, draft.cure = other.cause, other.cure or f"As {other.number}."
        else:
            found = find_article(act.session, article)
            solution.article, draft.cure = found.key, f"As in the article “{found.title}”."
        act.detail = {"packet": packet, "article": article}
        draft.advance(Event.SOLVE)
        act.session.add(solution)
    return act.shown
