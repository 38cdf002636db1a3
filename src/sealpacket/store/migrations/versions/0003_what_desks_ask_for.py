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
