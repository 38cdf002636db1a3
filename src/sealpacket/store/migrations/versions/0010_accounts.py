"""Who administers accounts; when sessions and tokens were used last; tries to sign in, counted by address."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.drop_constraint(op.f("ck_account_known_roles"), "account")
    op.create_check_constraint(
        op.f("ck_account_known_roles"),
        "account",
        "roles <@ ARRAY['admin','keeper','preparer','releaser','reader']",
    )
    for column in ("created_at", "seen_at"):
        op.add_column(
            "session",
            sa.Column(
                column, sa.DateTime(timezone=True), nullable=False, server_default=sa.func.now()
            ),
        )
    op.add_column("api_token", sa.Column("seen_at", sa.DateTime(timezone=True), nullable=True))
    op.add_column(
        "api_token", sa.Column("read_only", sa.Boolean(), nullable=False, server_default="false")
    )
    op.drop_table("sign_in_failure")
    op.create_table(
        "sign_in_try",
        sa.Column("id", sa.Integer(), sa.Identity(), nullable=False),
        sa.Column("key", sa.Text(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_sign_in_try")),
    )
    op.create_index(op.f("ix_sign_in_try_key_at"), "sign_in_try", ["key", "at"])
