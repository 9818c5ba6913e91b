"""A live PostgreSQL read as the dump that it gives."""

import io
from urllib.parse import urlsplit

import psycopg
from django.conf import settings
from django.db import connection

from palinode.core.dumps.quoting import Quoting
from palinode.core.dumps.script import Rows, Script
from palinode.gather.databases.account import Account, DatabaseRefusedError, Server
from palinode.gather.databases.live import pieces
from palinode.records.models import Capture
from palinode.work.importing import import_job
from tests.site import page
from tests.work.base import MoveTestCase

ODD = 'it\'s \\ "so"\n\tß – 潮 \\N'
MADE = (
    "CREATE SCHEMA mill",
    'CREATE TABLE mill."Od""d" (id serial PRIMARY KEY, name text, price numeric(8,2), at timestamptz, data bytea, ok boolean, '
    "tags text[], told jsonb, twice int GENERATED ALWAYS AS (id * 2) STORED)",
    "CREATE TABLE mill.many AS SELECT n AS id, repeat('tide ' || n || ' ', 40) AS text FROM generate_series(1, 5000) n",
    "CREATE TABLE mill.empty (id int)",
    "CREATE TABLE mill.parts (id int) PARTITION BY RANGE (id)",
    "CREATE TABLE mill.first_part PARTITION OF mill.parts FOR VALUES FROM (0) TO (10)",
    "INSERT INTO mill.parts VALUES (1), (2)",
    "CREATE VIEW mill.told AS SELECT id FROM mill.many",
    "CREATE FUNCTION mill.twice(n int) RETURNS int LANGUAGE sql AS 'SELECT n * 2'",
)


class LivePostgreSQLTest(MoveTestCase):
    def setUp(self):
        super().setUp()
        self.told = connection.get_connection_params()
        self.name = "live_subject"
        self.server = urlsplit(f"//{self.told['host']}:{self.told['port']}")
        self._on(self.told["dbname"], f"DROP DATABASE IF EXISTS {self.name}", f"CREATE DATABASE {self.name}")
        self.addCleanup(self._on, self.told["dbname"], f"DROP DATABASE {self.name}")
        self._on(self.name, *MADE)
        with self._connected(self.name) as one:
            one.execute(
                'INSERT INTO mill."Od""d" (name, price, at, data, ok, tags, told) VALUES (%s, 1.50, %s, %s, true, %s, %s), '
                "(NULL, NULL, NULL, NULL, NULL, NULL, NULL)",
                (ODD, "2026-01-02 03:04:05+00", b"\0\xff\\'", ["a", "b c"], '{"a": "b\\\\c"}'),
            )
        self.network = f"127.0.0.1:{self.server.port}"

    def _connected(self, name: str):
        return psycopg.connect(
            host=self.told["host"], port=self.told["port"], user=self.told["user"], password=self.told["password"], dbname=name,
            autocommit=True,
        )  # fmt: skip

    def _on(self, name: str, *statements: str) -> None:
        with self._connected(name) as one:
            for statement in statements:
                one.execute(statement)

    def account(self, **but) -> Account:
        given = {"host": "localhost", "port": self.server.port, "database": self.name,
                 "user_name": self.told["user"], "password": self.told["password"]}  # fmt: skip
        return Account(Server.POSTGRESQL, **given | but)

    def test_every_value_as_the_server_copies_it(self):
        made = b"".join(pieces(self.account(), [self.network]))
        found = {}
        for part in Script(io.BytesIO(made).read, Quoting.DOUBLED).parts():
            if isinstance(part, Rows):
                lines = [
                    part.cells.data[start:end]
                    for start, end in zip(
                        part.cells.starts[:, 0].tolist(), part.cells.ends[:, -1].tolist(), strict=True
                    )
                ]
                found.setdefault(part.table[1], []).extend(lines)
        self.assertEqual(set(found), {'Od"d', "many", "first_part"})
        with self._connected(self.name) as one:
            for table, columns in (
                ('"Od""d"', "(id, name, price, at, data, ok, tags, told)"),
                ("many", ""),
                ("first_part", ""),
            ):
                with one.cursor().copy(f"COPY mill.{table} {columns} TO STDOUT") as copy:
                    theirs = b"".join(copy)
                self.assertEqual(found[table.strip('"').replace('""', '"')], theirs.splitlines())

    def test_it_becomes_a_capture(self):
        old, new = self.serve(lambda path: page("Home") if path == "/" else None, lambda path: None)
        self.allow(old.allowed, new.allowed, self.network)
        move = self.move(old, new)
        self.baseline(move)
        made = import_job.order_database(move, "source", self.user, self.account())
        with self.assertRaisesRegex(import_job.ImportRefused, "asked already"):
            import_job.order_database(move, "source", self.user, self.account())
        import_job.read(made)
        made.refresh_from_db()
        self.assertEqual(made.state, "done", made.said)
        (capture,) = Capture.objects.filter(kind="dump")
        self.assertTrue(capture.complete, capture.limits)
        rows = {one["name"]: one["rows"] for one in capture.file.contents["tables"]}
        self.assertEqual(rows, {'Od"d': 2, "many": 5000, "empty": 0, "parts": 0, "first_part": 2})
        self.assertEqual(sorted(capture.file.contents["beside"]), ["function", "view"])

    def test_what_is_refused_says_why(self):
        for account, networks, said in (
            (self.account(), [], "PALINODE_ALLOW_NETWORKS"),
            (self.account(password="wrong"), [self.network], "password"),
            (self.account(database="nowhere"), [self.network], "does not exist"),
        ):
            with self.subTest(said), self.assertRaisesRegex(DatabaseRefusedError, said):
                list(pieces(account, networks))

    def test_one_that_was_stopped_is_given_up(self):
        old, new = self.serve(lambda path: page("Home") if path == "/" else None, lambda path: None)
        self.allow(old.allowed, new.allowed, self.network)
        move = self.move(old, new)
        made = import_job.order_database(move, "source", self.user, self.account())
        self.assertTrue(import_job.stop(made, self.user))
        made.refresh_from_db()
        import_job.read(made)
        self.assertFalse(Capture.objects.filter(kind="dump").exists())
        self.assertFalse(hasattr(type(made).objects.get(pk=made.pk), "database_sign_in"))
        self.assertTrue(settings.PALINODE_ALLOW_NETWORKS)
