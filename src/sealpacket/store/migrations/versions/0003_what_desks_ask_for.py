"""What desks ask for: the town and state of a site, our number with a vendor. When a case is for us to settle, and who
handed a packet over with which words."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for table, column in (("site", "town"), ("site", "state"), ("vendor", "customer_number")):
        op.add_column(table, sa.Column(column, sa.Text(), nullable=False, server_default=""))
    op.add_column("packet", sa.Column("handed", sa.JSON()))
    op.add_column("packet_case", sa.Column("settle_on", sa.Date()))
    op.rename_table("vault_secret", "safe_secret")
    op.execute(_CONTEXTS)


_CONTEXTS = """
UPDATE packet SET context = (
    (context::jsonb - 'trace' - 'authorisations')
    || CASE WHEN context::jsonb ? 'trace' THEN jsonb_build_object('stack', context::jsonb -> 'trace') ELSE '{}' END
    || CASE WHEN context::jsonb ? 'authorisations'
       THEN jsonb_build_object('rights', context::jsonb -> 'authorisations') ELSE '{}' END
    || CASE WHEN context::jsonb -> 'message' ? 'number' THEN jsonb_build_object('message',
           (context::jsonb -> 'message') - 'number'
           || jsonb_build_object('code', context::jsonb -> 'message' -> 'number')) ELSE '{}' END
)::json
WHERE context IS NOT NULL AND context::text <> 'null'
"""
"""Program contexts, with the current field names."""
