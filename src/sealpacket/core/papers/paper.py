"""A paper, whatever holds it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from sealpacket.core.papers import letter, pdf
from sealpacket.core.papers.page import Page, PaperFault, Place


@dataclass(frozen=True)
class Paper:
    """What a paper is, and its pages; `sender` of a mail."""

    kind: Literal["pdf", "mail"]
    pages: tuple[Page, ...]
    sender: str = ""


def open_paper(content: bytes) -> Paper:
    """Read a PDF or a mail with the PDFs that came with it. Raises PaperFault."""
    if content[:1024].lstrip().startswith(b"%PDF-"):
        return Paper("pdf", tuple(pdf.read_pages(content)))
    if b"\0" in content[:4096] or not content.strip():
        raise PaperFault("This is neither a PDF nor a mail.", "Send the order confirmation as .pdf or .eml.")
    message = letter.open_mail(content)
    pages = [letter.text_page(message)]
    for name, attached in letter.pdfs(message):
        try:
            pages += pdf.read_pages(attached, len(pages), name)
        except PaperFault:
            continue
    return Paper("mail", tuple(pages), str(message["From"] or ""))


def draw_page(content: bytes, page: Page, covered: Sequence[Place]) -> bytes:
    """A page that is a picture, as PNG, with what lies at these places covered. Raises PaperFault."""
    here = [place for place in covered if place.page == page.number]
    if not page.source:
        return pdf.draw(content, page.source_page, here)
    for name, attached in letter.pdfs(letter.open_mail(content)):
        if name == page.source:
            return pdf.draw(attached, page.source_page, here)
    raise PaperFault("The attachment is gone.", "Send the paper again.")
