"""Kits with their versions and runs, secrets, how devices are reached, what was tried, tickets, contexts, retention."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0023"
down_revision = "0022"
branch_labels = None
depends_on = None


def upgrade() -> None:
    _add_kits()
    op.create_table(
        "tried_step",
        sa.Column("id", sa.Text(), primary_key=True),
        sa.Column("asset_id", sa.Text(), sa.ForeignKey("asset.id"), nullable=False),
        sa.Column("packet_id", sa.Text(), sa.ForeignKey("packet.id")),
        sa.Column("step", sa.Text(), nullable=False),
        sa.Column("result", sa.Text(), nullable=False),
        sa.Column("exhibit", sa.Text(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("by", sa.Text(), nullable=False),
    )
    op.create_index("ix_tried_step_asset_id", "tried_step", ["asset_id", "at"])
    op.create_index("ix_tried_step_packet_id", "tried_step", ["packet_id"])
    op.add_column("exhibit", sa.Column("collected", JSONB()))
    op.add_column("exhibit", sa.Column("original_deleted_at", sa.DateTime(timezone=True)))
    op.create_index("ix_exhibit_original_blob", "exhibit", ["original_blob"])
    op.add_column("packet", sa.Column("ticket", sa.Text(), nullable=False, server_default=""))
    op.add_column("packet", sa.Column("ticket_mail", JSONB()))
    op.add_column("packet", sa.Column("ticket_told", sa.Text(), nullable=False, server_default=""))
    op.add_column("packet", sa.Column("ticket_tried_at", sa.DateTime(timezone=True)))
    op.add_column(
        "packet", sa.Column("ticket_trouble", sa.Text(), nullable=False, server_default="")
    )
    op.add_column("packet", sa.Column("context", JSONB()))
    op.create_index("ix_packet_ticket", "packet", ["ticket"])


def _add_kits() -> None:
    op.create_table(
        "kit",
        sa.Column("name", sa.Text(), primary_key=True),
        sa.Column("retired", sa.Boolean(), nullable=False),
    )
    op.create_table(
        "kit_version",
        sa.Column("id", sa.Text(), primary_key=True),
        sa.Column("kit", sa.Text(), sa.ForeignKey("kit.name"), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("body", JSONB(), nullable=False),
        sa.Column("text", sa.Text(), nullable=False),
        sa.Column("by", sa.Text(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.UniqueConstraint("kit", "number", name="uq_kit_version_kit_number"),
    )
    op.create_table(
        "kit_run",
        sa.Column("id", sa.Text(), primary_key=True),
        sa.Column("packet_id", sa.Text(), sa.ForeignKey("packet.id"), nullable=False),
        sa.Column("kit_version_id", sa.Text(), sa.ForeignKey("kit_version.id"), nullable=False),
        sa.Column("target", sa.Text(), nullable=False),
        sa.Column("state", sa.Text(), nullable=False),
        sa.Column("outcomes", JSONB(), nullable=False),
        sa.Column("reason", sa.Text(), nullable=False),
        sa.Column("confirmed_by", sa.Text(), nullable=False),
        sa.Column("confirmed_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("ended_at", sa.DateTime(timezone=True)),
        sa.CheckConstraint(
            "state IN ('waiting','running','done','failed')", name="ck_kit_run_state"
        ),
    )
    op.create_index("ix_kit_run_packet_id", "kit_run", ["packet_id"])
    op.create_index("ix_kit_run_kit_version_id", "kit_run", ["kit_version_id"])
    op.create_table(
        "vault_secret",
        sa.Column("name", sa.Text(), primary_key=True),
        sa.Column("what", sa.Text(), nullable=False),
        sa.Column("value_sealed", sa.LargeBinary(), nullable=False),
        sa.Column("by", sa.Text(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
    )
    op.create_table(
        "device_reach",
        sa.Column(
            "asset_id", sa.Text(), sa.ForeignKey("asset.id", ondelete="CASCADE"), primary_key=True
        ),
        sa.Column("target", sa.Text(), nullable=False),
        sa.Column("port", sa.Integer(), nullable=False),
        sa.Column("https_port", sa.Integer(), nullable=False),
        sa.Column("user", sa.Text(), nullable=False),
        sa.Column("host_key", sa.Text(), nullable=False),
        sa.Column("authority", sa.Text(), nullable=False),
        sa.Column("secrets", JSONB(), nullable=False),
        sa.Column("by", sa.Text(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
    )
