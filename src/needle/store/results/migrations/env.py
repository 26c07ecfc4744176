"""What Alembic runs: its steps over the connection that it was given."""

from alembic import context

context.configure(connection=context.config.attributes["connection"], transactional_ddl=True)
context.run_migrations()
