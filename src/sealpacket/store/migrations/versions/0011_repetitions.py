"""What a request with an Idempotency-Key was answered with: encrypted, and with its ETag."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("DELETE FROM settled_request")
    op.drop_column("settled_request", "body")
    op.add_column("settled_request", sa.Column("body_sealed", sa.LargeBinary(), nullable=False))
    op.add_column("settled_request", sa.Column("etag", sa.Text(), nullable=True))
    op.create_index(op.f("ix_settled_request_at"), "settled_request", ["at"])
