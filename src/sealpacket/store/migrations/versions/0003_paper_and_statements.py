"""The register kept from real paper: papers, vendor statements, kept views, merged records."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None

JSON = postgresql.JSONB(none_as_null=True, astext_type=sa.Text())
TEXTS = postgresql.ARRAY(sa.Text())
MOMENT = sa.DateTime(timezone=True)


def upgrade() -> None:
    op.create_table(
        "paper",
        *_texts("id", "name", "kind", "blob", "sha256", "state", "words", "by"),
        sa.Column("size", sa.Integer(), nullable=False),
        sa.Column("pages", JSON, nullable=False),
        sa.Column("reading", JSON, nullable=True),
        sa.Column("passcodes_sealed", sa.LargeBinary(), nullable=True),
        sa.Column("contract_id", sa.Text(), nullable=True),
        sa.Column("at", MOMENT, nullable=False),
        sa.Column("entered_by", sa.Text(), nullable=True),
        sa.Column("entered_at", MOMENT, nullable=True),
        sa.Column("entered", JSON, nullable=True),
        sa.CheckConstraint(
            "state IN ('reading','read','entered','aside','failed')", name=op.f("ck_paper_state")
        ),
        sa.ForeignKeyConstraint(
            ["contract_id"], ["contract.id"], name=op.f("fk_paper_contract_id")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_paper")),
        sa.UniqueConstraint("sha256", name=op.f("uq_paper_sha256")),
    )
    op.create_index("ix_paper_at", "paper", ["at", "id"])
    op.create_index("ix_paper_contract_id", "paper", ["contract_id"])
    _statements()
    op.create_table(
        "view",
        *_texts("id", "account_id", "plural", "name", "query"),
        sa.Column("shared", sa.Boolean(), nullable=False),
        sa.Column("at", MOMENT, nullable=False),
        sa.ForeignKeyConstraint(
            ["account_id"], ["account.id"], name=op.f("fk_view_account_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_view")),
        sa.UniqueConstraint(
            "account_id", "plural", "name", name=op.f("uq_view_account_id_plural_name")
        ),
    )
    op.create_table(
        "merged_record",
        *_texts("old_id", "kind", "called", "into_id", "by"),
        sa.Column("at", MOMENT, nullable=False),
        sa.PrimaryKeyConstraint("old_id", name=op.f("pk_merged_record")),
    )
    op.create_index("ix_merged_record_called", "merged_record", ["kind", "called"])
    op.create_index("ix_merged_record_into", "merged_record", ["into_id"])


def _texts(*names: str) -> list[sa.Column[str]]:
    return [sa.Column(name, sa.Text(), nullable=False) for name in names]


def _statements() -> None:
    op.create_table(
        "statement",
        *_texts("id", "vendor_id", "name", "blob", "state", "words", "by"),
        sa.Column("as_of", sa.Date(), nullable=False),
        sa.Column("size", sa.Integer(), nullable=False),
        sa.Column("headings", TEXTS, nullable=False),
        sa.Column("mapping", JSON, nullable=False),
        sa.Column("counts", JSON, nullable=False),
        sa.Column("at", MOMENT, nullable=False),
        sa.CheckConstraint(
            "state IN ('reading','ready','failed','dropped')", name=op.f("ck_statement_state")
        ),
        sa.ForeignKeyConstraint(["vendor_id"], ["vendor.id"], name=op.f("fk_statement_vendor_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_statement")),
    )
    op.create_index("ix_statement_at", "statement", ["at", "id"])
    name = "statement_difference"
    op.create_table(
        name,
        *_texts("statement_id", "sort", "serial", "words"),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("asset_id", sa.Text(), nullable=True),
        sa.Column("ours", JSON, nullable=True),
        sa.Column("theirs", JSON, nullable=True),
        sa.Column("fields", TEXTS, nullable=False),
        sa.Column("slips", JSON, nullable=True),
        sa.Column("decision", sa.Text(), nullable=True),
        sa.Column("decided_by", sa.Text(), nullable=True),
        sa.Column("decided_at", MOMENT, nullable=True),
        sa.Column("packet", sa.Text(), nullable=True),
        sa.CheckConstraint(
            "sort IN ('only_ours','only_theirs','differs','mistyped')", name=op.f(f"ck_{name}_sort")
        ),
        sa.CheckConstraint(
            "decision IN ('ours','theirs','packet')", name=op.f(f"ck_{name}_decision")
        ),
        sa.ForeignKeyConstraint(
            ["asset_id"], ["asset.id"], name=op.f(f"fk_{name}_asset_id"), ondelete="SET NULL"
        ),
        sa.ForeignKeyConstraint(
            ["statement_id"],
            ["statement.id"],
            name=op.f(f"fk_{name}_statement_id"),
            ondelete="CASCADE",
        ),
        sa.PrimaryKeyConstraint("statement_id", "number", name=op.f(f"pk_{name}")),
    )
    op.create_index(f"ix_{name}_serial", name, ["serial"])
    op.create_index(f"ix_{name}_asset_id", name, ["asset_id"])
