"""Moves deleted: gone at once, nothing left, nobody else's touched; files that no row names are swept."""

import os
import time
from pathlib import Path
from unittest import mock

from django.core.files.base import ContentFile
from django.core.files.storage import storages
from django.db import connection
from procrastinate.contrib.django.models import ProcrastinateJob

from palinode.records import decisions, deletion
from palinode.records.folder import Elsewhere, Folder, moves
from palinode.records.models import Move
from palinode.work import evidence_check, move_deletion
from palinode.work.comparing import comparison_job
from tests.site import page
from tests.work.base import MoveTestCase

OLD = {"/": page("Home", "/a"), "/a": page("A", text="Rye flour")}
NEW = {"/": page("Home", "/a"), "/a": page("A", text="Oat flour")}


def rows() -> dict[str, int]:
    """Return how many rows each table of moves has."""
    with connection.cursor() as cursor:
        names = [one for one in connection.introspection.table_names(cursor) if one.startswith("records_")]
        found = {}
        for name in names:
            cursor.execute(f"SELECT count(*) FROM {name}")
            found[name] = cursor.fetchone()[0]
    return found


class ForgettingTest(MoveTestCase):
    def made(self) -> Move:
        move = self.move(*self.serve(OLD, NEW))
        self.baseline(move)
        decisions.decide(move, "retire", {"address": "http://old.example/b"}, "sold out", self.user)
        self.compare(move, self.capture(move, "destination"))
        return Move.objects.get(pk=move.pk)

    def test_nothing_is_left_and_the_neighbour_stays_as_it_was(self):
        neighbour = self.made()
        ProcrastinateJob.objects.all().delete()
        before, files = rows(), Folder(neighbour.pk).names()
        move = self.made()
        evidence_check.order(move)
        comparison_job.order(move, move.baseline, move.captures.exclude(pk=move.baseline_id)[0])
        self.assertGreater(ProcrastinateJob.objects.count(), 0)
        with mock.patch.object(deletion, "PIECE", 1):
            self.forget(move)
        self.assertEqual(rows(), before)
        self.assertEqual(Folder(neighbour.pk).names(), files)
        self.assertEqual(moves(), [neighbour.pk])
        self.assertEqual(ProcrastinateJob.objects.count(), 0)

    def test_what_was_broken_off_is_gone_on_with(self):
        move = self.made()
        move_deletion.order(move)
        seen = 0

        def dies(*_):
            nonlocal seen
            seen += 1
            if seen == 3:
                raise KeyboardInterrupt

        with (
            mock.patch.object(deletion, "PIECE", 1),
            mock.patch.object(move_deletion, "_seen", dies),
            self.assertRaises(KeyboardInterrupt),
        ):
            move_deletion.forget(move.pk)
        self.assertFalse(Move.objects.exists())
        self.assertTrue(Folder(move.pk).names(), "files go when no row names them")
        ProcrastinateJob.objects.all().delete()
        Move.everything.update(forgotten_at="2026-01-01T00:00Z")
        move_deletion.take_up()
        self.assertEqual(ProcrastinateJob.objects.get().args, {"move_id": move.pk})
        move_deletion.forget(move.pk)
        self.assertEqual(set(rows().values()), {0})
        self.assertEqual(Folder(move.pk).names(), [])

    def test_a_move_that_was_not_ordered_to_be_forgotten_stays(self):
        move = self.made()
        move_deletion.forget(move.pk)
        self.assertTrue(Move.objects.filter(pk=move.pk).exists())
        self.assertTrue(Folder(move.pk).names())

    def test_files_that_no_row_names_are_swept_when_they_are_old(self):
        move = self.made()
        folder = Folder(move.pk)
        kept = folder.names()
        stray = folder.save("capture-1/000001-00001.warc.gz", ContentFile(b"stray"))
        nobodys = Folder(10**6).save("imports/x", ContentFile(b"x"))
        self.assertEqual(move_deletion.sweep(), 0, "a worker may be about to write their rows")
        root = Path(storages["evidence"].location)
        past = time.time() - 2 * 86_400
        for name in (*kept, stray, nobodys):
            os.utime(root / name, (past, past))
        self.assertEqual(move_deletion.sweep(), 2)
        self.assertEqual(sorted(folder.names()), sorted(kept))
        self.assertEqual(moves(), [move.pk])
        self.assertEqual(evidence_check.verify_all(move), 0)


class FolderTest(MoveTestCase):
    def test_no_name_leads_out_of_it(self):
        mine, theirs = Folder(1), Folder(2)
        name = theirs.save("capture-1/x", ContentFile(b"theirs"))
        self.addCleanup(theirs.clear)
        for other in (name, f"move-1/../{name}", f"/{name}", "../settings", "move-1", "", "move-1/\0", "move-12/x"):
            with self.subTest(other):
                with self.assertRaises(Elsewhere):
                    mine.open(other)
                mine.delete(other)
                self.assertFalse(mine.exists(other))
        with theirs.open(name) as file:
            self.assertEqual(file.read(), b"theirs")

    def test_evidence_is_readable_by_its_owner_alone(self):
        folder = Folder(3)
        self.addCleanup(folder.clear)
        path = Path(storages["evidence"].location) / folder.save("capture-1/x", ContentFile(b"x"))
        self.assertEqual([one.stat().st_mode & 0o777 for one in (path, path.parent)], [0o600, 0o700])

    def test_it_is_the_only_way_to_the_evidence(self):
        code = Path(__file__).resolve().parents[2] / "palinode"
        users = [str(one.relative_to(code)) for one in code.rglob("*.py") if "storages[" in one.read_text()]
        self.assertEqual(users, ["records/folder.py"])
