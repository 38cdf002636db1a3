"""Order papers: taking them in, looking at them, and entering what a person has said yes to."""

from sealpacket.services.papers.entering import PaperEntry, enter, preview
from sealpacket.services.papers.keeping import (
    READ,
    content,
    get,
    listed,
    page_picture,
    papers_of,
    read,
    receive,
    reveal,
    set_aside,
)

__all__ = [
    "READ", "PaperEntry", "content", "enter", "get", "listed", "page_picture", "papers_of", "preview", "read",
    "receive", "reveal", "set_aside",
]  # fmt: skip
