"""Steps that are done only where they still are to be done.

Needles before the numbered steps brought some databases up to date by themselves, so a step may
find its work done.
"""

import sqlalchemy as sa
from alembic import op

__all__ = ["add_columns", "add_index", "add_table"]


def add_columns(table: str, *columns: "sa.Column[object]") -> list[str]:
    """Add the columns that a table lacks; return the names of those."""
    known = {column["name"] for column in sa.inspect(op.get_bind()).get_columns(table)}
    lacking = [column for column in columns if column.name not in known]
    for column in lacking:
        op.add_column(table, column)
    return [column.name for column in lacking]


def add_table(name: str, *columns: "sa.Column[object]") -> None:
    """Make a table, if there is none of its name."""
    if not sa.inspect(op.get_bind()).has_table(name):
        op.create_table(name, *columns)


def add_index(name: str, table: str, *columns: str) -> None:
    """Make an index over these columns; one of its name over others is replaced."""
    found = {index["name"]: index["column_names"]
             for index in sa.inspect(op.get_bind()).get_indexes(table)}
    if found.get(name) == list(columns):
        return
    if name in found:
        op.drop_index(name, table)
    op.create_index(name, table, list(columns))
