"""What comes after the reference: acts, files that follow, questions one by one, desks that are away for days."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0018"
down_revision = "0017"
branch_labels = None
depends_on = None

_TIME = sa.DateTime(timezone=True)


def upgrade() -> None:
    text, moment = sa.Text(), _TIME
    for name in ("owner", "cause", "cure", "send_words"):
        op.add_column("packet", sa.Column(name, text, nullable=False, server_default=""))
    op.add_column("packet", sa.Column("follows_id", text, sa.ForeignKey("packet.id")))
    op.create_index("ix_packet_follows_id", "packet", ["follows_id"])
    op.add_column(
        "packet", sa.Column("send_tried", sa.Integer(), nullable=False, server_default="0")
    )
    op.add_column("packet", sa.Column("send_since", moment))
    op.add_column("packet", sa.Column("send_next_at", moment))
    op.execute("UPDATE packet SET owner = noted_by")
    op.execute("UPDATE packet SET turn = 'vendor' WHERE life = 'settled'")
    op.add_column(
        "packet_case",
        sa.Column("begun", sa.Boolean(), nullable=False, server_default=sa.text("false")),
    )
    op.add_column("packet_case", sa.Column("entered", JSONB(), nullable=False, server_default="[]"))
    op.add_column(
        "exhibit", sa.Column("later", sa.Boolean(), nullable=False, server_default=sa.text("false"))
    )
    op.add_column("exhibit", sa.Column("message_id", text, sa.ForeignKey("message.id")))
    op.create_index("ix_exhibit_message_id", "exhibit", ["message_id"])
    op.add_column("message", sa.Column("how", text, nullable=False, server_default="desk"))
    op.create_check_constraint(op.f("ck_message_how"), "message", "how IN ('desk','call','hand')")
    op.add_column("message", sa.Column("act", text, nullable=False, server_default="comment"))
    op.add_column("message", sa.Column("act_values", JSONB(), nullable=False, server_default="{}"))
    op.add_column("message", sa.Column("taken_back_at", moment))
    for table, name in (("message", "begun"), ("exhibit", "arrived")):
        op.add_column(
            table, sa.Column(name, sa.Boolean(), nullable=False, server_default=sa.text("false"))
        )
    _ask_one_by_one()
    _keep_files()
    _tray()
    _access_and_parts()
    op.create_table(
        "desk_health",
        sa.Column("desk", text, primary_key=True),
        sa.Column("failures", sa.Integer(), nullable=False, server_default="0"),
        sa.Column("words", text, nullable=False, server_default=""),
        sa.Column("since", moment),
        sa.Column("closed_until", moment),
        sa.Column("free_at", moment),
    )


def _keep_files() -> None:
    op.create_table(
        "vendor_file",
        sa.Column("id", sa.Text(), primary_key=True),
        sa.Column("packet_id", sa.Text(), sa.ForeignKey("packet.id"), nullable=False),
        sa.Column("message_id", sa.Text(), sa.ForeignKey("message.id"), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("address", sa.Text(), nullable=False, server_default=""),
        sa.Column("state", sa.Text(), nullable=False, server_default="waiting"),
        sa.Column("failure", sa.Text(), nullable=False, server_default=""),
        sa.Column("size", sa.BigInteger(), nullable=False, server_default="0"),
        sa.Column("sha256", sa.Text()),
        sa.Column("blob", sa.Text()),
        sa.Column("kind", sa.Text(), nullable=False, server_default=""),
        sa.Column("warning", sa.Text(), nullable=False, server_default=""),
        sa.Column("asset_id", sa.Text(), sa.ForeignKey("asset.id", ondelete="SET NULL")),
        sa.Column("created_at", _TIME, nullable=False, server_default=sa.func.now()),
        sa.CheckConstraint(
            "state IN ('waiting','kept','failed')", name=op.f("ck_vendor_file_state")
        ),
        sa.CheckConstraint(
            "state <> 'kept' OR blob IS NOT NULL", name=op.f("ck_vendor_file_kept_has_content")
        ),
    )
    for name in ("packet_id", "message_id", "asset_id"):
        op.create_index(f"ix_vendor_file_{name}", "vendor_file", [name])


def _tray() -> None:
    op.create_table(
        "tray_item",
        sa.Column("id", sa.Text(), primary_key=True),
        sa.Column("ident", sa.Text(), nullable=False, unique=True),
        sa.Column("sort", sa.Text(), nullable=False),
        sa.Column("sender", sa.Text(), nullable=False, server_default=""),
        sa.Column("subject", sa.Text(), nullable=False, server_default=""),
        sa.Column("words", sa.Text(), nullable=False, server_default=""),
        sa.Column("blob", sa.Text()),
        sa.Column("at", _TIME, nullable=False, server_default=sa.func.now()),
        sa.Column("done_at", _TIME),
        sa.Column("done_by", sa.Text(), nullable=False, server_default=""),
        sa.Column("packet_id", sa.Text(), sa.ForeignKey("packet.id")),
        sa.CheckConstraint("sort IN ('mail','paper')", name=op.f("ck_tray_item_sort")),
    )
    op.create_table(
        "mailbox_mark",
        sa.Column("mailbox", sa.Text(), primary_key=True),
        sa.Column("validity", sa.BigInteger(), nullable=False, server_default="0"),
        sa.Column("uid", sa.BigInteger(), nullable=False, server_default="0"),
        sa.Column("read_at", _TIME),
        sa.Column("trouble", sa.Text(), nullable=False, server_default=""),
    )


def _access_and_parts() -> None:
    text = sa.Text()
    op.create_table(
        "access_grant",
        sa.Column("id", text, primary_key=True),
        sa.Column("packet_id", text, sa.ForeignKey("packet.id"), nullable=False),
        sa.Column("asset_id", text, sa.ForeignKey("asset.id", ondelete="SET NULL")),
        sa.Column("who", text, nullable=False),
        sa.Column("what", text, nullable=False),
        sa.Column("asked", text, nullable=False, server_default=""),
        sa.Column("from_at", _TIME, nullable=False, server_default=sa.func.now()),
        sa.Column("until_at", _TIME, nullable=False),
        sa.Column("granted_by", text, nullable=False),
        sa.Column("ended_at", _TIME),
        sa.Column("ended_by", text, nullable=False, server_default=""),
        sa.Column("ended_how", text, nullable=False, server_default=""),
    )
    op.create_index("ix_access_grant_packet_id", "access_grant", ["packet_id"])
    op.create_index("ix_access_grant_asset_id", "access_grant", ["asset_id"])
    op.create_table(
        "shipment",
        sa.Column("id", text, primary_key=True),
        sa.Column("packet_id", text, sa.ForeignKey("packet.id"), nullable=False),
        sa.Column("way", text, nullable=False),
        sa.Column("what", text, nullable=False),
        sa.Column("carrier", text, nullable=False, server_default=""),
        sa.Column("tracking", text, nullable=False, server_default=""),
        sa.Column("sent_on", sa.Date()),
        sa.Column("due_on", sa.Date()),
        sa.Column("arrived_on", sa.Date()),
        sa.Column("by", text, nullable=False, server_default=""),
        sa.Column("at", _TIME, nullable=False, server_default=sa.func.now()),
        sa.CheckConstraint("way IN ('to_us','to_vendor')", name=op.f("ck_shipment_way")),
    )
    op.create_index("ix_shipment_packet_id", "shipment", ["packet_id"])
    op.create_index("ix_shipment_tracking", "shipment", ["tracking"])


def _ask_one_by_one() -> None:
    op.create_table(
        "asked",
        sa.Column("id", sa.Text(), primary_key=True),
        sa.Column("message_id", sa.Text(), sa.ForeignKey("message.id"), nullable=False),
        sa.Column("place", sa.Integer(), nullable=False),
        sa.Column("text", sa.Text(), nullable=False),
        sa.Column("doubtful", sa.Boolean(), nullable=False, server_default=sa.text("false")),
        sa.Column("answer_id", sa.Text(), sa.ForeignKey("message.id")),
        sa.Column("done_at", _TIME),
        sa.Column("done_by", sa.Text(), nullable=False, server_default=""),
        sa.UniqueConstraint("message_id", "place", name="uq_asked_message_id_place"),
    )
    op.create_index("ix_asked_message_id", "asked", ["message_id"])
    op.execute(
        "INSERT INTO asked (id, message_id, place, text, done_at) "
        "SELECT gen_random_uuid()::text, id, 0, text, answered_at FROM message WHERE asks"
    )
    op.drop_column("message", "answered_at")
