"""Delivery, following, ticket and legend of a packet get rows of their own; what is over is nobody's turn."""

from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for statement in _STATEMENTS.split(";\n"):
        if statement.strip():
            op.execute(statement)


_STATEMENTS = """
CREATE TABLE packet_delivery (
    packet_id TEXT NOT NULL,
    state TEXT,
    status_text TEXT DEFAULT '' NOT NULL,
    tried INTEGER DEFAULT '0' NOT NULL,
    since TIMESTAMP WITH TIME ZONE,
    next_at TIMESTAMP WITH TIME ZONE,
    reason TEXT DEFAULT '' NOT NULL,
    CONSTRAINT pk_packet_delivery PRIMARY KEY (packet_id),
    CONSTRAINT ck_packet_delivery_state CHECK (state IN ('queued','sending','stalled','by_hand','done')),
    CONSTRAINT fk_packet_delivery_packet_id FOREIGN KEY(packet_id) REFERENCES packet (id) ON DELETE CASCADE
);
CREATE TABLE packet_following (
    packet_id TEXT NOT NULL,
    state TEXT,
    status_text TEXT DEFAULT '' NOT NULL,
    followed_at TIMESTAMP WITH TIME ZONE,
    CONSTRAINT pk_packet_following PRIMARY KEY (packet_id),
    CONSTRAINT ck_packet_following_state CHECK (state IN ('asking','failed')),
    CONSTRAINT fk_packet_following_packet_id FOREIGN KEY(packet_id) REFERENCES packet (id) ON DELETE CASCADE
);
CREATE INDEX ix_packet_following_followed_at ON packet_following (followed_at);
CREATE TABLE packet_ticket (
    packet_id TEXT NOT NULL,
    number TEXT DEFAULT '' NOT NULL,
    mail JSONB,
    reported TEXT DEFAULT '' NOT NULL,
    tried_at TIMESTAMP WITH TIME ZONE,
    trouble TEXT DEFAULT '' NOT NULL,
    CONSTRAINT pk_packet_ticket PRIMARY KEY (packet_id),
    CONSTRAINT fk_packet_ticket_packet_id FOREIGN KEY(packet_id) REFERENCES packet (id) ON DELETE CASCADE
);
CREATE INDEX ix_packet_ticket_number ON packet_ticket (number);
CREATE TABLE packet_legend (
    packet_id TEXT NOT NULL,
    placeholder_key_sealed BYTEA NOT NULL,
    key_sealed BYTEA,
    destroyed_at TIMESTAMP WITH TIME ZONE,
    CONSTRAINT pk_packet_legend PRIMARY KEY (packet_id),
    CONSTRAINT fk_packet_legend_packet_id FOREIGN KEY(packet_id) REFERENCES packet (id) ON DELETE CASCADE
);
INSERT INTO packet_delivery
    SELECT id, lodge_state, lodge_status_text, send_tried, send_since, send_next_at, send_words FROM packet;
INSERT INTO packet_following SELECT id, follow_state, follow_status_text, followed_at FROM packet;
INSERT INTO packet_ticket
    SELECT id, ticket, ticket_mail, ticket_told, ticket_tried_at, ticket_trouble FROM packet
    WHERE ticket <> '' OR ticket_mail IS NOT NULL;
INSERT INTO packet_legend
    SELECT id, placeholder_key_sealed, legend_key_sealed, legend_destroyed_at FROM packet;
DROP INDEX ix_packet_ticket;
ALTER TABLE packet
    DROP COLUMN lodge_state, DROP COLUMN lodge_status_text, DROP COLUMN send_tried, DROP COLUMN send_since,
    DROP COLUMN send_next_at, DROP COLUMN send_words, DROP COLUMN follow_state, DROP COLUMN follow_status_text,
    DROP COLUMN followed_at, DROP COLUMN ticket, DROP COLUMN ticket_mail, DROP COLUMN ticket_told,
    DROP COLUMN ticket_tried_at, DROP COLUMN ticket_trouble, DROP COLUMN placeholder_key_sealed,
    DROP COLUMN legend_key_sealed, DROP COLUMN legend_destroyed_at;
ALTER TABLE packet DROP CONSTRAINT ck_packet_turn;
UPDATE packet SET turn = 'none' WHERE life = 'withdrawn' OR (life = 'settled' AND turn = 'vendor');
ALTER TABLE packet ADD CONSTRAINT ck_packet_turn CHECK (turn IN ('ours','vendor','none'));
"""
