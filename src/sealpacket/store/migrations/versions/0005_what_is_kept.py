"""Transactions that change the register are noted, how many stops a draft has is kept, and assets are found by name."""

from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None

_REGISTER = (
    "vendor", "person", "site", "product", "asset", "asset_stay", "contract", "contract_term", "entitlement",
    "entitlement_asset", "entitlement_product", "entitlement_site", "vendor_login", "login_tie", "desk", "desk_sheet",
    "redaction_plan",
)  # fmt: skip


def upgrade() -> None:
    for statement in (_CHANGES, _NOTE, *map(_TRIGGER.format, _REGISTER), _STANDING, *_NAMES):
        op.execute(statement)


_CHANGES = "CREATE TABLE register_change (id BIGINT NOT NULL, CONSTRAINT pk_register_change PRIMARY KEY (id))"
_NOTE = """
CREATE FUNCTION note_register_change() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    INSERT INTO register_change (id) VALUES (pg_current_xact_id()::text::bigint) ON CONFLICT DO NOTHING;
    RETURN NULL;
END
$$
"""
_TRIGGER = """
CREATE TRIGGER note_change AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON {0}
FOR EACH STATEMENT EXECUTE FUNCTION note_register_change()
"""
_STANDING = """
CREATE TABLE packet_standing (
    packet_id TEXT NOT NULL,
    stamp TEXT NOT NULL,
    stops INTEGER NOT NULL,
    CONSTRAINT pk_packet_standing PRIMARY KEY (packet_id),
    CONSTRAINT fk_packet_standing_packet_id FOREIGN KEY(packet_id) REFERENCES packet (id) ON DELETE CASCADE
)
"""
_NAMES = (
    """
CREATE FUNCTION asset_names(serial text, hosts text[], addresses text[]) RETURNS text[]
LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
    SELECT coalesce(array_agg(DISTINCT lower(split_part(name, '/', 1))), '{}') FROM unnest(
        array[serial] || hosts || addresses
        || coalesce((SELECT array_agg(split_part(host, '.', 1)) FROM unnest(hosts) AS host), '{}')
    ) AS name WHERE length(regexp_replace(name, '[^[:alnum:]]', '', 'g')) >= 4
$$
""",
    "ALTER TABLE asset ADD COLUMN names TEXT[] GENERATED ALWAYS AS"
    " (asset_names(serial, host_names, addresses)) STORED NOT NULL",
    "CREATE INDEX ix_asset_names ON asset USING gin (names)",
)
"""The names by which evidence may speak of an asset: of four letters and digits at least."""
