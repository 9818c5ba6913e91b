"""Lists that people import: kept whole or not at all, asked for by the next capture."""

import gzip
import io
from unittest import mock

from palinode.core.checks.pages.check import CHECK
from palinode.core.discovery import Discovery
from palinode.records import address_lists, exports, outcome_rows, outcomes
from palinode.records.models import Address, Answer, ImportedAddress
from palinode.work.comparing import comparison_job
from palinode.work.importing import address_lists as imports
from palinode.work.importing.address_lists import ListError
from tests.rows import pages as rows
from tests.site import page
from tests.work.base import MoveTestCase


class AddressListTest(MoveTestCase):
    def setUp(self):
        super().setUp()
        self.old, self.new = self.serve({"/": page("Mill"), "/unlinked": page("U"), "/logged?x=1": page("L")}, {})
        self.of_move = self.move(self.old, self.new)

    def given(self, data: bytes | str, side: str = "source", name: str = "list.txt") -> imports.Outcome:
        raw = data.encode() if isinstance(data, str) else data
        return imports.import_list(self.of_move, side, io.BytesIO(raw), name, self.user)

    def paths(self) -> set[str]:
        texts = Address.objects.filter(move_id=self.of_move.pk, ident__in=ImportedAddress.objects.values("ident"))
        return {one.text.removeprefix("http://old.example") for one in texts}

    def test_the_next_capture_asks_for_them_and_says_how_they_became_known(self):
        self.given("http://old.example/unlinked\n/gone\n")
        self.given('1.2.3.4 - - [01/May/2026:12:00:00 +0000] "GET /logged?x=1 HTTP/1.1" 200 5\n')
        self.assertEqual(address_lists.count(self.of_move), {"source": 3, "destination": 0})
        capture = self.capture(self.of_move, "source")
        found = self.inventory(capture)
        self.assertEqual([found[path][0] for path in ("/unlinked", "/gone", "/logged?x=1")], [200, 404, 200])
        ways = dict(Answer.objects.filter(capture=capture).values_list("ident", "known"))
        self.assertIn(int(Discovery.LOG), ways.values())
        self.assertEqual(sum(way == Discovery.LIST for way in ways.values()), 2)
        other = self.capture(self.of_move, "destination")
        self.assertNotIn("/gone", self.inventory(other))

    def test_imported_again_it_is_known_by_both_ways_and_not_new(self):
        self.assertEqual(self.given("/a\n/a\n/b").new, 2)
        again = self.given('1.2.3.4 - - [x] "GET /a HTTP/1.1" 200 5\n')
        self.assertEqual((again.new, again.tally.named), (0, {"log": 1}))
        self.assertEqual(ImportedAddress.objects.filter(known=Discovery.LIST | Discovery.LOG).count(), 1)
        address_lists.forget(self.of_move, "source")
        self.assertEqual(address_lists.count(self.of_move)["source"], 0)

    def log(self, *paths: str, day: str = "01/May/2026") -> str:
        return "".join(f'1.2.3.4 - - [{day}:12:00:00 +0000] "GET {path} HTTP/1.1" 200 5\n' for path in paths)

    def test_visits_are_added_up_and_no_log_is_counted_twice(self):
        self.given(self.log("/a", "/b", "/a"))
        self.assertEqual(self.given(self.log("/a", day="12/Jun/2026"), name="later.log").tally.visits, 1)
        self.given("/c\n/a\n")
        found = ImportedAddress.objects.filter(visits__gt=0).order_by("visits").values_list("visits", "last_visit")
        self.assertEqual(list(found), [(1, 20260501), (3, 20260612)])
        with self.assertRaisesMessage(ListError, "again.log was imported already"):
            self.given(self.log("/a", day="12/Jun/2026"), name="again.log")
        self.assertEqual(sum(found.values_list("visits", flat=True)), 4)
        address_lists.forget(self.of_move, "source")
        self.given(self.log("/a", day="12/Jun/2026"), name="again.log")

    def test_what_is_visited_most_comes_first(self):
        links = [f"/s/{n}" for n in range(4)]
        kept = {path: page(path, text=path) for path in [f"/k/{n}" for n in range(12)]}
        home = page("Home", *links, "/t/x", *kept)
        pages = {"/": home, **{path: page(path, text=path) for path in [*links, "/t/x"]}, **kept}
        old, new = self.serve(pages, {"/": home, **kept})
        move = self.move(old, new)
        self.baseline(move)
        right = self.capture(move, "destination")
        first = self.compare(move, right)
        self.assertEqual([one.left_address[-2:] for one in rows(first)[:4]], ["/0", "/1", "/2", "/3"])
        self.assertEqual({one["visits"] for one in first.standing["causes"]}, {0})
        self.of_move = move
        log = self.log(*["/s/2"] * 3, "/s/1", *["/t/x"] * 9)
        self.given(log)
        again = move.comparisons.exclude(pk=first.pk).get()
        comparison_job.make(again)
        again.refresh_from_db()
        self.assertEqual([one.left_address[-2:] for one in rows(again)[:4]], ["/2", "/1", "/0", "/3"])
        numbers = outcome_rows.numbers_of(outcomes.of(again, "pages").pk, ["visits", "last_visit"], range(5))
        self.assertEqual([one["visits"] for one in numbers], [3, 1, 0, 0, 9])
        self.assertEqual([one["last_visit"] for one in numbers], [20260501, 20260501, -1, -1, 20260501])
        self.assertEqual([(one["rows"], one["visits"]) for one in again.standing["causes"]], [(1, 9), (4, 4)])
        cells = next(exports.cells(outcomes.of(again, "pages")))
        at = [one.name for one in CHECK.columns].index("visits")
        self.assertEqual([one[at] for one in cells][:5], [3, 1, 0, 0, 9])

    def test_what_cannot_be_read_says_why_and_keeps_nothing(self):
        good = "".join(f"/p{n}\n" for n in range(9_000)).encode()
        packed = gzip.compress(good)
        for data, said in [
            (b"", "list.txt is empty."),
            (
                b"nonsense\nmore nonsense",
                "None of the 2 lines of list.txt names an address of this side.*line 2: more nonsense",
            ),
            (b"http://new.example/a", "Is it the list of the other side?"),
            (packed[:-400], "list.txt is broken: it is cut off after"),
            (packed[:2000] + b"\0" * 500 + packed[2500:], "its compression ends after"),
        ]:
            with self.subTest(said):
                with self.assertRaisesRegex(ListError, said):
                    self.given(data)
                self.assertFalse(ImportedAddress.objects.exists())
        with (
            mock.patch.object(imports, "UNPACKED_LIMIT", 10_000),
            self.assertRaisesRegex(ListError, "Cut it into parts"),
        ):
            self.given(gzip.compress(b"/a\n" * 100_000))

    def test_a_file_that_unpacks_to_far_more_than_a_list_would_is_refused(self):
        # Nineteen kilobytes that were twenty million lines kept the server busy for minutes.
        with self.assertRaisesRegex(ListError, "unpacks to more than 200 times its size"):
            self.given(gzip.compress(b"/a\n" * 8_000_000))
        self.assertFalse(ImportedAddress.objects.exists())

    def test_a_list_that_takes_too_long_is_given_up_and_keeps_nothing(self):
        with self.assertRaisesRegex(ListError, "list.txt could not be read in 0 s. Cut it into parts"):
            imports.import_list(self.of_move, "source", io.BytesIO(b"/a\n"), "list.txt", self.user, seconds=0.0)
        self.assertFalse(ImportedAddress.objects.exists())

    def test_a_long_list_is_streamed(self):
        outcome = self.given("".join(f"/p{n}\n" for n in range(12_000)))
        self.assertEqual((outcome.new, outcome.tally.lines), (12_000, 12_000))
        self.assertEqual(sum(len(some) for some in address_lists.of(self.of_move, "source")), 12_000)
