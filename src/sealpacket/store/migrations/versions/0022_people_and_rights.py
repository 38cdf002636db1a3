"""What a token may do, accounts of programs, people of a provider, and passkeys."""

from alembic import op

revision = "0022"
down_revision = "0021"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for statement in _STATEMENTS:
        op.execute(statement)


_STATEMENTS = (
    """
    ALTER TABLE api_token
        ADD COLUMN rights TEXT[] DEFAULT '{read,prepare,send,keep}' NOT NULL,
        ADD CONSTRAINT ck_api_token_known_rights CHECK (rights <@ ARRAY['read','prepare','send','keep'])
    """,
    "UPDATE api_token SET rights = '{read}' WHERE read_only",
    "ALTER TABLE api_token DROP COLUMN read_only",
    """
    ALTER TABLE account
        ALTER COLUMN password_hash DROP NOT NULL,
        ADD COLUMN kind TEXT DEFAULT 'person' NOT NULL,
        ADD COLUMN issuer TEXT,
        ADD COLUMN subject TEXT,
        ADD COLUMN external_id TEXT,
        ADD COLUMN provided BOOLEAN DEFAULT false NOT NULL,
        ADD CONSTRAINT ck_account_kind CHECK (kind IN ('person','program')),
        ADD CONSTRAINT ck_account_program_without_password CHECK (kind = 'person' OR password_hash IS NULL),
        ADD CONSTRAINT ck_account_subject_of_issuer CHECK ((issuer IS NULL) = (subject IS NULL)),
        ADD CONSTRAINT uq_account_issuer_subject UNIQUE (issuer, subject),
        ADD CONSTRAINT uq_account_external_id UNIQUE (external_id)
    """,
    """
    ALTER TABLE session
        ADD COLUMN way TEXT DEFAULT 'password' NOT NULL,
        ADD COLUMN provider_session TEXT,
        ADD CONSTRAINT ck_session_way CHECK (way IN ('password','provider','passkey'))
    """,
    "CREATE INDEX ix_session_provider_session ON session (provider_session)",
    "CREATE TABLE used_once (hash TEXT PRIMARY KEY, expires_at TIMESTAMPTZ NOT NULL)",
    """
    CREATE TABLE passkey (
        id TEXT PRIMARY KEY,
        account_id TEXT NOT NULL REFERENCES account (id),
        name TEXT NOT NULL,
        credential TEXT NOT NULL,
        public_key BYTEA NOT NULL,
        uses BIGINT DEFAULT 0 NOT NULL,
        created_at TIMESTAMPTZ NOT NULL,
        seen_at TIMESTAMPTZ,
        CONSTRAINT uq_passkey_credential UNIQUE (credential)
    )
    """,
    "CREATE INDEX ix_passkey_account_id ON passkey (account_id)",
)
