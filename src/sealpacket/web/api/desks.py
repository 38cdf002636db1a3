"""Desks and their sheets."""

from typing import Any

from pydantic import BaseModel, Field

from sealpacket.core.sheets import Finding
from sealpacket.services import desks
from sealpacket.web.api.common import Strict, part
from sealpacket.web.guard import ANY_ROLE, actor, needs, the_house

api = part("desks", "Where vendors take packets, and what they ask.")


class DeskShown(BaseModel):
    """A desk; `reachable` if an address is configured for it."""

    key: str
    name: str
    vendor: str
    version: int
    reachable: bool


class DeskList(BaseModel):
    """All desks."""

    items: list[DeskShown]


class DeskWithSheet(DeskShown):
    """A desk with the newest version of its sheet."""

    sheet: dict[str, Any]


class SheetText(Strict):
    """A desk sheet in YAML."""

    yaml: str = Field(max_length=1 << 20)


class DeskPath(BaseModel):
    """A desk by its key."""

    key: str = Field(max_length=60)


@api.get("/desks", summary="List desks", responses={200: DeskList})
@needs(ANY_ROLE)
def list_desks() -> dict[str, Any]:
    return {"items": desks.list_desks(the_house())}


@api.get("/desks/<key>", summary="Get a desk with its sheet", responses={200: DeskWithSheet})
@needs(ANY_ROLE)
def get_desk(path: DeskPath) -> dict[str, Any]:
    return desks.get_sheet(the_house(), path.key)


class SheetFindings(BaseModel):
    """What is wrong or unwise in a sheet, by line."""

    items: list[Finding]


@api.post("/desks/lint", summary="Check a desk sheet without taking it", responses={200: SheetFindings})
@needs("keeper")
def lint_sheet(body: SheetText) -> dict[str, Any]:
    return {"items": desks.lint_sheet(body.yaml)}


@api.post("/desks", summary="Take a desk sheet; a changed one becomes a new version", responses={200: DeskShown})
@needs("keeper")
def put_sheet(body: SheetText) -> dict[str, Any]:
    return desks.put_sheet(the_house(), actor(), body.yaml)
