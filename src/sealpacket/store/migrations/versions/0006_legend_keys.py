"""A key of its own for each packet's legend, which is destroyed some time after the packet is settled."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("packet", sa.Column("legend_key_sealed", sa.LargeBinary(), nullable=True))
    op.add_column("packet", sa.Column("legend_destroyed_at", sa.DateTime(timezone=True), nullable=True))
    op.add_column("packet", sa.Column("settled_at", sa.DateTime(timezone=True), nullable=True))
    op.drop_column("packet", "legend_blob")
