"""Packets have a line each for lists; the worker fills those of packets that were there before."""

from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for statement in _STATEMENTS:
        op.execute(statement)


_STATEMENTS = (
    "DROP TABLE packet_standing",
    """
    CREATE TABLE packet_line (
        packet_id TEXT NOT NULL,
        number TEXT NOT NULL,
        title TEXT NOT NULL,
        need TEXT NOT NULL,
        life TEXT NOT NULL,
        turn TEXT NOT NULL,
        turn_since TIMESTAMP WITH TIME ZONE NOT NULL,
        owner TEXT NOT NULL,
        asset_id TEXT,
        vendor TEXT,
        vendor_name TEXT,
        serial TEXT,
        asset_name TEXT,
        product TEXT,
        product_id TEXT,
        retired BOOLEAN NOT NULL,
        site TEXT,
        site_name TEXT,
        login_id TEXT,
        contract TEXT,
        severity TEXT,
        reference TEXT,
        our_reference TEXT,
        ticket TEXT,
        status_text TEXT NOT NULL,
        stops INTEGER,
        attention TEXT NOT NULL,
        due_at TIMESTAMP WITH TIME ZONE,
        exhibits INTEGER NOT NULL,
        messages INTEGER NOT NULL,
        questions INTEGER NOT NULL,
        last_word TEXT NOT NULL,
        last_word_from TEXT NOT NULL,
        last_word_at TIMESTAMP WITH TIME ZONE,
        numbers TEXT[] NOT NULL,
        said TEXT NOT NULL,
        words TSVECTOR NOT NULL,
        created_at TIMESTAMP WITH TIME ZONE NOT NULL,
        updated_at TIMESTAMP WITH TIME ZONE NOT NULL,
        renew_at TIMESTAMP WITH TIME ZONE,
        CONSTRAINT pk_packet_line PRIMARY KEY (packet_id),
        CONSTRAINT ck_packet_line_life CHECK (
            life IN ('drafting','sealed','lodged','answered','settled','refused','withdrawn')),
        CONSTRAINT ck_packet_line_turn CHECK (
            turn IN ('ours','vendor','none')),
        CONSTRAINT ck_packet_line_attention CHECK (
            attention IN ('overdue','due_soon','asked','refused','doubtful','by_hand',
            'waiting','theirs','over')),
        CONSTRAINT fk_packet_line_packet_id FOREIGN KEY(packet_id) REFERENCES packet (id) ON DELETE CASCADE,
        CONSTRAINT fk_packet_line_asset_id FOREIGN KEY(asset_id) REFERENCES asset (id),
        CONSTRAINT fk_packet_line_login_id FOREIGN KEY(login_id) REFERENCES vendor_login (id)
    )
    """,
    "CREATE INDEX ix_packet_line_vendor ON packet_line (vendor)",
    "CREATE INDEX ix_packet_line_site ON packet_line (site)",
    "CREATE INDEX ix_packet_line_asset_id ON packet_line (asset_id)",
    "CREATE INDEX ix_packet_line_contract ON packet_line (contract)",
    "CREATE INDEX ix_packet_line_created_at ON packet_line (created_at, packet_id)",
    "CREATE INDEX ix_packet_line_due_at ON packet_line (due_at, packet_id)",
    "CREATE INDEX ix_packet_line_life ON packet_line (life, packet_id)",
    "CREATE INDEX ix_packet_line_login_id ON packet_line (login_id)",
    "CREATE INDEX ix_packet_line_need ON packet_line (need, packet_id)",
    "CREATE INDEX ix_packet_line_number ON packet_line (number, packet_id)",
    "CREATE INDEX ix_packet_line_numbers ON packet_line USING gin (numbers)",
    "CREATE INDEX ix_packet_line_owner ON packet_line (owner, packet_id)",
    "CREATE INDEX ix_packet_line_product ON packet_line (product, packet_id)",
    "CREATE INDEX ix_packet_line_reference ON packet_line (reference, packet_id)",
    "CREATE INDEX ix_packet_line_renew_at ON packet_line (renew_at)",
    "CREATE INDEX ix_packet_line_said ON packet_line USING gin (said gin_trgm_ops)",
    "CREATE INDEX ix_packet_line_severity ON packet_line (severity, packet_id)",
    "CREATE INDEX ix_packet_line_site_name ON packet_line (site_name, packet_id)",
    "CREATE INDEX ix_packet_line_title ON packet_line (title, packet_id)",
    "CREATE INDEX ix_packet_line_turn_since ON packet_line (turn_since, packet_id)",
    "CREATE INDEX ix_packet_line_updated_at ON packet_line (updated_at, packet_id)",
    "CREATE INDEX ix_packet_line_vendor_name ON packet_line (vendor_name, packet_id)",
    "CREATE INDEX ix_packet_line_waiting ON packet_line (turn, turn_since) WHERE turn <> 'none'",
    "CREATE INDEX ix_packet_line_words ON packet_line USING gin (words)",
    """
    INSERT INTO packet_line (
        packet_id, number, title, need, life, turn, turn_since, owner, asset_id, retired, login_id, reference,
        our_reference, status_text, attention, exhibits, messages, questions, last_word, last_word_from, numbers, said,
        words, created_at, updated_at, renew_at
    )
    SELECT id, number, title, need, life, turn, turn_since, owner, asset_id, false, login_id, reference,
        our_reference, '', CASE turn WHEN 'ours' THEN 'waiting' WHEN 'vendor' THEN 'theirs' ELSE 'over' END,
        0, 0, 0, '', '', ARRAY[lower(number)], lower(number || ' ' || title), words, created_at, updated_at,
        created_at
    FROM packet
    """,
)
