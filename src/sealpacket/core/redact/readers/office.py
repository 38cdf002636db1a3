"""Office documents (ISO/IEC 29500): text however it is cut into runs, comments, changes, what is embedded."""

from __future__ import annotations

import zipfile
from collections.abc import Iterator
from typing import IO, Any

from lxml import etree

from sealpacket.core.redact.engine import Held
from sealpacket.core.redact.readers.base import LARGEST_PARSED, Work, spool
from sealpacket.core.redact.readers.packed import BROKEN, Inner, copied_member, unused_name
from sealpacket.core.redact.readers.text import number_like

_PARAGRAPHS = frozenset({"p", "si", "is", "comment", "text", "f"})
"""Elements whose texts belong together, however many runs they are cut into."""
_WHO = frozenset({"author", "initials", "userId", "userName", "lastModifiedBy", "name", "displayName", "email"})
"""Attributes of comments and changes that say who made them."""
_LEFT_OUT = ("docprops/", "customxml/", "word/webextensions", "xl/externallinks/", "_xmlsignatures/")
_HELD = ("vbaproject.bin", "activex", "oleobject")


def read_office(source: IO[bytes], target: IO[bytes], work: Work, inner: Inner, label: str) -> None:
    """Each part by what it is. Properties and signatures are left out, with the relations to them; macros hold it."""
    try:
        with zipfile.ZipFile(source) as archive, zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as out:
            names: set[str] = set()
            for member in archive.infolist():
                work.count(member.file_size if member.file_size < LARGEST_PARSED else 0, 1)
                lower = member.filename.lower()
                if any(lower.startswith(part) for part in _LEFT_OUT) or member.is_dir():
                    continue
                if member.flag_bits & 1 or any(part in lower for part in _HELD):
                    raise Held(f"{member.filename} in it cannot be read: a macro, a control or an encrypted part.")
                made = zipfile.ZipInfo(unused_name(member.filename, names))
                made.compress_type = zipfile.ZIP_DEFLATED
                if lower.endswith((".xml", ".rels", ".vml")):
                    if member.file_size > LARGEST_PARSED:
                        raise Held(f"{member.filename} in it is larger than {LARGEST_PARSED >> 20} MB.")
                    out.writestr(made, _part(archive.read(member), lower, work))
                    continue
                with spool() as copy, out.open(made, "w", force_zip64=True) as slot:
                    copied_member(archive.open(member), copy, work, inner, member.filename)
                    slot.write(copy.read())
    except BROKEN as error:
        raise Held(f"The document is broken ({type(error).__name__}).") from error


def _part(data: bytes, name: str, work: Work) -> bytes:
    parser = etree.XMLParser(resolve_entities=False, no_network=True, huge_tree=False, load_dtd=False)
    try:
        root = etree.fromstring(data, parser)
    except etree.XMLSyntaxError as error:
        raise Held(f"{name} in it is no valid XML.") from error
    if root.getroottree().docinfo.internalDTD is not None:
        raise Held(f"{name} in it brings definitions of its own, which no office document does.")
    if name.endswith(".rels") or name == "[content_types].xml":
        _forget_left_out(root)
        for element in root.iter():
            if element.get("TargetMode") == "External":
                element.set("Target", work.words(element.get("Target", "")))
        return bytes(etree.tostring(root, xml_declaration=True, encoding="UTF-8", standalone=True))
    redact_tree(root, work)
    return bytes(etree.tostring(root, xml_declaration=True, encoding="UTF-8", standalone=True))


def _forget_left_out(root: Any) -> None:
    for element in list(root):
        target = (element.get("Target") or element.get("PartName") or "").lower().lstrip("/").replace("../", "")
        if element.get("TargetMode") != "External" and any(target.startswith(part) for part in _LEFT_OUT):
            root.remove(element)


def redact_tree(root: Any, work: Work) -> None:
    """Replace values in all texts and attributes of a tree; texts of one paragraph are looked at as one."""
    for element in root.iter():
        if not isinstance(element.tag, str):
            element.text = work.words(element.text or "")
            continue
        tag = _local(element.tag)
        if tag in _PARAGRAPHS and not any(_local(up.tag) in _PARAGRAPHS for up in element.iterancestors()):
            _paragraph(list(_texts(element)), work)
        elif not any(_local(up.tag) in _PARAGRAPHS for up in element.iterancestors()):
            _paragraph([(element, "text")] if element.text and element.text.strip() else [], work)
        for key, value in element.attrib.items():
            local = _local(str(key))
            if local in _WHO and _by_someone(tag):
                element.set(key, "")
            elif len(value) >= 4:
                element.set(key, work.words(value))


def _by_someone(tag: str) -> bool:
    return tag in (
        "comment",
        "ins",
        "del",
        "person",
        "cmAuthor",
        "author",
        "moveFrom",
        "moveTo",
        "rPrChange",
        "pPrChange",
    )


def _local(tag: Any) -> str:
    return str(tag).rsplit("}", 1)[-1] if isinstance(tag, str) else ""


def _texts(element: Any) -> Iterator[tuple[Any, str]]:
    for one in element.iter():
        if not isinstance(one.tag, str):
            continue
        if one.text:
            yield one, "text"
        if one.tail and one is not element:
            yield one, "tail"


def _paragraph(pieces: list[tuple[Any, str]], work: Work) -> None:
    """Redact several pieces as one text; what is masked lands in the piece where it begins."""
    raws = [(getattr(node, where) or "").encode("utf-8") for node, where in pieces]
    whole = b"".join(raws)
    if not whole.strip():
        return
    spans = work.run.spans(whole)
    if not spans:
        return
    starts, at = [], 0
    for raw in raws:
        starts.append(at)
        at += len(raw)
    for (node, where), start, raw in zip(pieces, starts, raws, strict=True):
        end = start + len(raw)
        out, done = b"", start
        for span in spans:
            if span.end <= start or span.start >= end:
                continue
            out += whole[done : max(span.start, start)]
            if span.start >= start:
                number = _local(node.tag) == "v" and raw.strip().replace(b".", b"").isdigit()
                out += number_like(raw.strip(), span.instead) if number else span.instead
            done = min(span.end, end)
        out += whole[done:end]
        setattr(node, where, out.decode("utf-8", "replace"))
