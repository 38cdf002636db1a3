"""What was found in typed texts, what of our messages is sent, and what files are called at the desk."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "typed_record",
        sa.Column("packet_id", sa.Text(), nullable=False),
        sa.Column("stamp", sa.Text(), nullable=False),
        sa.Column("found_sealed", sa.LargeBinary(), nullable=False),
        sa.ForeignKeyConstraint(
            ["packet_id"], ["packet.id"], name=op.f("fk_typed_record_packet_id")
        ),
        sa.PrimaryKeyConstraint("packet_id", name=op.f("pk_typed_record")),
    )
    op.add_column("packet", sa.Column("file_names", postgresql.JSONB(), nullable=True))
    op.add_column("message", sa.Column("outgoing", sa.Text(), nullable=True))
    op.add_column("message", sa.Column("found_sealed", sa.LargeBinary(), nullable=True))
