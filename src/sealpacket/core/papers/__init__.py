"""Papers: order confirmations as PDF or mail, read into proposals that each know their place on the page."""

from sealpacket.core.papers.finding import Item, Known, Proposal, Reading, id_like, read_paper
from sealpacket.core.papers.page import Line, Page, PaperFault, Place, Word
from sealpacket.core.papers.paper import Paper, draw_page, open_paper

__all__ = [
    "Item", "Known", "Line", "Page", "Paper", "PaperFault", "Place", "Proposal", "Reading", "Word", "draw_page",
    "id_like", "open_paper", "read_paper",
]  # fmt: skip
