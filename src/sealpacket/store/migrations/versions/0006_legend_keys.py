"""A key of its own for the legend of each packet, destroyed some time after settlement; where lines of a text are."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("packet", sa.Column("legend_key_sealed", sa.LargeBinary(), nullable=True))
    op.add_column(
        "packet", sa.Column("legend_destroyed_at", sa.DateTime(timezone=True), nullable=True)
    )
    op.add_column("packet", sa.Column("settled_at", sa.DateTime(timezone=True), nullable=True))
    op.drop_column("packet", "legend_blob")
    op.add_column("exhibit", sa.Column("marks", postgresql.JSONB(), nullable=True))
