"""Order documents: taking them in, looking at them, and entering what a person has said yes to."""

from sealpacket.services.order_documents.entering import OrderDocumentEntry, enter, preview
from sealpacket.services.order_documents.keeping import (
    READ,
    content,
    get,
    listed,
    order_documents_of,
    page_picture,
    read,
    receive,
    reveal,
    set_aside,
)

__all__ = [
    "READ",
    "OrderDocumentEntry",
    "content",
    "enter",
    "get",
    "listed",
    "order_documents_of",
    "page_picture",
    "preview",
    "read",
    "receive",
    "reveal",
    "set_aside",
]  # fmt: skip
