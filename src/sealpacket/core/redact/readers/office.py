"""Office documents (ISO/IEC 29500): text however it is cut into runs, comments, changes, what is embedded."""

from __future__ import annotations

import zipfile
from collections.abc import Iterator
from typing import IO, Any, NamedTuple

from lxml import etree

from sealpacket.core.redact.engine import Held
from sealpacket.core.redact.readers.base import LARGEST_PARSED, Work, spool, unused_name
from sealpacket.core.redact.readers.packed import BROKEN, Inner, copied_member
from sealpacket.core.redact.readers.text import number_like
from sealpacket.core.redact.spans import Span

_PARAGRAPHS = frozenset({"p", "si", "is", "comment", "text", "f"})
"""Elements whose texts belong together, however many runs they are cut into."""
_WHO = frozenset(
    {"author", "initials", "userId", "userName", "lastModifiedBy", "name", "displayName", "email"}
)
"""Attributes of comments and changes that say who made them."""
_FONTS = frozenset({"script", "typeface", "ascii", "hAnsi", "eastAsia", "cs", "panose"})
"""Attributes that name scripts and fonts: `Hans` is a way to write Chinese."""
_LEFT_OUT = (
    "docprops/", "customxml/", "word/webextensions", "xl/externallinks/", "_xmlsignatures/", "printersettings/",
    "word/printersettings/", "xl/printersettings/", "ppt/printersettings/",
)  # fmt: skip
_SHARED, _SHEETS = "xl/sharedstrings.xml", "xl/worksheets/"
_HELD = ("vbaproject.bin", "activex", "oleobject")


def read_office(source: IO[bytes], target: IO[bytes], work: Work, inner: Inner, label: str) -> None:
    """Each part by what it is. Properties and signatures are left out, with the relations to them; macros hold it."""
    try:
        with (
            zipfile.ZipFile(source) as archive,
            zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as out,
        ):
            names: set[str] = set()
            shared = _shared(archive, work)
            for member in archive.infolist():
                work.count(member.file_size if member.file_size < LARGEST_PARSED else 0, 1)
                lower = member.filename.lower()
                if any(lower.startswith(part) for part in _LEFT_OUT) or member.is_dir():
                    continue
                if member.flag_bits & 1 or any(part in lower for part in _HELD):
                    raise Held(
                        f"{member.filename} in it cannot be read: a macro, a control or an encrypted part."
                    )
                made = zipfile.ZipInfo(unused_name(member.filename, names))
                made.compress_type = zipfile.ZIP_DEFLATED
                if lower.endswith((".xml", ".rels", ".vml")):
                    if member.file_size > LARGEST_PARSED:
                        raise Held(
                            f"{member.filename} in it is larger than {LARGEST_PARSED >> 20} MB."
                        )
                    out.writestr(made, _part(archive.read(member), lower, work, shared))
                    continue
                with spool() as copy, out.open(made, "w", force_zip64=True) as slot:
                    copied_member(archive.open(member), copy, work, inner, member.filename)
                    slot.write(copy.read())
    except BROKEN as error:
        raise Held(f"The document is broken ({type(error).__name__}).") from error


def _parsed(data: bytes, name: str) -> Any:
    parser = etree.XMLParser(
        resolve_entities=False, no_network=True, huge_tree=False, load_dtd=False
    )
    try:
        root = etree.fromstring(data, parser)
    except etree.XMLSyntaxError as error:
        raise Held(f"{name} in it is no valid XML.") from error
    if root.getroottree().docinfo.internalDTD is not None:
        raise Held(f"{name} in it brings definitions of its own, which no office document does.")
    return root


def _part(data: bytes, name: str, work: Work, shared: _Shared) -> bytes:
    root = _parsed(data, name)
    if name.endswith(".rels") or name == "[content_types].xml":
        _forget_left_out(root)
        for element in root.iter():
            if element.get("TargetMode") == "External":
                element.set("Target", work.words(element.get("Target", "")))
        return bytes(etree.tostring(root, xml_declaration=True, encoding="UTF-8", standalone=True))
    if name == _SHARED:
        texts = [element for element in root if _local(element.tag) == "si"]
        heads = {
            texts[number]: head for number, head in shared.heads.items() if number < len(texts)
        }
    else:
        heads = {**_heads_in_tables(root, work), **_heads_in_sheet(root, work, shared.texts)}
    redact_tree(root, work, heads)
    pieces = list(_texts(root))
    raws = [(getattr(node, where) or "").encode() for node, where in pieces]
    _write(pieces, raws, work.run.in_pieces(b"".join(raws)))
    return bytes(etree.tostring(root, xml_declaration=True, encoding="UTF-8", standalone=True))


def _forget_left_out(root: Any) -> None:
    for element in list(root):
        target = (
            (element.get("Target") or element.get("PartName") or "")
            .lower()
            .lstrip("/")
            .replace("../", "")
        )
        if element.get("TargetMode") != "External" and any(
            target.startswith(part) for part in _LEFT_OUT
        ):
            root.remove(element)


class _Shared(NamedTuple):
    """The texts that the sheets of a workbook share, and by their numbers the heads under which they stand."""

    texts: list[bytes]
    heads: dict[int, bytes]


def _shared(archive: zipfile.ZipFile, work: Work) -> _Shared:
    found: dict[int, bytes] = {}
    if not any(member.filename.lower() == _SHARED for member in archive.infolist()):
        return _Shared([], found)
    texts = _shared_texts(archive)
    for member in archive.infolist():
        if (
            member.filename.lower().startswith(_SHEETS)
            and member.file_size <= LARGEST_PARSED
            and not member.is_dir()
        ):
            for cell, head in _columns_of_sheet(
                _parsed(archive.read(member), member.filename), work, texts
            ):
                number = _shared_number(cell)
                if number is not None:
                    found.setdefault(number, head)
    return _Shared(texts, found)


def _shared_texts(archive: zipfile.ZipFile) -> list[bytes]:
    name = next(member for member in archive.infolist() if member.filename.lower() == _SHARED)
    if name.file_size > LARGEST_PARSED:
        raise Held(f"{name.filename} in it is larger than {LARGEST_PARSED >> 20} MB.")
    root = _parsed(archive.read(name), name.filename)
    return [_text_of(element) for element in root if _local(element.tag) == "si"]


def _shared_number(cell: Any) -> int | None:
    value = next((one.text for one in cell if _local(one.tag) == "v"), "") or ""
    return int(value) if cell.get("t") == "s" and value.isdigit() else None


def _columns_of_sheet(root: Any, work: Work, texts: list[bytes]) -> Iterator[tuple[Any, bytes]]:
    """Cells below the first row of a sheet, with the heads of their columns that tell something."""
    heads: dict[str, bytes] | None = None
    for row in (element for element in root.iter() if _local(element.tag) == "row"):
        cells = [cell for cell in row if _local(cell.tag) == "c"]
        columns = [(cell.get("r") or "").rstrip("0123456789") for cell in cells]
        if heads is None and cells:
            numbers = [_shared_number(cell) for cell in cells]
            said = [
                _text_of(cell) if number is None else texts[number] if number < len(texts) else b""
                for cell, number in zip(cells, numbers, strict=True)
            ]
            heads = {columns[place]: head for place, head in work.run.columns.telling(said).items()}
        elif heads:
            yield from (
                (c, heads[column])
                for c, column in zip(cells, columns, strict=True)
                if column in heads
            )


def _heads_in_sheet(root: Any, work: Work, texts: list[bytes]) -> dict[Any, bytes]:
    """What stands in the cells of a sheet itself, with the heads of their columns: numbers, and texts of their own."""
    if _local(root.tag) != "worksheet":
        return {}
    return {
        one: head
        for cell, head in _columns_of_sheet(root, work, texts)
        if cell.get("t") != "s"
        for one in cell
        if _local(one.tag) in ("v", "is")
    }


def _heads_in_tables(root: Any, work: Work) -> dict[Any, bytes]:
    """Paragraphs in tables, with the heads of their columns; or, in a form of two columns, with what stands left."""
    found: dict[Any, bytes] = {}
    for table in (element for element in root.iter() if _local(element.tag) == "tbl"):
        rows = [
            [cell for cell in row if _local(cell.tag) == "tc"]
            for row in table.iter()
            if _local(row.tag) == "tr"
        ]
        if not rows:
            continue
        heads = work.run.columns.telling([_text_of(cell) for cell in rows[0]])
        for number, row in enumerate(rows):
            left = work.run.columns.telling([_text_of(row[0])]) if len(row) == 2 else {}
            for place, cell in enumerate(row):
                head = left.get(0) if place == 1 and left else heads.get(place) if number else None
                if head:
                    found |= {one: head for one in cell.iter() if _local(one.tag) == "p"}
    return found


def _text_of(element: Any) -> bytes:
    return b"".join(
        (getattr(node, where) or "").encode() for node, where in _texts(element)
    ).strip()


def redact_tree(root: Any, work: Work, heads: dict[Any, bytes] | None = None) -> None:
    """Replace values in all texts and attributes of a tree; texts of one paragraph are looked at as one.

    `heads` are labels of paragraphs, or of other elements with texts of their own, that stand elsewhere.
    """
    heads = heads or {}
    for element in root.iter():
        if not isinstance(element.tag, str):
            element.text = work.words(element.text or "")
            continue
        tag = _local(element.tag)
        if tag in _PARAGRAPHS and not any(
            _local(up.tag) in _PARAGRAPHS for up in element.iterancestors()
        ):
            _paragraph(list(_texts(element)), work, heads.get(element, b""))
        elif not any(_local(up.tag) in _PARAGRAPHS for up in element.iterancestors()):
            own = [(element, "text")] if element.text and element.text.strip() else []
            _paragraph(own, work, heads.get(element, b""))
        for key, value in element.attrib.items():
            local = _local(str(key))
            if local in _FONTS:
                continue
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


def _paragraph(pieces: list[tuple[Any, str]], work: Work, head: bytes = b"") -> None:
    """Redact several pieces as one text; what is masked lands in the piece where it begins."""
    raws = [(getattr(node, where) or "").encode("utf-8") for node, where in pieces]
    whole = b"".join(raws)
    if not whole.strip():
        return
    _write(pieces, raws, work.run.spans(whole, head))


def _write(pieces: list[tuple[Any, str]], raws: list[bytes], spans: list[Span]) -> None:
    """Write the pieces without what is to be replaced in them, put together."""
    if not spans:
        return
    whole = b"".join(raws)
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
