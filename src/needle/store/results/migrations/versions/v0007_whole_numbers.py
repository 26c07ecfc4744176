"""Numbers that an earlier Needle left empty.

It gave new columns of numbers an empty text as their default, which SQLite keeps as it is.
"""

import sqlalchemy as sa
from alembic import op

revision, down_revision = "0007", "0006"


def upgrade() -> None:
    """Put 0 where an empty text stands for a number."""
    if op.get_bind().dialect.name != "sqlite":
        return  # Every other database refuses such a default.
    for column in ("held_until", "waited", "tries", "due", "result_at"):
        op.execute(sa.text(f"UPDATE outbox SET {column} = 0 WHERE typeof({column}) = 'text'"))
    op.execute(sa.text("UPDATE leads SET trial = 0 WHERE typeof(trial) = 'text'"))
