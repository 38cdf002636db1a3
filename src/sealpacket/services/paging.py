"""Keyset pages: a cursor is the place after the last row, so a page costs the same at any depth."""

from __future__ import annotations

import base64
import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any, Generic, TypeVar

from sqlalchemy import tuple_

from sealpacket.core.errors import Invalid

T = TypeVar("T")


@dataclass(frozen=True)
class Page(Generic[T]):
    """Some items, and the cursor of the next page if there is one."""

    items: list[T]
    next: str | None


def after(statement: Any, order: Any, ident: Any, cursor: str, *, newest_first: bool = False) -> Any:
    """The statement sorted by (order, id) and begun behind the cursor. Raises Invalid for a made-up cursor."""
    place = tuple_(order, ident)
    if cursor:
        values = _read(cursor, order)
        statement = statement.where(place < values if newest_first else place > values)
    return statement.order_by(order.desc(), ident.desc()) if newest_first else statement.order_by(order, ident)


def page_of(rows: Sequence[Any], limit: int, order: str, show: Callable[[Any], T]) -> Page[T]:
    """A page from up to limit + 1 rows."""
    last = rows[limit - 1] if len(rows) > limit else None
    cursor = _write(getattr(last, order), last.id) if last is not None else None
    return Page([show(row) for row in rows[:limit]], cursor)


def _write(value: Any, ident: str) -> str:
    text = value.isoformat() if isinstance(value, date | datetime) else value
    return base64.urlsafe_b64encode(json.dumps([text, ident]).encode()).rstrip(b"=").decode()


def _read(cursor: str, order: Any) -> tuple[Any, str]:
    try:
        value, ident = json.loads(base64.urlsafe_b64decode(cursor + "=" * (-len(cursor) % 4)))
        kind = order.type.python_type
        if issubclass(kind, date):
            value = kind.fromisoformat(value)
        if not isinstance(value, kind) or not isinstance(ident, str):
            raise ValueError
        return value, ident
    except (ValueError, TypeError) as error:
        raise Invalid("This cursor leads nowhere.", "Start from the first page.", code="bad-cursor") from error
