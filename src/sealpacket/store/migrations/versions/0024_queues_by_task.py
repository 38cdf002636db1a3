"""Every job lies in the queue that is called as its task."""

import sqlalchemy as sa
from alembic import op

revision = "0024"
down_revision = "0023"
branch_labels = None
depends_on = None


def upgrade() -> None:
    if op.get_bind().scalar(sa.text("SELECT to_regclass('procrastinate_jobs')")) is not None:
        op.execute(
            sa.text("UPDATE procrastinate_jobs SET queue_name = task_name WHERE status = 'todo'")
        )
