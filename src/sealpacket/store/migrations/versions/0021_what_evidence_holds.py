"""What evidence holds, when it began, and known issues."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0021"
down_revision = "0020"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("packet", sa.Column("began_at", sa.DateTime(timezone=True)))
    op.add_column("exhibit", sa.Column("look", JSONB()))
    op.add_column("exhibit", sa.Column("summary_blob", sa.Text()))
    op.create_table(
        "known_issue",
        sa.Column("key", sa.Text(), primary_key=True),
        sa.Column("title", sa.Text(), nullable=False),
        sa.Column("pattern", sa.Text(), nullable=False),
        sa.Column("meaning", sa.Text(), nullable=False),
        sa.Column("advice", sa.Text(), nullable=False),
        sa.Column("fixed_in", sa.Text(), nullable=False),
        sa.Column("link", sa.Text(), nullable=False),
        sa.Column("vendor", sa.Text(), nullable=False),
        sa.Column("models", JSONB(), nullable=False),
        sa.Column("packet_id", sa.Text(), sa.ForeignKey("packet.id", ondelete="SET NULL")),
        sa.Column("by", sa.Text(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
    )
    op.create_index("ix_known_issue_packet_id", "known_issue", ["packet_id"])
