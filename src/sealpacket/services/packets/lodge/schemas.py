"""Response models of lodging by hand."""

from __future__ import annotations

from pydantic import BaseModel, Field

from sealpacket.core.sheets import HandWay


class HandField(BaseModel):
    """One field to enter by hand: its label at the desk, what is entered, and how it is spelled on the telephone."""

    label: str
    value: str
    spelled: str
    entered: bool


class HandCase(BaseModel):
    """One case to enter; `opening` is what is said or written first."""

    label: str
    opening: str
    reference: str | None
    fields: list[HandField]


class HandFile(BaseModel):
    """A file to add at the desk, under this name; `exhibit` is what it is called here. Size in bytes."""

    name: str
    exhibit: str
    size: int


class HandWayShown(BaseModel):
    """A way to a desk that is reached by hand, and where."""

    by: HandWay
    where: str


class HandGuide(HandWayShown):
    """The fields of a case in the desk's order, with values as they may leave.

    `ways` are all ways to this desk, including the one that this guide is for.
    """

    ways: list[HandWayShown]
    closing: str
    cases: list[HandCase]
    files: list[HandFile]
    reference_example: str
    reference_form: str
    passcode_of: str = Field(
        description="The id of the contract whose passcode the desk may want to hear; empty: it has none."
    )
