"""Many packets from one table or selection."""

from typing import Any

from pydantic import BaseModel, Field

from sealpacket.services.packets import batches
from sealpacket.web.api.common import OneLine, Strict
from sealpacket.web.guard import ANY_ROLE, actor, current_app, requires_role
from sealpacket.web.idempotency import idempotent
from sealpacket.web.operations import Api

api = Api("batches", "Many packets from one table or selection.")


class BatchRows(Strict):
    """Packets to be noted."""

    rows: list[batches.BatchRowForm] = Field(
        max_length=batches.MOST, description="A row for each packet."
    )


class RowPreviews(BaseModel):
    """A preview of each row, in their order."""

    items: list[batches.RowPreview]


@api.post(
    "/batches/preview",
    summary="Preview many packets",
    responses={200: RowPreviews},
    does=batches.preview_batch,
)
@requires_role("preparer")
def preview_batch(body: BatchRows) -> dict[str, Any]:
    return {"items": batches.preview_batch(current_app(), actor(), body.rows)}


class BatchForm(BatchRows):
    """Packets to be noted, and the title of those that have none of their own."""

    title: OneLine = Field(min_length=3, max_length=200, description="The title of the batch.")


@api.post(
    "/batches",
    summary="Note many packets",
    responses={201: batches.BatchShown},
    does=batches.note_batch,
    location="/batches/{id}",
)
@requires_role("preparer")
@idempotent
def note_batch(body: BatchForm) -> batches.BatchShown:
    return batches.note_batch(current_app(), actor(), body.title, body.rows)


class BatchList(BaseModel):
    """Batches, the newest first."""

    items: list[batches.BatchBrief]


@api.get(
    "/batches",
    summary="List batches of packets",
    responses={200: BatchList},
    does=batches.batches,
)
@requires_role(ANY_ROLE)
def list_batches() -> dict[str, Any]:
    return {"items": batches.batches(current_app())}


class BatchId(Strict):
    """The id of a batch."""

    ident: str = Field(max_length=60, description="The id of the batch.")


@api.get(
    "/batches/<ident>",
    summary="Get a batch of packets",
    responses={200: batches.BatchShown},
    does=batches.batch,
)
@requires_role(ANY_ROLE)
def get_batch(path: BatchId) -> batches.BatchShown:
    return batches.batch(current_app(), path.ident)


class CorrectedRow(Strict):
    """A failed row as it is to be."""

    place: int = Field(ge=1, le=batches.MOST, description="The number of the row.")
    row: batches.BatchRowForm = Field(description="The row as it is to be.")


class Retry(Strict):
    """Corrections of failed rows; others are tried again as they are."""

    rows: list[CorrectedRow] = Field([], max_length=batches.MOST, description="Corrected rows.")


@api.post(
    "/batches/<ident>/retry",
    summary="Try the failed rows of a batch again",
    responses={200: batches.BatchShown},
    does=batches.retry_batch,
    problems=(409,),
)
@requires_role("preparer")
@idempotent
def retry_batch(path: BatchId, body: Retry) -> batches.BatchShown:
    changes = {one.place: one.row for one in body.rows}
    return batches.retry_batch(current_app(), actor(), path.ident, changes)
