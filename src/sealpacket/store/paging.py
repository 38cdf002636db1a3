"""Keyset pages: a cursor is the place after the last row, so a page costs the same at any depth."""

from __future__ import annotations

import base64
import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any, Generic, TypeVar

from sqlalchemy import and_, or_, tuple_
from sqlalchemy.orm import Session

from sealpacket.core.errors import Invalid

T = TypeVar("T")


@dataclass(frozen=True)
class Page(Generic[T]):
    """Some items, and the cursor of the next page if there is one."""

    items: list[T]
    next: str | None


def after(
    statement: Any, order: Any, ident: Any, cursor: str, *, newest_first: bool = False
) -> Any:
    """The statement sorted by (order, id) and begun behind the cursor; what is empty comes last either way.

    Raises Invalid for a made-up cursor.
    """
    may_be_empty = bool(getattr(order, "nullable", False))
    if cursor:
        value, ident_before = _read(cursor, order)
        place, before = tuple_(order, ident), (value, ident_before)
        if value is None:
            behind = and_(
                order.is_(None), ident < ident_before if newest_first else ident > ident_before
            )
        else:
            behind = place < before if newest_first else place > before
            behind = or_(behind, order.is_(None)) if may_be_empty else behind
        statement = statement.where(behind)
    first = order.desc() if newest_first else order.asc()
    first = first.nulls_last() if may_be_empty else first
    return statement.order_by(first, ident.desc() if newest_first else ident)


def page_of(rows: Sequence[Any], limit: int, order: str, show: Callable[[Any], T]) -> Page[T]:
    """A page from up to limit + 1 rows."""
    last = rows[limit - 1] if len(rows) > limit else None
    cursor = _write(getattr(last, order), last.id) if last is not None else None
    return Page([show(row) for row in rows[:limit]], cursor)


def in_order(
    session: Session,
    statement: Any,
    place: tuple[Any, Any],
    cursor: str,
    limit: int,
    show: Callable[[Any], T],
    *,
    downwards: bool,
    read: int = 0,
) -> Page[T]:
    """A page of a statement in the order of a place (column, id), read by an index on it either way.

    What has an empty column comes last; it is read by itself, since an index has it last only upwards. At least `read`
    rows are read: asked for few, the server goes through all rows in their order for something rare.
    """
    read = max(limit + 1, read)
    order, ident = place
    by_id = ident.desc() if downwards else ident.asc()
    value, before = _read(cursor, order) if cursor else (None, "")
    rows: list[Any] = []
    if value is not None or not cursor:
        there = statement.where(order.is_not(None))
        if cursor:
            here = tuple_(order, ident)
            there = there.where(here < (value, before) if downwards else here > (value, before))
        there = there.order_by(order.desc() if downwards else order.asc(), by_id)
        rows = list(session.scalars(there.limit(read)))
    if len(rows) <= limit and order.nullable:
        empty = statement.where(order.is_(None))
        if cursor and value is None:
            empty = empty.where(ident < before if downwards else ident > before)
        # By the empty column, too, although it tells nothing apart: so the index serves the order.
        empty = empty.order_by(order.desc() if downwards else order.asc(), by_id)
        rows += session.scalars(empty.limit(read - len(rows)))
    last = rows[limit - 1] if len(rows) > limit else None
    cursor = _write(getattr(last, order.key), getattr(last, ident.key)) if last is not None else ""
    return Page([show(row) for row in rows[:limit]], cursor or None)


def _write(value: Any, ident: str) -> str:
    text = value.isoformat() if isinstance(value, date | datetime) else value
    return base64.urlsafe_b64encode(json.dumps([text, ident]).encode()).rstrip(b"=").decode()


def _read(cursor: str, order: Any) -> tuple[Any, str]:
    try:
        value, ident = json.loads(base64.urlsafe_b64decode(cursor + "=" * (-len(cursor) % 4)))
        kind = order.type.python_type
        if value is None and order.nullable and isinstance(ident, str):
            return None, ident
        if issubclass(kind, date):
            value = kind.fromisoformat(value)
        if not isinstance(value, kind) or not isinstance(ident, str):
            raise ValueError
        return value, ident
    except (ValueError, TypeError) as error:
        raise Invalid(
            "The page cursor is invalid.", "Start from the first page.", code="bad-cursor"
        ) from error
