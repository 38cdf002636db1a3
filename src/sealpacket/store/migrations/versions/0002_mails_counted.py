"""Mails to the address that makes drafts are counted as those of packets are, under no packet."""

from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.alter_column("mail_count", "packet_id", nullable=True)
