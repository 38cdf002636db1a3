"""What all tables share."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any
from uuid import uuid4

from sqlalchemy import DateTime, MetaData, Text
from sqlalchemy.dialects.postgresql import ARRAY, JSONB
from sqlalchemy.orm import DeclarativeBase, Mapped, declared_attr, mapped_column


def now() -> datetime:
    """This moment in UTC."""
    return datetime.now(UTC)


class Base(DeclarativeBase):
    """The declarative base; constraints get names from their columns, so that errors can be told apart."""

    metadata = MetaData(
        naming_convention={
            "ix": "ix_%(column_0_label)s",
            "uq": "uq_%(table_name)s_%(column_0_N_name)s",
            "ck": "ck_%(table_name)s_%(constraint_name)s",
            "fk": "fk_%(table_name)s_%(column_0_N_name)s",
            "pk": "pk_%(table_name)s",
        }
    )
    type_annotation_map = {
        datetime: DateTime(timezone=True),
        str: Text(),
        list[str]: ARRAY(Text()),
        dict[str, Any]: JSONB(none_as_null=True),
        list[Any]: JSONB(none_as_null=True),
    }


class Recorded:
    """A record that people edit: its version is the ETag, checked on every change."""

    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    version: Mapped[int] = mapped_column(nullable=False, default=1)
    created_at: Mapped[datetime] = mapped_column(default=now)
    updated_at: Mapped[datetime] = mapped_column(default=now, onupdate=now)

    @declared_attr.directive
    def __mapper_args__(cls) -> dict[str, object]:  # noqa: N805
        """Every update names the version that it read, so that SQLAlchemy raises on a lost one."""
        return {"version_id_col": cls.version}
