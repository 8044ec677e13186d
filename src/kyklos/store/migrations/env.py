"""Run migrations on an engine that is passed in; foreign keys are checked after, as batch rebuilds need them off."""

from alembic import context

from kyklos.store import records as models


def run() -> None:
    """Migrate in one transaction, then check the foreign keys."""
    with context.config.attributes["engine"].connect() as connection:
        context.configure(
            connection=connection,
            target_metadata=models.Base.metadata,
            render_as_batch=True,
            transactional_ddl=True,
            user_module_prefix="models.",
        )
        with context.begin_transaction():
            context.run_migrations()
        broken = connection.exec_driver_sql("PRAGMA foreign_key_check").fetchall()
        if broken:
            raise RuntimeError(f"migration left broken references: {broken}")
        connection.commit()


run()
