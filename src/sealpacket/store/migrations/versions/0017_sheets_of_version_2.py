"""Stored desk sheets speak version 2 of the language."""

import json

import sqlalchemy as sa
from alembic import op

from sealpacket.core.sheets.version_1 import convert, convert_text

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None


def upgrade() -> None:
    connection = op.get_bind()
    rows = connection.execute(sa.text("SELECT id, body, text FROM desk_sheet")).all()
    for ident, body, text in rows:
        if body.get("sheet") != 1:
            continue
        connection.execute(
            sa.text(
                "UPDATE desk_sheet SET body = CAST(:body AS json), text = :text WHERE id = :id"
            ),
            {
                "id": ident,
                "body": json.dumps(convert(body)),
                "text": convert_text(text) if text else "",
            },
        )
