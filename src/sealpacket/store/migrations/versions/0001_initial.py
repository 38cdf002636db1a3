"""The first release: register, desks, packets, evidence, accounts, custody log and queue."""

from pathlib import Path

from alembic import op
from procrastinate.schema import SchemaManager

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    for statements in (Path(__file__).with_suffix(".sql").read_text(), SchemaManager.get_schema()):
        op.get_bind().exec_driver_sql(statements.replace("%", "%%"))
