"""Rules by which two people release a packet, and who was asked to."""

from alembic import op

revision = "0023"
down_revision = "0022"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for statement in _STATEMENTS:
        op.execute(statement)


_STATEMENTS = (
    """
    CREATE TABLE release_rule (
        id TEXT PRIMARY KEY,
        vendor_id TEXT REFERENCES vendor (id),
        severity TEXT,
        kind TEXT,
        reason TEXT NOT NULL,
        created_at TIMESTAMPTZ NOT NULL
    )
    """,
    """
    CREATE TABLE packet_release (
        packet_id TEXT PRIMARY KEY REFERENCES packet (id) ON DELETE CASCADE,
        asked_by TEXT NOT NULL,
        asked_at TIMESTAMPTZ NOT NULL
    )
    """,
)
