"""The lead book: trials, status and tags of leads, files, unfinished answers, lanes."""

import sqlalchemy as sa

from needle.store.results.migrations.steps import add_columns, add_index, add_table

revision, down_revision = "0003", "0002"

_KEY = sa.BigInteger().with_variant(sa.Integer, "sqlite")


def _words(name: str, kind: "sa.types.TypeEngine[str]", default: str = "") -> "sa.Column[object]":
    return sa.Column(name, kind, nullable=False, server_default=default)


def upgrade() -> None:
    """Add what the lead book and the thread board need."""
    add_columns("leads", sa.Column("trial", sa.Boolean, nullable=False, server_default="0"),
                _words("status", sa.String(10), "new"), _words("tags", sa.Text()))
    add_index("leads_by_robot", "leads", "robot", "trial", "id")
    add_index("leads_by_form", "leads", "form", "robot", "id")
    add_index("leads_by_status", "leads", "status", "robot", "id")
    add_columns("outbox", _words("lane", sa.String(64)),
                sa.Column("held_until", sa.BigInteger, nullable=False, server_default="0"),
                _words("request", sa.Text()), _words("answer", sa.Text()))
    add_index("outbox_by_lane", "outbox", "lane", "state", "id")
    add_table("filed", sa.Column("id", _KEY, primary_key=True),
              sa.Column("lead_key", sa.String(64), nullable=False),
              sa.Column("field", sa.String(16), nullable=False),
              sa.Column("name", sa.String(120), nullable=False),
              sa.Column("path", sa.String(200), nullable=False))
    add_index("filed_by_lead", "filed", "lead_key")
    add_table("unfinished", sa.Column("key", sa.String(64), primary_key=True),
              sa.Column("at", sa.BigInteger, nullable=False),
              sa.Column("visitor", sa.String(40), nullable=False),
              sa.Column("form", sa.String(16), nullable=False),
              sa.Column("form_name", sa.String(200), nullable=False),
              sa.Column("page", sa.String(16), nullable=False),
              sa.Column("variant", sa.String(2), nullable=False),
              sa.Column("email", sa.String(320), nullable=False),
              sa.Column("answers", sa.Text, nullable=False))
    add_index("unfinished_by_time", "unfinished", "at")
