"""Columns take the field's standard terms."""

from alembic import op

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None

_RENAMED = (
    ("message", "trouble", "failure"),
    ("packet", "lodge_words", "lodge_status_text"),
    ("packet", "follow_words", "follow_status_text"),
    ("intake", "words", "status_text"),
    ("paper", "words", "status_text"),
    ("statement", "words", "status_text"),
    ("statement_difference", "words", "reason"),
    ("redaction_decision", "deed", "action"),
)


def upgrade() -> None:
    for table, before, after in _RENAMED:
        op.alter_column(table, before, new_column_name=after)
