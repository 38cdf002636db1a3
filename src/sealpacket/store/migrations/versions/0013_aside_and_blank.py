"""Answers to another desk's questions are kept aside; whether an exhibit holds nothing but blank space."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column(
        "packet",
        sa.Column("answers_aside", postgresql.JSONB(), nullable=False, server_default="{}"),
    )
    op.add_column(
        "exhibit", sa.Column("blank", sa.Boolean(), nullable=False, server_default="false")
    )
