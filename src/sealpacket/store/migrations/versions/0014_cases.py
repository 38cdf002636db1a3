"""Each case of a packet is a row of its own, and messages point to their case."""

from typing import Any
from uuid import uuid4

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None

_LIVES = ("lodged", "answered", "settled")


def upgrade() -> None:
    cases = op.create_table(
        "packet_case",
        sa.Column("id", sa.Text(), primary_key=True),
        sa.Column("packet_id", sa.Text(), sa.ForeignKey("packet.id"), nullable=False),
        sa.Column("place", sa.Integer(), nullable=False),
        sa.Column("label", sa.Text(), nullable=False),
        sa.Column("written", sa.JSON(), nullable=False),
        sa.Column("sent", sa.Boolean(), nullable=False),
        sa.Column("reference", sa.Text()),
        sa.Column("desk_status", sa.Text(), nullable=False),
        sa.Column("life", sa.Text()),
        sa.Column("turn", sa.Text()),
        sa.Column("desk_facts", postgresql.JSONB(), nullable=False),
        sa.UniqueConstraint("packet_id", "place", deferrable=True, initially="DEFERRED"),
        sa.CheckConstraint("life IN ('lodged','answered','settled')", name="life"),
        sa.CheckConstraint("turn IN ('ours','vendor')", name="turn"),
    )
    op.create_index("ix_packet_case_reference", "packet_case", ["reference"])
    op.add_column(
        "message",
        sa.Column(
            "case_id", sa.Text(), sa.ForeignKey("packet_case.id", ondelete="SET NULL"), index=True
        ),
    )
    op.drop_constraint("uq_message_packet_id_desk_id", "message")
    op.create_index(
        "uq_message_desk_id",
        "message",
        ["packet_id", sa.text("coalesce(case_id, '')"), "desk_id"],
        unique=True,
    )
    bind = op.get_bind()
    packets = bind.execute(
        sa.text("SELECT id, cases, told FROM packet WHERE cases IS NOT NULL")
    ).all()
    for packet_id, written, told in packets:
        rows = [
            _row(packet_id, place, one, told, len(written)) for place, one in enumerate(written)
        ]
        if rows:
            bind.execute(sa.insert(cases), rows)
            _point_messages(bind, packet_id, rows)
    op.drop_column("packet", "cases")
    op.drop_column("packet", "told")


def _row(
    packet_id: str, place: int, one: dict[str, Any], told: dict[str, str], many: int
) -> dict[str, Any]:
    label = str(one["case"].get("label") or "")
    mark = f" ({label})"
    facts = (
        told
        if many == 1
        else {n.removesuffix(mark): v for n, v in told.items() if n.endswith(mark)}
    )
    sent = bool(one.get("sent") or one.get("reference"))
    return {
        "id": str(uuid4()),
        "packet_id": packet_id,
        "place": place,
        "label": label,
        "written": one["case"],
        "sent": sent,
        "reference": one.get("reference"),
        "desk_status": one.get("status") or "",
        "life": one["life"] if one.get("life") in _LIVES else None,
        "turn": one.get("turn"),
        "desk_facts": facts,
    }


def _point_messages(bind: sa.Connection, packet_id: str, rows: list[dict[str, Any]]) -> None:
    """Their desk's name for a message began with the label of its case, if there were several."""
    for row in rows:
        begins = f"{row['label']}/" if row["label"] else ""
        bind.execute(
            sa.text(
                "UPDATE message SET case_id = :case, desk_id = substr(desk_id, :cut), "
                "by = CASE WHEN right(by, length(:mark)) = :mark THEN left(by, -length(:mark)) ELSE by END "
                "WHERE packet_id = :packet AND case_id IS NULL AND NOT stranger AND "
                "(left(desk_id, :long) = :begins OR (:begins <> '' AND right(by, length(:mark)) = :mark) "
                "OR (:begins = '' AND desk_id IS NULL))"
            ),
            {
                "case": row["id"],
                "packet": packet_id,
                "begins": begins,
                "long": len(begins),
                "cut": len(begins) + 1,
                "mark": f" ({row['label']})",
            },
        )
