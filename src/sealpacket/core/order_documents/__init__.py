"""Order documents: order confirmations as PDF or mail, read into proposals that each know their place on the page."""

from sealpacket.core.order_documents.document import OpenedDocument, draw_page, open_document
from sealpacket.core.order_documents.finding import (
    Item,
    Known,
    Proposal,
    Reading,
    id_like,
    read_order_document,
)
from sealpacket.core.order_documents.page import DocumentFault, Line, Page, Place, Word

__all__ = [
    "DocumentFault",
    "Item",
    "Known",
    "Line",
    "OpenedDocument",
    "Page",
    "Place",
    "Proposal",
    "Reading",
    "Word",
    "draw_page",
    "id_like",
    "open_document",
    "read_order_document",
]  # fmt: skip
