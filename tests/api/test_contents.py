"""Dumps, exports and lists of files through the API: dropped, read, shown, downloaded."""

import gzip
import io

from asgiref.sync import async_to_sync
from django.db import connection

from palinode.core import address as addresses
from palinode.records.models import DatabaseSignIn, Import
from palinode.work.importing import import_job
from tests.api.base import ApiTestCase
from tests.site import page
from tests.work.test_site_file_import import DUMP


async def streamed(answer) -> bytes:
    """Return all of an answer that is streamed."""
    return b"".join([part async for part in answer.streaming_content])


class ContentsTest(ApiTestCase):
    def setUp(self):
        super().setUp()
        self.of_move = self.move(*self.serve({"/": page("Home")}, {"/": page("Home")}))

    def drop(self, data: bytes, name: str):
        """Drop a file, and let a worker read it."""
        file = io.BytesIO(data)
        file.name = name
        made = self.api.post(
            f"/api/moves/{self.of_move.pk}/imports/", {"side": "source", "file": file}, format="multipart"
        )
        for one in Import.objects.filter(state=Import.State.WAITING):
            import_job.read(one)
        return made

    def test_a_dump_is_listed_shown_and_downloaded(self):
        made = self.drop(DUMP, "shop.sql")
        self.assertEqual((made.status_code, made.data["kind"]), (201, "dump"), made.data)
        (capture,) = self.api.get(f"/api/moves/{self.of_move.pk}/captures/").data
        self.assertEqual(
            (capture["kind"], capture["state"], capture["sentence"], capture["detail"]),
            ("dump", "closed", "One table, 2 rows.", "shop.sql is a dump of MariaDB. Its server was 10.11.19"),
        )
        contents = self.api.get(f"/api/captures/{capture['id']}/contents/").data
        self.assertEqual((contents["file"], contents["bytes"]), ("shop.sql", len(DUMP)))
        self.assertEqual([(one["name"], one["rows"]) for one in contents["tables"]], [("wp_posts", 2)])
        answer = self.api.get(f"/api/captures/{capture['id']}/file/")
        self.assertEqual(b"".join(answer.streaming_content), DUMP)
        self.assertIn('attachment; filename="shop.sql"', answer["Content-Disposition"])
        self.assertEqual(answer["Content-Type"], "application/octet-stream")

    def test_old_addresses_are_replaced_in_a_dry_run_and_in_a_copy(self):
        old = addresses.origin(self.of_move.side("source").base)
        new = addresses.origin(self.of_move.side("destination").base)
        dump = DUMP.replace(b"'Tides'", f"'see {old}/a'".encode())
        self.drop(gzip.compress(dump), "shop.sql.gz")
        (capture,) = self.api.get(f"/api/moves/{self.of_move.pk}/captures/").data
        (change,) = self.api.get(f"/api/captures/{capture['id']}/dry-run/").data
        self.assertEqual(
            {name: change[name] for name in ("table", "column", "cells", "occurrences", "samples")},
            {"table": "wp_posts", "column": "post_title", "cells": 1, "occurrences": 1,
             "samples": [[f"'see {old}/a'", f"'see {new}/a'"]]},
        )  # fmt: skip
        answer = self.api.get(f"/api/captures/{capture['id']}/replaced/")
        self.assertIn('filename="shop-replaced.sql.gz"', answer["Content-Disposition"])
        made = async_to_sync(streamed)(answer)
        self.assertEqual(gzip.decompress(made), dump.replace(old.encode(), new.encode()))
        told = self.api.get(f"/api/captures/{capture['id']}/replacement-statements/")
        head, said, counting, begin, update, commit = async_to_sync(streamed)(told).decode().splitlines()
        self.assertIn("Make a dump first", head)
        self.assertEqual(said, "-- 1 of these are to change:")
        self.assertTrue(counting.startswith("SELECT count(*) FROM `wp_posts` WHERE `post_title` LIKE '%"), counting)
        self.assertEqual((begin, commit), ("BEGIN;", "COMMIT;"))
        self.assertTrue(
            update.endswith(f"SET `post_title` = 'see {new}/a' WHERE `ID` = 1 AND `post_title` = 'see {old}/a';"),
            update,
        )
        pages = self.capture(self.of_move, "source")
        for what in ("dry-run", "replaced", "replacement-statements"):
            self.assertEqual(self.api.get(f"/api/captures/{pages.pk}/{what}/").status_code, 404)

    def test_one_that_ends_too_early_says_so_first(self):
        self.drop(DUMP[:-60], "shop.sql")
        (capture,) = self.api.get(f"/api/moves/{self.of_move.pk}/captures/").data
        self.assertEqual(capture["sentence"][:11], "Cut short. ")
        self.assertIn("It ends within", capture["detail"])

    def test_what_is_none_is_refused_beside_the_field(self):
        made = self.drop(b"hello", "notes.txt")
        self.assertEqual(made.status_code, 400)
        self.assertIn("notes.txt is neither a WARC file nor a ZIP archive of pages, and no dump", str(made.data))

    def test_a_capture_of_pages_has_none(self):
        capture = self.capture(self.of_move, "source")
        for what in ("contents", "file"):
            self.assertEqual(self.api.get(f"/api/captures/{capture.pk}/{what}/").status_code, 404)

    def test_limits_of_a_new_host(self):
        self.drop(DUMP, "shop.sql")
        (capture,) = self.api.get(f"/api/moves/{self.of_move.pk}/captures/").data
        path = f"/api/captures/{capture['id']}/fit/"
        self.assertIn("upload", [one["name"] for one in self.api.get(path).data])
        made = self.api.post(path, {"limits": {"upload": 1, "engines": ["MyISAM"]}}, format="json")
        self.assertEqual([one["fits"] for one in made.data], [True, False])
        self.assertIn("Engine InnoDB is not there", made.data[1]["said"])
        bad = self.api.post(path, {"limits": {"upload": "much"}}, format="json")
        self.assertEqual((bad.status_code, list(bad.data["fields"])), (400, ["upload"]))

    def test_numbers_the_api_and_what_is_stopped(self):
        base = f"/api/moves/{self.of_move.pk}/imports/"
        bad = self.api.post(f"{base}numbers/", {"side": "source", "text": "Orders"}, format="json")
        self.assertEqual((bad.status_code, list(bad.data["fields"])), (400, ["text"]))
        made = self.api.post(f"{base}numbers/", {"side": "source", "text": "Orders 12"}, format="json")
        self.assertEqual((made.status_code, made.data["kind"]), (201, "numbers"))
        asked = self.api.post(f"{base}api/", {"side": "source"}, format="json")
        self.assertEqual((asked.status_code, asked.data["kind"]), (201, "api"))
        self.assertEqual(self.api.post(f"{base}api/", {"side": "source"}, format="json").status_code, 409)
        stopped = self.api.post(f"{base}{asked.data['id']}/stop/")
        self.assertEqual(stopped.data["state"], "failed")
        self.assertIn("stopped by", stopped.data["said"])
        self.assertEqual(self.api.post(f"{base}{asked.data['id']}/stop/").status_code, 409)

    def test_a_live_database_is_ordered(self):
        path = f"/api/moves/{self.of_move.pk}/imports/database/"
        bad = self.api.post(path, {"side": "source", "server": "cards", "port": 0}, format="json")
        self.assertEqual(bad.status_code, 400)
        self.assertEqual(set(bad.data["fields"]), {"server", "port", "host", "database", "user_name"})
        given = {
            "side": "source",
            "server": "postgresql",
            "host": " db.mill.example ",
            "database": "mill",
            "user_name": "reader",
        }
        made = self.api.post(path, given | {"password": " tide and stone "}, format="json")
        self.assertEqual((made.status_code, made.data["kind"], made.data["name"]), (201, "dump", "mill-live.sql.gz"))
        self.assertNotIn("tide", str(made.data))
        held = DatabaseSignIn.objects.get(imported=made.data["id"])
        self.assertEqual((held.host, held.port, held.password), ("db.mill.example", 5432, " tide and stone "))
        with connection.cursor() as cursor:
            cursor.execute("SELECT password FROM records_databasesignin")
            self.assertNotIn("tide", cursor.fetchone()[0])
        again = self.api.post(path, given, format="json")
        self.assertEqual((again.status_code, "asked already" in str(again.data)), (409, True))

    def test_listings_are_tried_and_saved(self):
        base = f"/api/moves/{self.of_move.pk}/listings/"
        self.assertEqual(self.api.get(base).data["listings"], [])
        mapping = {"noun": "product", "address": "/api/products"}
        tried = self.api.post(f"{base}try/", {"side": "source", "mapping": mapping}, format="json")
        self.assertEqual((tried.status_code, list(tried.data["fields"])), (400, ["address"]))
        saved = self.api.put(base, {"listings": [mapping]}, format="json")
        self.assertEqual([one["noun"] for one in saved.data["listings"]], ["product"])
        twice = self.api.put(base, {"listings": [mapping, mapping]}, format="json")
        self.assertEqual((twice.status_code, list(twice.data["fields"])), (400, ["noun"]))
        odd = self.api.put(base, {"listings": [mapping | {"colour": "red"}]}, format="json")
        self.assertEqual((odd.status_code, list(odd.data["fields"])), (400, ["colour"]))
