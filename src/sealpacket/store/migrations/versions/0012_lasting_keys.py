"""Keys that stay when the master key is changed: of the mail gate's addresses, and of placeholders by vendor."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "lasting_key",
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("key_sealed", sa.LargeBinary(), nullable=False),
        sa.PrimaryKeyConstraint("name", name=op.f("pk_lasting_key")),
    )
