"""Imports and exports of the register."""

from typing import Any, Literal

from flask import Response, request
from pydantic import BaseModel, Field

from sealpacket.core.tables import DateOrder, Format
from sealpacket.services.register import export, intake
from sealpacket.services.register.intake import ImportRows, ImportShown, Outcome, RecordKind
from sealpacket.web.api.common import (
    ListQuery,
    Strict,
    as_file,
    blocks_sent,
    json_texts,
)
from sealpacket.web.api.register import RegisterNarrow, RegisterQuery
from sealpacket.web.guard import ANY_ROLE, actor, current_app, requires_role
from sealpacket.web.idempotency import idempotent
from sealpacket.web.operations import FILE, Api, Content

api = Api("imports", "Getting the register in from files, and out again.")


class ImportQuery(Strict):
    """The kind of records in a file, and how to read it. `mapping` and `fixed` are JSON objects."""

    kind: RecordKind
    name: str = Field(min_length=1, max_length=200, description="The file's name.")
    source: str = Field(
        "", max_length=200, description="Where it comes from; what was chosen for it is remembered."
    )
    part: str = Field(
        "", max_length=200, description="The sheet of a workbook, or the table of an archive."
    )
    mapping: str = Field(
        "", max_length=20_000, description='Field to heading: {"serial": "Serial No."}'
    )
    fixed: str = Field(
        "", max_length=20_000, description='Field to a value for every row: {"vendor": "tarnfell"}'
    )
    date_order: DateOrder | None = Field(
        None, description="Whether 03/04/2026 begins with the day or the month."
    )


class ImportPath(BaseModel):
    """An import by its id."""

    ident: str = Field(max_length=60)


class ColumnChoice(Strict):
    """Which column fills which field, what is the same in all rows, and how dates are written."""

    mapping: dict[str, str] = Field(description="Field to heading.")
    fixed: dict[str, str] = Field({}, description="Field to a value for every row.")
    date_order: DateOrder | None = None


class RowsQuery(Strict):
    """Which rows of the preview."""

    outcome: Outcome | Literal[""] = ""
    above: int = Field(-1, ge=-1, description="Only rows below this one.")
    limit: int = Field(50, ge=1, le=500)


class ImportPage(BaseModel):
    """List imports, newest first."""

    items: list[ImportShown]
    next: str | None


class ExportPath(BaseModel):
    """The records to export."""

    what: str = Field(
        max_length=20, description="everything, or a kind of record in the plural, such as assets."
    )


class ExportQuery(RegisterNarrow):
    """In which form, and which records of one kind."""

    form: Format = "csv"


@api.post(
    "/imports",
    summary="Upload a file to import; returns a preview",
    responses={201: ImportShown},
    does=intake.receive,
    takes=FILE,
    location="/imports/{id}",
)
@requires_role("keeper")
@idempotent
def begin_import(query: ImportQuery) -> ImportShown:
    request.max_content_length = intake.LARGEST
    mapping = json_texts(query.mapping, "mapping")
    choices = intake.Choices(mapping or None, json_texts(query.fixed, "fixed"), query.date_order)
    return intake.receive(
        current_app(),
        actor(),
        kind=query.kind,
        name=query.name,
        source=query.source or query.name,
        part=query.part,
        choices=choices,
        blocks=blocks_sent(query.name),
    )


class BulkEdit(Strict):
    """Which records, and what to change of them: those with these ids, or (`all_of`) all that a list shows."""

    kind: RecordKind
    ids: list[str] = Field([], max_length=10_000)
    all_of: RegisterQuery | None = None
    changes: dict[str, Any]


@api.post(
    "/imports/bulk",
    summary="Preview the same change of many records",
    responses={201: ImportShown},
    does=intake.bulk,
    location="/imports/{id}",
)
@requires_role("keeper")
@idempotent
def begin_bulk_edit(body: BulkEdit) -> ImportShown:
    narrow = body.all_of.narrow() if body.all_of else None
    return intake.bulk(current_app(), actor(), body.kind, body.ids, narrow, body.changes)


@api.get(
    "/imports",
    summary="List imports, newest first",
    responses={200: ImportPage},
    does=intake.listed,
)
@requires_role("keeper")
def list_imports(query: ListQuery) -> dict[str, Any]:
    page = intake.listed(current_app(), limit=query.limit, cursor=query.cursor)
    return {"items": page.items, "next": page.next}


@api.get("/imports/<ident>", summary="Get an import", responses={200: ImportShown}, does=intake.get)
@requires_role("keeper")
def get_import(path: ImportPath) -> ImportShown:
    return intake.get(current_app(), path.ident)


@api.put(
    "/imports/<ident>/columns",
    summary="Map the columns of an import; the preview is updated",
    responses={200: ImportShown},
    does=intake.choose,
    problems=(409,),
)
@requires_role("keeper")
def choose_columns(path: ImportPath, body: ColumnChoice) -> ImportShown:
    return intake.choose(
        current_app(),
        actor(),
        path.ident,
        intake.Choices(body.mapping, body.fixed, body.date_order),
    )


@api.get(
    "/imports/<ident>/rows",
    summary="List the rows of an import with their effects",
    responses={200: ImportRows},
    does=intake.rows_of,
)
@requires_role("keeper")
def import_rows(path: ImportPath, query: RowsQuery) -> ImportRows:
    return intake.rows_of(
        current_app(), path.ident, query.outcome, above=query.above, limit=query.limit
    )


@api.get(
    "/imports/<ident>/rejected",
    summary="Get the rejected rows as a CSV file, to correct",
    responses={200: Content("text/csv")},
    does=intake.rejected_file,
)
@requires_role("keeper")
def rejected_rows(path: ImportPath) -> Response:
    return as_file(*intake.rejected_file(current_app(), path.ident), kind="text/csv")


@api.post(
    "/imports/<ident>/apply",
    summary="Apply an import, all or nothing",
    responses={200: ImportShown},
    does=intake.start_apply,
)
@requires_role("keeper")
@idempotent
def apply_import(path: ImportPath) -> ImportShown:
    return intake.start_apply(current_app(), actor(), path.ident)


@api.post(
    "/imports/<ident>/undo",
    summary="Undo the last applied import",
    responses={200: ImportShown},
    does=intake.start_undo,
)
@requires_role("keeper")
@idempotent
def undo_import(path: ImportPath) -> ImportShown:
    return intake.start_undo(current_app(), actor(), path.ident)


@api.delete(
    "/imports/<ident>",
    summary="Delete an import that was not applied",
    responses={200: ImportShown},
    does=intake.drop,
    problems=(409,),
)
@requires_role("keeper")
def drop_import(path: ImportPath) -> ImportShown:
    return intake.drop(current_app(), actor(), path.ident)


@api.get(
    "/export/<what>",
    summary="Export the register as CSV, XLSX or JSON Lines",
    responses={200: Content(FILE)},
    does=export.export,
)
@requires_role(ANY_ROLE)
def export_register(path: ExportPath, query: ExportQuery) -> Response:
    found = export.export(current_app(), actor(), path.what, query.form, query.narrow())
    return as_file(*found)
