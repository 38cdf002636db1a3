"""Earlier answers for the same model, and its known versions: suggested beside the question, never filled in."""

from __future__ import annotations

import re
from collections.abc import Sequence

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from sealpacket.core.life import AT_DESK, Life
from sealpacket.core.sheets import Answer, Sheet
from sealpacket.store.database import remembered
from sealpacket.store.models import Asset, DeskSheet, Packet, Release
from sealpacket.store.register_cache import of_register

_LOOKED_AT = 40
_MOST, _MOST_VERSIONS = 2, 6
_SMALL = frozenset({
    "the", "and", "not", "does", "for", "with", "since", "after", "was", "has", "have", "this", "that", "from", "but",
    "are", "its", "into", "when", "all", "out", "again", "nothing", "before", "morning", "today",
})  # fmt: skip


def suggestions(
    session: Session, packet: Packet, sheet: Sheet, answers: Sequence[Answer]
) -> dict[str, list[dict[str, str]]]:
    """By question, answers of earlier packets about the same model, or the versions of its product."""
    return _of_trees(session, packet, sheet, answers) | _versions(session, packet, sheet, answers)


def _versions(
    session: Session, packet: Packet, sheet: Sheet, answers: Sequence[Answer]
) -> dict[str, list[dict[str, str]]]:
    """By question for a version, the versions of the product: those released, newest first, then those in use."""
    asked = {a.question: a.value for a in answers if a.shown}
    open_ones = [q for q in sheet.questions if q.form == "version" and q.id in asked]
    if not open_ones or packet.asset is None:
        return {}
    product = packet.asset.product_id
    query = select(Release.number, Release.status).where(Release.product_id == product)
    found = {
        number: f"{status} version"
        for number, status in session.execute(
            query.order_by(Release.released_on.desc().nulls_last(), Release.number.desc())
        )
    }
    in_use = of_register(session, ("versions", product), lambda: _in_use(session, product))
    for number, many in in_use:
        found.setdefault(number, f"runs on {many}")
    return {
        q.id: [
            {"value": number, "label": number, "why": why}
            for number, why in found.items()
            if number != asked[q.id]
        ][:_MOST_VERSIONS]
        for q in open_ones
    }


def _in_use(session: Session, product: str) -> list[tuple[str, int]]:
    """The versions that assets of a product run, and how many run each."""
    query = select(Asset.software_version, func.count()).where(
        Asset.product_id == product, Asset.software_version != ""
    )
    return [
        (number, many) for number, many in session.execute(query.group_by(Asset.software_version))
    ]


def _of_trees(
    session: Session, packet: Packet, sheet: Sheet, answers: Sequence[Answer]
) -> dict[str, list[dict[str, str]]]:
    trees = [q for q in sheet.questions if q.form == "tree"]
    open_trees = [q for q in trees if any(a.question == q.id and a.shown for a in answers)]
    if not open_trees or packet.asset is None:
        return {}
    earlier = remembered(session, ("earlier", packet.id), lambda: _earlier(session, packet))
    words = _words(f"{packet.title} {packet.note}")
    ranked = sorted(earlier, key=lambda one: (-len(words & _words(one[1])), -one[3]))
    found: dict[str, list[dict[str, str]]] = {}
    for question in open_trees:
        offered = {path for path, _ in question.leaves()}
        seen: dict[str, dict[str, str]] = {}
        for number, text, given, _ in ranked:
            value = given.get(question.id)
            if value in offered and value not in seen:
                like = words & _words(text)
                why = f"as in {number}, same model" + (
                    f": {', '.join(sorted(like)[:3])}" if like else ""
                )
                seen[value] = {
                    "value": value,
                    "label": " › ".join(question.labels(value)),
                    "why": why,
                }
        found[question.id] = list(seen.values())[:_MOST]
    return found


def _earlier(session: Session, packet: Packet) -> list[tuple[str, str, dict[str, str], float]]:
    """Number, words, answers and time of the last packets about the same model at the same desk."""
    if packet.asset is None or packet.sheet is None:
        return []
    query = (
        select(Packet.number, Packet.title, Packet.note, Packet.answers, Packet.created_at)
        .join(Packet.asset)
        .join(Packet.sheet)
        .where(
            Asset.product_id == packet.asset.product_id,
            DeskSheet.desk_id == packet.sheet.desk_id,
            Packet.id != packet.id,
            Packet.life.in_((Life.SEALED, *AT_DESK)),
        )
        .order_by(Packet.created_at.desc())
        .limit(_LOOKED_AT)
    )
    return [
        (number, f"{title} {note}", given or {}, at.timestamp())
        for number, title, note, given, at in session.execute(query)
    ]


def _words(text: str) -> frozenset[str]:
    return frozenset(word for word in re.findall(r"[a-z]{3,}", text.lower()) if word not in _SMALL)
