"""Dumps: where statements end, which cells rows have, what values they hold, and what is said where they break."""

import io
import random
import unittest

import numpy as np

from palinode.core.dumps import cells, definition, mentions, origin, script
from palinode.core.dumps.quoting import Quoting
from palinode.core.dumps.script import CutOff, DumpError, Rows, Script
from tests.site_files import gathered


def parts(dump: bytes, quoting: Quoting = Quoting.BACKSLASH, at_once: int = 0) -> list[script.Part]:
    """Return the parts of a dump that is read so many bytes at a time."""
    file = io.BytesIO(dump)
    return list(Script(lambda size: file.read(at_once or size), quoting).parts())


def values(dump: bytes, quoting: Quoting = Quoting.BACKSLASH, at_once: int = 0) -> list[tuple[bytes | None, ...]]:
    """Return all rows of a dump."""
    return [
        tuple(part.cells.value(row, column) for column in range(part.cells.width))
        for part in parts(dump, quoting, at_once)
        if isinstance(part, Rows)
        for row in range(len(part.cells))
    ]


def insert(rows: bytes) -> bytes:
    """Return an INSERT of some rows."""
    return b"INSERT INTO `t` VALUES " + rows + b";\n"


class ValueTest(unittest.TestCase):
    def test_values_as_servers_write_them(self):
        written = {
            b"NULL": None, b"null": None, b"'NULL'": b"NULL", b"-1.5e3": b"-1.5e3", b"''": b"", b"''''": b"'",
            rb"'it\'s \\ \"q\" \0\Z\n\r\t\b\%\_'": b"it's \\ \"q\" \0\x1a\n\r\t\b%_", b"0x4F4b": b"OK", b"0x0": b"\0",
            b"x'4f4B'": b"OK", b"b'101'": b"\x05", b"b''": b"", b"_binary '\\0a'": b"\0a", b"_utf8mb4'a'": b"a",
            b"N'a'": b"a", b" 'a' ": b"a", b"'a''b\\''": b"a'b'", b"'\\''": b"'",
        }  # fmt: skip
        self.assertEqual({one: Quoting.BACKSLASH.read(one) for one in written}, written)
        doubled = {b"'\\'": b"\\", b"'a''b'": b"a'b", b"E'a\\n'": b"a\n", b"true": b"true"}
        self.assertEqual({one: Quoting.DOUBLED.read(one) for one in doubled}, doubled)
        copied = {
            b"\\N": None,
            b"": b"",
            b"\\\\N": b"\\N",
            b"a\\tb\\n\\r\\\\": b"a\tb\n\r\\",
            b"\\101\\x42": b"AB",
            b"\\b\\f\\v": b"\b\f\v",
        }
        self.assertEqual({one: Quoting.COPY.read(one) for one in copied}, copied)
        for quoting, told in ((Quoting.BACKSLASH, written), (Quoting.DOUBLED, doubled), (Quoting.COPY, copied)):
            self.assertEqual(quoting.read_all(list(told)), list(told.values()))


class CellsTest(unittest.TestCase):
    def test_any_text_comes_back_however_it_is_cut(self):
        draw = random.Random(4)
        pieces = [
            b"'",
            b"\\",
            b"\\\\",
            b"(",
            b")",
            b",",
            b";",
            b";\n",
            b"\n",
            b"a",
            b"\xc3\xa4",
            b"--",
            b"/*",
            b'"',
            b"`",
            b"\0",
        ]
        rows = [tuple(b"".join(draw.choices(pieces, k=draw.randrange(9))) for _ in range(3)) for _ in range(200)]
        for quoting in (Quoting.BACKSLASH, Quoting.DOUBLED):
            dump = insert(b",".join(b"(" + b",".join(quoted(one, quoting) for one in row) + b")" for row in rows))
            for at_once in (0, 1_000, 4_099):
                self.assertEqual(values(dump, quoting, at_once), rows)
        # In a statement for each row as well, which is read as one where that is safe.
        for quoting in (Quoting.BACKSLASH, Quoting.DOUBLED):
            dump = b"".join(insert(b"(" + b", ".join(quoted(one, quoting) for one in row) + b")") for row in rows)
            self.assertEqual(values(dump, quoting), rows)
            self.assertEqual(values(dump, quoting, 2_000), rows)

    def test_numbers_and_long_blobs(self):
        rows = [(b"%d" % n, b"NULL" if n % 3 else b"-%d.5" % n, b"0x" + b"4F" * (n % 40)) for n in range(1, 3_000)]
        rows[7] = (b"1", b"'(,;)'", b"0x" + b"4b" * 1_500_000)
        dump = insert(b",".join(b"(%s,%s,%s)" % row for row in rows))
        found = values(dump)
        self.assertEqual([row[0] for row in found], [row[0] for row in rows])
        self.assertEqual((found[7][1], found[7][2]), (b"(,;)", b"K" * 1_500_000))
        self.assertEqual((found[5][1], found[8][1], found[8][2]), (b"-6.5" if 6 % 3 == 0 else None, b"-9.5", b"O" * 9))

    def test_columns_in_one(self):
        for written in (
            ["1", "22", "'x'", "''"],
            ["'it''s'", "1"],
            ["0x41", "'x'"],
            ["NULL", "1"],
            ["'a\\n'"],
            ["-1"],
            ["1", "''"],
        ):
            (part,) = parts(insert(",".join(f"(0,{one})" for one in written).encode()))
            self.assertEqual(part.cells.joined(1).split(b"\0"), [one or b"" for one in part.cells.column(1)])

    def test_many_backslashes_in_a_row(self):
        rows = [(b"\\" * number, b"'" + b"\\" * number) for number in (1, 2, 31, 32, 33, 500, 501)]
        dump = insert(b",".join(b"(" + b",".join(quoted(one, Quoting.BACKSLASH) for one in row) + b")" for row in rows))
        self.assertEqual(values(dump), rows)

    def test_statements_between_two_inserts_into_tables_of_one_name(self):
        dump = insert(b"(1)") + b"USE `b`;\nLOCK TABLES `t` WRITE;\n" + insert(b"(2)") + insert(b"(3),(4)")
        told = gathered(parts(b"USE `a`;\n" + dump))
        self.assertEqual({key: one.rows for key, one in told.tables.items()}, {("a", "t"): 1, ("b", "t"): 3})

    def test_lines_of_copy(self):
        dump = b'COPY public.t (a, "b c") FROM stdin;\n1\t\\N\n\\\\.\ta\\tb\n\\.\n\nCOPY e (a) FROM stdin;\n\\.\nSELECT 1;\n'
        for at_once in (0, 5):
            found = parts(dump, Quoting.DOUBLED, at_once)
            rows = [one for one in found if isinstance(one, Rows)]
            self.assertEqual({one.table for one in rows}, {("public", "t")})
            self.assertEqual(rows[0].columns, ("a", "b c"))
            self.assertEqual(values(dump, Quoting.DOUBLED, at_once), [(b"1", None), (b"\\.", b"a\tb")])
            self.assertEqual(found[-1].text, b"SELECT 1;")
            windows = dump.replace(b"\n", b"\r\n")
            self.assertEqual(values(windows, Quoting.DOUBLED, at_once), [(b"1", None), (b"\\.", b"a\tb")])
            self.assertIsInstance(parts(windows, Quoting.DOUBLED, at_once)[-1], script.Statement)

    def test_values_in_double_quotes_are_refused(self):
        self.assertEqual(values(insert(b"""(1,'say ("a",b)'),(2,'","')""")), [(b"1", b'say ("a",b)'), (b"2", b'","')])
        for rows in (b'(1,"a")', b'(1,"a,b"),(2,"c")', b'("it\'s",1)'):
            with self.assertRaisesRegex(DumpError, "Line 1: of table t a value stands in double quotes"):
                parts(insert(rows))

    def test_a_row_that_does_not_fit_names_its_line(self):
        with self.assertRaisesRegex(DumpError, r"Line 3: of table t a row has 1 values; 2 were expected"):
            parts(b"-- a\n\n" + insert(b"(1,2),(3)"))
        with self.assertRaisesRegex(DumpError, r"Line 3: of table t a row has 3 values; 2 were expected"):
            parts(b"COPY t (a,b) FROM stdin;\n1\t2\n1\t2\t3\n\\.\n", Quoting.DOUBLED)

    def test_what_is_too_long_is_said(self):
        longest, script.LONGEST = script.LONGEST, 1 << 21
        try:
            with self.assertRaisesRegex(DumpError, r"Line 2: a row or statement is longer than 2 MB"):
                parts(b"SELECT 1;\n" + insert(b"('" + b"a" * (5 << 20) + b"')"))
        finally:
            script.LONGEST = longest

    def test_a_long_row_is_read(self):
        dump = insert(b"('" + b"a;\\'" * (1 << 20) + b"', 1), ('', 2)")
        self.assertEqual([(len(one), two) for one, two in values(dump)], [(3 << 20, b"1"), (0, b"2")])


class StatementTest(unittest.TestCase):
    def test_where_statements_end(self):
        dump = (
            b"-- it's a remark; with a quote\n/* another; ' */ SELECT 'a;b', \"c;'d\", `e;`; # hash's\nSET x = 1;\n"
            b"DELIMITER ;;\nCREATE PROCEDURE p() BEGIN SELECT ';;'; END;;\nDELIMITER ;\n/*!50001 DROP VIEW `v;`*/;\n"
        )
        found = [one.text for one in parts(dump) if isinstance(one, script.Statement)]
        self.assertEqual(
            found,
            [
                b"SELECT 'a;b', \"c;'d\", `e;`;",
                b"SET x = 1;",
                b"CREATE PROCEDURE p() BEGIN SELECT ';;'; END;;",
                b"/*!50001 DROP VIEW `v;`*/;",
            ],
        )
        dump = b"CREATE FUNCTION f() AS $a$ BEGIN 'x; $$ END; $a$ LANGUAGE x;\nSELECT E'\\';';\n\\connect mill\nSELECT '\\';\n"
        found = [one.text for one in parts(dump, Quoting.DOUBLED) if isinstance(one, script.Statement)]
        ends = [b"LANGUAGE x;", b"SELECT E'\\';';", b"\\connect mill", b"SELECT '\\';"]
        self.assertTrue(all(one.endswith(end) for one, end in zip(found, ends, strict=True)), found)

    def test_where_it_ends_too_early(self):
        for dump, within in {
            b"INSERT INTO `t` VALUES (1),(2": "a row of table t",
            b"INSERT INTO `t` VALUES (1),('a);\n": "a row of table t",
            b"INSERT INTO `t` VALUES (1)": "a row of table t",
            b"INSERT INTO `t` VA": "the statement “INSERT INTO `t` VA”",
            b"CREATE TABLE `t` (\n  `a` int": "the statement “CREATE TABLE `t` ( `a` int”",
            b"COPY t (a) FROM stdin;\n1\n2": "a row of table t",
        }.items():
            last = parts(dump, Quoting.DOUBLED if dump.startswith(b"COPY") else Quoting.BACKSLASH)[-1]
            self.assertIsInstance(last, CutOff, dump)
            self.assertEqual(last.within, within)


class DefinitionTest(unittest.TestCase):
    def test_no_table(self):
        for one in (
            b"CREATE VIEW v AS SELECT 1;",
            b"CREATE INDEX t ON x (a);",
            b"DROP TABLE t;",
            b"CREATE TABLE t AS SELECT 1;",
        ):
            self.assertIsNone(definition.read(one))

    def test_columns_called_like_keys(self):
        told = definition.read(
            b'CREATE TABLE t (key text, "primary" int NOT NULL, index int, KEY `i` (`a`), CONSTRAINT c CHECK (a > 0));'
        )
        self.assertEqual([one.name for one in told.columns], ["key", "primary", "index"])

    def test_types_and_character_sets(self):
        told = definition.read(
            b"CREATE TABLE IF NOT EXISTS `d`.`t` (`a` varchar(9) CHARACTER SET latin1 COLLATE latin1_bin NOT NULL DEFAULT 'x, '')',"
            b" `b` set('a)','b') COMMENT 'NOT NULL AUTO_INCREMENT', `c` double precision) ENGINE=Aria DEFAULT CHARSET=utf8mb4;"
        )
        self.assertEqual((told.database, told.engine, told.charset), ("d", "Aria", "utf8mb4"))
        a, b, c = told.columns
        self.assertEqual((a.type, a.nullable, a.charset, a.collation), ("varchar(9)", False, "latin1", "latin1_bin"))
        self.assertEqual((b.type, b.nullable, b.counts, c.type), ("set('a)','b')", True, False, "double precision"))


class MentionsTest(unittest.TestCase):
    def test_rows_and_columns(self):
        dump = insert(
            b"(1,'old.example','x'),(2,'x','see old.example and old.example, or \\'new.example\\''),(3,'','')"
        )
        (rows,) = (one for one in parts(dump) if isinstance(one, Rows))
        found = mentions.find(rows.cells, [b"old.example", b"new.example"])
        self.assertEqual(
            list(zip(found.row.tolist(), found.column.tolist(), found.word.tolist(), strict=True)),
            [(0, 1, 0), (1, 2, 0), (1, 2, 0), (1, 2, 1)],
        )
        self.assertEqual(len(mentions.find(rows.cells, [b"nowhere"]).row), 0)

    def test_by_cell_in_any_letter_case(self):
        (rows,) = (
            one for one in parts(insert(b"(1,'Old.Example OLD.example'),(2,'old.example')")) if isinstance(one, Rows)
        )
        found = mentions.find(rows.cells, [b"old.example"], any_case=True)
        cells = list(found.by_cell())
        self.assertEqual([(row, column, len(places)) for row, column, places in cells], [(0, 1, 2), (1, 1, 1)])
        self.assertEqual(
            [rows.cells.data[at : at + 3] for *_, places in cells for at in places], [b"Old", b"OLD", b"old"]
        )
        self.assertEqual(list(mentions.find(rows.cells, [b"nowhere"], any_case=True).by_cell()), [])


class OriginTest(unittest.TestCase):
    def test_whose_dump_it_is(self):
        for beginning, server in {
            b"/*M!999999\\- enable the sandbox mode */ \n-- MariaDB dump 10.19  Distrib 10.11\n": "MariaDB",
            b"-- MySQL dump 10.13  Distrib 8.0\n": "MySQL",
            b"--\n-- PostgreSQL database dump\n--\n": "PostgreSQL",
            b"DROP TABLE IF EXISTS `t`;\n": "MariaDB or MySQL",
            b"COPY public.t (a) FROM stdin;\n": "PostgreSQL",
        }.items():
            self.assertEqual(origin.recognise(beginning).server, server)
        for beginning in (b"", b"<html>", b"id,name\n1,CREATE TABLE\n", bytes(range(256)) * 20):
            self.assertIsNone(origin.recognise(beginning))


def quoted(value: bytes, quoting: Quoting) -> bytes:
    """Return a string as a server writes it."""
    if quoting is Quoting.DOUBLED:
        return b"'" + value.replace(b"'", b"''") + b"'"
    for plain, escaped in ((b"\\", b"\\\\"), (b"'", b"\\'"), (b"\n", b"\\n"), (b"\0", b"\\0"), (b'"', b'\\"')):
        value = value.replace(plain, escaped)
    return b"'" + value + b"'"


class UnevenTest(unittest.TestCase):
    def test_bounds(self):
        found = cells.of_insert(b"(1,2),(3,4)", 0, 11, Quoting.DOUBLED)
        self.assertEqual((found.end, found.finished, np.array(found.cells.sizes).tolist()), (11, False, [3, 3]))
