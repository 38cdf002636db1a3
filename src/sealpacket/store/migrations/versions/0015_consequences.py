"""It is kept which changes of the register follow from answers of desks."""

from alembic import op

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for statement in _STATEMENTS:
        op.execute(statement)


_STATEMENTS = (
    """
    CREATE TABLE packet_consequence (
        id TEXT NOT NULL,
        packet_id TEXT NOT NULL,
        case_label TEXT NOT NULL,
        place INTEGER NOT NULL,
        what TEXT NOT NULL,
        record TEXT NOT NULL,
        field TEXT NOT NULL,
        value TEXT NOT NULL,
        from_on DATE,
        state TEXT NOT NULL,
        offered_at TIMESTAMP WITH TIME ZONE NOT NULL,
        record_id TEXT,
        was TEXT,
        decided_at TIMESTAMP WITH TIME ZONE,
        decided_by TEXT DEFAULT '' NOT NULL,
        CONSTRAINT pk_packet_consequence PRIMARY KEY (id),
        CONSTRAINT ck_packet_consequence_state CHECK (state IN ('offered','taken','dismissed','undone')),
        CONSTRAINT uq_packet_consequence_packet_id_case_label_place_value UNIQUE (packet_id, case_label, place, value),
        CONSTRAINT fk_packet_consequence_packet_id FOREIGN KEY(packet_id) REFERENCES packet (id)
    )
    """,
    "CREATE INDEX ix_packet_consequence_packet_id ON packet_consequence (packet_id)",
)
