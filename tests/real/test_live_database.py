"""A live MariaDB read as the dump that it gives, by an account that may read and nothing else."""

import gzip
import io
import shutil
import tempfile
from pathlib import Path

from palinode.core.dumps.quoting import Quoting
from palinode.core.dumps.script import Rows, Script, Statement
from palinode.gather.databases.account import Account, DatabaseRefusedError, Server
from palinode.gather.databases.live import pieces
from palinode.project.postgres import free_port
from palinode.records.folder import Folder
from palinode.records.models import Capture, DatabaseSignIn, Import
from palinode.work.importing import import_job
from tests.real.mariadb import MariaDB
from tests.site import page
from tests.work.base import MoveTestCase

ODD = 'it\'s \\ "so"\nß – 潮 \0 end'
MADE = (
    "CREATE DATABASE mill CHARACTER SET utf8mb4",
    "USE mill",
    "CREATE TABLE `od``d` (id int PRIMARY KEY AUTO_INCREMENT, name varchar(80), price decimal(8,2), at datetime, "
    "data blob, flag bit(3), twice int AS (id * 2) VIRTUAL, place point, old varchar(20) CHARACTER SET latin1)",
    "INSERT INTO `od``d` (name, price, at, data, flag, place, old) VALUES "
    "('plain', 1.50, '2026-01-02 03:04:05', 0x00FF27, b'101', POINT(1, 2), 'Süß'), (NULL, NULL, NULL, NULL, NULL, NULL, NULL), "
    "('', -3, '2000-01-01', '', b'0', NULL, '')",
    "CREATE TABLE many (id int, text text)",
    "INSERT INTO many SELECT seq, repeat(concat('tide ', seq, ' '), 40) FROM seq_1_to_5000",
    "CREATE TABLE empty (id int)",
    "CREATE VIEW told AS SELECT id FROM many",
    "CREATE TRIGGER once BEFORE INSERT ON empty FOR EACH ROW SET NEW.id = 1",
    "CREATE USER reader@localhost IDENTIFIED BY 'tide–stone'",
    "GRANT SELECT, SHOW VIEW ON mill.* TO reader@localhost",
    "GRANT TRIGGER ON mill.* TO reader@localhost",
)


class LiveMariaDBTest(MoveTestCase):
    def setUp(self):
        super().setUp()
        folder = Path(tempfile.mkdtemp())
        folder.chmod(0o755)
        self.addCleanup(shutil.rmtree, folder, ignore_errors=True)
        self.server = self.stack.enter_context(MariaDB(folder / "data", port=free_port(33060)))
        self.server.sql(*MADE)
        self.server.load(
            f"UPDATE `od``d` SET name = '{ODD}' WHERE id = 1".replace("\\ ", "\\\\ ")
            .replace("it's", "it''s")
            .replace("\0", "\\0")
            .encode(),
            "mill",
        )
        self.network = f"127.0.0.1:{self.server.port}"

    def account(self, **but) -> Account:
        given = {"host": "localhost", "port": self.server.port, "database": "mill", "user_name": "reader", "password": "tide–stone"}  # fmt: skip
        return Account(Server.MARIADB, **given | but)

    def rows(self, data: bytes) -> dict[str, list[tuple]]:
        """Return the values of a dump's rows, by table; columns that are computed are left out, as ours leaves them out."""
        found: dict[str, list[tuple]] = {}
        for part in Script(io.BytesIO(data).read, Quoting.BACKSLASH).parts():
            if isinstance(part, Rows):
                values = zip(*(part.cells.column(at) for at in range(part.cells.width)), strict=True)
                found.setdefault(part.table[1], []).extend(values)
        return found

    def test_the_same_rows_as_its_dump(self):
        made = b"".join(pieces(self.account(), [self.network]))
        columns = "--complete-insert", "--hex-blob", "--skip-extended-insert"
        theirs, ours = self.rows(self.server.dump(*columns, "mill")), self.rows(made)
        self.assertEqual(set(ours), {"od`d", "many"})
        self.assertEqual(ours["many"], theirs["many"])
        for one, other in zip(ours["od`d"], theirs["od`d"], strict=True):
            # The column that is computed stands seventh in theirs.
            self.assertEqual(one, other[:6] + other[7:] if len(other) > len(one) else other)
        self.assertEqual(ours["od`d"][0][1].decode(), ODD)
        statements = [
            part.text
            for part in Script(io.BytesIO(made).read, Quoting.BACKSLASH).parts()
            if isinstance(part, Statement)
        ]
        said = b"\n".join(statements)
        for wanted in (b"CREATE TABLE `empty`", b"VIEW `told`", b"TRIGGER once"):
            self.assertIn(wanted, said)

    def test_what_was_made_of_it_loads_again(self):
        made = b"".join(pieces(self.account(), [self.network]))
        self.server.sql("CREATE DATABASE again")
        self.server.load(made.replace(b"`mill`.", b"`again`."), "again")
        for table in ("od``d", "many"):
            self.assertEqual(
                *(self.server.asked(f"CHECKSUM TABLE {name}.`{table}`", "mill")[0][1] for name in ("mill", "again"))
            )

    def test_nothing_but_what_reads_is_sent(self):
        self.server.sql("SET GLOBAL log_output = 'TABLE'", "SET GLOBAL general_log = 1")
        list(pieces(self.account(), [self.network]))
        sent = [
            row[0]
            for row in self.server.asked(
                "SELECT replace(argument, '\\n', ' ') FROM mysql.general_log WHERE command_type = 'Query' AND user_host LIKE 'reader%'",
                "mysql",
            )
        ]
        self.assertGreater(len(sent), 10)
        others = [one for one in sent if not one.startswith(("SELECT ", "SHOW "))]
        # The client says first in which character set it speaks.
        self.assertEqual(set(others), {"SET NAMES utf8mb4", "START TRANSACTION WITH CONSISTENT SNAPSHOT, READ ONLY"})

    def test_what_is_refused_says_why(self):
        for account, networks, said in (
            (self.account(), [], "PALINODE_ALLOW_NETWORKS"),
            (self.account(password="wrong"), [self.network], "Access denied"),
            (self.account(database="other"), [self.network], "other"),
            (self.account(host="nowhere.example"), [self.network], "no host"),
            (self.account(certified=True), [self.network], "was not read"),
        ):
            with self.subTest(said), self.assertRaisesRegex(DatabaseRefusedError, said):
                list(pieces(account, networks))

    def test_it_becomes_a_capture_and_the_account_is_forgotten(self):
        old, new = self.serve(lambda path: page("Home") if path == "/" else None, lambda path: None)
        self.allow(old.allowed, new.allowed, self.network)
        move = self.move(old, new)
        self.baseline(move)
        made = import_job.order_database(move, "source", self.user, self.account())
        held = DatabaseSignIn.objects.get()
        self.assertEqual(held.password, "tide–stone")
        import_job.read(made)
        made.refresh_from_db()
        self.assertEqual(made.state, "done", made.said)
        self.assertFalse(DatabaseSignIn.objects.exists())
        (capture,) = Capture.objects.filter(kind="dump")
        self.assertTrue(capture.complete, capture.limits)
        self.assertEqual(
            {one["name"]: one["rows"] for one in capture.file.contents["tables"]}, {"od`d": 3, "many": 5000, "empty": 0}
        )
        self.assertIn("MariaDB", capture.file.contents["server"])
        with Folder(move.pk).open(capture.file.stored) as file:
            self.assertTrue(gzip.decompress(file.read()).endswith(b"-- Dump completed\n"))
        refused = import_job.order_database(move, "source", self.user, self.account(password="wrong"))
        import_job.read(refused)
        refused.refresh_from_db()
        self.assertEqual((refused.state, refused.stored), (Import.State.FAILED, ""))
        self.assertIn("Access denied", refused.said)
        self.assertFalse(DatabaseSignIn.objects.exists())
        self.assertEqual(Capture.objects.filter(kind="dump").count(), 1)
