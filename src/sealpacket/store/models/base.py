"""The base of all tables."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import UTC, datetime
from enum import StrEnum
from typing import Any
from uuid import uuid4

from sqlalchemy import CheckConstraint, DateTime, Dialect, MetaData, Text, TypeDecorator
from sqlalchemy.dialects.postgresql import ARRAY, JSONB
from sqlalchemy.orm import DeclarativeBase, Mapped, declared_attr, mapped_column

from sealpacket.core.attention import Attention
from sealpacket.core.life import ConsequenceState, DeliveryState, FollowingState, Life, Turn
from sealpacket.core.notices import DigestBy, NoticeKind
from sealpacket.core.vendor_health import ReportSort


def now() -> datetime:
    """This moment in UTC."""
    return datetime.now(UTC)


class Enumerated(TypeDecorator[StrEnum]):
    """Text restricted to the values of an enumeration, and read as its members."""

    impl = Text
    cache_ok = True

    def __init__(self, kind: type[StrEnum]) -> None:
        super().__init__()
        self.kind = kind

    def process_bind_param(self, value: StrEnum | str | None, dialect: Dialect) -> str | None:
        """The value as text. Raises ValueError for one that is not in the enumeration."""
        return None if value is None else self.kind(value).value

    def process_result_value(self, value: str | None, dialect: Dialect) -> StrEnum | None:
        """The member of the enumeration."""
        return None if value is None else self.kind(value)


def one_of(column: str, values: Iterable[StrEnum]) -> CheckConstraint:
    """The constraint, called as its column, that the database keeps only these values."""
    listed = ",".join(f"'{one.value}'" for one in values)
    return CheckConstraint(f"{column} IN ({listed})", name=column)


class Base(DeclarativeBase):
    """The declarative base; constraints are named after their columns, so that errors can be identified."""

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
        Attention: Enumerated(Attention),
        ConsequenceState: Enumerated(ConsequenceState),
        DigestBy: Enumerated(DigestBy),
        Life: Enumerated(Life),
        NoticeKind: Enumerated(NoticeKind),
        ReportSort: Enumerated(ReportSort),
        Turn: Enumerated(Turn),
        DeliveryState: Enumerated(DeliveryState),
        FollowingState: Enumerated(FollowingState),
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
