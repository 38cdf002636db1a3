"""Packets that were noted together."""

from alembic import op

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for statement in _STATEMENTS:
        op.execute(statement)


_STATEMENTS = (
    "CREATE SEQUENCE batch_number",
    """
    CREATE TABLE batch (
        id TEXT NOT NULL,
        title TEXT NOT NULL,
        by TEXT NOT NULL,
        at TIMESTAMP WITH TIME ZONE NOT NULL,
        CONSTRAINT pk_batch PRIMARY KEY (id)
    )
    """,
    """
    CREATE TABLE batch_row (
        batch_id TEXT NOT NULL,
        place INTEGER NOT NULL,
        body JSONB NOT NULL,
        state TEXT DEFAULT 'waiting' NOT NULL,
        problem TEXT DEFAULT '' NOT NULL,
        packet_id TEXT,
        CONSTRAINT pk_batch_row PRIMARY KEY (batch_id, place),
        CONSTRAINT ck_batch_row_state CHECK (state IN ('waiting','noted','failed')),
        CONSTRAINT fk_batch_row_batch_id FOREIGN KEY(batch_id) REFERENCES batch (id) ON DELETE CASCADE,
        CONSTRAINT fk_batch_row_packet_id FOREIGN KEY(packet_id) REFERENCES packet (id)
    )
    """,
    "CREATE INDEX ix_batch_row_packet_id ON batch_row (packet_id)",
)
