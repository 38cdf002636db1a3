"""The register in depth: dated versions, stays, carriers, history; what came in and how."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None

JSON = postgresql.JSONB(none_as_null=True, astext_type=sa.Text())
TEXTS = postgresql.ARRAY(sa.Text())


def upgrade() -> None:
    op.execute("CREATE EXTENSION IF NOT EXISTS btree_gist")
    _products_and_assets()
    _contracts_and_entitlements()
    op.add_column("vendor_login", sa.Column("needs", TEXTS, nullable=False, server_default="{}"))
    op.add_column(
        "vendor_login", sa.Column("for_others", sa.Boolean(), nullable=False, server_default="true")
    )
    op.add_column("packet", sa.Column("ruling_basis", JSON, nullable=True))
    _history()
    _imports()
    _looking_ahead()


def _products_and_assets() -> None:
    op.add_column(
        "product", sa.Column("sort", sa.Text(), nullable=False, server_default="hardware")
    )
    op.add_column(
        "product",
        sa.Column("needs_registration", sa.Boolean(), nullable=False, server_default="false"),
    )
    op.create_check_constraint("sort", "product", "sort IN ('hardware','software')")
    for name, kind in (
        ("carrier_id", sa.Text()),
        ("registered_on", sa.Date()),
        ("placed_on", sa.Date()),
    ):
        op.add_column("asset", sa.Column(name, kind, nullable=True))
    op.create_foreign_key(op.f("fk_asset_carrier_id"), "asset", "asset", ["carrier_id"], ["id"])
    op.create_check_constraint("not_its_own_carrier", "asset", "carrier_id <> id")
    op.create_index("ix_asset_carrier_id", "asset", ["carrier_id"])
    op.create_index("ix_asset_site_id", "asset", ["site_id"])
    # Not in the models: Alembic cannot compare it (see env.py).
    op.execute('CREATE INDEX asset_serial_begins ON asset (lower(serial) COLLATE "C")')
    op.create_index("ix_asset_product", "asset", ["product_id", "serial", "id"])
    op.create_table(
        "asset_stay",
        sa.Column("asset_id", sa.Text(), nullable=False),
        sa.Column("until_on", sa.Date(), nullable=False),
        sa.Column("from_on", sa.Date(), nullable=True),
        sa.Column("site_id", sa.Text(), nullable=True),
        sa.Column("status", sa.Text(), nullable=False),
        sa.CheckConstraint("from_on <= until_on", name=op.f("ck_asset_stay_dates_in_order")),
        sa.ForeignKeyConstraint(
            ["asset_id"], ["asset.id"], name=op.f("fk_asset_stay_asset_id"), ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(["site_id"], ["site.id"], name=op.f("fk_asset_stay_site_id")),
        sa.PrimaryKeyConstraint("asset_id", "until_on", name=op.f("pk_asset_stay")),
    )
    _one_at_a_time("asset_stay", "one_at_a_time", "asset_id WITH =", "from_on", "until_on")


def _contracts_and_entitlements() -> None:
    op.alter_column("contract", "cost_minor", type_=sa.BigInteger())
    op.create_table(
        "contract_term",
        sa.Column("contract_id", sa.Text(), nullable=False),
        sa.Column("starts_on", sa.Date(), nullable=False),
        sa.Column("ends_on", sa.Date(), nullable=False),
        sa.Column("notice_on", sa.Date(), nullable=True),
        sa.Column("grace_days", sa.Integer(), nullable=False),
        sa.Column("cost_minor", sa.BigInteger(), nullable=True),
        sa.Column("currency", sa.Text(), nullable=True),
        sa.CheckConstraint("starts_on <= ends_on", name=op.f("ck_contract_term_dates_in_order")),
        sa.ForeignKeyConstraint(
            ["contract_id"],
            ["contract.id"],
            name=op.f("fk_contract_term_contract_id"),
            ondelete="CASCADE",
        ),
        sa.PrimaryKeyConstraint("contract_id", "starts_on", name=op.f("pk_contract_term")),
    )
    _one_at_a_time("contract_term", "one_at_a_time", "contract_id WITH =", "starts_on", "ends_on")
    op.add_column("entitlement_asset", sa.Column("from_on", sa.Date(), nullable=True))
    op.add_column("entitlement_asset", sa.Column("until_on", sa.Date(), nullable=True))
    op.create_check_constraint("dates_in_order", "entitlement_asset", "from_on <= until_on")
    op.add_column(
        "entitlement", sa.Column("everything", sa.Boolean(), nullable=False, server_default="false")
    )
    op.add_column(
        "entitlement", sa.Column("co_term", sa.Boolean(), nullable=False, server_default="true")
    )
    op.add_column(
        "entitlement", sa.Column("reach", TEXTS, nullable=False, server_default="{parts}")
    )
    op.execute("""
        UPDATE entitlement e SET everything =
            NOT EXISTS (SELECT FROM entitlement_asset a WHERE a.entitlement_id = e.id)
            AND NOT EXISTS (SELECT FROM entitlement_product p WHERE p.entitlement_id = e.id)""")
    op.create_check_constraint("reach", "entitlement", "reach <@ ARRAY['parts','software']")
    op.create_index(
        "ix_entitlement_everything",
        "entitlement",
        ["contract_id"],
        postgresql_where=sa.text("everything"),
    )
    op.drop_constraint(op.f("uq_entitlement_contract_id_reference"), "entitlement")
    op.create_unique_constraint(
        op.f("uq_entitlement_contract_id_reference_starts_on"),
        "entitlement",
        ["contract_id", "reference", "starts_on"],
    )


def _one_at_a_time(table: str, name: str, same: str, first: str, last: str) -> None:
    op.execute(f"""
        ALTER TABLE {table} ADD CONSTRAINT ex_{table}_{name}
        EXCLUDE USING gist ({same}, daterange({first}, {last}, '[]') WITH &&)""")


def _history() -> None:
    op.create_table(
        "record_version",
        sa.Column("id", sa.Integer(), sa.Identity(always=False), nullable=False),
        sa.Column("kind", sa.Text(), nullable=False),
        sa.Column("record_id", sa.Text(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("by", sa.Text(), nullable=False),
        sa.Column("act", sa.Text(), nullable=False),
        sa.Column("body", JSON, nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_record_version")),
    )
    op.create_index("ix_record_version_record", "record_version", ["record_id", "id"])


def _imports() -> None:
    op.create_table(
        "intake",
        sa.Column("id", sa.Text(), nullable=False),
        sa.Column("kind", sa.Text(), nullable=False),
        sa.Column("source", sa.Text(), nullable=False),
        sa.Column("file_name", sa.Text(), nullable=False),
        sa.Column("part", sa.Text(), nullable=False),
        sa.Column("blob", sa.Text(), nullable=False),
        sa.Column("size", sa.BigInteger(), nullable=False),
        sa.Column("state", sa.Text(), nullable=False),
        sa.Column("words", sa.Text(), nullable=False),
        sa.Column("headings", TEXTS, nullable=False),
        sa.Column("mapping", JSON, nullable=False),
        sa.Column("fixed", JSON, nullable=False),
        sa.Column("date_order", sa.Text(), nullable=True),
        sa.Column("counts", JSON, nullable=False),
        sa.Column("by", sa.Text(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("applied_at", sa.DateTime(timezone=True), nullable=True),
        sa.CheckConstraint(
            "state IN ('reading','ready','applying','applied','undoing','undone','failed','dropped')",
            name=op.f("ck_intake_state"),
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_intake")),
    )
    op.create_index("ix_intake_at", "intake", ["at"])
    op.create_table(
        "intake_row",
        sa.Column("intake_id", sa.Text(), nullable=False),
        sa.Column("row", sa.Integer(), autoincrement=False, nullable=False),
        sa.Column("outcome", sa.Text(), nullable=False),
        sa.Column("called", sa.Text(), nullable=False),
        sa.Column("record_id", sa.Text(), nullable=True),
        sa.Column("body", JSON, nullable=True),
        sa.Column("before", JSON, nullable=True),
        sa.Column("sealed", JSON, nullable=True),
        sa.Column("faults", JSON, nullable=True),
        sa.Column("cells", JSON, nullable=True),
        sa.CheckConstraint(
            "outcome IN ('new','changed','unchanged','rejected')",
            name=op.f("ck_intake_row_outcome"),
        ),
        sa.ForeignKeyConstraint(
            ["intake_id"], ["intake.id"], name=op.f("fk_intake_row_intake_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("intake_id", "row", name=op.f("pk_intake_row")),
    )
    op.create_index("ix_intake_row_outcome", "intake_row", ["intake_id", "outcome", "row"])
    op.create_table(
        "intake_source",
        sa.Column("kind", sa.Text(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("mapping", JSON, nullable=False),
        sa.Column("fixed", JSON, nullable=False),
        sa.Column("date_order", sa.Text(), nullable=True),
        sa.PrimaryKeyConstraint("kind", "name", name=op.f("pk_intake_source")),
    )


def _looking_ahead() -> None:
    op.create_table(
        "outlook",
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("mark", sa.Integer(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("body", JSON, nullable=False),
        sa.PrimaryKeyConstraint("day", name=op.f("pk_outlook")),
    )
    op.create_table(
        "digest",
        sa.Column("account_id", sa.Text(), nullable=False),
        sa.Column("every", sa.Text(), nullable=False),
        sa.Column("sites", TEXTS, nullable=False),
        sa.Column("vendors", TEXTS, nullable=False),
        sa.Column("calendar_hash", sa.Text(), nullable=True),
        sa.Column("sent_on", sa.Date(), nullable=True),
        sa.CheckConstraint(
            "every IN ('never','daily','weekly','monthly')", name=op.f("ck_digest_every")
        ),
        sa.ForeignKeyConstraint(["account_id"], ["account.id"], name=op.f("fk_digest_account_id")),
        sa.PrimaryKeyConstraint("account_id", name=op.f("pk_digest")),
        sa.UniqueConstraint("calendar_hash", name=op.f("uq_digest_calendar_hash")),
    )
