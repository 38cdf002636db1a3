"""Exhibits of a packet: announce, send, look at what is masked, take out, release."""

from datetime import datetime
from typing import Any, Literal

from flask import Response, request
from pydantic import Field

from sealpacket.core.evidence.summary import Summary
from sealpacket.core.redact.boxes import Box
from sealpacket.services import redaction_plan
from sealpacket.services.packets import evidence, exhibits, retention
from sealpacket.services.packets.redaction import boxes, decision_records, legends, reviews
from sealpacket.services.packets.redaction.decisions import Action
from sealpacket.services.packets.redaction.schemas import (
    DecisionList,
    DrawnBoxes,
    LegendDestroyed,
    LegendShown,
    PageList,
    RedactionPlanShown,
    Review,
    RulesTried,
    ValueList,
)
from sealpacket.services.packets.retention import OriginalsDeleted
from sealpacket.services.packets.schemas import CollectedBy, ExhibitShown
from sealpacket.web.api.common import Done, Number, Strict, as_file, blocks_sent
from sealpacket.web.api.packets import Reason
from sealpacket.web.guard import actor, current_app, requires_role
from sealpacket.web.idempotency import idempotent
from sealpacket.web.operations import FILE, Api, Content

api = Api("exhibits", "Evidence: the original never leaves, the outgoing copy does.")


class Announcement(Strict):
    """A file that will come."""

    name: str = Field(min_length=1, max_length=200)
    size: int = Field(ge=0, description="Bytes.")
    collected: CollectedBy | None = Field(None, description="The step of a kit that brought it.")


class Elsewhere(Strict):
    """An exhibit of another packet."""

    packet: str = Field(max_length=20)
    name: str = Field(max_length=300)


class ExhibitPath(Number):
    """An exhibit by its packet's number and its own name or id."""

    name: str = Field(max_length=300)


class ReviewQuery(Strict):
    """Which finding to look at."""

    at: int = Field(0, ge=0, description="The finding, from 0.")
    kind: str = Field("", max_length=20, description="Only findings of this kind.")
    lines: int = Field(14, ge=1, le=200)
    placeholder: str = Field(
        "", max_length=200, description="Only findings that became this placeholder."
    )
    line: int = Field(0, ge=0, description="Show from this line on (from 1), whatever it holds.")


class ValuesQuery(Strict):
    """Which values to list."""

    kind: str = Field("", max_length=20, description="Only values of this kind.")
    q: str = Field("", max_length=100, description="Only values with this text in them.")
    limit: int = Field(200, ge=1, le=1000)


class Decision(Strict):
    """A decision about a value everywhere in the packet; without a value, about all of a kind, its lines or its
    files."""

    action: Action
    kind: str = Field(max_length=20)
    value: str = Field("", max_length=400)
    reason: str = Field(min_length=3, max_length=400)
    as_term: bool = Field(False, description="Mask it in every packet from now on.")


class SummaryQuery(Strict):
    """The time in which to look for what is new or more frequent; else around the moment when it began."""

    start: datetime | None = Field(None, description="RFC 3339, with its offset.")
    end: datetime | None = None


class Hours(Strict):
    """From one moment to another (RFC 3339, with their offsets)."""

    start: datetime
    end: datetime


class DecisionPath(Number):
    """A decision by its packet's number and its id."""

    ident: str = Field(max_length=40)


class PagePath(ExhibitPath):
    """A page (from 1) of an exhibit, as it came or as it goes."""

    page: int = Field(ge=1)
    side: Literal["original", "outgoing"]


class NewBox(Strict):
    """A box on a page (from 1): its edges in parts of the page's width and height, from the upper left corner."""

    page: int = Field(1, ge=1)
    left: float = Field(ge=0, le=1)
    top: float = Field(ge=0, le=1)
    right: float = Field(ge=0, le=1)
    bottom: float = Field(ge=0, le=1)


class NewBoxes(Strict):
    """Boxes to cover stretches of pages with, and why."""

    boxes: list[NewBox] = Field(min_length=1, max_length=boxes.MOST)
    reason: str = Field(min_length=3, max_length=400)


class BoxPath(ExhibitPath):
    """A drawn box by its exhibit and its id."""

    ident: str = Field(max_length=40)


class PlanText(Strict):
    """A redaction plan in YAML, made from version `number`."""

    yaml: str = Field(max_length=1 << 20)
    number: int = Field(ge=0)


class RulesText(Strict):
    """Rules in TOML, and a text to try them on."""

    rules: str = Field(max_length=256 << 10, description="A file of rules, in TOML.")
    sample: str = Field("", max_length=256 << 10, description="A text to try them on.")


@api.post(
    "/packets/<number>/exhibits",
    summary="Announce an exhibit",
    responses={201: ExhibitShown},
    does=exhibits.announce,
    problems=(413,),
)
@requires_role("preparer")
@idempotent
def announce_exhibit(path: Number, body: Announcement) -> ExhibitShown:
    collected = body.collected.model_dump() if body.collected else None
    return exhibits.announce(
        current_app(),
        actor(),
        path.number.upper(),
        body.name,
        body.size,
        collected=collected,
    )


@api.post(
    "/packets/<number>/attached",
    summary="Attach an exhibit of another packet, without copying it",
    responses={201: ExhibitShown},
    does=exhibits.attach,
)
@requires_role("preparer")
@idempotent
def attach_exhibit(path: Number, body: Elsewhere) -> ExhibitShown:
    number, source = path.number.upper(), body.packet.upper()
    return exhibits.attach(current_app(), actor(), number, source, body.name)


@api.post(
    "/packets/<number>/originals/delete",
    summary="Delete the originals of a packet that is over, for good",
    responses={200: OriginalsDeleted},
    does=retention.delete,
)
@requires_role("releaser")
@idempotent
def delete_originals(path: Number, body: Reason) -> OriginalsDeleted:
    return retention.delete(current_app(), actor(), path.number.upper(), body.reason)


@api.put(
    "/packets/<number>/exhibits/<name>/content",
    summary="Upload the content of an announced exhibit",
    responses={200: ExhibitShown},
    does=exhibits.receive,
    problems=(409,),
    takes=FILE,
)
@requires_role("preparer")
def send_content(path: ExhibitPath) -> ExhibitShown:
    request.max_content_length = current_app().settings.largest_upload
    return exhibits.receive(
        current_app(), actor(), path.number.upper(), path.name, blocks_sent(path.name)
    )


@api.delete(
    "/packets/<number>/exhibits/<name>",
    summary="Remove an exhibit",
    responses={200: Done},
    does=exhibits.remove,
    problems=(409,),
)
@requires_role("preparer")
def remove_exhibit(path: ExhibitPath) -> dict[str, Any]:
    exhibits.remove(current_app(), actor(), path.number.upper(), path.name)
    return {"done": True}


@api.get(
    "/packets/<number>/exhibits/<name>/review",
    summary="Compare original and outgoing copy around one finding",
    responses={200: Review},
    does=reviews.review,
    problems=(409,),
)
@requires_role("preparer", "releaser")
def review_exhibit(path: ExhibitPath, query: ReviewQuery) -> Review:
    return reviews.review(
        current_app(),
        path.number.upper(),
        path.name,
        at=query.at,
        kind=query.kind,
        lines=query.lines,
        placeholder=query.placeholder,
        line=query.line,
    )


@api.get(
    "/packets/<number>/exhibits/<name>/summary",
    summary="Summarise a log among the exhibits",
    responses={200: Summary},
    does=evidence.summarise,
)
@requires_role("preparer", "releaser")
def summarise_exhibit(path: ExhibitPath, query: SummaryQuery) -> Summary:
    return evidence.summarise(current_app(), path.number.upper(), path.name, query.start, query.end)


@api.post(
    "/packets/<number>/exhibits/<name>/cut",
    summary="Keep only some hours of a log",
    responses={200: ExhibitShown},
    does=evidence.cut,
)
@requires_role("preparer")
@idempotent
def cut_exhibit(path: ExhibitPath, body: Hours) -> ExhibitShown:
    return evidence.cut(
        current_app(), actor(), path.number.upper(), path.name, body.start, body.end
    )


@api.get(
    "/packets/<number>/exhibits/<name>/values",
    summary="List the masked values of an exhibit",
    responses={200: ValueList},
    does=reviews.values,
    problems=(409,),
)
@requires_role("preparer", "releaser")
def list_values(path: ExhibitPath, query: ValuesQuery) -> ValueList:
    return reviews.values(
        current_app(), path.number.upper(), path.name, kind=query.kind, q=query.q, limit=query.limit
    )


@api.get(
    "/packets/<number>/decisions",
    summary="List a packet's redaction decisions",
    responses={200: DecisionList},
    does=decision_records.decisions,
)
@requires_role("preparer", "releaser")
def list_decisions(path: Number) -> dict[str, Any]:
    return {"decisions": decision_records.decisions(current_app(), path.number.upper())}


@api.get(
    "/packets/<number>/exhibits/<name>/pages",
    summary="List the pages of a picture or PDF, with covered areas",
    responses={200: PageList},
    does=boxes.pages,
    problems=(409,),
)
@requires_role("preparer", "releaser")
def list_pages(path: ExhibitPath) -> PageList:
    return boxes.pages(current_app(), path.number.upper(), path.name)


@api.get(
    "/packets/<number>/exhibits/<name>/pages/<page>/<side>",
    summary="Get an original or outgoing page as PNG",
    responses={200: Content("image/png")},
    does=boxes.page_image,
    problems=(409,),
)
@requires_role("preparer", "releaser")
def get_page(path: PagePath) -> Response:
    picture = boxes.page_image(current_app(), path.number.upper(), path.name, path.page, path.side)
    return Response(picture, mimetype="image/png", headers={"Cache-Control": "no-store"})


@api.post(
    "/packets/<number>/exhibits/<name>/boxes",
    summary="Cover areas of pages; the exhibit is redacted again",
    responses={201: DrawnBoxes},
    does=boxes.draw,
)
@requires_role("preparer", "releaser")
@idempotent
def draw_boxes(path: ExhibitPath, body: NewBoxes) -> DrawnBoxes:
    drawn = [(box.page, Box(box.left, box.top, box.right, box.bottom)) for box in body.boxes]
    return boxes.draw(current_app(), actor(), path.number.upper(), path.name, drawn, body.reason)


@api.delete(
    "/packets/<number>/exhibits/<name>/boxes/<ident>",
    summary="Remove a drawn box; the exhibit is redacted again",
    responses={200: DrawnBoxes},
    does=boxes.rub_out,
    problems=(409,),
)
@requires_role("preparer", "releaser")
def rub_out_box(path: BoxPath) -> DrawnBoxes:
    return boxes.rub_out(current_app(), actor(), path.number.upper(), path.name, path.ident)


@api.post(
    "/packets/<number>/legend",
    summary="Open the legend: the originals of placeholders, and the replies in clear",
    responses={200: LegendShown},
    does=legends.open_legend,
    problems=(409,),
)
@requires_role("preparer", "releaser")
def open_legend(path: Number, body: Reason) -> LegendShown:
    return legends.open_legend(current_app(), actor(), path.number.upper(), body.reason)


@api.delete(
    "/packets/<number>/legend",
    summary="Destroy the legend of a settled packet",
    responses={200: LegendDestroyed},
    does=legends.destroy,
    problems=(409,),
)
@requires_role("releaser")
def destroy_legend(path: Number) -> LegendDestroyed:
    return legends.destroy(current_app(), actor(), path.number.upper())


@api.post(
    "/packets/<number>/decisions",
    summary="Keep or mask a value, or a kind, everywhere in a packet",
    responses={201: DecisionList},
    does=decision_records.decide,
)
@requires_role("preparer", "releaser")
@idempotent
def decide(path: Number, body: Decision) -> dict[str, Any]:
    made = decision_records.decide(
        current_app(),
        actor(),
        path.number.upper(),
        action=body.action,
        kind=body.kind,
        value=body.value,
        reason=body.reason,
        as_term=body.as_term,
    )
    return {"decisions": made}


@api.delete(
    "/packets/<number>/decisions/<ident>",
    summary="Undo a redaction decision",
    responses={200: DecisionList},
    does=decision_records.undo,
    problems=(409,),
)
@requires_role("preparer", "releaser")
def undo_decision(path: DecisionPath) -> dict[str, Any]:
    return {
        "decisions": decision_records.undo(current_app(), actor(), path.number.upper(), path.ident)
    }


@api.get(
    "/redaction-plan",
    summary="Get the redaction plan",
    responses={200: RedactionPlanShown},
    does=redaction_plan.show_plan,
)
@requires_role("keeper", "preparer", "releaser")
def get_redaction_plan() -> dict[str, Any]:
    return redaction_plan.show_plan(current_app())


@api.put(
    "/redaction-plan",
    summary="Put a new version of the redaction plan",
    responses={200: RedactionPlanShown},
    does=redaction_plan.put_plan,
    problems=(412,),
)
@requires_role("keeper")
def put_redaction_plan(body: PlanText) -> dict[str, Any]:
    return redaction_plan.put_plan(current_app(), actor(), body.yaml, body.number)


@api.post(
    "/redaction-plan/try",
    summary="Try rules without keeping them",
    responses={200: RulesTried},
    does=redaction_plan.try_rules,
)
@requires_role("keeper", "preparer", "releaser")
def try_redaction_rules(body: RulesText) -> RulesTried:
    return redaction_plan.try_rules(body.rules, body.sample)


@api.get(
    "/packets/<number>/exhibits/<name>/outgoing",
    summary="Get the outgoing copy of an exhibit",
    responses={200: Content("application/octet-stream", "text/plain", "application/pdf")},
    does=exhibits.outgoing,
    problems=(409,),
)
@requires_role("preparer", "releaser")
def get_outgoing(path: ExhibitPath) -> Response:
    name, size, blocks = exhibits.outgoing(current_app(), path.number.upper(), path.name)
    answer = as_file(name, blocks)
    answer.headers["Content-Length"] = str(size)
    return answer


@api.post(
    "/packets/<number>/exhibits/<name>/redact",
    summary="Redact an exhibit again",
    responses={202: ExhibitShown},
    does=exhibits.redact_again,
)
@requires_role("preparer")
@idempotent
def redact_exhibit(path: ExhibitPath) -> ExhibitShown:
    return exhibits.redact_again(current_app(), actor(), path.number.upper(), path.name)


@api.post(
    "/packets/<number>/exhibits/<name>/release",
    summary="Release a held exhibit unchanged",
    responses={200: ExhibitShown},
    does=exhibits.release,
)
@requires_role("releaser")
@idempotent
def release_exhibit(path: ExhibitPath, body: Reason) -> ExhibitShown:
    return exhibits.release(current_app(), actor(), path.number.upper(), path.name, body.reason)
