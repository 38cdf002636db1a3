"""Packets are found by what they are about; articles, and what ended drafts before they were sent."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0022"
down_revision = "0021"
branch_labels = None
depends_on = None

_CODES = """
    CREATE FUNCTION error_codes(words text, answers jsonb) RETURNS text[] IMMUTABLE PARALLEL SAFE LANGUAGE sql AS $$
        SELECT coalesce(array_agg(DISTINCT upper(m[1]) || ltrim(m[2], '0')), '{}')
        FROM regexp_matches(words || ' ' || answers::text, '\\m([A-Za-z]{1,5})[-_]?(\\d{2,5})\\M', 'g') m
    $$
"""


def upgrade() -> None:
    op.execute(_CODES)
    op.execute("""
        ALTER TABLE packet
        ADD COLUMN words tsvector GENERATED ALWAYS AS (
            to_tsvector('english'::regconfig, title || ' ' || note || ' ' || cause || ' ' || cure)) STORED,
        ADD COLUMN codes text[] GENERATED ALWAYS AS (
            error_codes(title || ' ' || note || ' ' || cause, answers)) STORED""")
    op.create_index("ix_packet_words", "packet", ["words"], postgresql_using="gin")
    op.create_index("ix_packet_codes", "packet", ["codes"], postgresql_using="gin")
    op.create_table(
        "article",
        sa.Column("key", sa.Text(), primary_key=True),
        sa.Column("title", sa.Text(), nullable=False),
        sa.Column("text", sa.Text(), nullable=False),
        sa.Column("sort", sa.Text(), nullable=False),
        sa.Column("vendor", sa.Text(), nullable=False),
        sa.Column("models", JSONB(), nullable=False),
        sa.Column("written_on", sa.Date(), nullable=False),
        sa.Column("by", sa.Text(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
    )
    op.execute("""
        ALTER TABLE article
        ADD COLUMN words tsvector GENERATED ALWAYS AS (
            to_tsvector('english'::regconfig, title || ' ' || text)) STORED,
        ADD COLUMN codes text[] GENERATED ALWAYS AS (
            error_codes(title || ' ' || text, '{}'::jsonb)) STORED""")
    op.create_index("ix_article_words", "article", ["words"], postgresql_using="gin")
    op.create_table(
        "solution",
        sa.Column("packet_id", sa.Text(), sa.ForeignKey("packet.id"), primary_key=True),
        sa.Column("by_packet_id", sa.Text(), sa.ForeignKey("packet.id"), index=True),
        sa.Column("article", sa.Text(), sa.ForeignKey("article.key"), index=True),
        sa.Column("by", sa.Text(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.CheckConstraint("(by_packet_id IS NULL) <> (article IS NULL)", name="one_solution"),
    )
