"""Desks of every shape: several cases of a packet, what else a desk tells, what was picked up, people who are away."""

import json

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None

JSON = postgresql.JSONB(none_as_null=True, astext_type=sa.Text())


def upgrade() -> None:
    op.add_column("packet", sa.Column("cases", sa.JSON(none_as_null=True), nullable=True))
    op.add_column("packet", sa.Column("told", JSON, nullable=False, server_default="{}"))
    op.execute(
        "UPDATE packet SET cases = json_build_array(json_build_object('case', "
        "json_build_object('label', '', 'body', sealed_case), 'reference', reference, 'status', desk_status, "
        "'life', life)) WHERE sealed_case IS NOT NULL"
    )
    op.drop_column("packet", "sealed_case")
    op.add_column("message", sa.Column("original_blob", sa.Text(), nullable=True))
    op.add_column("desk_sheet", sa.Column("text", sa.Text(), nullable=False, server_default=""))
    op.add_column("exhibit", sa.Column("packed", sa.Integer(), nullable=True))
    op.create_index(op.f("ix_exhibit_sha256"), "exhibit", ["sha256"])
    op.add_column(
        "person", sa.Column("reach_by", sa.Text(), nullable=False, server_default="either")
    )
    op.add_column("person", sa.Column("access_needs", sa.Text(), nullable=False, server_default=""))
    op.add_column("person", sa.Column("away_from_on", sa.Date(), nullable=True))
    op.add_column("person", sa.Column("away_until_on", sa.Date(), nullable=True))
    op.create_check_constraint(
        op.f("ck_person_reach_by"), "person", "reach_by IN ('mail','phone','either')"
    )
    op.create_check_constraint(
        op.f("ck_person_away_in_order"), "person", "away_until_on >= away_from_on"
    )
    op.create_table(
        "picked_up",
        sa.Column("desk", sa.Text(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("sha256", sa.Text(), nullable=False),
        sa.Column("packet_id", sa.Text(), nullable=True),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["packet_id"], ["packet.id"], name=op.f("fk_picked_up_packet_id")),
        sa.PrimaryKeyConstraint("desk", "name", "sha256", name=op.f("pk_picked_up")),
    )
    # JSONB forgets in which order things were written, and that matters to desks.
    op.alter_column("desk_sheet", "body", type_=sa.JSON(), postgresql_using="body::json")
    _kinds_instead_of_takes()


def _kinds_instead_of_takes() -> None:
    """Sheets said `takes: {routes, needs}`; they say now for each kind by which routes it may come."""
    link = op.get_bind()
    for ident, body in link.execute(
        sa.text("SELECT id, body FROM desk_sheet WHERE body::jsonb ? 'takes'")
    ).all():
        takes = body.pop("takes")
        body["kinds"] = [{"need": need, "routes": takes["routes"]} for need in takes["needs"]]
        link.execute(
            sa.text("UPDATE desk_sheet SET body = CAST(:body AS json) WHERE id = :id"),
            {"body": json.dumps(body), "id": ident},
        )
