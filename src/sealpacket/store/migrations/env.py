"""Alembic's environment: one connection, given by store.migrate."""

from alembic import context

from sealpacket.store.models import Base


def include(
    _object: object, name: str | None, kind: str, _reflected: bool, _compare: object
) -> bool:
    """The queue's own tables are not ours to compare, and an index with a collation cannot be compared."""
    if kind == "index":
        return name != "asset_serial_begins"
    return not (kind == "table" and name is not None and name.startswith("procrastinate_"))


connection = context.config.attributes["connection"]
context.configure(connection=connection, target_metadata=Base.metadata, include_object=include)
with context.begin_transaction():
    context.run_migrations()
