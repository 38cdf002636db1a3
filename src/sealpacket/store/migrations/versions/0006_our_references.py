"""Packets have a reference of a system of ours, and say since when it is whose turn."""

from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for statement in _STATEMENTS:
        op.execute(statement)


_STATEMENTS = (
    "ALTER TABLE packet ADD COLUMN our_reference TEXT, ADD COLUMN turn_since TIMESTAMPTZ NOT NULL DEFAULT now()",
    "UPDATE packet SET turn_since = updated_at",
    "ALTER TABLE packet ADD CONSTRAINT uq_packet_our_reference UNIQUE (our_reference)",
    "CREATE INDEX ix_packet_updated_at ON packet (updated_at)",
)
