"""Feeds of news: Atom (RFC 4287) and RSS 2.0 are read, Atom is written."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from datetime import UTC, datetime
from email.utils import parsedate_to_datetime
from html import unescape
from typing import NamedTuple

from lxml import etree

from sealpacket.core.controls import without_controls
from sealpacket.core.errors import Invalid

MOST_ENTRIES = 500
"""Entries of a feed that are read."""
LONGEST = {"title": 300, "summary": 2000, "link": 1000, "ident": 1000}
"""Characters that are kept of each."""
_ATOM = "http://www.w3.org/2005/Atom"
_A = f"{{{_ATOM}}}"


class Entry(NamedTuple):
    """An entry of a feed, as plain text; `ident` tells it from the others of the feed."""

    ident: str
    title: str
    summary: str
    link: str
    published_at: datetime | None
    categories: tuple[str, ...] = ()


def read_feed(data: bytes) -> list[Entry]:
    """The entries of a feed, in its order, at most MOST_ENTRIES. Raises Invalid for what is no feed."""
    parser = etree.XMLParser(
        resolve_entities=False, no_network=True, huge_tree=False, load_dtd=False, recover=False
    )
    try:
        root = etree.fromstring(data, parser)
    except (etree.XMLSyntaxError, ValueError) as error:
        raise _no_feed() from error
    if root.getroottree().docinfo.doctype:
        raise _no_feed()
    if root.tag == f"{_A}feed":
        found = _atom(root)
    elif root.tag == "rss":
        found = _rss(root)
    else:
        raise _no_feed()
    entries = (one for one in found if one.ident and one.title)
    return [one for one, _ in zip(entries, range(MOST_ENTRIES), strict=False)]


def _no_feed() -> Invalid:
    return Invalid("It is no feed in Atom or RSS.", "Check its address.", code="no-feed")


def _atom(root: etree._Element) -> Iterator[Entry]:
    for one in root.iterfind(f"{_A}entry"):
        links = [
            link.get("href", "")
            for link in one.iterfind(f"{_A}link")
            if link.get("rel", "alternate") == "alternate"
        ]
        when = one.findtext(f"{_A}updated") or one.findtext(f"{_A}published") or ""
        yield _entry(
            ident=one.findtext(f"{_A}id") or "",
            title=_words(one.find(f"{_A}title")),
            summary=_words(one.find(f"{_A}summary")) or _words(one.find(f"{_A}content")),
            link=next(iter(links), ""),
            published_at=moment_of(when),
            categories=tuple(x.get("term", "") for x in one.iterfind(f"{_A}category")),
        )


def _rss(root: etree._Element) -> Iterator[Entry]:
    for one in root.iterfind("channel/item"):
        link = one.findtext("link") or ""
        yield _entry(
            ident=one.findtext("guid") or link,
            title=_words(one.find("title")),
            summary=_words(one.find("description")),
            link=link,
            published_at=_mail_moment(one.findtext("pubDate") or ""),
            categories=tuple(_words(x) for x in one.iterfind("category")),
        )


def _entry(*, published_at: datetime | None, categories: tuple[str, ...], **texts: str) -> Entry:
    short = {name: without_controls(text.strip()[: LONGEST[name]]) for name, text in texts.items()}
    if not is_web_address(short["link"]):
        short["link"] = ""
    return Entry(
        published_at=published_at, categories=tuple(map(without_controls, categories[:20])), **short
    )


def is_web_address(text: str) -> bool:
    """Whether a text is the address of a web page."""
    return re.match(r"https?://[^\s/]+", text) is not None


def _words(element: etree._Element | None) -> str:
    """The text of an element without markup, also where that is escaped (RFC 4287, 3.1.1.2)."""
    if element is None:
        return ""
    said = "".join(str(one) for one in element.itertext())
    return " ".join(unescape(re.sub(r"<[^<>]{0,2000}>", " ", said)).split())


def moment_of(text: str) -> datetime | None:
    """A moment as in ISO 8601, in UTC also where it names no zone; None for any other text."""
    try:
        return _in_utc(datetime.fromisoformat(text.strip()))
    except (ValueError, OverflowError):
        return None


def _mail_moment(text: str) -> datetime | None:
    try:
        return _in_utc(parsedate_to_datetime(text.strip()))
    except (ValueError, TypeError, OverflowError):
        return None


def _in_utc(moment: datetime) -> datetime:
    return moment.replace(tzinfo=moment.tzinfo or UTC).astimezone(UTC)


def write_feed(title: str, ident: str, updated: datetime, entries: Iterable[Entry]) -> bytes:
    """A feed in Atom. Without a moment of its own an entry has that of the feed."""
    root = etree.Element(f"{_A}feed", nsmap={None: _ATOM})

    def add(parent: etree._Element, tag: str, text: str = "", **attributes: str) -> etree._Element:
        made = etree.SubElement(parent, f"{_A}{tag}", attributes)
        made.text = text or None
        return made

    add(root, "title", title)
    add(root, "id", ident)
    add(root, "updated", updated.isoformat())
    add(add(root, "author"), "name", "Seal Packet")
    for one in entries:
        entry = add(root, "entry")
        add(entry, "title", one.title)
        add(entry, "id", one.ident)
        add(entry, "updated", (one.published_at or updated).isoformat())
        if one.link:
            add(entry, "link", rel="alternate", href=one.link)
        if one.summary:
            add(entry, "summary", one.summary)
    return etree.tostring(root, xml_declaration=True, encoding="UTF-8")
