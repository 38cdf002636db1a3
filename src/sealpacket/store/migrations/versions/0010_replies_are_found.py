"""Replies are found by their words."""

from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute(
        "CREATE INDEX ix_message_words ON message USING gin (to_tsvector('english'::regconfig, text))"
    )
    op.execute("CREATE INDEX ix_message_at ON message (at)")
