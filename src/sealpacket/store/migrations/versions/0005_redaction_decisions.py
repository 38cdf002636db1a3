"""The organisation's redaction plan, decisions about a packet's values, and what was found by value."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("exhibit", sa.Column("values_blob", sa.Text(), nullable=True))
    op.create_table(
        "redaction_plan",
        sa.Column("number", sa.Integer(), autoincrement=False, nullable=False),
        sa.Column("body_sealed", sa.LargeBinary(), nullable=False),
        sa.Column("by", sa.Text(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.PrimaryKeyConstraint("number", name=op.f("pk_redaction_plan")),
    )
    op.create_table(
        "redaction_decision",
        sa.Column("id", sa.Text(), nullable=False),
        sa.Column("packet_id", sa.Text(), nullable=False),
        sa.Column("deed", sa.Text(), nullable=False),
        sa.Column("kind", sa.Text(), nullable=False),
        sa.Column("value_sealed", sa.LargeBinary(), nullable=True),
        sa.Column("label", sa.Text(), nullable=False),
        sa.Column("reason", sa.Text(), nullable=False),
        sa.Column("by", sa.Text(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.CheckConstraint("deed IN ('keep','mask')", name=op.f("ck_redaction_decision_deed")),
        sa.ForeignKeyConstraint(
            ["packet_id"], ["packet.id"], name=op.f("fk_redaction_decision_packet_id")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_redaction_decision")),
    )
    op.create_index(op.f("ix_redaction_decision_packet_id"), "redaction_decision", ["packet_id"])
