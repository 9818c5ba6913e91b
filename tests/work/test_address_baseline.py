"""A restore whose source is gone: the baseline is what a dump, an export or a list of years ago names."""

import io

from demo.wordpress_dump import Post, WordPressDump
from palinode.work.importing import address_baseline, address_lists, import_job
from palinode.work.importing.address_baseline import NoAddressesError
from tests.rows import pages, rows, told
from tests.site import Answer, page
from tests.work.base import MoveTestCase

BACKUP = WordPressDump(
    posts=[*(Post(number, f"Tide {number}") for number in range(1, 9)), Post(20, "About", "page")], accounts=()
)


class AddressBaselineTest(MoveTestCase):
    def setUp(self):
        super().setUp()
        there = {f"/2020/03/tide-{n}/": page(f"Tide {n}") for n in range(1, 9) if n != 5}
        self.old, self.new = self.serve(
            {}, {"/": page("Home", *there, "/2020/03/later/"), **there, "/2020/03/later/": page("Later")}
        )
        self.subject = self.move(self.old, self.new)

    def test_what_the_copy_lacks_against_a_dump(self):
        with self.assertRaisesRegex(NoAddressesError, "Import a dump, an export or a list"):
            address_baseline.make(self.subject, "gone", self.user)
        import_job.read(import_job.order(self.subject, "source", io.BytesIO(BACKUP.sql()), "backup.sql", self.user))
        made = address_baseline.make(self.subject, "The old host burnt down.", self.user)
        self.subject.refresh_from_db()
        self.assertEqual((self.subject.baseline, made.state, made.kind), (made, "closed", "copy"))
        self.assertEqual([one.capture.kind for one in made.set_members.all()], ["dump"])
        self.assertEqual(self.subject.decisions.get().reason, "The old host burnt down.")
        compared = self.compare(self.subject, self.capture(self.subject, "destination"))
        fates = {(one.left_address or one.right_address).split(".example", 1)[1]: one.fate for one in pages(compared)}
        self.assertEqual({path for path, fate in fates.items() if fate == "lost"},
                         {"/about/", "/2020/03/tide-5/", "/2020/", "/2020/03/"})  # fmt: skip
        self.assertEqual((fates["/2020/03/tide-1/"], fates["/2020/03/later/"]), ("kept", "new"))
        # Nothing is said of what pages say, since nobody has seen them.
        self.assertEqual({one.kind for one in told(compared)} - {"lost", "new", "not_judged"}, set())
        newer = BACKUP.but(posts=[*BACKUP.posts[:4], *BACKUP.posts[5:], Post(99, "Later", date="2024-05-06 07:08:09")])
        import_job.read(import_job.order(self.subject, "destination", io.BytesIO(newer.sql()), "new.sql", self.user))
        again = self.compare(self.subject, compared.right)
        (row,) = [one for one in rows(again, "content") if one["left_note"] == "Posts, published"]
        self.assertEqual(row["right_note"], "1 missing: “Tide 5”; 1 more: “Later”, newer than all of the source")

    def test_a_list_of_years_ago(self):
        listed = "".join(f"http://old.example/2020/03/tide-{n}/\n" for n in range(1, 9))
        address_lists.import_list(self.subject, "source", io.BytesIO(listed.encode()), "old.txt", self.user)
        address_baseline.make(self.subject, "gone", self.user)
        self.subject.refresh_from_db()
        compared = self.compare(self.subject, self.capture(self.subject, "destination"))
        lost = [one.left_address for one in pages(compared) if one.fate == "lost"]
        self.assertEqual([address.rpartition("/2020")[2] for address in lost], ["/03/tide-5/"])

    def test_files_of_a_list_are_no_pages(self):
        self.old, self.new = self.serve(
            {},
            {
                "/": page("Home"),
                "/wheel.jpg": Answer(b"\xff\xd8\xff wheel", headers={"Content-Type": "image/jpeg"}),
                "/v2.0": page("Version 2.0"),
                "/pond.png": page("Nothing here"),
            },
        )
        self.subject = self.move(self.old, self.new)
        paths = ("/", "/v2.0", "/wheel.jpg", "/gate.JPG?w=2", "/pond.png")
        listed = "".join(f"http://old.example{path}\n" for path in paths)
        address_lists.import_list(self.subject, "source", io.BytesIO(listed.encode()), "old.txt", self.user)
        made = address_baseline.make(self.subject, "gone", self.user)
        self.assertEqual((made.pages, made.files, made.known), (2, 3, 5))
        self.subject.refresh_from_db()
        compared = self.compare(self.subject, self.capture(self.subject, "destination"))
        self.assertEqual(
            {one.left_address.rpartition("/")[2]: one.fate for one in pages(compared) if one.left_address},
            {"": "kept", "v2.0": "kept"},
        )
        found = [(row["verdict"], row["left"], row["right_note"]) for row in rows(compared, "files")]
        self.assertEqual(
            found, [("lost", "1", "not found"), ("replaced", "1", "a page answers in its place"), ("same", "1", "")]
        )
