"""It is kept when each account looked last at a packet, and which questions desks ask."""

from alembic import op

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for statement in _STATEMENTS:
        op.execute(statement)


_STATEMENTS = (
    """
    CREATE TABLE packet_look (
        packet_id TEXT NOT NULL,
        account_id TEXT NOT NULL,
        at TIMESTAMP WITH TIME ZONE NOT NULL,
        CONSTRAINT pk_packet_look PRIMARY KEY (packet_id, account_id),
        CONSTRAINT fk_packet_look_packet_id FOREIGN KEY(packet_id) REFERENCES packet (id) ON DELETE CASCADE,
        CONSTRAINT fk_packet_look_account_id FOREIGN KEY(account_id) REFERENCES account (id) ON DELETE CASCADE
    )
    """,
    "ALTER TABLE packet ADD COLUMN foreseen JSONB DEFAULT '[]' NOT NULL",
    "ALTER TABLE packet_line ADD COLUMN category TEXT DEFAULT '' NOT NULL",
)
