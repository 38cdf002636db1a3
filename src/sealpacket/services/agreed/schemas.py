"""Limits that packets ask for, and prepaid units that they hold."""

from __future__ import annotations

from datetime import date, datetime

from pydantic import BaseModel, Field


class LimitRequestShown(BaseModel):
    """A request for a limit, and what became of it."""

    packet: str = Field(description="The number of the packet.")
    region: str = Field(description="The region.")
    resource: str = Field(description="The resource.")
    was: int | None = Field(description="The limit when it was asked for; null: not known.")
    wanted: int = Field(description="The limit that was wanted.")
    granted: int | None = Field(description="The limit after the decision; null: none yet.")
    state: str = Field(description="Whether it is asked, granted, granted partly, or declined.")
    reason: str = Field(description="The reason that the desk gave for less.")
    asked_at: datetime = Field(description="When it was sealed.")
    decided_at: datetime | None = Field(description="When the desk decided; null: not yet.")


class UnitsHeld(BaseModel):
    """Units of a lot that a packet holds, has used, or has freed."""

    lot: str = Field(description="The reference of the lot.")
    units: int = Field(description="How many units.")
    state: str = Field(description="Whether they are held, used or freed.")
    lapses_on: date = Field(description="The last day on which they can be used.")
