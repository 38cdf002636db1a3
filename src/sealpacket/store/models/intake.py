"""Imports: files that came in for the register, what each row would do, and what was remembered of their source."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import uuid4

from sqlalchemy import BigInteger, CheckConstraint, ForeignKey, Index
from sqlalchemy.orm import Mapped, mapped_column

from sealpacket.store.models.base import Base, now


class Intake(Base):
    """One import. `mapping`: field to heading; `fixed`: field to a value for all rows; `counts` by outcome."""

    __tablename__ = "intake"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    kind: Mapped[str]
    source: Mapped[str]
    file_name: Mapped[str]
    part: Mapped[str] = mapped_column(default="")
    blob: Mapped[str]
    size: Mapped[int] = mapped_column(BigInteger)
    state: Mapped[str] = mapped_column(default="reading")
    status_text: Mapped[str] = mapped_column(default="")
    headings: Mapped[list[str]] = mapped_column(default=list)
    mapping: Mapped[dict[str, Any]] = mapped_column(default=dict)
    fixed: Mapped[dict[str, Any]] = mapped_column(default=dict)
    date_order: Mapped[str | None]
    counts: Mapped[dict[str, Any]] = mapped_column(default=dict)
    by: Mapped[str]
    at: Mapped[datetime] = mapped_column(default=now)
    applied_at: Mapped[datetime | None]
    __table_args__ = (
        CheckConstraint(
            "state IN ('reading','ready','applying','applied','undoing','undone','failed','dropped')",
            name="state",
        ),
        Index("ix_intake_at", "at"),
    )


class IntakeRow(Base):
    """The effect of one row: `body` is the record as it would be, `before` what it changes."""

    __tablename__ = "intake_row"
    intake_id: Mapped[str] = mapped_column(
        ForeignKey("intake.id", ondelete="CASCADE"), primary_key=True
    )
    row: Mapped[int] = mapped_column(primary_key=True)
    outcome: Mapped[str]
    called: Mapped[str] = mapped_column(default="")
    record_id: Mapped[str | None]
    body: Mapped[dict[str, Any] | None]
    before: Mapped[dict[str, Any] | None]
    sealed: Mapped[dict[str, Any] | None]
    faults: Mapped[list[Any] | None]
    cells: Mapped[list[Any] | None]
    __table_args__ = (
        CheckConstraint("outcome IN ('new','changed','unchanged','rejected')", name="outcome"),
        Index("ix_intake_row_outcome", "intake_id", "outcome", "row"),
    )


class IntakeSource(Base):
    """Earlier choices for a source, so that nobody has to make them again."""

    __tablename__ = "intake_source"
    kind: Mapped[str] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(primary_key=True)
    mapping: Mapped[dict[str, Any]]
    fixed: Mapped[dict[str, Any]]
    date_order: Mapped[str | None]
