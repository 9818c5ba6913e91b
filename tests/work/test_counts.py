"""Counts from the import of two dumps to the rows, causes and standing of a comparison."""

import io
from unittest import mock

from demo.wordpress_dump import Post, WordPressDump
from palinode.core.checks.content.check import CHECK as CONTENT
from palinode.records import check_options, contents_files
from palinode.records.folder import Folder
from palinode.records.models import Comparison, Import, Move
from palinode.work import readers
from palinode.work.comparing import comparison_job
from palinode.work.importing import archives, import_job
from tests.rows import page as page_row
from tests.rows import rows
from tests.site import Answer, page
from tests.work.base import MoveTestCase

POSTS = tuple(Post(number, f"Tide {number}", text=f"Text of tide {number}.") for number in range(1, 9))
SITE = WordPressDump(posts=(*POSTS, Post(22, "Not yet", status="draft")))


class CountsTest(MoveTestCase):
    def setUp(self):
        super().setUp()
        pages = {f"/2020/03/tide-{number}/": page(f"Tide {number}") for number in range(1, 9)}
        links = list(pages)
        self.pages = {"/": page("Home", *links), **pages}
        self.old, self.new = self.serve(
            self.pages,
            {"/": page("Home", *links), **{path: one for path, one in pages.items() if "-4/" not in path}},
        )
        self.subject = self.move(self.old, self.new)
        self.baseline(self.subject)
        self.capture(self.subject, "destination")

    def imported(self, dump: WordPressDump, which: str) -> Import:
        made = import_job.order(self.subject, which, io.BytesIO(dump.sql()), f"{which}.sql", self.user)
        import_job.read(made)
        made.refresh_from_db()
        self.assertEqual(made.state, "done", made.said)
        return made

    def compared(self) -> Comparison:
        """Make the comparison that was ordered last."""
        waiting = self.subject.comparisons.filter(state="waiting").latest("pk")
        comparison_job.make(waiting)
        waiting.refresh_from_db()
        return waiting

    def test_dumps_of_both_sides_are_counted(self):
        self.imported(SITE, "source")
        alone = self.compared()
        self.assertIn("there is a dump or an export of the source, and none of the destination", str(alone.standing))
        self.imported(SITE.but(posts=[one for one in SITE.posts if one.number != 4]), "destination")
        made = self.compared()
        found = {row["left_note"]: row for row in rows(made, "content")}
        self.assertEqual(found["Posts, published"]["verdict"], "missing")
        self.assertEqual((found["Posts, published"]["left"], found["Posts, published"]["right"]), ("8", "7"))
        self.assertEqual(found["Posts, draft"]["verdict"], "same")

    def test_a_table_by_the_values_of_any_column(self):
        """Its dump is read again when a person wants it counted, and once."""
        columns = "id int, `Shipping` varchar(20)"
        for which, rows_there in (("source", ["post", "post", "van"]), ("destination", ["post", "van"])):
            orders = [(number, name) for number, name in enumerate(rows_there)]
            self.imported(SITE.but(more={"wp_orders": (columns, orders)}), which)
        self.compared()
        values = {"tables": ["wp_orders: shipping", "wp_orders: colour"]}
        check_options.revise(self.subject, CONTENT, values, self.user)
        comparison_job.order_latest(self.subject)
        with mock.patch.object(readers, "stream", wraps=readers.stream) as read:
            made = self.compared()
            comparison_job.order_latest(self.subject)
            self.compared()
        self.assertEqual(read.call_count, 2)
        found = {row["left_note"]: (row["left"], row["right"]) for row in rows(made, "content")}
        self.assertEqual((found["wp_orders, post"], found["wp_orders, van"]), (("2", "1"), ("1", "1")))
        self.assertIn(
            "table wp_orders by its column colour, which it does not have: id, Shipping", made.standing["not_looked_at"]
        )

    def test_pages_that_nothing_links_are_asked_on_both_sides(self):
        hidden = Post(30, "Hidden", text="Nothing links it.")
        self.pages["/2020/03/hidden/"] = page("Hidden")
        made = self.imported(SITE.but(posts=[*SITE.posts, hidden]), "source")
        self.assertIn("addresses by it, which the next capture asks.", made.said)
        self.assertEqual(self.baseline(self.subject).pages, 10)
        again = self.compare(self.subject, self.capture(self.subject, "destination"))
        self.assertEqual(page_row(again, "/hidden/").fate, "lost")

    def test_files_imported_one_after_the_other_are_one_comparison(self):
        self.imported(SITE, "source")
        self.imported(SITE.but(options={"home": "http://other.example"}), "destination")
        waiting = self.subject.comparisons.get(state="waiting", members__side="left")
        self.assertEqual(waiting.members.count(), 2)
        said = self.subject.imports.first().said
        self.assertIn("Its site is http://other.example/, which is no host of the destination.", said)

    def test_what_sitemaps_and_feeds_list(self):
        def lists(paths: list[str], day: str) -> dict[str, Answer]:
            entries = "".join(f"<url><loc>{path}</loc><lastmod>{day}</lastmod></url>" for path in paths)
            items = "".join(f"<item><link>{path}</link></item>" for path in paths[:4])
            return {
                "/sitemap.xml": Answer(f"<urlset>{entries}</urlset>", headers={"Content-Type": "application/xml"}),
                "/feed": Answer(f"<rss><channel>{items}</channel></rss>", headers={"Content-Type": "text/xml"}),
            }

        paths = [path for path in self.pages if path != "/"]
        home = page("Home", *paths, "/feed")
        left, right = lists(paths, "2020-03-01T08:00:00Z"), lists([*paths[:2], *paths[4:]], "2026-11-20")
        subject = self.move(*self.serve(self.pages | {"/": home} | left, self.pages | {"/": home} | right))
        self.baseline(subject)
        made = self.compare(subject, self.capture(subject, "destination"))
        found = {row["left_note"]: (row["left"], row["right"], row["right_note"]) for row in rows(made, "content")}
        gone = "2 pages are not listed any more: /2020/03/tide-3/, and others"
        self.assertEqual(found["Pages in the sitemap, /2020"], ("8", "6", gone))
        # Its feed shows as many as before.
        self.assertEqual(found["Pages in the feeds"][:2], ("4", "4"))
        self.assertEqual(
            found["Days of change in the sitemap"],
            ("6", "0", "6 pages have another day and the same content: 2026-11-20"),
        )

    def test_a_file_that_is_gone_is_not_looked_at(self):
        for which in ("source", "destination"):
            file = self.imported(SITE, which).capture.file
        for name in (*contents_files.names([file.capture]), file.stored):
            Folder(self.subject.pk).delete(name)
        made = self.compared()
        self.assertIn("database tables", made.standing["not_looked_at"])

    def test_numbers_typed_by_hand(self):
        for which, number in (("source", "1,284"), ("destination", "1,204")):
            made = import_job.keep_numbers(self.subject, which, f"Orders {number}\n", self.user)
            import_job.read(made)
        found = {row["left_note"]: row for row in rows(self.compared(), "content")}
        self.assertEqual(found["Orders"]["right_note"], "80 fewer, by numbers typed by hand")
        with self.assertRaisesRegex(import_job.ImportRefused, "Line 1 does not end with a number"):
            import_job.keep_numbers(self.subject, "source", "Orders", self.user)

    def test_what_was_kept_is_made_anew_where_it_is_gone(self):
        file = self.imported(SITE, "source").capture.file
        for name in contents_files.names([file.capture]):
            Folder(self.subject.pk).delete(name)
        self.imported(SITE, "destination")
        self.assertIsNone(contents_files.read(file))
        self.assertEqual({row["verdict"] for row in rows(self.compared(), "content")}, {"same", "unreached"})
        self.assertIsNotNone(contents_files.read(file))
        # In an archive the file alone travels.
        data = b"".join(archives.export_move(Move.objects.get(pk=self.subject.pk)))
        came = archives.import_move(io.BytesIO(data), "mill.zip", self.user)
        anew = comparison_job.order_latest(came)
        comparison_job.make(anew)
        anew.refresh_from_db()
        self.assertEqual({row["verdict"] for row in rows(anew, "content")}, {"same", "unreached"})
