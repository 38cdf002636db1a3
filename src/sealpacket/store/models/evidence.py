"""Diagnostic kits and their runs, secrets by name, how devices are reached, and what was tried on a thing."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import uuid4

from sqlalchemy import CheckConstraint, ForeignKey, Index, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from sealpacket.store.models.base import Base, now
from sealpacket.store.models.packets import Packet
from sealpacket.store.models.register import Asset


class KitRecord(Base):
    """A diagnostic kit. A retired one is offered no more; its runs stay."""

    __tablename__ = "kit"
    name: Mapped[str] = mapped_column(primary_key=True)
    retired: Mapped[bool] = mapped_column(default=False)
    versions: Mapped[list[KitVersion]] = relationship(order_by="KitVersion.number")


class KitVersion(Base):
    """One version of a kit, as it was written and as it was read. Versions never change."""

    __tablename__ = "kit_version"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    kit: Mapped[str] = mapped_column(ForeignKey("kit.name"))
    number: Mapped[int]
    body: Mapped[dict[str, Any]]
    text: Mapped[str]
    by: Mapped[str] = mapped_column(default="")
    at: Mapped[datetime] = mapped_column(default=now)
    __table_args__ = (UniqueConstraint("kit", "number"),)


class KitRun(Base):
    """A kit that a person has seen, confirmed and had run for a packet. `outcomes` has each step as it ends."""

    __tablename__ = "kit_run"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    packet_id: Mapped[str] = mapped_column(ForeignKey("packet.id"), index=True)
    kit_version_id: Mapped[str] = mapped_column(ForeignKey("kit_version.id"), index=True)
    target: Mapped[str]
    state: Mapped[str] = mapped_column(default="waiting")
    outcomes: Mapped[list[Any]] = mapped_column(default=list)
    reason: Mapped[str] = mapped_column(default="")
    confirmed_by: Mapped[str]
    confirmed_at: Mapped[datetime] = mapped_column(default=now)
    ended_at: Mapped[datetime | None]
    packet: Mapped[Packet] = relationship()
    kit_version: Mapped[KitVersion] = relationship()
    __table_args__ = (
        CheckConstraint("state IN ('waiting','running','done','failed')", name="state"),
    )


class SafeSecret(Base):
    """A secret that kits use by its name; encrypted, and never shown again."""

    __tablename__ = "safe_secret"
    name: Mapped[str] = mapped_column(primary_key=True)
    what: Mapped[str] = mapped_column(default="")
    value_sealed: Mapped[bytes]
    by: Mapped[str] = mapped_column(default="")
    at: Mapped[datetime] = mapped_column(default=now)


class DeviceReach(Base):
    """How the worker reaches a device.

    `host_key` is its public key as OpenSSH writes it, `authority` a certificate authority as PEM, beside the system's;
    `secrets` maps a kit's names of secrets to those of the safe, where they differ.
    """

    __tablename__ = "device_reach"
    asset_id: Mapped[str] = mapped_column(
        ForeignKey("asset.id", ondelete="CASCADE"), primary_key=True
    )
    target: Mapped[str]
    port: Mapped[int] = mapped_column(default=22)
    https_port: Mapped[int] = mapped_column(default=443)
    user: Mapped[str] = mapped_column(default="")
    host_key: Mapped[str] = mapped_column(default="")
    authority: Mapped[str] = mapped_column(default="")
    secrets: Mapped[dict[str, Any]] = mapped_column(default=dict)
    by: Mapped[str] = mapped_column(default="")
    at: Mapped[datetime] = mapped_column(default=now)


class TriedStep(Base):
    """A step tried on an asset: its result, when and by whom, and the exhibit that shows it."""

    __tablename__ = "tried_step"
    id: Mapped[str] = mapped_column(primary_key=True, default=lambda: str(uuid4()))
    asset_id: Mapped[str] = mapped_column(ForeignKey("asset.id"))
    packet_id: Mapped[str | None] = mapped_column(ForeignKey("packet.id"), index=True)
    step: Mapped[str]
    result: Mapped[str] = mapped_column(default="")
    exhibit: Mapped[str] = mapped_column(default="")
    at: Mapped[datetime] = mapped_column(default=now)
    by: Mapped[str] = mapped_column(default="")
    asset: Mapped[Asset] = relationship()
    packet: Mapped[Packet | None] = relationship()
    __table_args__ = (Index("ix_tried_step_asset_id", "asset_id", "at"),)
