"""Dumps by the real tools: any row that a real server wrote comes back, whatever it holds and however it was dumped."""

import io
import random
import shutil
import subprocess
import tempfile
import unittest
from collections import defaultdict
from pathlib import Path

from palinode.core.dumps.contents import Contents
from palinode.core.dumps.quoting import Quoting
from palinode.core.dumps.script import Script
from palinode.project.postgres import Cluster
from tests.real.mariadb import MariaDB
from tests.site_files import gathered

ROWS = 400
AWKWARD = ["", "'", "''", "\\", "\\\\'", "');\n--", ";\nINSERT INTO `t` VALUES (1)", "a\tb\r\n\\N", "NULL", "\\.", "äöü 😀",
           "\x1a", "/* */ # -- `x` \"y\"", "(),;", "0x41", "\\'; DROP", "$$ $a$", "E'x'", "\\.\n", "{\"a\": \"\\u00e4\"}"]  # fmt: skip
"""What strings hold to break whoever reads carelessly."""


def rows() -> list[tuple[int, str | None, bytes | None]]:
    """Return rows of a number, a text and bytes."""
    draw = random.Random(11)
    found: list[tuple[int, str | None, bytes | None]] = []
    for number in range(ROWS):
        text = "".join(draw.choices([*AWKWARD, "tide ", "mill "], k=draw.randrange(12)))
        data = bytes(draw.choices(b"\0'\"\\\n\t\r\x1a;,()N0x" + bytes(range(256)), k=draw.randrange(40)))
        found.append((number, text if number % 7 else None, data if number % 5 else None))
    return found


def read(dump: bytes, quoting: Quoting) -> tuple[Contents, dict[str, list[tuple[bytes | None, ...]]]]:
    """Return what a dump holds, and the rows of each table."""
    found: dict[str, list[tuple[bytes | None, ...]]] = defaultdict(list)

    def take(table, part):
        columns = [part.cells.column(one) for one in range(part.cells.width)]
        found[table.name] += zip(*columns, strict=True)

    return gathered(Script(io.BytesIO(dump).read, quoting).parts(), take), found


class DumpTest(unittest.TestCase):
    def setUp(self):
        self.folder = Path(tempfile.mkdtemp(prefix="palinode-dumps-"))
        self.folder.chmod(0o755)
        self.addCleanup(shutil.rmtree, self.folder, ignore_errors=True)


class MariaDBTest(DumpTest):
    def test_every_row_comes_back(self):
        wanted = rows()
        written = [
            f"({number}, {'NULL' if text is None else f'convert(0x{text.encode().hex()} using utf8mb4)' if text else repr('')}, "
            f"{'NULL' if data is None else f'0x{data.hex()}' if data else repr('')}, {number} * 1.5, b'101', {number}e10)"
            for number, text, data in wanted
        ]
        with MariaDB(self.folder / "mysql") as server:
            server.sql(
                "CREATE DATABASE mill CHARACTER SET utf8mb4",
                "USE mill",
                "CREATE TABLE t (id int PRIMARY KEY, words longtext, data longblob, price decimal(10,2), bits bit(5), far "
                "double, short varchar(9) GENERATED ALWAYS AS (left(words, 3)) VIRTUAL COMMENT 'it''s; (x), `y`', kind "
                "enum('a','it''s') NOT NULL DEFAULT 'it''s') ENGINE=InnoDB",
                f"INSERT INTO t (id, words, data, price, bits, far) VALUES {', '.join(written)}",
                "CREATE TABLE `odd``na me` (`a``b` int AUTO_INCREMENT PRIMARY KEY, `key` text CHARACTER SET latin1) "
                "ENGINE=MyISAM AUTO_INCREMENT=40 DEFAULT CHARSET=latin1",
                "CREATE VIEW v AS SELECT id FROM t WHERE words <> 'a;b'",
                "CREATE TRIGGER g BEFORE INSERT ON t FOR EACH ROW SET NEW.words = concat(NEW.words, ';''')",
                "CREATE PROCEDURE p() SELECT 'it''s; done'",
                "CREATE FUNCTION f() RETURNS int DETERMINISTIC RETURN 1",
                "CREATE EVENT e ON SCHEDULE EVERY 1 DAY DO SELECT ';'",
                "CREATE DATABASE second",
                "CREATE TABLE second.t (id int)",
                "INSERT INTO second.t VALUES (1), (2)",
            )
            everything = ("--routines", "--events", "--triggers")
            ways = {
                "plain": server.dump(*everything, "mill"),
                "hexadecimal": server.dump(*everything, "--hex-blob", "mill"),
                "complete": server.dump(*everything, "--complete-insert", "mill"),
                "row by row": server.dump(*everything, "--skip-extended-insert", "mill"),
                "both": server.dump(*everything, "--skip-extended-insert", "--complete-insert", "--hex-blob", "mill"),
                "bare": server.dump(*everything, "--skip-opt", "--compact", "--create-options", "mill"),
                "small": server.dump(*everything, "--net-buffer-length=4096", "mill"),
            }
            many = server.dump("--databases", "mill", "second")
        for way, dump in ways.items():
            with self.subTest(way):
                told, found = read(dump, Quoting.BACKSLASH)
                came = [
                    (int(row[0]), row[1] if row[1] is None else row[1].decode(), row[2])
                    for row in sorted(found["t"], key=lambda row: int(row[0]))
                ]
                self.assertEqual(came, wanted)
                self.assertEqual(found["t"][3][3:6], (b"4.50", b"\x05", b"30000000000"))
                table, odd = told.tables["", "t"], told.tables["", "odd`na me"]
                self.assertEqual((table.rows, odd.rows, odd.columns), (ROWS, 0, ("a`b", "key")))
                columns = {one.name: one for one in table.definition.columns}
                self.assertEqual(columns["kind"].type, "enum('a','it''s')")
                self.assertTrue(columns["short"].generated and not columns["kind"].nullable)
                self.assertEqual((odd.definition.engine, odd.definition.charset), ("MyISAM", "latin1"))
                self.assertEqual({kind: told.count(kind) for kind in told.beside},
                                 {"view": 1, "trigger": 1, "procedure": 1, "function": 1, "event": 1})  # fmt: skip
                # What is compact has no remarks.
                self.assertEqual(told.completed, way != "bare")
        told, _ = read(many, Quoting.BACKSLASH)
        self.assertEqual({key: one.rows for key, one in told.tables.items()},
                         {("mill", "t"): ROWS, ("mill", "odd`na me"): 0, ("second", "t"): 2})  # fmt: skip

    def test_wherever_a_dump_is_cut_off_it_is_said(self):
        with MariaDB(self.folder / "mysql") as server:
            server.sql("CREATE DATABASE mill", "CREATE TABLE mill.t (id int, words text)",
                       "INSERT INTO mill.t VALUES (1, 'it''s'), (2, '\\\\'), (3, NULL)")  # fmt: skip
            dump = server.dump("mill")
        whole, _ = read(dump, Quoting.BACKSLASH)
        self.assertEqual(whole.ends_early, "")
        first = dump.index(b"INSERT")
        for end in range(first, dump.rindex(b"-- Dump completed")):
            told, found = read(dump[:end], Quoting.BACKSLASH)
            self.assertTrue(told.ends_early, dump[:end][-40:])
            self.assertLessEqual(len(found["t"]), 3)


class PostgresTest(DumpTest):
    def test_every_row_comes_back(self):
        wanted = [(number, text, data) for number, text, data in rows()]
        written = [
            f"({number}, {'NULL' if text is None else f'convert_from({_hex(text.encode())}, $$UTF8$$)'}, "
            f"{'NULL' if data is None else _hex(data)}, ARRAY['a,b', 'c'])"
            for number, text, data in wanted
        ]
        cluster = Cluster(self.folder / "postgres", lasting=False)
        cluster.start()
        self.addCleanup(cluster.stop)
        script = "\n".join([
            'CREATE SCHEMA "odd one";',
            "CREATE TABLE t (id bigint GENERATED BY DEFAULT AS IDENTITY PRIMARY KEY, words text, data bytea, "
            "many character varying(20)[] NOT NULL, twice bigint GENERATED ALWAYS AS (id * 2) STORED);",
            f"INSERT INTO t (id, words, data, many) VALUES {', '.join(written)};",
            'CREATE TABLE "odd one"."a""b" ("x y" int, "key" timestamp with time zone);',
            'INSERT INTO "odd one"."a""b" VALUES (1, NULL);',
            "CREATE VIEW v AS SELECT id FROM t WHERE words <> 'a;b';",
            "CREATE FUNCTION f() RETURNS trigger LANGUAGE plpgsql AS $x$ BEGIN NEW.words = 'it''s; $$'; RETURN NEW; END $x$;",
            "CREATE TRIGGER g BEFORE UPDATE ON t FOR EACH ROW EXECUTE FUNCTION f();",
        ])  # fmt: skip
        self._run("psql", cluster, "-v", "ON_ERROR_STOP=1", "-q", told=script.encode())
        for options in ([], ["--inserts"], ["--column-inserts"], ["--rows-per-insert=50"], ["--quote-all-identifiers"]):
            with self.subTest(options=options):
                dump = self._run("pg_dump", cluster, *options)
                told, found = read(dump, Quoting.DOUBLED)
                came = [
                    (int(row[0]), row[1] if row[1] is None else row[1].decode(),
                     row[2] if row[2] is None else bytes.fromhex(row[2].decode().removeprefix("\\x")))
                    for row in sorted(found["t"], key=lambda row: int(row[0]))
                ]  # fmt: skip
                self.assertEqual(came, wanted)
                table, odd = told.tables["public", "t"], told.tables["odd one", 'a"b']
                self.assertEqual((table.rows, odd.rows, odd.columns), (ROWS, 1, ("x y", "key")))
                columns = {one.name: one for one in table.definition.columns}
                self.assertEqual(columns["many"].type, "character varying(20)[]")
                self.assertTrue(columns["twice"].generated and not columns["id"].generated)
                self.assertEqual(
                    {kind: told.count(kind) for kind in told.beside}, {"view": 1, "function": 1, "trigger": 1}
                )
                self.assertEqual(told.ends_early, "")

    def _run(self, command: str, cluster: Cluster, *options: str, told: bytes = b"") -> bytes:
        return subprocess.run([command, *options, cluster.url], input=told, check=True, capture_output=True).stdout


def _hex(data: bytes) -> str:
    return f"'\\x{data.hex()}'::bytea"
