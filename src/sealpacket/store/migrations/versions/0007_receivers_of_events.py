"""Receivers of events, and the events that they refused."""

from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for statement in _STATEMENTS:
        op.execute(statement)


_STATEMENTS = (
    """
    CREATE TABLE webhook (
        name TEXT NOT NULL CONSTRAINT pk_webhook PRIMARY KEY,
        address TEXT NOT NULL,
        secret_sealed BYTEA NOT NULL,
        packets_only BOOLEAN NOT NULL,
        by TEXT NOT NULL,
        at TIMESTAMPTZ NOT NULL,
        after BIGINT NOT NULL,
        tried INTEGER NOT NULL,
        next_try_at TIMESTAMPTZ,
        trouble TEXT NOT NULL
    )
    """,
    """
    CREATE TABLE refused_event (
        webhook TEXT NOT NULL
            CONSTRAINT fk_refused_event_webhook_webhook REFERENCES webhook (name) ON DELETE CASCADE,
        seq BIGINT NOT NULL,
        at TIMESTAMPTZ NOT NULL,
        reason TEXT NOT NULL,
        again BOOLEAN NOT NULL,
        CONSTRAINT pk_refused_event PRIMARY KEY (webhook, seq)
    )
    """,
)
