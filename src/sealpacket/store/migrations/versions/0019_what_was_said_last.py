"""What a desk said last of a case: when the mail was written, and the mark of what was read."""

import sqlalchemy as sa
from alembic import op

revision = "0019"
down_revision = "0018"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("packet_case", sa.Column("desk_said_at", sa.DateTime(timezone=True)))
    op.add_column(
        "packet_case", sa.Column("desk_mark", sa.Text(), nullable=False, server_default="")
    )
