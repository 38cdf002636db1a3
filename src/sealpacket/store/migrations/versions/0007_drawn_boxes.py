"""Boxes that people draw on pages of exhibits, and what lies on these pages; lines and files left out by decision."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.drop_constraint(op.f("ck_redaction_decision_deed"), "redaction_decision")
    op.create_check_constraint(
        op.f("ck_redaction_decision_deed"),
        "redaction_decision",
        "deed IN ('keep','mask','drop-line','drop-file')",
    )
    op.add_column("exhibit", sa.Column("pages", postgresql.JSONB(), nullable=True))
    op.create_table(
        "drawn_box",
        sa.Column("id", sa.Text(), nullable=False),
        sa.Column("exhibit_id", sa.Text(), nullable=False),
        sa.Column("page", sa.Integer(), nullable=False),
        *(
            sa.Column(edge, sa.Float(), nullable=False)
            for edge in ("left", "top", "right", "bottom")
        ),
        sa.Column("reason", sa.Text(), nullable=False),
        sa.Column("by", sa.Text(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.CheckConstraint(
            'page >= 1 AND "left" < "right" AND top < bottom', name=op.f("ck_drawn_box_has_room")
        ),
        sa.CheckConstraint(
            '"left" >= 0 AND "right" <= 1 AND top >= 0 AND bottom <= 1',
            name=op.f("ck_drawn_box_on_its_page"),
        ),
        sa.ForeignKeyConstraint(
            ["exhibit_id"], ["exhibit.id"], name=op.f("fk_drawn_box_exhibit_id")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_drawn_box")),
    )
    op.create_index(op.f("ix_drawn_box_exhibit_id"), "drawn_box", ["exhibit_id"])
