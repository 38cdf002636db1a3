"""Lists as files: CSV, XLSX or JSON Lines, written as they are read, in flat memory."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from itertools import chain
from typing import Any, TypeVar, get_args

from pydantic import BaseModel

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Invalid
from sealpacket.core.tables import Format, TableFault, write_everything, write_table

T = TypeVar("T")
Named = tuple[str, type[BaseModel], Iterable[BaseModel]]
"""A table: its name, the model of its rows, and the rows."""


def table_file(
    app: AppContext, actor: Actor, name: str, tables: Sequence[Named], form: Format
) -> tuple[str, Iterator[bytes]]:
    """Name and content of a file of one table, or of several (as CSV: a zip); it is noted who took it out.

    What rows hold is written in columns, one within another as `asset_serial`; lists of records are left out. Raises
    Invalid for what no workbook can hold; what the first row raises is raised before the file begins.
    """
    with app.transaction(actor, "list exported", f"list {name}", form=form):
        pass
    parts = [(called, columns(model), _records(model, rows)) for called, model, rows in tables]
    if len(parts) == 1:
        called, fields, records = parts[0]
        blocks = write_table(records, fields, form, called)
    else:
        blocks = write_everything(parts, form)
    ending = "zip" if len(parts) > 1 and form == "csv" else form
    return f"{name}.{ending}", begun(blocks)


def begun(blocks: Iterator[bytes]) -> Iterator[bytes]:
    """The same blocks, of which the first is there. Raises Invalid for what does not fit into the file."""
    try:
        first = next(blocks, b"")
    except TableFault as fault:
        raise Invalid(str(fault), fault.remedy, code="does-not-fit") from fault
    return chain((first,), blocks)


def columns(model: type[BaseModel]) -> list[str]:
    """The columns of a table whose rows are of a model."""
    return [".".join(path).replace(".", "_") for path in _paths(model)]


def _paths(model: type[BaseModel]) -> Iterator[tuple[str, ...]]:
    for name, field in model.model_fields.items():
        inner = [one for one in _types(field.annotation) if _is_model(one)]
        if not inner:
            yield (name,)
        elif not _is_list(field.annotation):
            yield from ((name, *path) for path in _paths(inner[0]))


def _types(annotation: Any) -> Iterator[Any]:
    yield annotation
    for one in get_args(annotation):
        yield from _types(one)


def _is_model(kind: Any) -> bool:
    return isinstance(kind, type) and issubclass(kind, BaseModel)


def _is_list(annotation: Any) -> bool:
    return any(
        one is list or getattr(one, "__origin__", None) is list for one in _types(annotation)
    )


def _records(model: type[BaseModel], rows: Iterable[BaseModel]) -> Iterator[dict[str, Any]]:
    plain = [path[0] for path in _paths(model) if len(path) == 1]
    inner = {path: "_".join(path) for path in _paths(model) if len(path) > 1}
    for row in rows:
        body = row.model_dump(mode="json")
        record = {name: body[name] for name in plain}
        for path, column in inner.items():
            record[column] = _at(body, path)
        yield record


def _at(body: Mapping[str, Any], path: tuple[str, ...]) -> Any:
    found: Any = body
    for name in path:
        if found is None:
            return None
        found = found[name]
    return found


def all_pages(page: Callable[[str], tuple[Sequence[T], str | None]]) -> Iterator[T]:
    """The items of all pages of a list; `page` gives those behind a cursor, and the next cursor."""
    cursor: str | None = ""
    while cursor is not None:
        items, cursor = page(cursor)
        yield from items
