"""Alembic's entry: run migrations on the database that `uptide.store.database` names."""

from typing import Literal

from alembic import context

from uptide.store.database import MIGRATING, POSTGRES, WRITES, open_engine
from uptide.store.models import Base, UtcDateTime


def render_item(kind: str, item: object, _: object) -> str | Literal[False]:
    """Write our moment type as the plain one that it stores, so that migrations never import the application."""
    return "sa.DateTime()" if kind == "type" and isinstance(item, UtcDateTime) else False


url = context.config.get_main_option("sqlalchemy.url") or ""
engine = open_engine(url)
with engine.connect() as connection:
    if connection.dialect.name == POSTGRES:  # of two first starts one waits for the other, and then sees what it did
        connection.execution_options(isolation_level="READ COMMITTED")
        connection.exec_driver_sql(f"SELECT pg_advisory_xact_lock({MIGRATING})")
    if connection.dialect.name == "sqlite":
        # One transaction over all steps, taken before the schema is looked at: an upgrade that is cut off leaves
        # nothing half done, and of two first starts one waits for the other.
        connection.execution_options(**{WRITES: True})
    context.configure(
        connection=connection,
        transactional_ddl=True,
        target_metadata=Base.metadata,
        render_as_batch=True,
        compare_type=True,
        render_item=render_item,
    )
    with context.begin_transaction():
        context.run_migrations()
    connection.commit()
engine.dispose()
