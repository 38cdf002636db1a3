"""Response models of order documents."""

from __future__ import annotations

from datetime import datetime
from typing import Any, Literal

from pydantic import BaseModel

from sealpacket.core.order_documents.finding import Item, Proposal

OrderDocumentState = Literal["reading", "read", "entered", "aside", "failed"]


class OrderDocumentBrief(BaseModel):
    """An order document in a list. `vendor` and `contract`: its first proposals. `items`: how many assets it names."""

    id: str
    name: str
    kind: Literal["", "pdf", "mail"]
    size: int
    state: OrderDocumentState
    status_text: str
    by: str
    at: datetime
    entered_by: str | None
    entered_at: datetime | None
    vendor: str | None
    contract: str | None
    contract_id: str | None
    items: int


class OrderDocumentPageShown(BaseModel):
    """A page: a picture, or text of fixed columns with its lines. Passcodes are covered."""

    kind: Literal["picture", "text"]
    width: float
    height: float
    source: str
    lines: list[str]


class EnteredRecord(BaseModel):
    """The effect of entering on a record."""

    kind: str
    called: str
    outcome: str
    record_id: str


class OrderDocumentShown(OrderDocumentBrief):
    """An order document with all that it proposes, each with its place on a page."""

    pages: list[OrderDocumentPageShown]
    proposals: list[Proposal]
    bought: list[Item]
    entered: list[EnteredRecord]


class EntryChange(BaseModel):
    """A field that entering would change."""

    field: str
    old: Any
    new: Any


class EntryEffect(EnteredRecord):
    """The effect that entering would have on a record, field by field."""

    changes: list[EntryChange]
