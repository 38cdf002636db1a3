"""It is kept from when a packet may be escalated and where its desk is, who called against our wish, what people have
pinned, and the bags that follow the first one."""

from alembic import op

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for statement in _STATEMENTS:
        op.execute(statement)


_KINDS = (
    "'asked','refused','overdue','due_soon','may_escalate','answered','by_hand','access_overdue','parcel_due',"
    "'handed_over','replied','lodged','settled','unplaced','product_news'"
)
_STATEMENTS = (
    "ALTER TABLE notice DROP CONSTRAINT ck_notice_kind",
    f"ALTER TABLE notice ADD CONSTRAINT ck_notice_kind CHECK (kind IN ({_KINDS}))",
    "ALTER TABLE packet_line ADD COLUMN due_zone TEXT DEFAULT '' NOT NULL",
    "ALTER TABLE packet_line ADD COLUMN escalate_at TIMESTAMP WITH TIME ZONE",
    "ALTER TABLE packet_line ADD COLUMN unwished INTEGER DEFAULT 0 NOT NULL",
    "UPDATE packet_line SET renew_at = created_at WHERE turn <> 'none'",
    "ALTER TABLE message ADD COLUMN unwished BOOLEAN DEFAULT false NOT NULL",
    """
    CREATE TABLE later_bag (
        packet_id TEXT NOT NULL,
        place INTEGER NOT NULL,
        form TEXT NOT NULL,
        blob TEXT NOT NULL,
        sha256 TEXT NOT NULL,
        tag_manifest TEXT NOT NULL,
        follows TEXT NOT NULL,
        files INTEGER NOT NULL,
        octets BIGINT NOT NULL,
        at TIMESTAMP WITH TIME ZONE NOT NULL,
        by TEXT NOT NULL,
        held TEXT[] NOT NULL,
        CONSTRAINT pk_later_bag PRIMARY KEY (packet_id, place),
        CONSTRAINT ck_later_bag_form CHECK (form IN ('sent','clear')),
        CONSTRAINT fk_later_bag_packet_id FOREIGN KEY(packet_id) REFERENCES packet (id)
    )
    """,
    """
    CREATE TABLE pin (
        account_id TEXT NOT NULL,
        kind TEXT NOT NULL,
        handle TEXT NOT NULL,
        at TIMESTAMP WITH TIME ZONE DEFAULT now() NOT NULL,
        CONSTRAINT pk_pin PRIMARY KEY (account_id, kind, handle),
        CONSTRAINT ck_pin_kind CHECK (kind IN ('asset','person','desk')),
        CONSTRAINT fk_pin_account_id FOREIGN KEY(account_id) REFERENCES account (id) ON DELETE CASCADE
    )
    """,
)
