"""Columns take the field's standard terms."""

from alembic import op

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None

_RENAMED = (("message", "trouble", "failure"),)


def upgrade() -> None:
    for table, before, after in _RENAMED:
        op.alter_column(table, before, new_column_name=after)
