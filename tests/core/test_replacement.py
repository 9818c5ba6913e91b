"""Old addresses replaced in dumps: what changes, what stays byte for byte, whatever pieces it is read in."""

import io
import unittest

from palinode.core.dumps.quoting import Quoting
from palinode.core.leftovers.replacement import ColumnChange, Replacement
from tests.core.test_leftovers import NEW, OLD, RULE, WANTED
from tests.core.test_stored_leftovers import array, text

ESCAPED = OLD.replace("/", "\\/")
HEAD = (
    "-- MariaDB dump 10.19\n/*!40101 SET NAMES utf8mb4 */;\nCREATE TABLE `wp_posts` (`ID` int, `guid` text, "
    "`post_content` longtext);\nINSERT INTO `wp_posts` VALUES\n"
)


def replaced(dump: str, at_once: int = 1 << 20, quoting: Quoting = Quoting.BACKSLASH, identifiers_too: bool = False):
    """Return a dump with its addresses replaced, and what changed, by column."""
    written: list[bytes] = []
    file = io.BytesIO(dump.encode("utf-8", "surrogateescape"))
    replacement = Replacement(WANTED, RULE, identifiers_too)
    for _ in replacement.steps(lambda size: file.read(min(size, at_once)), quoting, written.append):
        pass
    made = b"".join(written).decode("utf-8", "surrogateescape")
    return made, {(one.table, one.column): one for one in replacement.changes}


def quoted(value: str) -> str:
    """Return a string as mariadb-dump writes it."""
    for sign, written in (("\\", "\\\\"), ("'", "\\'"), ('"', '\\"'), ("\n", "\\n")):
        value = value.replace(sign, written)
    return f"'{value}'"


class ReplacementTest(unittest.TestCase):
    def dump(self, *contents: str) -> str:
        rows = ",\n".join(f"({at},'{OLD}/?p={at}',{one})" for at, one in enumerate(contents, 1))
        return f"{HEAD}{rows};\nINSERT INTO `wp_posts` VALUES (99,NULL,'x');\n-- Dump completed on 2026-11-28\n"

    def changed(self, *contents: str) -> ColumnChange:
        return replaced(self.dump(*contents))[1]["wp_posts", "post_content"]

    def test_each_value_as_it_is_written(self):
        serial = array(text(f"{OLD}/shop/x"), text(array(text(f'{OLD}/a"b'))))
        expected = array(text(f"{NEW}/store/x"), text(array(text(f'{NEW}/a"b'))))
        for before, after in (
            (quoted(f'<a href="{OLD}/shop/x">it\'s</a>\n'), quoted(f'<a href="{NEW}/store/x">it\'s</a>\n')),
            (quoted(f'{{"u":"{ESCAPED}\\/shop"}}'), quoted(f'{{"u":"{NEW.replace("/", chr(92) + "/")}\\/store"}}')),
            (quoted(serial), quoted(expected)),
            (f"'{OLD}/a \"b\" it\\'s'", f"'{NEW}/a \"b\" it\\'s'"),
            (f"'{OLD}/a it''s'", f"'{NEW}/a it''s'"),
            (f"0x{OLD.encode().hex().upper()}", f"0x{NEW.encode().hex().upper()}"),
            ("'tidemill.example.org \\0 nothing'", "'tidemill.example.org \\0 nothing'"),
            (f"'{OLD}/\udcff'", f"'{NEW}/\udcff'"),
            ("NULL", "NULL"),
        ):
            for at_once in (1 << 20, 7, 61):
                with self.subTest(before, at_once=at_once):
                    made, _ = replaced(self.dump("'a'", before, "'b'"), at_once)
                    self.assertEqual(made, self.dump("'a'", after, "'b'"))

    def test_what_changes_is_counted(self):
        damaged = quoted(array(text(f"{OLD}/shop")).replace("s:28", "s:27"))
        one = self.changed(f"'{OLD}/a {OLD}/b'", f"'{OLD}/c'", damaged, "'203.0.113.9'", f"'{OLD}/x\\y'")
        self.assertEqual(
            (one.cells, one.occurrences, one.kept, one.damaged, one.unwritten), (3, 4, 1, 1, 0), "as planted"
        )
        self.assertEqual(one.samples[2], (f"'{OLD}/c'", f"'{NEW}/c'"))
        made, changes = replaced(self.dump("'a'"))
        self.assertEqual(made, self.dump("'a'"))
        self.assertEqual((changes["wp_posts", "guid"].kept, changes["wp_posts", "guid"].cells), (1, 0))
        made, changes = replaced(self.dump("'a'"), identifiers_too=True)
        self.assertIn(f"(1,'{NEW}/?p=1','a')", made)

    def test_statements_for_a_live_database(self):
        told: list[bytes] = []
        replacement = Replacement(WANTED, RULE, tell=told.append)
        file = io.BytesIO(self.dump("'a'", f"'{OLD}/shop/x it\\'s {OLD}/b'").encode())
        for _ in replacement.steps(file.read, Quoting.BACKSLASH):
            pass
        self.assertEqual(
            [one.decode() for one in told],
            [
                f"UPDATE `wp_posts` SET `post_content` = '{NEW}/store/x it\\'s {NEW}/b' "
                f"WHERE `ID` = 2 AND `post_content` = '{OLD}/shop/x it\\'s {OLD}/b';\n"
            ],
        )
        told.clear()
        copy = f"COPY public.pages (id, body) FROM stdin;\n1\t{OLD}/it's\\tb\n\\.\n"
        for _ in replacement.steps(io.BytesIO(copy.encode()).read, Quoting.COPY):
            pass
        before, after = (f"'{host}/it''s\tb'" for host in (OLD, NEW))
        self.assertEqual(
            told[0].decode(),
            f'UPDATE "public"."pages" SET "body" = {after} WHERE "id" = \'1\' AND "body" = {before};\n',
        )

    def test_dumps_of_postgresql(self):
        copy = (
            "-- PostgreSQL database dump\n\nCREATE TABLE public.pages (id integer, body text);\n"
            "COPY public.pages (id, body) FROM stdin;\n1\t{0}/a\\tb\\\\c\n2\t\\N\n\\.\n\n-- PostgreSQL database dump complete\n"
        )
        self.assertEqual(replaced(copy.format(OLD), 11, Quoting.COPY)[0], copy.format(NEW))
        insert = (
            "INSERT INTO public.pages VALUES (1, '{0}/it''s \\ so');\nINSERT INTO public.pages VALUES (2, '{0}');\n"
        )
        self.assertEqual(replaced(insert.format(OLD), 13, Quoting.DOUBLED)[0], insert.format(NEW))

    def test_what_was_replaced_holds_no_old_address(self):
        made, _ = replaced(self.dump(f"'{OLD}/a'", quoted(ESCAPED), "'anna@tidemill.example'"), identifiers_too=True)
        self.assertEqual(replaced(made), (made, {}))
