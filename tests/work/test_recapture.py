"""Captures that go on from an earlier one."""

import io
from dataclasses import replace

from django.core.files.storage import storages
from django.utils import timezone
from warcio.archiveiterator import ArchiveIterator

from palinode.core.discovery import Discovery
from palinode.records.models import Answer, Body, Capture, Facts, Frontier, Segment
from palinode.work import evidence, read_again, record_location
from palinode.work.capturing import capture_job, crawl_worker, recapture
from palinode.work.capturing.policy import Policy
from palinode.work.capturing.recapture import AgainError, What
from palinode.work.comparing import comparison_job
from tests.site import Answer as Served
from tests.site import page
from tests.work.base import MoveTestCase


def tagged(answer: Served, tag: str) -> Served:
    return replace(answer, headers=answer.headers | {"ETag": f'"{tag}"'})


def site() -> dict[str, Served]:
    return {
        "/": tagged(page("Home", "/shop/", "/plain", "/broken", "/feed.xml"), "home"),
        "/shop/": tagged(page("Shop", "/shop/rye", "/shop/oats"), "shop"),
        "/shop/rye": tagged(page("Rye", "/", text="Rye flour"), "rye"),
        "/shop/oats": tagged(page("Oats"), "oats"),
        "/plain": page("Plain", text="no validator here"),
        "/broken": Served(status=500),
        "/feed.xml": tagged(
            Served(
                "<rss><channel><item><link>/shop/rye</link></item></channel></rss>",
                headers={"Content-Type": "application/rss+xml"},
            ),
            "feed",
        ),
    }


class AgainTest(MoveTestCase):
    def setUp(self):
        super().setUp()
        self.pages = site()
        self.old, new = self.serve(self.pages, {})
        self.subject = self.move(self.old, new)
        self.first = self.capture(self.subject, "source")
        self.old.asked.clear()
        self.old.headers.clear()

    def again(self, what: What, section: str = "", listed: str = "") -> Capture:
        asked = recapture.read(self.subject, "source", self.first.pk, what, section, listed)
        capture = capture_job.begin(self.subject, "source", Policy(sample=0), asked)
        crawl_worker.work_on(capture.pk)
        capture.refresh_from_db()
        return capture

    def paths_asked(self) -> list[str]:
        return sorted(one for one in self.old.asked if one != "/robots.txt" and one in self.pages)

    def types(self, capture: Capture) -> dict[str, int]:
        found: dict[str, int] = {}
        for segment in Segment.objects.filter(capture=capture):
            with storages["evidence"].open(segment.name) as file:
                for record in ArchiveIterator(io.BytesIO(file.read()), check_digests="raise"):
                    found[record.rec_type] = found.get(record.rec_type, 0) + 1
        return found

    def test_nothing_changed(self):
        bodies, facts = Body.objects.count(), Facts.objects.count()
        capture = self.again(What.ALL)
        self.assertTrue(capture.complete, (capture.why, capture.limits))
        self.assertEqual(capture.judgement["stands"], self.first.judgement["stands"])
        self.assertEqual(self.inventory(capture), self.inventory(self.first))
        self.assertEqual((capture.pages, capture.unchanged, capture.taken_over), (self.first.pages, 4, 0))
        self.assertEqual(Body.objects.count(), bodies, "no body twice")
        self.assertEqual(Facts.objects.count(), facts + 2, "of the two addresses that were made up anew")
        types = self.types(capture)
        self.assertLessEqual(types.get("response", 0), 2, "what answers the two addresses that were made up anew")
        self.assertEqual(types["revisit"] + types["response"], types["request"])

    def test_the_feed_is_read_anew_and_the_plain_page_not_asked_by_condition(self):
        self.again(What.ALL)
        sent = {path: head.get("If-None-Match") for path, head in zip(self.old.asked, self.old.headers, strict=True)}
        self.assertEqual((sent["/"], sent["/shop/rye"]), ('"home"', '"rye"'))
        self.assertEqual((sent["/feed.xml"], sent["/plain"]), (None, None))

    def test_how_addresses_are_known_is_learnt_anew(self):
        capture = self.again(What.ALL)
        known = {
            text: Discovery(bits)
            for text, bits in Frontier.objects.filter(capture=capture)
            .extra(tables=["records_address"], where=["records_address.ident = records_frontier.ident"])
            .extra(select={"text": "records_address.text"})
            .values_list("text", "known")
        }
        rye = known["http://old.example/shop/rye"]
        self.assertIn(Discovery.LINK, rye, "said by the facts of a page that was not read")
        self.assertIn(Discovery.FEED, rye)
        self.assertIn(Discovery.EARLIER, rye)

    def test_what_changed_is_read_and_what_is_new_found(self):
        self.pages["/shop/rye"] = tagged(page("Rye", "/shop/new", text="Dearer rye flour"), "rye2")
        self.pages["/shop/new"] = page("New")
        del self.pages["/shop/oats"]
        capture = self.again(What.ALL)
        inventory = self.inventory(capture)
        self.assertEqual((inventory["/shop/new"][0], inventory["/shop/oats"][0]), (200, 404))
        answers = {one.ident: one for one in Answer.objects.filter(capture=capture)}
        before = {one.ident: one for one in Answer.objects.filter(capture=self.first)}
        rye = next(ident for ident, one in answers.items() if one.etag == '"rye2"')
        self.assertNotEqual(answers[rye].facts, before[rye].facts)
        self.assertIsNone(answers[rye].recorded_at)

    def test_a_third_capture_points_to_the_first(self):
        self.first = self.again(What.ALL)
        third = self.again(What.ALL)
        self.assertEqual(third.unchanged, 4)
        home = Answer.objects.get(capture=third, etag='"home"')
        self.assertNotEqual(home.asked_at, home.recorded_at)
        recorded = record_location.opened(evidence.record_of(home))
        self.assertFalse(recorded.revisit)
        self.assertIn(b"<h1>Home</h1>", recorded.body)
        Facts.objects.all().delete()
        read = Answer.objects.filter(capture=third).exclude(facts=None).count()
        self.assertEqual((read_again.read_again(third), Facts.objects.count()), (read, read))

    def test_only_what_failed(self):
        self.pages["/broken"] = page("Mended", "/found")
        self.pages["/found"] = page("Found")
        capture = self.again(What.FAILED)
        self.assertEqual(self.paths_asked(), ["/broken", "/found"])
        self.assertEqual(capture.pages, self.first.pages + 2)
        self.assertEqual(capture.taken_over, self.first.asked - 1)
        self.assertTrue(capture.complete)
        self.assertEqual(capture.asked, capture.known)
        counted = Answer.objects.filter(capture=capture, is_page=True).count()
        self.assertEqual(counted, capture.pages)
        self.assertIn("were taken over", " ".join(one["text"] for one in capture.judgement["grounds"]))

    def test_only_a_section(self):
        self.pages["/shop/"] = page("Shop", "/shop/rye", "/shop/new", "/elsewhere")
        self.pages["/shop/new"] = page("New")
        self.pages["/elsewhere"] = page("Elsewhere")
        capture = self.again(What.SECTION, section="/shop/")
        self.assertEqual(self.paths_asked(), ["/shop/", "/shop/new", "/shop/oats", "/shop/rye"])
        self.assertEqual(capture.pages, self.first.pages + 1)

    def test_only_a_list(self):
        self.pages["/unlinked"] = page("Unlinked", "/further")
        self.pages["/further"] = page("Further")
        capture = self.again(What.LIST, listed="/plain\nhttp://old.example/unlinked\n")
        self.assertEqual(self.paths_asked(), ["/plain", "/unlinked"], "what they link to is not asked for")
        self.assertEqual(capture.pages, self.first.pages + 1)
        self.assertEqual(self.inventory(capture)["/unlinked"][0], 200)

    def test_what_was_cut_short_goes_on(self):
        pages = {"/": page("Home", *(f"/p{n}" for n in range(20)))} | {f"/p{n}": page(str(n)) for n in range(20)}
        old, new = self.serve(pages, {})
        self.subject = self.move(old, new)
        self.first = self.capture(self.subject, "source", max_addresses=8)
        self.assertFalse(self.first.complete)
        capture = self.again(What.FAILED)
        self.assertTrue(capture.complete, capture.limits)
        self.assertEqual(capture.pages, 21)

    def test_a_part_of_what_was_cut_short_is_no_whole(self):
        pages = {"/": page("Home", *(f"/p{n}" for n in range(20)))} | {f"/p{n}": page(str(n)) for n in range(20)}
        old, new = self.serve(pages, {})
        self.subject = self.move(old, new)
        self.first = self.capture(self.subject, "source", max_addresses=8)
        capture = self.again(What.LIST, listed="/p1")
        self.assertFalse(capture.complete)
        self.assertRegex(capture.limits[-1], r"\d+ addresses that the capture before had not come to")
        self.assertFalse(capture.judgement["stands"])

    def test_files_that_were_let_go_of_are_no_ground_to_go_on_from(self):
        Segment.objects.filter(capture=self.first).update(let_go_at=timezone.now())
        with self.assertRaisesRegex(AgainError, "let go of"):
            recapture.read(self.subject, "source", self.first.pk, "all", "", "")

    def test_two_captures_of_one_side_compared(self):
        self.pages["/shop/rye"] = tagged(page("Rye", "/", text="Dearer rye flour"), "rye2")
        self.pages["/shop/new"] = page("New")
        self.pages["/shop/"] = tagged(page("Shop", "/shop/rye", "/shop/new"), "shop2")
        del self.pages["/shop/oats"]
        later = self.again(What.ALL)
        comparison = comparison_job.order(self.subject, self.first, later)
        comparison_job.make(comparison)
        comparison.refresh_from_db()
        self.assertEqual(
            comparison.standing["sentence"], "Between the two captures: 2 altered, 1 gone, 1 new.", comparison.standing
        )
        self.assertEqual(comparison.standing["causes"], [])
        self.assertEqual(comparison_job.order(self.subject, self.first, later), comparison, "what is there is shown")

    def test_two_captures_alike(self):
        comparison = comparison_job.order(self.subject, self.first, self.again(What.ALL))
        comparison_job.make(comparison)
        comparison.refresh_from_db()
        self.assertEqual(comparison.standing["sentence"], "Nothing changed between the two captures.")

    def test_what_cannot_be(self):
        for which, what, section, listed, said in [
            ("destination", What.ALL, "", "", "no closed capture"),
            ("source", What.SECTION, "http://else.example/", "", "below http://old.example/"),
            ("source", What.SECTION, " ", "", "below http://old.example/"),
            ("source", What.LIST, "", "\n\n", "No line names"),
            ("source", What.LIST, "", "/a\nnonsense here", "line 2: nonsense here"),
            ("source", What.LIST, "", "http://else.example/x", "No line names"),
        ]:
            with self.subTest(said), self.assertRaisesRegex(AgainError, said):
                recapture.read(self.subject, which, self.first.pk, what, section, listed)
