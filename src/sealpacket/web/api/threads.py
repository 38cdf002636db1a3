"""The thread of a packet, and the packet as a document."""

from __future__ import annotations

from flask import Response
from pydantic import Field

from sealpacket.core.thread_sorts import ThreadSort
from sealpacket.services.packets.follow import archives, records, thread
from sealpacket.services.packets.follow.records import RecordForm
from sealpacket.services.packets.follow.thread import Thread
from sealpacket.web.api.common import Number, Strict, as_file
from sealpacket.web.guard import ANY_ROLE, actor, current_app, requires_role
from sealpacket.web.operations import FILE, Api, Content

api = Api("threads", "All that happened about a packet, in one order.")


class ThreadQuery(Strict):
    """Which entries."""

    sort: list[ThreadSort] = Field([], max_length=20, description="Only of these sorts.")
    limit: int = Field(100, ge=1, le=500, description="Maximum number of entries.")
    cursor: str = Field("", max_length=120, description="Where the next part begins.")


class RecordQuery(Strict):
    """In which form."""

    form: RecordForm = Field("pdf", description="The form of the document.")


class ClearRecord(RecordQuery):
    """In which form, and why in clear."""

    reason: str = Field(max_length=500, description="Why you read it in clear.")


@api.get(
    "/packets/<number>/thread",
    summary="List all that happened about a packet, newest first",
    responses={200: Thread},
    does=thread.thread,
)
@requires_role(ANY_ROLE)
def get_thread(path: Number, query: ThreadQuery) -> Thread:
    return thread.thread(
        current_app(), actor(), path.number.upper(),
        sorts=query.sort, limit=query.limit, cursor=query.cursor,
    )  # fmt: skip


@api.put(
    "/packets/<number>/looked",
    summary="Note that you have looked at the thread",
    responses={200: Thread},
    does=thread.look,
)
@requires_role(ANY_ROLE)
def look_at_thread(path: Number) -> Thread:
    return thread.look(current_app(), actor(), path.number.upper())


@api.get(
    "/packets/<number>/record",
    summary="Get a packet as a document",
    responses={200: Content(FILE)},
    does=records.record,
)
@requires_role(ANY_ROLE)
def get_record(path: Number, query: RecordQuery) -> Response:
    return as_file(*records.record(current_app(), actor(), path.number.upper(), query.form))


@api.post(
    "/packets/<number>/record/in-clear",
    summary="Get a packet as a document in clear",
    responses={200: Content(FILE)},
    does=records.record_in_clear,
    problems=(409,),
)
@requires_role("preparer", "releaser")
def get_record_in_clear(path: Number, body: ClearRecord) -> Response:
    number = path.number.upper()
    return as_file(*records.record_in_clear(current_app(), actor(), number, body.reason, body.form))


class ArchivePath(Strict):
    """A year."""

    year: int = Field(ge=1970, le=9999, description="The year in which packets ended.")


@api.get(
    "/archive/<year>",
    summary="Get an archive of all packets that ended in a year",
    responses={200: Content(FILE)},
    does=archives.archive,
)
@requires_role("keeper", "releaser")
def get_archive(path: ArchivePath) -> Response:
    return as_file(*archives.archive(current_app(), actor(), path.year))
