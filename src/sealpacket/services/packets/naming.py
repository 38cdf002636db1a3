"""Assets that a note names by serial, host name or model, or by kind and place."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

from pydantic import BaseModel
from sqlalchemy import or_, select
from sqlalchemy.orm import Session

from sealpacket.services.packets.briefs import show_asset
from sealpacket.services.packets.schemas import AssetBrief
from sealpacket.store.models import Asset, Person, Site

_SHOWN, _LOOKED_AT, _MOST_TOKENS = 4, 200, 12
_CODE = re.compile(r"[0-9A-Za-z][0-9A-Za-z_./:-]{2,60}")
_WORD = re.compile(r"[^\W\d_]{4,}")
_ANY_WORD = re.compile(r"[^\W_]+")
_SERIAL, _HOST, _MODEL, _PLACE, _WHO, _KIND = 12, 10, 6, 4, 3, 3
"""Weights of a named serial, host name, model, site, person or kind of asset."""
_ENOUGH = 6
"""Minimum score of an asset if others could be meant."""
_SMALL = frozenset({
    "this", "that", "with", "from", "have", "been", "were", "does", "what", "when", "where", "since", "again", "after",
    "before", "there", "their", "then", "than", "only", "still", "every", "nothing", "anything", "because", "today",
    "yesterday", "morning", "evening", "night", "slow", "fails", "failed", "broken", "error", "branch", "library",
    "libraries", "county",
})  # fmt: skip


class NamedAsset(BaseModel):
    """A thing that a note may be about, and the words of the note by which."""

    asset: AssetBrief
    because: list[str]


@dataclass
class _Candidate:
    asset: Asset
    score: int = 0
    because: list[str] = field(default_factory=list)

    def count(self, score: int, words: str) -> None:
        if words.lower() not in map(str.lower, self.because):
            self.score += score
            self.because.append(words)


def named_in(session: Session, words: str) -> list[NamedAsset]:
    """The things that a note names, the surest first; none where its words fit too many."""
    found: dict[str, _Candidate] = {}
    codes = _codes(words)
    for asset in _with_codes(session, codes):
        one = found.setdefault(asset.id, _Candidate(asset))
        _count_codes(one, codes)
    sites = _sites(session, words)
    kinds = _kinds(words, sites)
    for asset in _by_kind(session, kinds, sites):
        one = found.setdefault(asset.id, _Candidate(asset))
        for word in kinds:
            if _is_kind(asset, word):
                one.count(_KIND, word)
    for one in found.values():
        for site, called, score in sites:
            if one.asset.site_id == site:
                one.count(score, called)
    return _surest([one for one in found.values() if one.because])


def _surest(found: Sequence[_Candidate]) -> list[NamedAsset]:
    ranked = sorted(found, key=lambda one: (-one.score, one.asset.serial))
    few = len(ranked) <= _SHOWN
    kept = [one for one in ranked if one.score >= _ENOUGH or (few and one.score >= _KIND)]
    best = [one for one in kept if one.score == kept[0].score] if kept else []
    shown = kept if len(best) <= _SHOWN else []
    return [NamedAsset(asset=show_asset(one.asset), because=one.because) for one in shown[:_SHOWN]]


def _codes(words: str) -> list[str]:
    """Words that may be a serial, host name, address or part number: they hold a digit or dots."""
    found = [code.strip(".:/-").lower() for code in _CODE.findall(words)]
    codes = [code for code in found if len(code) > 2 and any(map(str.isdigit, code))]
    return list(dict.fromkeys(codes))[:_MOST_TOKENS]


def _with_codes(session: Session, codes: Sequence[str]) -> Iterator[Asset]:
    for code in codes:
        near = Asset.search_text.contains(code, autoescape=True)
        yield from session.scalars(select(Asset).where(near, ~Asset.made_up).limit(_LOOKED_AT))


def _count_codes(one: _Candidate, codes: Sequence[str]) -> None:
    asset = one.asset
    hosts = {name.lower() for name in (*asset.host_names, *asset.addresses)}
    hosts |= {name.split(".", 1)[0] for name in hosts if not name.replace(".", "").isdigit()}
    for code in codes:
        if code == asset.serial.lower():
            one.count(_SERIAL, asset.serial)
        elif code in hosts or code.split(":", 1)[0] in hosts:
            one.count(_HOST, code)
        elif code == asset.product.part_number.lower():
            one.count(_MODEL, asset.product.part_number)


def _sites(session: Session, words: str) -> list[tuple[str, str, int]]:
    """Sites that are named, or whose person is: id, what was said, and what it counts."""
    text = f" {' '.join(_ANY_WORD.findall(words.lower()))} "
    found: list[tuple[str, str, int]] = []
    for ident, key, name in session.execute(select(Site.id, Site.key, Site.name)):
        for called in dict.fromkeys((name.lower(), key.replace("-", " "))):
            plain = " ".join(_ANY_WORD.findall(called))
            if plain and f" {plain} " in text:
                found.append((ident, name, _PLACE))
                break
    people = select(Site.id, Person.name).join(Person, Site.contact_id == Person.id)
    for ident, name in session.execute(people):
        last = name.lower().split()[-1] if name.split() else ""
        if f" {name.lower()} " in text or (len(last) > 3 and f" {last} " in text):
            found.append((ident, name, _WHO))
    return found


def _kinds(words: str, sites: Sequence[tuple[str, str, int]]) -> list[str]:
    """Words that may say what kind of thing it is."""
    of_sites = {word for _, called, _ in sites for word in called.lower().split()}
    found = (word.lower() for word in _WORD.findall(words))
    kinds = (word for word in found if word not in _SMALL and word not in of_sites)
    return list(dict.fromkeys(kinds))[:_MOST_TOKENS]


def _by_kind(
    session: Session, kinds: Sequence[str], sites: Sequence[tuple[str, str, int]]
) -> Iterator[Asset]:
    """Things of the kinds that are named, at the sites that are named, if any is."""
    if not kinds:
        return iter(())
    stems = [Asset.search_text.contains(_stem(word), autoescape=True) for word in kinds]
    query = select(Asset).where(or_(*stems), ~Asset.made_up)
    query = query.where(Asset.status != "retired")
    if sites:
        query = query.where(Asset.site_id.in_([ident for ident, _, _ in sites]))
    return iter(session.scalars(query.limit(_LOOKED_AT)))


def _is_kind(asset: Asset, word: str) -> bool:
    stem = _stem(word)
    return any(
        part.startswith(stem) for part in f"{asset.name} {asset.product.name}".lower().split()
    )


def _stem(word: str) -> str:
    """A word without its plural."""
    return word.removesuffix("s") if len(word) > 4 else word


__all__ = ["NamedAsset", "named_in"]
