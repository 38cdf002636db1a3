"""What is agreed besides cover: limits, levels, prepaid units, prices, licences, releases."""

from alembic import op

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for statement in _STATEMENTS:
        op.execute(statement)


_STATEMENTS = (
    """
    CREATE TABLE vendor_limit (
        vendor_id TEXT NOT NULL,
        provider TEXT DEFAULT '' NOT NULL,
        region TEXT NOT NULL,
        resource TEXT NOT NULL,
        unit TEXT DEFAULT '' NOT NULL,
        granted BIGINT NOT NULL,
        used BIGINT DEFAULT '0' NOT NULL,
        as_of_on DATE,
        notes TEXT DEFAULT '' NOT NULL,
        called TEXT GENERATED ALWAYS AS (
            CASE WHEN provider = '' THEN '' ELSE provider || '/' END || region || '/' || resource
        ) STORED NOT NULL,
        id TEXT NOT NULL,
        version INTEGER NOT NULL,
        created_at TIMESTAMP WITH TIME ZONE NOT NULL,
        updated_at TIMESTAMP WITH TIME ZONE NOT NULL,
        CONSTRAINT pk_vendor_limit PRIMARY KEY (id),
        CONSTRAINT uq_vendor_limit_vendor_id_provider_region_resource UNIQUE (vendor_id, provider, region, resource),
        CONSTRAINT ck_vendor_limit_not_negative CHECK (granted >= 0 AND used >= 0),
        CONSTRAINT fk_vendor_limit_vendor_id FOREIGN KEY(vendor_id) REFERENCES vendor (id)
    )
    """,
    """
    CREATE TABLE level (
        vendor_id TEXT NOT NULL,
        contract_id TEXT NOT NULL,
        name TEXT NOT NULL,
        rank INTEGER DEFAULT '0' NOT NULL,
        needs TEXT[] DEFAULT '{}' NOT NULL,
        hours TEXT DEFAULT '' NOT NULL,
        answer_minutes INTEGER,
        repair_minutes INTEGER,
        cost_minor BIGINT,
        currency TEXT,
        notes TEXT DEFAULT '' NOT NULL,
        id TEXT NOT NULL,
        version INTEGER NOT NULL,
        created_at TIMESTAMP WITH TIME ZONE NOT NULL,
        updated_at TIMESTAMP WITH TIME ZONE NOT NULL,
        CONSTRAINT pk_level PRIMARY KEY (id),
        CONSTRAINT uq_level_contract_id_name UNIQUE (contract_id, name),
        CONSTRAINT fk_level_vendor_id_contract_id
            FOREIGN KEY(vendor_id, contract_id) REFERENCES contract (vendor_id, id),
        CONSTRAINT ck_level_promises CHECK (answer_minutes > 0 AND repair_minutes > 0),
        CONSTRAINT ck_level_cost_with_currency CHECK ((cost_minor IS NULL) = (currency IS NULL)),
        CONSTRAINT ck_level_currency_iso CHECK (currency ~ '^[A-Z]{3}$')
    )
    """,
    """
    CREATE TABLE lot (
        vendor_id TEXT NOT NULL,
        contract_id TEXT NOT NULL,
        reference TEXT NOT NULL,
        units INTEGER NOT NULL,
        bought_on DATE NOT NULL,
        lapses_on DATE NOT NULL,
        cost_minor BIGINT,
        currency TEXT,
        notes TEXT DEFAULT '' NOT NULL,
        id TEXT NOT NULL,
        version INTEGER NOT NULL,
        created_at TIMESTAMP WITH TIME ZONE NOT NULL,
        updated_at TIMESTAMP WITH TIME ZONE NOT NULL,
        CONSTRAINT pk_lot PRIMARY KEY (id),
        CONSTRAINT uq_lot_vendor_id_reference UNIQUE (vendor_id, reference),
        CONSTRAINT fk_lot_vendor_id_contract_id
            FOREIGN KEY(vendor_id, contract_id) REFERENCES contract (vendor_id, id),
        CONSTRAINT ck_lot_units CHECK (units > 0),
        CONSTRAINT ck_lot_dates_in_order CHECK (bought_on <= lapses_on),
        CONSTRAINT ck_lot_cost_with_currency CHECK ((cost_minor IS NULL) = (currency IS NULL)),
        CONSTRAINT ck_lot_currency_iso CHECK (currency ~ '^[A-Z]{3}$')
    )
    """,
    """
    CREATE TABLE unit_entry (
        id BIGSERIAL NOT NULL,
        lot_id TEXT NOT NULL,
        packet_id TEXT,
        units INTEGER NOT NULL,
        state TEXT NOT NULL,
        text TEXT DEFAULT '' NOT NULL,
        at TIMESTAMP WITH TIME ZONE NOT NULL,
        by TEXT NOT NULL,
        CONSTRAINT pk_unit_entry PRIMARY KEY (id),
        CONSTRAINT ck_unit_entry_units CHECK (units > 0),
        CONSTRAINT ck_unit_entry_state CHECK (state IN ('held','used','freed')),
        CONSTRAINT fk_unit_entry_lot_id FOREIGN KEY(lot_id) REFERENCES lot (id),
        CONSTRAINT fk_unit_entry_packet_id FOREIGN KEY(packet_id) REFERENCES packet (id)
    )
    """,
    "CREATE INDEX ix_unit_entry_lot_id ON unit_entry (lot_id)",
    "CREATE INDEX ix_unit_entry_packet_id ON unit_entry (packet_id)",
    """
    CREATE TABLE limit_request (
        packet_id TEXT NOT NULL,
        place INTEGER NOT NULL,
        limit_id TEXT,
        region TEXT NOT NULL,
        resource TEXT NOT NULL,
        was BIGINT,
        wanted BIGINT NOT NULL,
        granted BIGINT,
        state TEXT DEFAULT 'asked' NOT NULL,
        reason TEXT DEFAULT '' NOT NULL,
        asked_at TIMESTAMP WITH TIME ZONE NOT NULL,
        decided_at TIMESTAMP WITH TIME ZONE,
        CONSTRAINT pk_limit_request PRIMARY KEY (packet_id, place),
        CONSTRAINT ck_limit_request_state CHECK (state IN ('asked','granted','partly','declined')),
        CONSTRAINT fk_limit_request_packet_id FOREIGN KEY(packet_id) REFERENCES packet (id),
        CONSTRAINT fk_limit_request_limit_id FOREIGN KEY(limit_id) REFERENCES vendor_limit (id)
    )
    """,
    "CREATE INDEX ix_limit_request_limit_id ON limit_request (limit_id)",
    """
    CREATE FUNCTION lot_never_negative() RETURNS trigger LANGUAGE plpgsql AS $$
    DECLARE
        whole INTEGER;
        taken BIGINT;
        concerned TEXT := to_jsonb(NEW) ->> CASE WHEN TG_TABLE_NAME = 'lot' THEN 'id' ELSE 'lot_id' END;
    BEGIN
        SELECT units INTO whole FROM lot WHERE id = concerned FOR UPDATE;
        SELECT coalesce(sum(units), 0) INTO taken FROM unit_entry WHERE lot_id = concerned AND state <> 'freed';
        IF taken > whole THEN
            RAISE EXCEPTION 'lot % has % units, and % are taken', concerned, whole, taken
                USING ERRCODE = 'check_violation', CONSTRAINT = 'ck_lot_never_negative', TABLE = 'lot';
        END IF;
        RETURN NULL;
    END
    $$
    """,
    """
    CREATE TRIGGER never_negative AFTER INSERT OR UPDATE ON unit_entry
    FOR EACH ROW EXECUTE FUNCTION lot_never_negative()
    """,
    """
    CREATE TRIGGER never_negative AFTER UPDATE OF units ON lot
    FOR EACH ROW EXECUTE FUNCTION lot_never_negative()
    """,
    """
    CREATE TABLE price (
        vendor_id TEXT NOT NULL,
        item TEXT NOT NULL,
        name TEXT NOT NULL,
        units INTEGER NOT NULL,
        countries TEXT[] DEFAULT '{}' NOT NULL,
        during TEXT DEFAULT 'any' NOT NULL,
        hours TEXT DEFAULT '' NOT NULL,
        notice_days INTEGER DEFAULT '0' NOT NULL,
        most INTEGER,
        notes TEXT DEFAULT '' NOT NULL,
        id TEXT NOT NULL,
        version INTEGER NOT NULL,
        created_at TIMESTAMP WITH TIME ZONE NOT NULL,
        updated_at TIMESTAMP WITH TIME ZONE NOT NULL,
        CONSTRAINT pk_price PRIMARY KEY (id),
        CONSTRAINT uq_price_vendor_id_item UNIQUE (vendor_id, item),
        CONSTRAINT ck_price_units CHECK (units > 0 AND most > 0),
        CONSTRAINT ck_price_during CHECK (during IN ('any','in_hours','out_of_hours')),
        CONSTRAINT ck_price_notice_days CHECK (notice_days BETWEEN 0 AND 365),
        CONSTRAINT fk_price_vendor_id FOREIGN KEY(vendor_id) REFERENCES vendor (id)
    )
    """,
    """
    CREATE TABLE licence (
        vendor_id TEXT NOT NULL,
        asset_id TEXT NOT NULL,
        name TEXT NOT NULL,
        sort TEXT DEFAULT 'licence' NOT NULL,
        activation_code TEXT DEFAULT '' NOT NULL,
        key_sealed BYTEA,
        starts_on DATE,
        ends_on DATE,
        notes TEXT DEFAULT '' NOT NULL,
        id TEXT NOT NULL,
        version INTEGER NOT NULL,
        created_at TIMESTAMP WITH TIME ZONE NOT NULL,
        updated_at TIMESTAMP WITH TIME ZONE NOT NULL,
        CONSTRAINT pk_licence PRIMARY KEY (id),
        CONSTRAINT uq_licence_asset_id_name UNIQUE (asset_id, name),
        CONSTRAINT ck_licence_sort CHECK (sort IN ('licence','feature_key','certificate')),
        CONSTRAINT ck_licence_dates_in_order CHECK (starts_on <= ends_on),
        CONSTRAINT fk_licence_asset_id FOREIGN KEY(asset_id) REFERENCES asset (id)
    )
    """,
    "CREATE INDEX ix_licence_asset_id ON licence (asset_id)",
    """
    CREATE TABLE release (
        vendor_id TEXT NOT NULL,
        product_id TEXT NOT NULL,
        number TEXT NOT NULL,
        released_on DATE,
        status TEXT DEFAULT 'previous' NOT NULL,
        mends TEXT[] DEFAULT '{}' NOT NULL,
        file_name TEXT DEFAULT '' NOT NULL,
        sha256 TEXT DEFAULT '' NOT NULL,
        notes TEXT DEFAULT '' NOT NULL,
        id TEXT NOT NULL,
        version INTEGER NOT NULL,
        created_at TIMESTAMP WITH TIME ZONE NOT NULL,
        updated_at TIMESTAMP WITH TIME ZONE NOT NULL,
        CONSTRAINT pk_release PRIMARY KEY (id),
        CONSTRAINT uq_release_product_id_number UNIQUE (product_id, number),
        CONSTRAINT fk_release_vendor_id_product_id
            FOREIGN KEY(vendor_id, product_id) REFERENCES product (vendor_id, id),
        CONSTRAINT ck_release_status CHECK (status IN ('coming','current','previous','withdrawn'))
    )
    """,
    *(
        f"""
        CREATE TRIGGER note_change AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON {table}
        FOR EACH STATEMENT EXECUTE FUNCTION note_register_change()
        """
        for table in ("vendor_limit", "lot", "unit_entry", "price", "licence")
    ),
)
