"""A second number and instructions of people; a second address, hours and instructions of sites."""

from alembic import op

revision = "0018"
down_revision = "0017"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for statement in _STATEMENTS:
        op.execute(statement)


_STATEMENTS = (
    """
    ALTER TABLE person
        ADD COLUMN second_phone TEXT,
        ADD COLUMN instructions TEXT DEFAULT '' NOT NULL,
        ADD CONSTRAINT ck_person_second_phone_e164 CHECK (second_phone ~ '^\\+[1-9][0-9]{6,14}$')
    """,
    """
    ALTER TABLE site
        ADD COLUMN ship_address TEXT DEFAULT '' NOT NULL,
        ADD COLUMN ship_postcode TEXT DEFAULT '' NOT NULL,
        ADD COLUMN ship_town TEXT DEFAULT '' NOT NULL,
        ADD COLUMN hours TEXT DEFAULT '' NOT NULL,
        ADD COLUMN instructions TEXT DEFAULT '' NOT NULL
    """,
)
