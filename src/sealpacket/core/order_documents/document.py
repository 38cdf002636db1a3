"""An order document, whatever holds it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from sealpacket.core.order_documents import letter
from sealpacket.core.order_documents.page import DocumentFault, Page, Place


@dataclass(frozen=True)
class OpenedDocument:
    """An order document: its kind and pages; `sender` of a mail."""

    kind: Literal["pdf", "mail"]
    pages: tuple[Page, ...]
    sender: str = ""


def open_document(content: bytes) -> OpenedDocument:
    """Read a PDF or a mail with the PDFs that came with it. Raises DocumentFault."""
    from sealpacket.core.order_documents import pdf

    if content[:1024].lstrip().startswith(b"%PDF-"):
        return OpenedDocument("pdf", tuple(pdf.read_pages(content)))
    if b"\0" in content[:4096] or not content.strip():
        raise DocumentFault(
            "This is neither a PDF nor a mail.", "Send the order confirmation as .pdf or .eml."
        )
    message = letter.open_mail(content)
    pages = [letter.text_page(message)]
    for name, attached in letter.pdfs(message):
        try:
            pages += pdf.read_pages(attached, len(pages), name)
        except DocumentFault:
            continue
    return OpenedDocument("mail", tuple(pages), str(message["From"] or ""))


def draw_page(content: bytes, page: Page, covered: Sequence[Place]) -> bytes:
    """A page that is a picture, as PNG, with what lies at these places covered. Raises DocumentFault."""
    from sealpacket.core.order_documents import pdf

    here = [place for place in covered if place.page == page.number]
    if not page.source:
        return pdf.draw(content, page.source_page, here)
    for name, attached in letter.pdfs(letter.open_mail(content)):
        if name == page.source:
            return pdf.draw(attached, page.source_page, here)
    raise DocumentFault("The attachment is gone.", "Send the order document again.")
