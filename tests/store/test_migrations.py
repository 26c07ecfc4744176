"""Results of every Needle that ever shipped are brought to the tables of today."""

import sqlite3
import tempfile
import unittest
from pathlib import Path

from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import Engine, create_engine, select, text
from sqlalchemy.exc import InvalidRequestError

from needle.store.results.deliveries import take_due
from needle.store.results.migrations import HEAD
from needle.store.results.tables import leads, metadata, open_results, outbox, unfinished
from needle.store.results.taking import NewLead, take_lead
from tests.host.cluster import Cluster, programs

SCHEMAS = sorted((Path(__file__).parent / "schemas").glob("*.sql"))
VERSIONS = Path(__file__).parents[2] / "src/needle/store/results/migrations/versions"

_LEAD = {"key": "'k1'", "at": "1000", "visitor": "'v1'", "form": "'f1'", "form_name": "'Places'",
         "page": "'p1'", "variant": "'A'", "email": "'Ann.Lee@Mail.example'", "answers": "'[]'",
         "robot": "false", "signs": "''", "source": "'poster'"}
_DUE = {"lead": "1", "route": "'r1'", "key": "'k1-r1'", "state": "'waiting'", "tries": "0",
        "due": "5", "held_until": "0", "result": "''", "result_at": "0"}


def _row(table: str, values: dict[str, str]) -> str:
    return f"INSERT INTO {table} ({', '.join(values)}) VALUES ({', '.join(values.values())})"


def differences(engine: Engine) -> list[object]:
    """Return what a database has otherwise than the tables say; the word index apart."""
    with engine.connect() as connection:
        context = MigrationContext.configure(connection, opts={
            "include_object": lambda _o, name, kind, *_: not (
                kind == "table" and str(name).startswith(("leads_words", "alembic")))})
        return compare_metadata(context, metadata)


class ShippedTest(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "results.db"

    def shipped(self, schema: Path, *statements: str) -> None:
        """Make a database as an earlier Needle did, with a lead that waits."""
        self.path.unlink(missing_ok=True)
        with sqlite3.connect(self.path) as connection:
            connection.executescript(schema.read_text("utf-8"))
            for statement in (_row("leads", _LEAD), _row("outbox", _DUE), *statements):
                connection.execute(statement)
        connection.close()

    def test_every_schema_that_shipped_comes_to_that_of_today_with_its_leads(self) -> None:
        self.assertEqual(len(SCHEMAS), int(HEAD) - 1)
        for schema in SCHEMAS:
            with self.subTest(schema.name):
                self.shipped(schema)
                for _ in range(2):  # The second time there is nothing left to do.
                    engine = open_results(self.path)
                    self.addCleanup(engine.dispose)
                    self.assertEqual(differences(engine), [])
                with engine.connect() as connection:
                    row = connection.execute(select(leads)).one()
                    self.assertEqual((row.email, row.trial, row.status), (
                        "Ann.Lee@Mail.example", False, "new"))
                    if schema.name < "0006":
                        self.assertEqual(row.person, "ann.lee@mail.example")
                (due,) = take_due(engine, 10)
                self.assertEqual(due.route, "r1")
                take_lead(engine, NewLead(
                    key="k2", at_ms=5, visitor="v", form="f", form_name="F", page="p", variant="A",
                    email="b@mail.example", answers=[], routes=("r1",)))

    def test_numbers_that_were_left_empty_are_0(self) -> None:
        before = next(schema for schema in SCHEMAS if schema.stem == "0006")
        self.shipped(before, "UPDATE outbox SET held_until = \'\', waited = \'\'")
        engine = open_results(self.path)
        self.addCleanup(engine.dispose)
        with engine.connect() as connection:
            row = connection.execute(select(outbox)).one()
        self.assertEqual((row.held_until, row.waited), (0, 0))

    def test_new_results_are_of_today_at_once(self) -> None:
        engine = open_results(self.path)
        self.addCleanup(engine.dispose)
        self.assertEqual(differences(engine), [])
        with engine.connect() as connection:
            self.assertEqual(connection.execute(
                text("SELECT version_num FROM alembic_version")).scalar(), HEAD)

    def test_results_of_a_newer_needle_are_refused_in_words(self) -> None:
        open_results(self.path).dispose()
        with sqlite3.connect(self.path) as connection:
            connection.execute("UPDATE alembic_version SET version_num = \'0999\'")
        connection.close()
        with self.assertRaisesRegex(InvalidRequestError, "newer Needle .*0999"):
            open_results(self.path)

    def test_the_head_is_the_last_step(self) -> None:
        steps = sorted(path.name[1:5] for path in VERSIONS.glob("v*.py"))
        self.assertEqual((steps[-1], len(steps)), (HEAD, int(HEAD)))


@unittest.skipUnless(programs(), "PostgreSQL is not installed")
class ServerTest(unittest.TestCase):
    def test_every_schema_comes_to_that_of_today_on_a_server_too(self) -> None:
        cluster = Cluster()
        self.addCleanup(cluster.remove)
        for schema in SCHEMAS:
            with self.subTest(schema.name):
                address = cluster.database(f"s{schema.stem}")
                engine = create_engine(address.replace("postgresql://", "postgresql+psycopg://"))
                with engine.begin() as connection:
                    for statement in schema.read_text("utf-8").split(";\n"):
                        plain = statement.strip()
                        if plain and "leads_words" not in plain and (
                                plain.startswith("CREATE") or "alembic_version VALUES" in plain):
                            connection.execute(text(plain.replace(
                                "id INTEGER NOT NULL", "id BIGSERIAL NOT NULL").replace(
                                "lead INTEGER", "lead BIGINT")))
                    connection.execute(text(_row("leads", _LEAD)))
                engine.dispose()
                engine = open_results(address)
                self.assertEqual(differences(engine), [])
                with engine.connect() as connection:
                    self.assertEqual(connection.execute(select(leads.c.email)).scalar(),
                                     "Ann.Lee@Mail.example")
                    self.assertEqual(connection.execute(select(unfinished)).all(), [])
                engine.dispose()
