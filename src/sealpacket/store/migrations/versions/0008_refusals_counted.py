"""A receiver's refusals of an event are counted apart from the times when it was away."""

from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("ALTER TABLE webhook ADD COLUMN refusals INTEGER NOT NULL DEFAULT 0")
