"""The house: register, desks, packets, accounts, custody log and queue."""

import sqlalchemy as sa
from alembic import op
from procrastinate.schema import SchemaManager
from sqlalchemy.dialects import postgresql

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("CREATE EXTENSION IF NOT EXISTS pg_trgm")
    op.execute(sa.schema.CreateSequence(sa.Sequence("packet_number")))
    op.create_table(
        "custody_entry",
        sa.Column("seq", sa.Integer(), autoincrement=False, nullable=False),
        sa.Column(
            "entry", postgresql.JSONB(none_as_null=True, astext_type=sa.Text()), nullable=False
        ),
        sa.Column("previous", sa.Text(), nullable=False),
        sa.Column("hash", sa.Text(), nullable=False),
        sa.PrimaryKeyConstraint("seq", name=op.f("pk_custody_entry")),
        sa.UniqueConstraint("hash", name=op.f("uq_custody_entry_hash")),
    )
    op.create_index(
        "ix_custody_entry_subject", "custody_entry", ["entry"], unique=False, postgresql_using="gin"
    )
    op.create_table(
        "person",
        sa.Column("key", sa.Text(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("mail", sa.Text(), nullable=False),
        sa.Column("phone", sa.Text(), nullable=True),
        sa.Column("language", sa.Text(), nullable=False),
        sa.Column("time_zone", sa.Text(), nullable=False),
        sa.Column("hours", sa.Text(), nullable=False),
        sa.Column("on_call", sa.Boolean(), nullable=False),
        sa.Column("id", sa.Text(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("updated_at", sa.DateTime(timezone=True), nullable=False),
        sa.CheckConstraint("phone ~ '^\\+[1-9][0-9]{6,14}$'", name=op.f("ck_person_phone_e164")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_person")),
        sa.UniqueConstraint("key", name=op.f("uq_person_key")),
    )
    op.create_table(
        "sign_in_failure",
        sa.Column("id", sa.Integer(), sa.Identity(always=False), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_sign_in_failure")),
    )
    op.create_index("ix_sign_in_failure_name_at", "sign_in_failure", ["name", "at"], unique=False)
    op.create_table(
        "vendor",
        sa.Column("key", sa.Text(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("sells_paid_help", sa.Boolean(), nullable=False),
        sa.Column("notes", sa.Text(), nullable=False),
        sa.Column("id", sa.Text(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("updated_at", sa.DateTime(timezone=True), nullable=False),
        sa.CheckConstraint("key ~ '^[a-z][a-z0-9-]*$'", name=op.f("ck_vendor_key_form")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_vendor")),
        sa.UniqueConstraint("key", name=op.f("uq_vendor_key")),
    )
    op.create_table(
        "account",
        sa.Column("id", sa.Text(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("person_id", sa.Text(), nullable=True),
        sa.Column("password_hash", sa.Text(), nullable=False),
        sa.Column("roles", postgresql.ARRAY(sa.Text()), nullable=False),
        sa.Column("active", sa.Boolean(), nullable=False),
        sa.CheckConstraint(
            "roles <@ ARRAY['keeper','preparer','releaser','reader']",
            name=op.f("ck_account_known_roles"),
        ),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_account_person_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_account")),
        sa.UniqueConstraint("name", name=op.f("uq_account_name")),
    )
    op.create_table(
        "contract",
        sa.Column("vendor_id", sa.Text(), nullable=False),
        sa.Column("number", sa.Text(), nullable=False),
        sa.Column("title", sa.Text(), nullable=False),
        sa.Column("starts_on", sa.Date(), nullable=False),
        sa.Column("ends_on", sa.Date(), nullable=False),
        sa.Column("notice_on", sa.Date(), nullable=True),
        sa.Column("grace_days", sa.Integer(), nullable=False),
        sa.Column("cost_minor", sa.Integer(), nullable=True),
        sa.Column("currency", sa.Text(), nullable=True),
        sa.Column("passcode_sealed", sa.LargeBinary(), nullable=True),
        sa.Column("id", sa.Text(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("updated_at", sa.DateTime(timezone=True), nullable=False),
        sa.CheckConstraint("currency ~ '^[A-Z]{3}$'", name=op.f("ck_contract_currency_iso")),
        sa.CheckConstraint(
            "(cost_minor IS NULL) = (currency IS NULL)", name=op.f("ck_contract_cost_with_currency")
        ),
        sa.CheckConstraint("grace_days BETWEEN 0 AND 365", name=op.f("ck_contract_grace_days")),
        sa.CheckConstraint("notice_on <= ends_on", name=op.f("ck_contract_notice_in_order")),
        sa.CheckConstraint("starts_on <= ends_on", name=op.f("ck_contract_dates_in_order")),
        sa.ForeignKeyConstraint(["vendor_id"], ["vendor.id"], name=op.f("fk_contract_vendor_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_contract")),
        sa.UniqueConstraint("vendor_id", "id", name=op.f("uq_contract_vendor_id_id")),
        sa.UniqueConstraint("vendor_id", "number", name=op.f("uq_contract_vendor_id_number")),
    )
    op.create_table(
        "desk",
        sa.Column("id", sa.Text(), nullable=False),
        sa.Column("vendor_id", sa.Text(), nullable=False),
        sa.Column("key", sa.Text(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(["vendor_id"], ["vendor.id"], name=op.f("fk_desk_vendor_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_desk")),
        sa.UniqueConstraint("key", name=op.f("uq_desk_key")),
    )
    op.create_table(
        "product",
        sa.Column("vendor_id", sa.Text(), nullable=False),
        sa.Column("part_number", sa.Text(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("warranty_months", sa.Integer(), nullable=True),
        sa.Column("warranty_needs", postgresql.ARRAY(sa.Text()), nullable=False),
        sa.Column("id", sa.Text(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("updated_at", sa.DateTime(timezone=True), nullable=False),
        sa.CheckConstraint(
            "warranty_months BETWEEN 1 AND 600", name=op.f("ck_product_warranty_months")
        ),
        sa.ForeignKeyConstraint(["vendor_id"], ["vendor.id"], name=op.f("fk_product_vendor_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_product")),
        sa.UniqueConstraint("vendor_id", "id", name=op.f("uq_product_vendor_id_id")),
        sa.UniqueConstraint(
            "vendor_id", "part_number", name=op.f("uq_product_vendor_id_part_number")
        ),
    )
    op.create_table(
        "site",
        sa.Column("key", sa.Text(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("address", sa.Text(), nullable=False),
        sa.Column("postcode", sa.Text(), nullable=False),
        sa.Column("country", sa.Text(), nullable=False),
        sa.Column("time_zone", sa.Text(), nullable=False),
        sa.Column("contact_id", sa.Text(), nullable=True),
        sa.Column("id", sa.Text(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("updated_at", sa.DateTime(timezone=True), nullable=False),
        sa.CheckConstraint("country ~ '^[A-Z]{2}$'", name=op.f("ck_site_country_iso")),
        sa.ForeignKeyConstraint(["contact_id"], ["person.id"], name=op.f("fk_site_contact_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_site")),
        sa.UniqueConstraint("key", name=op.f("uq_site_key")),
    )
    op.create_table(
        "vendor_login",
        sa.Column("vendor_id", sa.Text(), nullable=False),
        sa.Column("person_id", sa.Text(), nullable=True),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("mailbox_read", sa.Boolean(), nullable=False),
        sa.Column("secret_sealed", sa.LargeBinary(), nullable=True),
        sa.Column("id", sa.Text(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("updated_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(
            ["person_id"], ["person.id"], name=op.f("fk_vendor_login_person_id")
        ),
        sa.ForeignKeyConstraint(
            ["vendor_id"], ["vendor.id"], name=op.f("fk_vendor_login_vendor_id")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_vendor_login")),
        sa.UniqueConstraint("vendor_id", "id", name=op.f("uq_vendor_login_vendor_id_id")),
        sa.UniqueConstraint("vendor_id", "name", name=op.f("uq_vendor_login_vendor_id_name")),
    )
    op.create_table(
        "api_token",
        sa.Column("id", sa.Text(), nullable=False),
        sa.Column("account_id", sa.Text(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("token_hash", sa.Text(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("expires_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(
            ["account_id"], ["account.id"], name=op.f("fk_api_token_account_id")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_api_token")),
        sa.UniqueConstraint("token_hash", name=op.f("uq_api_token_token_hash")),
    )
    op.create_table(
        "asset",
        sa.Column("vendor_id", sa.Text(), nullable=False),
        sa.Column("product_id", sa.Text(), nullable=False),
        sa.Column("site_id", sa.Text(), nullable=True),
        sa.Column("serial", sa.Text(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("status", sa.Text(), nullable=False),
        sa.Column("software_version", sa.Text(), nullable=False),
        sa.Column("host_names", postgresql.ARRAY(sa.Text()), nullable=False),
        sa.Column("addresses", postgresql.ARRAY(sa.Text()), nullable=False),
        sa.Column("shipped_on", sa.Date(), nullable=True),
        sa.Column("installed_on", sa.Date(), nullable=True),
        sa.Column("notes", sa.Text(), nullable=False),
        sa.Column("search_text", sa.Text(), server_default="", nullable=False),
        sa.Column("id", sa.Text(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("updated_at", sa.DateTime(timezone=True), nullable=False),
        sa.CheckConstraint(
            "serial <> '' AND serial = btrim(serial)", name=op.f("ck_asset_serial_form")
        ),
        sa.CheckConstraint(
            "status IN ('ordered','in_use','spare','repair','retired')",
            name=op.f("ck_asset_status"),
        ),
        sa.CheckConstraint("installed_on >= shipped_on", name=op.f("ck_asset_dates_in_order")),
        sa.ForeignKeyConstraint(["site_id"], ["site.id"], name=op.f("fk_asset_site_id")),
        sa.ForeignKeyConstraint(
            ["vendor_id", "product_id"],
            ["product.vendor_id", "product.id"],
            name=op.f("fk_asset_vendor_id_product_id"),
        ),
        sa.ForeignKeyConstraint(["vendor_id"], ["vendor.id"], name=op.f("fk_asset_vendor_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_asset")),
        sa.UniqueConstraint("vendor_id", "serial", name=op.f("uq_asset_vendor_id_serial")),
    )
    op.create_index("ix_asset_list", "asset", ["serial", "id"], unique=False)
    op.create_index(
        "ix_asset_search",
        "asset",
        ["search_text"],
        unique=False,
        postgresql_using="gin",
        postgresql_ops={"search_text": "gin_trgm_ops"},
    )
    op.create_table(
        "desk_sheet",
        sa.Column("id", sa.Text(), nullable=False),
        sa.Column("desk_id", sa.Text(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column(
            "body", postgresql.JSONB(none_as_null=True, astext_type=sa.Text()), nullable=False
        ),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["desk_id"], ["desk.id"], name=op.f("fk_desk_sheet_desk_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_desk_sheet")),
        sa.UniqueConstraint("desk_id", "number", name=op.f("uq_desk_sheet_desk_id_number")),
    )
    op.create_table(
        "entitlement",
        sa.Column("contract_id", sa.Text(), nullable=False),
        sa.Column("reference", sa.Text(), nullable=False),
        sa.Column("level", sa.Text(), nullable=False),
        sa.Column("rank", sa.Integer(), nullable=False),
        sa.Column("route", sa.Text(), nullable=False),
        sa.Column("needs", postgresql.ARRAY(sa.Text()), nullable=False),
        sa.Column("hours", sa.Text(), nullable=False),
        sa.Column("starts_on", sa.Date(), nullable=False),
        sa.Column("ends_on", sa.Date(), nullable=False),
        sa.Column("countries", postgresql.ARRAY(sa.Text()), nullable=False),
        sa.Column("id", sa.Text(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("updated_at", sa.DateTime(timezone=True), nullable=False),
        sa.CheckConstraint("route IN ('support','units')", name=op.f("ck_entitlement_route")),
        sa.CheckConstraint("cardinality(needs) > 0", name=op.f("ck_entitlement_some_need")),
        sa.CheckConstraint("starts_on <= ends_on", name=op.f("ck_entitlement_dates_in_order")),
        sa.ForeignKeyConstraint(
            ["contract_id"], ["contract.id"], name=op.f("fk_entitlement_contract_id")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_entitlement")),
        sa.UniqueConstraint(
            "contract_id", "reference", name=op.f("uq_entitlement_contract_id_reference")
        ),
    )
    op.create_index(
        op.f("ix_entitlement_contract_id"), "entitlement", ["contract_id"], unique=False
    )
    op.create_table(
        "login_tie",
        sa.Column("vendor_id", sa.Text(), nullable=False),
        sa.Column("login_id", sa.Text(), nullable=False),
        sa.Column("contract_id", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(
            ["vendor_id", "contract_id"],
            ["contract.vendor_id", "contract.id"],
            name=op.f("fk_login_tie_vendor_id_contract_id"),
        ),
        sa.ForeignKeyConstraint(
            ["vendor_id", "login_id"],
            ["vendor_login.vendor_id", "vendor_login.id"],
            name=op.f("fk_login_tie_vendor_id_login_id"),
        ),
        sa.PrimaryKeyConstraint("login_id", "contract_id", name=op.f("pk_login_tie")),
    )
    op.create_table(
        "session",
        sa.Column("token_hash", sa.Text(), nullable=False),
        sa.Column("account_id", sa.Text(), nullable=False),
        sa.Column("csrf", sa.Text(), nullable=False),
        sa.Column("expires_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["account_id"], ["account.id"], name=op.f("fk_session_account_id")),
        sa.PrimaryKeyConstraint("token_hash", name=op.f("pk_session")),
    )
    op.create_table(
        "settled_request",
        sa.Column("account_id", sa.Text(), nullable=False),
        sa.Column("key", sa.Text(), nullable=False),
        sa.Column("fingerprint", sa.Text(), nullable=False),
        sa.Column("status", sa.Integer(), nullable=False),
        sa.Column(
            "body", postgresql.JSONB(none_as_null=True, astext_type=sa.Text()), nullable=False
        ),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(
            ["account_id"], ["account.id"], name=op.f("fk_settled_request_account_id")
        ),
        sa.PrimaryKeyConstraint("account_id", "key", name=op.f("pk_settled_request")),
    )
    op.create_table(
        "entitlement_asset",
        sa.Column("entitlement_id", sa.Text(), nullable=False),
        sa.Column("asset_id", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(
            ["asset_id"], ["asset.id"], name=op.f("fk_entitlement_asset_asset_id")
        ),
        sa.ForeignKeyConstraint(
            ["entitlement_id"],
            ["entitlement.id"],
            name=op.f("fk_entitlement_asset_entitlement_id"),
            ondelete="CASCADE",
        ),
        sa.PrimaryKeyConstraint("entitlement_id", "asset_id", name=op.f("pk_entitlement_asset")),
    )
    op.create_index(
        op.f("ix_entitlement_asset_asset_id"), "entitlement_asset", ["asset_id"], unique=False
    )
    op.create_table(
        "entitlement_product",
        sa.Column("entitlement_id", sa.Text(), nullable=False),
        sa.Column("product_id", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(
            ["entitlement_id"],
            ["entitlement.id"],
            name=op.f("fk_entitlement_product_entitlement_id"),
            ondelete="CASCADE",
        ),
        sa.ForeignKeyConstraint(
            ["product_id"], ["product.id"], name=op.f("fk_entitlement_product_product_id")
        ),
        sa.PrimaryKeyConstraint(
            "entitlement_id", "product_id", name=op.f("pk_entitlement_product")
        ),
    )
    op.create_index(
        op.f("ix_entitlement_product_product_id"),
        "entitlement_product",
        ["product_id"],
        unique=False,
    )
    op.create_table(
        "entitlement_site",
        sa.Column("entitlement_id", sa.Text(), nullable=False),
        sa.Column("site_id", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(
            ["entitlement_id"],
            ["entitlement.id"],
            name=op.f("fk_entitlement_site_entitlement_id"),
            ondelete="CASCADE",
        ),
        sa.ForeignKeyConstraint(["site_id"], ["site.id"], name=op.f("fk_entitlement_site_site_id")),
        sa.PrimaryKeyConstraint("entitlement_id", "site_id", name=op.f("pk_entitlement_site")),
    )
    op.create_table(
        "packet",
        sa.Column("number", sa.Text(), nullable=False),
        sa.Column("title", sa.Text(), nullable=False),
        sa.Column("note", sa.Text(), nullable=False),
        sa.Column("need", sa.Text(), nullable=False),
        sa.Column("life", sa.Text(), nullable=False),
        sa.Column("turn", sa.Text(), nullable=False),
        sa.Column("noted_by", sa.Text(), nullable=False),
        sa.Column("asset_id", sa.Text(), nullable=True),
        sa.Column("login_id", sa.Text(), nullable=True),
        sa.Column("sheet_id", sa.Text(), nullable=True),
        sa.Column(
            "answers", postgresql.JSONB(none_as_null=True, astext_type=sa.Text()), nullable=False
        ),
        sa.Column(
            "ruling", postgresql.JSONB(none_as_null=True, astext_type=sa.Text()), nullable=True
        ),
        sa.Column("placeholder_key_sealed", sa.LargeBinary(), nullable=False),
        sa.Column("legend_blob", sa.Text(), nullable=True),
        sa.Column("sealed_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("sealed_by", sa.Text(), nullable=True),
        sa.Column(
            "sealed_case", postgresql.JSONB(none_as_null=True, astext_type=sa.Text()), nullable=True
        ),
        sa.Column(
            "sealed_answers",
            postgresql.JSONB(none_as_null=True, astext_type=sa.Text()),
            nullable=True,
        ),
        sa.Column("bag_blob", sa.Text(), nullable=True),
        sa.Column("bag_sha256", sa.Text(), nullable=True),
        sa.Column(
            "seal", postgresql.JSONB(none_as_null=True, astext_type=sa.Text()), nullable=True
        ),
        sa.Column("lodge_state", sa.Text(), nullable=True),
        sa.Column("lodge_words", sa.Text(), nullable=False),
        sa.Column("lodged_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("reference", sa.Text(), nullable=True),
        sa.Column("desk_status", sa.Text(), nullable=False),
        sa.Column("followed_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column(
            "refusals", postgresql.JSONB(none_as_null=True, astext_type=sa.Text()), nullable=True
        ),
        sa.Column("id", sa.Text(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("updated_at", sa.DateTime(timezone=True), nullable=False),
        sa.CheckConstraint(
            "(life IN ('drafting','withdrawn','refused')) OR bag_blob IS NOT NULL",
            name=op.f("ck_packet_sealed_has_bag"),
        ),
        sa.CheckConstraint(
            "life IN ('drafting','sealed','lodged','answered','settled','refused','withdrawn')",
            name=op.f("ck_packet_life"),
        ),
        sa.CheckConstraint("turn IN ('ours','vendor')", name=op.f("ck_packet_turn")),
        sa.ForeignKeyConstraint(["asset_id"], ["asset.id"], name=op.f("fk_packet_asset_id")),
        sa.ForeignKeyConstraint(["login_id"], ["vendor_login.id"], name=op.f("fk_packet_login_id")),
        sa.ForeignKeyConstraint(["sheet_id"], ["desk_sheet.id"], name=op.f("fk_packet_sheet_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_packet")),
        sa.UniqueConstraint("number", name=op.f("uq_packet_number")),
    )
    op.create_index(op.f("ix_packet_asset_id"), "packet", ["asset_id"], unique=False)
    op.create_index("ix_packet_list", "packet", ["created_at", "id"], unique=False)
    op.create_table(
        "exhibit",
        sa.Column("id", sa.Text(), nullable=False),
        sa.Column("packet_id", sa.Text(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("state", sa.Text(), nullable=False),
        sa.Column("size", sa.Integer(), nullable=False),
        sa.Column("sha256", sa.Text(), nullable=True),
        sa.Column("original_blob", sa.Text(), nullable=True),
        sa.Column("outgoing_blob", sa.Text(), nullable=True),
        sa.Column("outgoing_size", sa.Integer(), nullable=True),
        sa.Column("outgoing_sha256", sa.Text(), nullable=True),
        sa.Column("findings_blob", sa.Text(), nullable=True),
        sa.Column("legend_blob", sa.Text(), nullable=True),
        sa.Column(
            "report", postgresql.JSONB(none_as_null=True, astext_type=sa.Text()), nullable=True
        ),
        sa.Column("leaks", sa.Integer(), nullable=False),
        sa.Column("done", sa.Integer(), nullable=False),
        sa.Column("reason", sa.Text(), nullable=False),
        sa.Column("released_by", sa.Text(), nullable=True),
        sa.Column("upload", sa.Text(), nullable=True),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.CheckConstraint(
            "state <> 'ready' OR outgoing_blob IS NOT NULL", name=op.f("ck_exhibit_ready_has_copy")
        ),
        sa.CheckConstraint(
            "state IN ('receiving','waiting','redacting','ready','held','failed')",
            name=op.f("ck_exhibit_state"),
        ),
        sa.ForeignKeyConstraint(["packet_id"], ["packet.id"], name=op.f("fk_exhibit_packet_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_exhibit")),
        sa.UniqueConstraint("packet_id", "name", name=op.f("uq_exhibit_packet_id_name")),
    )
    op.create_table(
        "message",
        sa.Column("id", sa.Text(), nullable=False),
        sa.Column("packet_id", sa.Text(), nullable=False),
        sa.Column("desk_id", sa.Text(), nullable=True),
        sa.Column("direction", sa.Text(), nullable=False),
        sa.Column("text", sa.Text(), nullable=False),
        sa.Column("asks", sa.Boolean(), nullable=False),
        sa.Column("by", sa.Text(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("answered_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("sent_at", sa.DateTime(timezone=True), nullable=True),
        sa.CheckConstraint("direction IN ('in','out')", name=op.f("ck_message_direction")),
        sa.ForeignKeyConstraint(["packet_id"], ["packet.id"], name=op.f("fk_message_packet_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_message")),
        sa.UniqueConstraint("packet_id", "desk_id", name=op.f("uq_message_packet_id_desk_id")),
    )
    _keep_search_text()
    _keep_custody_log()
    add_queue()


def _keep_search_text() -> None:
    """What an asset can be found by, kept by the database itself whoever writes."""
    op.execute("""
        CREATE FUNCTION asset_search_text() RETURNS trigger LANGUAGE plpgsql AS $$
        BEGIN
            NEW.search_text := lower(concat_ws(' ', NEW.serial, NEW.name, array_to_string(NEW.host_names, ' '),
                array_to_string(NEW.addresses, ' '), NEW.software_version, NEW.notes,
                (SELECT concat_ws(' ', p.part_number, p.name) FROM product p WHERE p.id = NEW.product_id),
                (SELECT v.name FROM vendor v WHERE v.id = NEW.vendor_id),
                (SELECT concat_ws(' ', s.name, s.key) FROM site s WHERE s.id = NEW.site_id)));
            RETURN NEW;
        END $$""")
    op.execute("""
        CREATE TRIGGER asset_search_text BEFORE INSERT OR UPDATE ON asset
        FOR EACH ROW EXECUTE FUNCTION asset_search_text()""")
    for table, column in (("product", "product_id"), ("vendor", "vendor_id"), ("site", "site_id")):
        op.execute(f"""
            CREATE FUNCTION {table}_renamed() RETURNS trigger LANGUAGE plpgsql AS $$
            BEGIN
                UPDATE asset SET search_text = '' WHERE {column} = NEW.id;
                RETURN NULL;
            END $$""")  # noqa: S608 - names from the line above
        op.execute(f"""
            CREATE TRIGGER {table}_renamed AFTER UPDATE ON {table}
            FOR EACH ROW EXECUTE FUNCTION {table}_renamed()""")


def _keep_custody_log() -> None:
    """The log can be added to, and nothing else."""
    op.execute("""
        CREATE FUNCTION custody_refuses() RETURNS trigger LANGUAGE plpgsql AS $$
        BEGIN
            RAISE EXCEPTION 'the custody log is append-only';
        END $$""")
    op.execute("""
        CREATE TRIGGER custody_append_only BEFORE UPDATE OR DELETE ON custody_entry
        FOR EACH ROW EXECUTE FUNCTION custody_refuses()""")
    op.execute("""
        CREATE TRIGGER custody_no_truncate BEFORE TRUNCATE ON custody_entry
        FOR EACH STATEMENT EXECUTE FUNCTION custody_refuses()""")


def add_queue() -> None:
    """The tables of the job queue, as its library brings them."""
    schema = SchemaManager.get_schema()
    op.get_bind().exec_driver_sql(schema.replace("%", "%%"))
