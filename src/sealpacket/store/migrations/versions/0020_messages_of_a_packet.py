"""The messages of a packet are found by an index: with many replies in the house, each new one reads its packet's."""

from alembic import op

revision = "0020"
down_revision = "0019"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_index("ix_message_packet_id", "message", ["packet_id"])
