"""The command line, as a script runs it: what it prints and its exit status."""

import gzip
import io
import json
import sys
import tempfile
import threading
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path
from unittest import mock

from django.contrib.auth.models import User
from django.core.files.storage import storages

from palinode.project import cli
from palinode.records.models import Capture, Comparison, Import, Move, Segment
from palinode.work.capturing import crawl_worker
from palinode.work.comparing import comparison_job
from palinode.work.importing import import_job
from tests.site import page
from tests.work.base import MoveTestCase


class CommandLineTest(MoveTestCase):
    def run_cli(self, *arguments: str) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with (
            mock.patch.object(sys, "argv", ["palinode", *arguments]),
            redirect_stdout(out),
            redirect_stderr(err),
            self.assertRaises(SystemExit) as stopped,
        ):
            cli.main()
        return int(stopped.exception.code or 0), out.getvalue(), err.getvalue()

    def test_what_a_dump_holds(self):
        dump = (
            b"-- MariaDB dump 10.19\n-- Server version\t10.11.19\nCREATE TABLE `wp_posts` (`ID` int) ENGINE=InnoDB;\n"
            b"INSERT INTO `wp_posts` VALUES (1),(2);\nCREATE VIEW `v` AS SELECT 1;\n-- Dump completed on 2026-11-28\n"
        )
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "shop.sql.gz"
            file.write_bytes(gzip.compress(dump))
            status, out, _ = self.run_cli("contents", str(file))
            self.assertEqual(status, 0)
            first, second, server, _, table, last = out.splitlines()
            self.assertEqual(first, "shop.sql.gz is a dump of MariaDB, packed by gzip.")
            self.assertEqual(server, "Its server was 10.11.19.")
            self.assertEqual(second, "One table, 2 rows; besides one view, not read.")
            self.assertEqual(table.split(), ["2", "2", "B", "1", "B", "wp_posts"])
            self.assertEqual(last, "It ends as it should.")
            told = json.loads(self.run_cli("contents", str(file), "--json")[1])
            self.assertEqual([(one["name"], one["rows"]) for one in told["tables"]], [("wp_posts", 2)])
            status, out, _ = self.run_cli("contents", str(file), "--limit", "upload=1", "--limit", "packet=0.0000001")
            self.assertIn("The file has", out.splitlines()[-2])
            self.assertTrue(out.splitlines()[-1].startswith("Does not fit: The largest row, in table wp_posts,"))
            status, _, err = self.run_cli("contents", str(file), "--limit", "speed=1")
            self.assertEqual((status, "There is no such option" in err), (2, True))
            file.write_bytes(gzip.compress(dump[:-80]))
            status, out, _ = self.run_cli("contents", str(file))
            self.assertEqual(status, 1)
            self.assertIn("It ends within", out)
            file.write_bytes(b"12 1700000000.5 ./a/b.txt\n0 1700000000 ./c\n")
            status, out, _ = self.run_cli("contents", str(file))
            self.assertEqual(
                (out.splitlines()[1], out.splitlines()[-1]), ("2 files.", "Together 12 B; 1 of them empty.")
            )
            file.write_bytes(b"<html>")
            status, _, err = self.run_cli("contents", str(file))
            self.assertEqual(status, 2)
            self.assertIn("shop.sql.gz is neither a dump nor an export", err)

    def work(self) -> None:
        """Do what a worker would, as soon as there is something to do."""

        def loop() -> None:
            for _ in range(400):
                for capture in Capture.objects.filter(state="running"):
                    crawl_worker.work_on(capture.pk)
                for imported in Import.objects.filter(state="waiting"):
                    import_job.read(imported)
                for comparison in Comparison.objects.filter(state="waiting"):
                    comparison_job.make(comparison)
                if done.wait(0.05):
                    return

        done = threading.Event()
        thread = threading.Thread(target=loop, daemon=True)
        thread.start()
        self.addCleanup(thread.join, 20)
        self.addCleanup(done.set)

    def test_accounts_are_made_where_no_browser_is(self):
        User.objects.all().delete()
        for name, password, said in (
            ("baker", "short\n", "too short"),
            ("no blanks", "bannock-and-rye\n", "letters, digits"),
        ):
            with mock.patch.object(sys, "stdin", io.StringIO(password)):
                code, _, err = self.run_cli("account", "add", name)
            self.assertEqual(code, 2)
            self.assertIn(said, err)
        for name, owner in (("baker", True), ("guide", False)):
            with mock.patch.object(sys, "stdin", io.StringIO("bannock-and-rye\n")):
                code, out, _ = self.run_cli("account", "add", name)
            self.assertEqual((code, "owns this installation" in out), (0, owner))
            user = User.objects.get(username=name)
            self.assertEqual((user.is_superuser, user.check_password("bannock-and-rye")), (owner, True))
        with mock.patch.object(sys, "stdin", io.StringIO("bannock-and-rye\n")):
            self.assertIn("of this name already", self.run_cli("account", "add", "guide")[2])

    def test_further_hosts(self):
        add = ("move", "add", "Mill", "http://old.example", "http://new.example")
        code, _, err = self.run_cli(
            *add, "--host", "http://shop.old.example -> http://shop.new.example", "--host", "http://media.old.example",
            "--connect-host", "shop.old.example=127.0.0.1:81",
        )  # fmt: skip
        self.assertEqual(code, 0, err)
        move = Move.objects.get()
        source, destination = (list(move.side(which).further.all()) for which in ("source", "destination"))
        self.assertEqual([one.base for one in source], ["http://shop.old.example/", "http://media.old.example/"])
        self.assertEqual([one.base for one in destination], ["http://shop.new.example/"])
        self.assertEqual(source[0].connect_to[0]["to_port"], 81)
        self.assertEqual(len(move.rule.splitlines()), 2)
        code, _, err = self.run_cli(*add, "--connect-host", "els.example=127.0.0.1")
        self.assertEqual((code, "els.example is no further host" in err), (2, True))

    def test_from_describing_to_exporting(self):
        old, new = self.serve({"/": page("Home", "/a"), "/a": page("A")}, {"/": page("Home", "/a")})
        code, out, _ = self.run_cli(
            "move", "add", "Mill", "http://old.example", "http://new.example",
            "--connect-source", f"127.0.0.1:{old.port}", "--connect-destination", f"127.0.0.1:{new.port}", "--line", "/x -> /y",
        )  # fmt: skip
        self.assertEqual((code, out.split(":")[1].strip()), (0, "Mill, new name."))
        self.assertIn("/x -> /y", Move.objects.get().rule)
        code, _, err = self.run_cli("ask", "Mill")
        self.assertEqual((code, "nothing to check yet" in err), (2, True))
        self.work()
        with tempfile.NamedTemporaryFile("w", suffix=".txt") as file:
            file.write("http://old.example/a\nhttp://elsewhere.example/\nnonsense\n")
            file.flush()
            code, out, _ = self.run_cli("addresses", "Mill", "source", file.name)
        self.assertEqual((code, out.splitlines()[0]), (0, "One new address, from one line that names this side."))
        self.assertIn("line 3: nonsense", out)
        code, out, _ = self.run_cli("capture", "Mill", "source")
        self.assertEqual(
            (code, out.splitlines()[1:]),
            (0, ["It stands: all that was known was asked and read.", "It is the baseline."]),
        )
        self.assertEqual(self.run_cli("capture", "Mill", "destination")[0], 0)
        code, out, _ = self.run_cli("compare", "Mill")
        self.assertEqual((code, out.splitlines()[0]), (1, "Not ready to switch. /a is not at the destination."))
        code, out, _ = self.run_cli("ask", "Mill")
        self.assertEqual(code, 1)
        self.assertRegex(out, r"Source: \d+ asked, \d+ not fetched\.\nDestination: \d+ asked, \d+ not fetched\.\n")
        self.assertIn("Not ready to switch.", out)
        code, out, _ = self.run_cli("export", "pages", "Mill", "--format", "json")
        self.assertEqual((code, out.count('"fate"')), (1, 2))
        code, out, _ = self.run_cli("export", "findings", "Mill", "--format", "junit")
        self.assertIn("<testsuite", out)
        code, out, _ = self.run_cli("export", "pages", "Mill")
        self.assertTrue(out.startswith("source_url,destination_url,fate,detail,source_status,destination_status"))
        self.assertIn("Mill", self.run_cli("move", "list")[1])

    def test_from_a_folder_again_verified_and_taken_away(self):
        old, new = self.serve({"/": page("Home", "/a"), "/a": page("A")}, {})
        self.move(old, new)
        self.work()
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            (folder / "copy").mkdir()
            (folder / "copy" / "index.html").write_text("<title>Home</title><main><p>Words</p></main>")
            code, out, _ = self.run_cli("import", "Mill", "source", str(folder / "copy"))
            self.assertEqual((code, out.splitlines()[0]), (0, "One answer. One page."))
            self.assertIn("neither a WARC", self.run_cli("import", "Mill", "source", __file__)[2])
            code, out, _ = self.run_cli("numbers", "Mill", "source", "Orders 1,284", "Forms 3")
            self.assertEqual((code, out.split(". ", 1)[1]), (0, "2 numbers.\n"))
            self.assertIn("does not end with a number", self.run_cli("numbers", "Mill", "source", "Orders")[2])
            with mock.patch("palinode.project.commands.address_lists.asked", return_value="tide"):
                code, _, err = self.run_cli(
                    "database", "Mill", "source", "--host", "127.0.0.1", "--database", "mill", "--user", "reader"
                )
            self.assertEqual((code, "PALINODE_ALLOW_NETWORKS" in err), (2, True), err)
            code, _, err = self.run_cli("api", "Mill", "source")
            self.assertEqual((code, "There is no public API of WordPress" in err), (2, True), err)
            self.assertEqual(self.run_cli("capture", "Mill", "source")[0], 0)
            for options, pages in [(("--again",), 2), (("--failed",), 2), (("--section", "/a"), 2)]:
                code, out, err = self.run_cli("capture", "Mill", "source", *options)
                self.assertTrue(out.startswith(f"{pages} pages"), (options, out, err))
            code, out, _ = self.run_cli(
                "import", "Mill", "source", str(folder / "copy"), "--baseline", "--reason", "as agreed"
            )
            self.assertEqual((code, out.splitlines()[-1]), (0, "It is the baseline."))
            self.assertEqual(Move.objects.get().baseline.kind, Capture.Kind.COPY)
            limits = ("--max-addresses", "2", "--attempts", "1", "--hours", "")
            self.assertIn(
                "It does not stand: stopped at 2 addresses", self.run_cli("capture", "Mill", "source", *limits)[1]
            )
            kept = Capture.objects.first().settings
            self.assertEqual((kept["max_addresses"], kept["attempts"], kept["alike"]), (2, 1, 50))
            self.assertIn(
                "--alike: Give a number from 10 to", self.run_cli("capture", "Mill", "source", "--alike", "3")[2]
            )
            self.assertIn(
                "Give a path below", self.run_cli("capture", "Mill", "source", "--section", "http://x.example/")[2]
            )
            self.assertIn("no closed capture", self.run_cli("capture", "Mill", "destination", "--again")[2])
            code, out, _ = self.run_cli("verify", "Mill")
            self.assertEqual(code, 0)
            self.assertRegex(out, r"^(\d+) of \1 files are as they were kept")
            packed = str(folder / "mill.zip")
            self.assertEqual(self.run_cli("archive", "export", "Mill", packed)[0], 0)
            code, out, _ = self.run_cli("archive", "import", packed)
            self.assertEqual((code, Move.objects.count()), (0, 2), out)
            self.assertIn("no archive, or broken", self.run_cli("archive", "import", __file__)[2])
            segment = Segment.objects.filter(capture__move=Move.objects.first()).first()
            storages["evidence"].delete(segment.name)
            code, out, _ = self.run_cli("verify", str(segment.capture.move_id))
            self.assertEqual(code, 1)
            self.assertIn(f"{segment.name}: the file is missing", out)

    def test_what_cannot_be_done_says_why_and_exits_with_2(self):
        for arguments, said in [
            (("capture", "Nobody", "source"), "there is no move 'Nobody'"),
            (("compare", "99"), "there is no move '99'"),
            (("addresses", "Nobody", "source", "/dev/null"), "there is no move 'Nobody'"),
            (("addresses", "Nobody", "source", "/no/such/file"), "No such file"),
            (("move", "add", "Mill", "old.example", "http://new.example"), "The scheme is missing"),
            (("move", "add", "Mill", "http://old.example", "http://new.example", "--line", "x"), "OLD -> NEW"),
            (
                ("move", "add", "Mill", "http://old.example", "http://new.example", "--user", "nobody"),
                "no such account",
            ),
        ]:
            with self.subTest(arguments):
                code, _, err = self.run_cli(*arguments)
                self.assertEqual(code, 2)
                self.assertIn(said, err)
        self.assertFalse(Move.objects.exists())
        self.run_cli("move", "add", "Mill", "http://old.example", "http://new.example")
        for arguments, said in [
            (("compare", "Mill"), "both sides must be captured first"),
            (("export", "pages", "Mill"), "no comparison yet"),
            (("export", "findings", "Mill"), "no comparison yet"),
            (("capture", "Mill", "source", "--concurrency", "900"), "from 1 to 64"),
        ]:
            with self.subTest(arguments):
                self.assertIn(said, self.run_cli(*arguments)[2])
