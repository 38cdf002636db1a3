"""Exhibits of a packet: announce, send, look at what is masked, take out, release."""

from typing import Any

from flask import Response, request
from pydantic import Field

from sealpacket.services.packets import exhibits, redaction
from sealpacket.services.packets.views import ExhibitShown, Review
from sealpacket.web.api.common import Done, Number, Strict, as_file, blocks_sent, part
from sealpacket.web.api.packets import Reason
from sealpacket.web.guard import actor, needs, the_house

api = part("exhibits", "Evidence: the original never leaves, the outgoing copy does.")


class Announcement(Strict):
    """A file that will come."""

    name: str = Field(min_length=1, max_length=200)
    size: int = Field(ge=0, description="Bytes.")


class ExhibitPath(Number):
    """An exhibit by its packet's number and its own name or id."""

    name: str = Field(max_length=300)


class ReviewQuery(Strict):
    """Which finding to look at."""

    at: int = Field(0, ge=0, description="The finding, from 0.")
    kind: str = Field("", max_length=20, description="Only findings of this kind.")
    lines: int = Field(14, ge=1, le=200)


@api.post("/packets/<number>/exhibits", summary="Announce an exhibit", responses={201: ExhibitShown})
@needs("preparer")
def announce_exhibit(path: Number, body: Announcement) -> tuple[dict[str, Any], int]:
    return exhibits.announce(the_house(), actor(), path.number.upper(), body.name, body.size), 201


@api.put(
    "/packets/<number>/exhibits/<name>/content",
    summary="Send the content of an announced exhibit, as it is",
    responses={200: ExhibitShown},
    openapi_extensions={"requestBody": {"content": {"application/octet-stream": {}}}},
)
@needs("preparer")
def send_content(path: ExhibitPath) -> dict[str, Any]:
    request.max_content_length = the_house().settings.largest_upload
    return exhibits.receive(the_house(), actor(), path.number.upper(), path.name, blocks_sent(path.name))


@api.delete("/packets/<number>/exhibits/<name>", summary="Take an exhibit out", responses={200: Done})
@needs("preparer")
def remove_exhibit(path: ExhibitPath) -> dict[str, Any]:
    exhibits.remove(the_house(), actor(), path.number.upper(), path.name)
    return {"done": True}


@api.get("/packets/<number>/exhibits/<name>/review", summary="Original beside outgoing copy, around one finding",
         responses={200: Review})  # fmt: skip
@needs("preparer", "releaser")
def review_exhibit(path: ExhibitPath, query: ReviewQuery) -> dict[str, Any]:
    return redaction.review(
        the_house(), path.number.upper(), path.name, at=query.at, kind=query.kind, lines=query.lines
    )


@api.get("/packets/<number>/exhibits/<name>/outgoing", summary="The outgoing copy", responses={200: None})
@needs("preparer", "releaser")
def get_outgoing(path: ExhibitPath) -> Response:
    name, size, blocks = exhibits.outgoing(the_house(), path.number.upper(), path.name)
    answer = as_file(name, blocks)
    answer.headers["Content-Length"] = str(size)
    return answer


@api.post("/packets/<number>/exhibits/<name>/redact", summary="Redact an exhibit again", responses={202: ExhibitShown})
@needs("preparer")
def redact_exhibit(path: ExhibitPath) -> tuple[dict[str, Any], int]:
    return exhibits.redact_again(the_house(), actor(), path.number.upper(), path.name), 202


@api.post("/packets/<number>/exhibits/<name>/release", summary="Let a held exhibit go out as it is",
          responses={200: ExhibitShown})  # fmt: skip
@needs("releaser")
def release_exhibit(path: ExhibitPath, body: Reason) -> dict[str, Any]:
    return exhibits.release(the_house(), actor(), path.number.upper(), path.name, body.reason)
