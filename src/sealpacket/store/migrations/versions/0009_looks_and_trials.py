"""Looks at a desk and trials of sheets are done by the worker; mails are counted, and their senders told."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("packet", sa.Column("follow_state", sa.Text(), nullable=True))
    op.add_column("packet", sa.Column("follow_words", sa.Text(), nullable=False, server_default=""))
    op.create_check_constraint(
        op.f("ck_packet_follow_state"), "packet", "follow_state IN ('asking','failed')"
    )
    op.add_column("message", sa.Column("trouble", sa.Text(), nullable=False, server_default=""))
    op.add_column("message", sa.Column("sender", sa.Text(), nullable=False, server_default=""))
    op.add_column(
        "message", sa.Column("stranger", sa.Boolean(), nullable=False, server_default="false")
    )
    op.create_table(
        "mail_count",
        sa.Column("id", sa.Integer(), sa.Identity(), nullable=False),
        sa.Column("packet_id", sa.Text(), nullable=False),
        sa.Column("octets", sa.Integer(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["packet_id"], ["packet.id"], name=op.f("fk_mail_count_packet_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_mail_count")),
    )
    op.create_index(op.f("ix_mail_count_packet_id"), "mail_count", ["packet_id"])
    op.create_table(
        "trial",
        sa.Column("id", sa.Text(), nullable=False),
        sa.Column("account_id", sa.Text(), nullable=False),
        sa.Column("wish", postgresql.JSONB(), nullable=False),
        sa.Column("result", postgresql.JSONB(), nullable=True),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["account_id"], ["account.id"], name=op.f("fk_trial_account_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_trial")),
    )
