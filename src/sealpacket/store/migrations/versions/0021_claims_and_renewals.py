"""The cost of a part that goes back late; decisions about the ends of terms, and packets that ask before them."""

from alembic import op

revision = "0021"
down_revision = "0020"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for statement in _STATEMENTS:
        op.execute(statement)


_STATEMENTS = (
    """
    ALTER TABLE shipment
        ADD COLUMN late_cost_minor BIGINT,
        ADD COLUMN currency TEXT,
        ADD CONSTRAINT ck_shipment_cost_with_currency CHECK ((late_cost_minor IS NULL) = (currency IS NULL))
    """,
    """
    CREATE TABLE renewal_decision (
        contract_id TEXT NOT NULL,
        ends_on DATE NOT NULL,
        decision TEXT NOT NULL,
        quote_minor BIGINT,
        currency TEXT,
        reason TEXT DEFAULT '' NOT NULL,
        by TEXT NOT NULL,
        at TIMESTAMP WITH TIME ZONE NOT NULL,
        CONSTRAINT pk_renewal_decision PRIMARY KEY (contract_id, ends_on),
        CONSTRAINT ck_renewal_decision_decision CHECK (decision IN ('renew','cancel','let_end')),
        CONSTRAINT ck_renewal_decision_quote_with_currency CHECK ((quote_minor IS NULL) = (currency IS NULL)),
        CONSTRAINT fk_renewal_decision_contract_id FOREIGN KEY(contract_id) REFERENCES contract (id) ON DELETE CASCADE
    )
    """,
    """
    ALTER TABLE packet
        ADD COLUMN for_contract_id TEXT,
        ADD CONSTRAINT fk_packet_for_contract_id FOREIGN KEY(for_contract_id) REFERENCES contract (id)
    """,
    "CREATE INDEX ix_packet_for_contract_id ON packet (for_contract_id)",
)
