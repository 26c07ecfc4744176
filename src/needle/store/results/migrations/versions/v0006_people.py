"""People by one normal form of their address, time waited by no clock, what hosts share."""

import sqlalchemy as sa
from alembic import op

from needle.core.leads.people import normal_address
from needle.store.results.migrations.steps import add_columns, add_index, add_table

revision, down_revision = "0006", "0005"


def upgrade() -> None:
    """Add the columns, and give the people of earlier rows their normal form."""
    for table, key in (("leads", "id"), ("unfinished", "key")):
        if add_columns(table, sa.Column("person", sa.String(320), nullable=False,
                                        server_default="")):
            _fill_people(table, key)
    add_index("leads_by_person", "leads", "person", "id")
    add_index("unfinished_by_person", "unfinished", "person")
    add_columns("outbox", sa.Column("waited", sa.BigInteger, nullable=False, server_default="0"))
    add_table("shared", sa.Column("name", sa.String(40), primary_key=True),
              sa.Column("value", sa.Text, nullable=False))


def _fill_people(name: str, key: str) -> None:
    table = sa.table(name, sa.column(key), sa.column("email"), sa.column("person"))
    connection = op.get_bind()
    rows = connection.execute(sa.select(table.c[key], table.c.email).where(
        table.c.email != "")).all()
    if rows:
        connection.execute(
            sa.update(table).where(table.c[key] == sa.bindparam("which")).values(
                person=sa.bindparam("who")),
            [{"which": row[0], "who": normal_address(row[1])} for row in rows])
