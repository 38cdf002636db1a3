"""Labels: things found by a photo, and labels to print."""

from typing import Any

from flask import Response, request
from pydantic import BaseModel, Field

from sealpacket.services import labels
from sealpacket.services.labels import CodeRead
from sealpacket.web.api.common import Strict, as_file, blocks_sent
from sealpacket.web.guard import ANY_ROLE, actor, current_app, requires_role
from sealpacket.web.operations import FILE, Api, Content

api = Api("labels", "QR and bar codes on things.")


class CodesRead(BaseModel):
    """All codes on a photo, from above."""

    items: list[CodeRead]


class LabelForm(Strict):
    """The assets to print labels for; `skip` is the number left empty on the first sheet."""

    assets: list[str] = Field(
        min_length=1, max_length=labels.MOST_LABELS, description="Ids or serials."
    )
    skip: int = Field(0, ge=0, le=23)


@api.post(
    "/labels/read",
    summary="Read the codes on a photo",
    responses={200: CodesRead},
    does=labels.read_label,
    takes=FILE,
    needs="read",
)
@requires_role(ANY_ROLE)
def read_label() -> dict[str, Any]:
    request.max_content_length = labels.LARGEST
    return {"items": labels.read_label(current_app(), b"".join(blocks_sent("the photo")))}


@api.post(
    "/labels/sheet",
    summary="Get labels to print, as PDF",
    responses={200: Content("application/pdf")},
    does=labels.print_labels,
    problems=(404,),
)
@requires_role("keeper", "preparer")
def print_labels(body: LabelForm) -> Response:
    return as_file(
        "labels.pdf",
        labels.print_labels(current_app(), actor(), body.assets, skip=body.skip),
        "application/pdf",
    )
