"""Desks and their sheets."""

from typing import Any

from pydantic import Base64Bytes, BaseModel, ConfigDict, Field

from sealpacket.core.coverage import Need
from sealpacket.core.sheets import Finding, ReadReply
from sealpacket.services import desks
from sealpacket.services.desks import DeskShown, DeskWithSheet, SheetPreview
from sealpacket.services.packets.lodge import trials
from sealpacket.services.packets.schemas import TrialShown
from sealpacket.web.api.common import Strict
from sealpacket.web.guard import ANY_ROLE, actor, current_app, requires_role
from sealpacket.web.idempotency import idempotent
from sealpacket.web.operations import Api

api = Api("desks", "Where vendors take packets, and what they ask.")


class DeskList(BaseModel):
    """List desks."""

    items: list[DeskShown]


class SheetText(Strict):
    """A desk sheet in YAML, kept to the letter."""

    model_config = ConfigDict(extra="forbid", str_strip_whitespace=False)

    yaml: str = Field(max_length=1 << 20)


class DeskPath(BaseModel):
    """A desk by its key."""

    key: str = Field(max_length=60)


@api.get("/desks", summary="List desks", responses={200: DeskList}, does=desks.list_desks)
@requires_role(ANY_ROLE)
def list_desks() -> dict[str, Any]:
    return {"items": desks.list_desks(current_app())}


@api.get(
    "/desks/<key>",
    summary="Get a desk with its sheet",
    responses={200: DeskWithSheet},
    does=desks.get_sheet,
)
@requires_role(ANY_ROLE)
def get_desk(path: DeskPath) -> DeskWithSheet:
    return desks.get_sheet(current_app(), path.key)


class SheetFindings(BaseModel):
    """Findings of the linter, by line."""

    items: list[Finding]


@api.post(
    "/desks/lint", summary="Check a desk sheet without saving it", responses={200: SheetFindings}
)
@requires_role("keeper")
def lint_sheet(body: SheetText) -> dict[str, Any]:
    """Check a desk sheet without keeping it: each finding with its line and what to do."""
    return {"items": desks.lint_sheet(body.yaml)}


class SheetPreviewed(SheetText):
    """A sheet to be looked at with a sample packet; another seed makes another packet."""

    seed: int = Field(0, ge=0, le=1_000_000)
    need: str = Field(
        "",
        max_length=40,
        description="The kind of need; empty takes the first that the desk takes.",
    )


@api.post(
    "/desks/preview",
    summary="Check a desk sheet and show what it makes of a sample packet",
    responses={200: SheetPreview},
)
@requires_role("keeper")
def preview_sheet(body: SheetPreviewed) -> SheetPreview:
    """Show a sample packet as a sheet would write it. Nothing is kept or sent."""
    return desks.preview_sheet(body.yaml, body.seed, body.need)


class VendorFile(Strict):
    """A vendor's description of its form: a PDF form, an XML or JSON Schema, OpenAPI, a sample, or a saved web form."""

    name: str = Field(max_length=300, description="File name.")
    content: Base64Bytes = Field(max_length=6 << 20, description="The file in base64.")
    operation: str = Field(
        "", max_length=200, description="Of OpenAPI: the operation that takes a case."
    )
    root: str = Field("", max_length=100, description="Of an XML Schema: the outermost element.")


class SheetBegun(BaseModel):
    """A sheet with its questions; what the file did not say is marked with `# ?`."""

    yaml: str


@api.post(
    "/desks/begin",
    summary="Draft a desk sheet from a vendor's form, schema or sample",
    responses={200: SheetBegun},
)
@requires_role("keeper")
def begin_sheet(body: VendorFile) -> dict[str, str]:
    """Make a sheet with its questions from a file of the vendor's. Nothing is kept."""
    return {"yaml": desks.begin_sheet(body.name, body.content, body.operation, body.root)}


class ReplyGiven(Strict):
    """A reply of the desk's: a mail, a paper, or what it answered over HTTP."""

    model_config = ConfigDict(extra="forbid", str_strip_whitespace=False)

    name: str = Field("", max_length=300, description="Its file name, if it is a file.")
    text: str = Field(max_length=4 << 20, description="Its text, as it came.")


class RepliesGiven(SheetText):
    """A sheet, and replies of its desk."""

    replies: list[ReplyGiven] = Field(min_length=1, max_length=20)


class RepliesRead(BaseModel):
    """The effect of each reply, and what of it was not understood."""

    items: list[ReadReply]


@api.post(
    "/desks/read", summary="Show what replies of a desk would do", responses={200: RepliesRead}
)
@requires_role("keeper")
def read_replies(body: RepliesGiven) -> dict[str, Any]:
    """Read replies as the sheet says: reference, status, turn, questions, facts, refusals. Nothing is kept."""
    given = [(one.name, one.text.encode()) for one in body.replies]
    return {"items": desks.read_replies(body.yaml, given)}


class SheetTried(SheetText):
    """A sheet to try with a sample packet: a complete life at a desk made from it, and lodging at its stand-in."""

    asset: str = Field(
        "",
        max_length=300,
        description="An asset's id or serial: also lodge it at the stand-in that is configured.",
    )
    need: Need = "fault"
    seed: int = Field(0, ge=0, le=1_000_000)
    recorded: list[ReplyGiven] = Field(
        [],
        max_length=20,
        description="Recorded replies: an answer, an error (422-error.json), a mail, a document.",
    )


class TrialPath(BaseModel):
    """A trial by its id."""

    ident: str = Field(max_length=40)


@api.post(
    "/desks/trials",
    summary="Try a desk sheet: take a sample packet through its whole life",
    responses={202: TrialShown},
    does=trials.try_sheet,
)
@requires_role("keeper")
@idempotent
def try_sheet(body: SheetTried) -> TrialShown:
    return trials.try_sheet(
        current_app(),
        actor(),
        body.yaml,
        asset=body.asset,
        need=body.need,
        seed=body.seed,
        recorded=[(one.name, one.text) for one in body.recorded],
    )


@api.get(
    "/desks/trials/<ident>",
    summary="Get the result of a sheet's trial",
    responses={200: TrialShown},
    does=trials.trial,
    problems=(503,),
)
@requires_role("keeper")
def get_trial(path: TrialPath) -> TrialShown:
    return trials.trial(current_app(), actor(), path.ident)


@api.post(
    "/desks",
    summary="Save a desk sheet; a changed one becomes a new version",
    responses={200: DeskShown},
    does=desks.put_sheet,
)
@requires_role("keeper")
@idempotent
def put_sheet(body: SheetText) -> DeskShown:
    return desks.put_sheet(current_app(), actor(), body.yaml)


class AskFirst(Strict):
    """A question that a desk asks back again and again."""

    ask: str = Field(min_length=3, max_length=400, description="The question.")
    needs: list[Need] = Field(
        [], max_length=20, description="Of which kinds of need; empty: of all."
    )


@api.post(
    "/desks/<key>/asked-back",
    summary="Put a question into a desk's sheet that drafts ask first",
    responses={200: DeskShown},
    does=desks.ask_first,
    problems=(409,),
)
@requires_role("keeper")
@idempotent
def ask_first(path: DeskPath, body: AskFirst) -> DeskShown:
    return desks.ask_first(current_app(), actor(), path.key, body.ask, body.needs)
