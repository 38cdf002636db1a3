"""Papers are called order documents."""

import sqlalchemy as sa
from alembic import op

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None

_CONSTRAINTS = (
    ("ck_paper_state", "ck_order_document_state"),
    ("fk_paper_contract_id", "fk_order_document_contract_id"),
    ("pk_paper", "pk_order_document"),
    ("uq_paper_sha256", "uq_order_document_sha256"),
)


def upgrade() -> None:
    op.rename_table("paper", "order_document")
    for before, after in _CONSTRAINTS:
        op.execute(sa.text(f"ALTER TABLE order_document RENAME CONSTRAINT {before} TO {after}"))
    for name in ("at", "contract_id"):
        op.execute(sa.text(f"ALTER INDEX ix_paper_{name} RENAME TO ix_order_document_{name}"))
    if op.get_bind().scalar(sa.text("SELECT to_regclass('procrastinate_jobs')")) is not None:
        op.execute(
            sa.text(
                "UPDATE procrastinate_jobs SET task_name = 'read_order_document',"
                " args = jsonb_build_object('document_id', args->'paper_id') WHERE task_name = 'read_paper'"
            )
        )
