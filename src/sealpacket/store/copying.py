"""Adding many rows at once with COPY, through the session's own transaction."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import psycopg
from psycopg import sql
from psycopg.types.json import Jsonb
from sqlalchemy import Column, Table
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from sealpacket.store.register_cache import note_written


def copy_rows(session: Session, model: Any, rows: Sequence[dict[str, Any]]) -> None:
    """Add rows to a model's table, all with the same columns; columns left out get their defaults.

    What the database says against a row is raised as SQLAlchemy raises it for every other statement.
    """
    if not rows:
        return
    table: Table = model if isinstance(model, Table) else model.__table__
    filled = [column for column in table.columns if column.key in rows[0] or _has_default(column)]
    statement = sql.SQL("COPY {} ({}) FROM STDIN").format(
        sql.Identifier(table.name),
        sql.SQL(", ").join(sql.Identifier(column.name) for column in filled),
    )
    session.flush()
    note_written(session)
    connection: Any = session.connection().connection.driver_connection
    try:
        with connection.cursor() as cursor, cursor.copy(statement) as copy:
            for row in rows:
                copy.write_row([_value(column, row) for column in filled])
    except psycopg.Error as error:
        raise DBAPIError.instance(f"COPY {table.name}", None, error, psycopg.Error) from error


def _has_default(column: Column[Any]) -> bool:
    return column.default is not None and (column.default.is_scalar or column.default.is_callable)


def _value(column: Column[Any], row: dict[str, Any]) -> Any:
    if column.key in row:
        value = row[column.key]
    else:
        default: Any = column.default
        value = default.arg(None) if default.is_callable else default.arg
    return Jsonb(value) if isinstance(column.type, JSONB) and value is not None else value
