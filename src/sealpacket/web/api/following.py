"""Packets at their desk: messages, acts and ownership."""

from typing import Annotated

from flask import Response
from pydantic import BaseModel, Field

from sealpacket.services.packets.draft import colleagues, curing
from sealpacket.services.packets.draft.colleagues import ColleagueForm
from sealpacket.services.packets.follow import (
    acts,
    consequences,
    messages,
    ownership,
    together,
)
from sealpacket.services.packets.follow.schemas import ConsequenceOffered
from sealpacket.services.packets.follow.together import TogetherAct, TogetherDone
from sealpacket.services.packets.redaction.schemas import TypedShown
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.web.api.common import (
    LONGEST_TEXT,
    Case,
    Number,
    OneLine,
    Strict,
    Words,
)
from sealpacket.web.guard import ANY_ROLE, actor, current_app, requires_role
from sealpacket.web.idempotency import idempotent
from sealpacket.web.operations import Api, Content

api = Api(
    "following", "After the reference: answers, files, acts at the desk, and what comes by hand."
)


class Typed(Strict):
    """Words for the desk, to be looked over."""

    text: str = Field(min_length=1, max_length=LONGEST_TEXT)


class Act(Strict):
    """Words for the desk beside an act, and the case that is meant."""

    text: str = Words
    case: str = Case


class Comment(Act):
    """Words for the desk, with files that were added since the seal."""

    files: list[str] = Field([], max_length=50, description="Names of exhibits.")


class Reply(Comment):
    """An answer; `questions` are the ids of those that it answers, all open ones of its case without them."""

    questions: list[str] | None = Field(None, max_length=100)


class Level(Act):
    """Another severity."""

    level: str = Field(min_length=1, max_length=40)


class Escalation(Act):
    """A rule of the desk's, from 0, and why."""

    step: int = Field(0, ge=0, le=50)


class Contact(Act):
    """Somebody of the register, by key."""

    person: str = Field(min_length=1, max_length=100)


class PeopleTold(Act):
    """People of the register, by key."""

    people: list[str] = Field(min_length=1, max_length=100)


class Rating(Act):
    """From 1 (bad) to 5 (good)."""

    rating: int = Field(ge=1, le=5)


class HandOver(Strict):
    """To whom: the name of an account."""

    to: str = Field(min_length=1, max_length=100)
    note: str = Field("", max_length=2000)


class Informed(Strict):
    """Who of our own house is kept informed."""

    people: list[Annotated[str, Field(max_length=60)]] = Field(
        max_length=200, description="Keys of people in the register; none: nobody."
    )


class Together(Strict):
    """One thing to be done to many packets."""

    act: TogetherAct = Field(description="The act.")
    numbers: list[str] = Field(
        min_length=1, max_length=together.MOST, description="The numbers of the packets."
    )
    to: str = Field("", max_length=100, description="The account to hand them over to.")
    text: str = Field(
        "", max_length=5000, description="Words for that account, or a comment for the desks."
    )


class TogetherList(BaseModel):
    """Of each packet, whether it is done."""

    items: list[TogetherDone]


class End(Strict):
    """Cause and cure."""

    cause: str = Field("", max_length=4000)
    cure: str = Field("", max_length=4000)


class Following(Strict):
    """A packet that follows; without a title it has the same."""

    title: OneLine = Field("", max_length=200)
    note: str = Words


class MessagePath(Number):
    """A message of a packet's."""

    message: str = Field(max_length=60)


class Unwished(Strict):
    """Whether a call came although mail was asked for."""

    unwished: bool = Field(True, description="False takes the note back.")


class ConsequencePath(Number):
    """A change of the register that follows from an answer about a packet."""

    ident: str = Field(max_length=60, description="Its id.")


class ConsequenceList(BaseModel):
    """Changes of the register that wait for a keeper, the oldest first."""

    items: list[ConsequenceOffered]


@api.get(
    "/consequences",
    summary="List changes of the register that follow from answers and wait for a keeper",
    responses={200: ConsequenceList},
    does=consequences.consequences,
)
@requires_role(ANY_ROLE)
def list_consequences() -> ConsequenceList:
    return ConsequenceList(items=consequences.consequences(current_app()))


@api.post(
    "/packets/<number>/consequences/<ident>/take",
    summary="Take a change that follows from an answer into the register",
    responses={200: PacketShown},
    does=consequences.take_consequence,
    etag=True,
)
@requires_role("keeper")
@idempotent
def take_consequence(path: ConsequencePath) -> PacketShown:
    number = path.number.upper()
    return consequences.take_consequence(current_app(), actor(), number, path.ident)


@api.post(
    "/packets/<number>/consequences/<ident>/dismiss",
    summary="Dismiss a change that follows from an answer",
    responses={200: PacketShown},
    does=consequences.dismiss_consequence,
    etag=True,
)
@requires_role("keeper")
@idempotent
def dismiss_consequence(path: ConsequencePath) -> PacketShown:
    number = path.number.upper()
    return consequences.dismiss_consequence(current_app(), actor(), number, path.ident)


@api.post(
    "/packets/<number>/consequences/<ident>/undo",
    summary="Undo a change that was taken or dismissed",
    responses={200: PacketShown},
    does=consequences.undo_consequence,
    etag=True,
)
@requires_role("keeper")
@idempotent
def undo_consequence(path: ConsequencePath) -> PacketShown:
    number = path.number.upper()
    return consequences.undo_consequence(current_app(), actor(), number, path.ident)


class QuestionPath(Number):
    """A question in a message of a packet's."""

    question: str = Field(max_length=60)


@api.post(
    "/packets/<number>/messages/preview",
    summary="Preview a reply to the desk as it would leave",
    responses={200: TypedShown},
    does=messages.preview_reply,
    problems=(409,),
)
@requires_role("preparer")
def preview_reply(path: Number, body: Typed) -> TypedShown:
    return messages.preview_reply(current_app(), path.number.upper(), body.text)


@api.post(
    "/packets/<number>/messages",
    summary="Reply to the desk",
    responses={201: PacketShown},
    does=messages.reply,
    etag=True,
    location="/packets/{number}",
    sends=True,
)
@requires_role("preparer")
@idempotent
def reply(path: Number, body: Reply) -> PacketShown:
    return messages.reply(
        current_app(), actor(), path.number.upper(), body.text,
        case=body.case, questions=body.questions, files=body.files,
    )  # fmt: skip


@api.post(
    "/packets/<number>/comment",
    summary="Send a comment or files to the desk",
    responses={201: PacketShown},
    does=messages.comment,
    etag=True,
    location="/packets/{number}",
)
@requires_role("preparer")
@idempotent
def comment(path: Number, body: Comment) -> PacketShown:
    return messages.comment(
        current_app(), actor(), path.number.upper(), body.text, case=body.case, files=body.files
    )


@api.post(
    "/packets/<number>/messages/<message>/take-back",
    summary="Undo the newest act that has not gone to the desk",
    responses={200: PacketShown},
    does=messages.take_back,
    etag=True,
)
@requires_role("preparer")
@idempotent
def take_back(path: MessagePath) -> PacketShown:
    number = path.number.upper()
    return messages.take_back(current_app(), actor(), number, path.message)


@api.post(
    "/packets/<number>/messages/<message>/unwished",
    summary="Note that the desk called although mail was asked for",
    responses={200: PacketShown},
    does=messages.mark_unwished,
    etag=True,
)
@requires_role("preparer")
@idempotent
def mark_unwished(path: MessagePath, body: Unwished) -> PacketShown:
    number = path.number.upper()
    return messages.mark_unwished(
        current_app(), actor(), number, path.message, unwished=body.unwished
    )


@api.post(
    "/packets/<number>/messages/<message>/pass-on",
    summary="Note that a message was passed on by hand",
    responses={200: PacketShown},
    does=messages.pass_on,
    etag=True,
    sends=True,
)
@requires_role("preparer")
@idempotent
def pass_on(path: MessagePath) -> PacketShown:
    return messages.pass_on(current_app(), actor(), path.number.upper(), path.message)


@api.get(
    "/packets/<number>/messages/<message>/original",
    summary="Get a desk's mail, unchanged",
    responses={200: Content("message/rfc822")},
    does=messages.original,
)
@requires_role("preparer", "releaser")
def get_original(path: MessagePath) -> Response:
    blocks = messages.original(current_app(), actor(), path.number.upper(), path.message)
    headers = {"Content-Disposition": f'attachment; filename="{path.number.upper()}.eml"'}
    return Response(blocks, mimetype="message/rfc822", headers=headers)


@api.post(
    "/packets/<number>/questions/<question>/dismiss",
    summary="Dismiss a question",
    responses={200: PacketShown},
    does=messages.dismiss_question,
    etag=True,
)
@requires_role("preparer")
@idempotent
def dismiss_question(path: QuestionPath) -> PacketShown:
    number = path.number.upper()
    return messages.dismiss_question(current_app(), actor(), number, path.question)


@api.post(
    "/packets/<number>/severity",
    summary="Ask the desk for another severity",
    responses={201: PacketShown},
    does=acts.change_severity,
    etag=True,
    location="/packets/{number}",
    sends=True,
)
@requires_role("preparer")
@idempotent
def change_severity(path: Number, body: Level) -> PacketShown:
    number = path.number.upper()
    return acts.change_severity(
        current_app(), actor(), number, body.level, body.text, case=body.case
    )


@api.post(
    "/packets/<number>/escalate",
    summary="Escalate by one of the desk's rules",
    responses={201: PacketShown},
    does=acts.escalate,
    etag=True,
    location="/packets/{number}",
    sends=True,
)
@requires_role("preparer")
@idempotent
def escalate(path: Number, body: Escalation) -> PacketShown:
    number = path.number.upper()
    return acts.escalate(current_app(), actor(), number, body.step, body.text, case=body.case)


@api.post(
    "/packets/<number>/contact",
    summary="Change the contact person",
    responses={201: PacketShown},
    does=acts.change_contact,
    etag=True,
    location="/packets/{number}",
    sends=True,
)
@requires_role("preparer")
@idempotent
def change_contact(path: Number, body: Contact) -> PacketShown:
    number = path.number.upper()
    return acts.change_contact(
        current_app(), actor(), number, body.person, body.text, case=body.case
    )


@api.post(
    "/packets/<number>/told",
    summary="Set the people whom the desk keeps informed",
    responses={201: PacketShown},
    does=acts.change_told,
    etag=True,
    location="/packets/{number}",
    sends=True,
)
@requires_role("preparer")
@idempotent
def change_told(path: Number, body: PeopleTold) -> PacketShown:
    number = path.number.upper()
    return acts.change_told(current_app(), actor(), number, body.people, body.text, case=body.case)


@api.post(
    "/packets/<number>/accept",
    summary="Accept the answer that the desk proposes",
    responses={201: PacketShown},
    does=acts.accept,
    etag=True,
    location="/packets/{number}",
    sends=True,
)
@requires_role("preparer")
@idempotent
def accept(path: Number, body: Act) -> PacketShown:
    number = path.number.upper()
    return acts.accept(current_app(), actor(), number, body.text, case=body.case)


@api.post(
    "/packets/<number>/contest",
    summary="Contest the proposed answer",
    responses={201: PacketShown},
    does=acts.contest,
    etag=True,
    location="/packets/{number}",
    sends=True,
)
@requires_role("preparer")
@idempotent
def contest(path: Number, body: Act) -> PacketShown:
    number = path.number.upper()
    return acts.contest(current_app(), actor(), number, body.text, case=body.case)


@api.post(
    "/packets/<number>/rate",
    summary="Rate the help",
    responses={201: PacketShown},
    does=acts.rate,
    etag=True,
    location="/packets/{number}",
    sends=True,
)
@requires_role("preparer")
@idempotent
def rate(path: Number, body: Rating) -> PacketShown:
    number = path.number.upper()
    return acts.rate(current_app(), actor(), number, body.rating, body.text, case=body.case)


@api.post(
    "/packets/<number>/close",
    summary="Ask the desk to close a case",
    responses={201: PacketShown},
    does=acts.close,
    etag=True,
    location="/packets/{number}",
    sends=True,
)
@requires_role("preparer")
@idempotent
def close(path: Number, body: Act) -> PacketShown:
    number = path.number.upper()
    return acts.close(current_app(), actor(), number, body.text, case=body.case)


@api.post(
    "/packets/<number>/open-again",
    summary="Ask the desk to reopen a settled case",
    responses={201: PacketShown},
    does=acts.open_again,
    etag=True,
    location="/packets/{number}",
    sends=True,
)
@requires_role("preparer")
@idempotent
def open_again(path: Number, body: Act) -> PacketShown:
    number = path.number.upper()
    return acts.open_again(current_app(), actor(), number, body.text, case=body.case)


@api.post(
    "/packets/<number>/follow-up",
    summary="Note a follow-up to a packet that is over",
    responses={201: PacketShown},
    does=ownership.follow_up,
    etag=True,
    location="/packets/{number}",
    sends=True,
)
@requires_role("preparer")
@idempotent
def follow_up(path: Number, body: Following) -> PacketShown:
    number = path.number.upper()
    return ownership.follow_up(current_app(), actor(), number, body.title, body.note)


class Colleague(ColleagueForm):
    """A colleague, and the question that they answer."""

    question: str = Field(max_length=60, description="The question for a person.")


@api.post(
    "/packets/<number>/colleague",
    summary="Name a colleague who is not in the register",
    responses={200: PacketShown},
    does=colleagues.name_colleague,
    etag=True,
    sends=True,
)
@requires_role("preparer")
@idempotent
def name_colleague(path: Number, body: Colleague) -> PacketShown:
    form = ColleagueForm(name=body.name, mail=body.mail, phone=body.phone)
    number = path.number.upper()
    return colleagues.name_colleague(current_app(), actor(), number, body.question, form)


class ClaimForm(Strict):
    """A claim that goes on from a packet."""

    note: str = Field("", max_length=20_000, description="Words before the note of the packet.")


@api.post(
    "/packets/<number>/claim",
    summary="Note a claim that goes on from a packet",
    responses={201: PacketShown},
    does=ownership.claim,
    etag=True,
    location="/packets/{number}",
    problems=(409,),
)
@requires_role("preparer")
@idempotent
def claim(path: Number, body: ClaimForm) -> PacketShown:
    return ownership.claim(current_app(), actor(), path.number.upper(), body.note)


class CureForm(Strict):
    """A cure of a draft's ruling."""

    cure: str = Field(max_length=40, description="The code of the cure, as in `cures`.")


@api.post(
    "/packets/<number>/ask-for-cure",
    summary="Note a packet that asks for what a draft lacks",
    responses={201: PacketShown},
    does=curing.ask_for_cure,
    etag=True,
    location="/packets/{number}",
    problems=(409,),
    sends=True,
)
@requires_role("preparer")
@idempotent
def ask_for_cure(path: Number, body: CureForm) -> PacketShown:
    return curing.ask_for_cure(current_app(), actor(), path.number.upper(), body.cure)


@api.post(
    "/packets/<number>/hand-over",
    summary="Hand a packet over to a colleague",
    responses={200: PacketShown},
    does=ownership.hand_over,
    etag=True,
)
@requires_role("preparer")
@idempotent
def hand_over(path: Number, body: HandOver) -> PacketShown:
    number = path.number.upper()
    return ownership.hand_over(current_app(), actor(), number, body.to, body.note)


@api.put(
    "/packets/<number>/informed",
    summary="Name who of your own house is kept informed",
    responses={200: PacketShown},
    does=ownership.keep_informed,
    etag=True,
)
@requires_role("preparer")
@idempotent
def keep_informed(path: Number, body: Informed) -> PacketShown:
    return ownership.keep_informed(current_app(), actor(), path.number.upper(), body.people)


@api.post(
    "/packets/<number>/take-over",
    summary="Take over a packet",
    responses={200: PacketShown},
    does=ownership.take_over,
    etag=True,
)
@requires_role("preparer")
@idempotent
def take_over(path: Number) -> PacketShown:
    return ownership.take_over(current_app(), actor(), path.number.upper())


@api.post(
    "/packets/together",
    summary="Do one thing to many packets",
    responses={200: TogetherList},
    does=together.act_together,
    sends=True,
)
@requires_role("preparer")
@idempotent
def act_together(body: Together) -> TogetherList:
    return TogetherList(
        items=together.act_together(
            current_app(), actor(), body.act, body.numbers, to=body.to, text=body.text
        )
    )


@api.post(
    "/packets/<number>/settle",
    summary="Settle a packet; record cause and cure",
    responses={200: PacketShown},
    does=ownership.settle,
    etag=True,
)
@requires_role("preparer")
@idempotent
def settle_packet(path: Number, body: End) -> PacketShown:
    number = path.number.upper()
    return ownership.settle(current_app(), actor(), number, cause=body.cause, cure=body.cure)
