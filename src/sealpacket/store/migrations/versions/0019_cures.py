"""Packets that ask for what another packet lacks."""

from alembic import op

revision = "0019"
down_revision = "0018"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for statement in _STATEMENTS:
        op.execute(statement)


_STATEMENTS = (
    """
    ALTER TABLE packet
        ADD COLUMN for_packet_id TEXT,
        ADD COLUMN for_cure TEXT DEFAULT '' NOT NULL,
        ADD CONSTRAINT fk_packet_for_packet_id FOREIGN KEY(for_packet_id) REFERENCES packet (id)
    """,
    "CREATE INDEX ix_packet_for_packet_id ON packet (for_packet_id)",
)
