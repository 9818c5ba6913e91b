"""Captures judged as they close: what they show, and whether one may be the baseline."""

from palinode.records import page_rows
from palinode.records.models import Move
from palinode.work import move_setup
from palinode.work.comparing import pair_view
from tests import rows
from tests.site import Answer, page
from tests.work.base import MoveTestCase

NOTICE = Answer("<title>Mill</title><h1>Briefly unavailable</h1><p>We are performing scheduled maintenance.</p>")
PATHS = [f"/p{n}" for n in range(8)]
SITE = {"/": page("Mill", *PATHS)} | {path: page(f"Page {path}", text=f"Of {path}") for path in PATHS}


def soft(pages: dict[str, Answer]):
    """Answer 200 for what is not there, naming it."""

    def find(path: str) -> Answer:
        gone = page("Nothing here", text=f"There is no page at {path}, look elsewhere.")
        return pages.get(path) or (Answer(status=404) if path.endswith((".xml", ".txt")) else gone)

    return find


class JudgingTest(MoveTestCase):
    def judged(self, pages, **options) -> dict:
        old, new = self.serve(pages, SITE)
        self.of_move = self.move(old, new)
        self.of_capture = self.capture(self.of_move, "source", **options)
        return self.of_capture.judgement

    def texts(self, judgement: dict) -> list[str]:
        return [ground["text"] for ground in judgement["grounds"]]

    def test_a_good_one_stands(self):
        found = self.judged(SITE)
        self.assertEqual(found["sentence"], "It stands: all that was known was asked and read.")
        self.assertFalse(found["answers_impossible"])

    def test_forty_copies_of_a_notice_do_not(self):
        found = self.judged({"/": page("Mill", *PATHS)} | dict.fromkeys(PATHS, NOTICE))
        self.assertFalse(found["stands"])
        self.assertEqual(found["recognised"], {"a notice of maintenance": 8})
        self.assertIn("8 pages of 9 are a notice of maintenance", self.texts(found))

    def test_a_home_page_that_is_no_page_of_the_site(self):
        found = self.judged({"/": NOTICE})
        self.assertEqual(found["sentence"], "It does not stand: the home page is a notice of maintenance.")

    def test_cut_short(self):
        found = self.judged(SITE, max_addresses=4)
        self.assertIn("stopped at 4 addresses, the limit set", found["sentence"])

    def test_the_sitemap_s_own_list(self):
        named = "".join(f"<url><loc>http://old.example{path}</loc></url>" for path in [*PATHS, "/x", "/y", "/z"])
        found = self.judged(SITE | {"/sitemap.xml": Answer(f"<urlset>{named}</urlset>")})
        self.assertEqual(found["sentence"], "It does not stand: 8 of 11 addresses in the sitemap gave a page.")

    def test_robots_rules_and_errors_are_told(self):
        rules = Answer("User-agent: *\nDisallow: /p1", headers={"Content-Type": "text/plain"})
        found = self.judged(SITE | {"/robots.txt": rules, "/p2": Answer(status=500)})
        self.assertEqual(
            self.texts(found),
            [
                "1 of 13 addresses (8 %) was answered with errors of the server (500)",
                "Robots rules shut one address out",
            ],
        )
        self.assertTrue(found["stands"])

    def test_a_host_that_answers_200_for_everything(self):
        found = self.judged(soft(SITE | {"/": page("Mill", *PATHS, "/gone", "/gone/too")}))
        self.assertTrue(found["answers_impossible"])
        self.assertEqual(found["recognised"], {"a not-found page that answers 200": 2})
        self.assertTrue(found["stands"])

    def test_named_as_the_baseline_all_the_same_only_with_a_reason(self):
        self.judged({"/": NOTICE})
        given = {"baseline": self.of_capture.pk}
        with self.assertRaisesRegex(move_setup.BaselineError, "notice of maintenance. To name it all the same"):
            move_setup.edit(self.of_move, given, self.user)
        move_setup.edit(self.of_move, given | {"baseline_reason": "It is all that is left."}, self.user)
        move = Move.objects.get()
        self.assertEqual(move.baseline, self.of_capture)
        decision = move.decisions.get()
        self.assertEqual((decision.reason, decision.scope["what"]), ("It is all that is left.", "baseline"))
        move_setup.edit(move, given | {"name": "Mill 2"}, self.user)
        self.assertEqual(move.decisions.count(), 1, "what is the baseline already is not asked for again")


class RoundTest(MoveTestCase):
    def round(self, pages) -> list[tuple[str, str]]:
        old, new = self.serve(SITE, pages)
        move = self.move(old, new)
        self.baseline(move)
        self.found = self.compare(move, self.capture(move, "destination"))
        return [(fate, section) for fate, section, _ in rows.counts(self.found)]

    def test_a_notice_at_the_destination_is_not_judged_and_named_as_the_cause(self):
        counts = self.round(SITE | dict.fromkeys(PATHS[:3], NOTICE))
        self.assertEqual(counts[:4], [*(("unknown", path) for path in PATHS[:3]), ("kept", "/")])
        (cause,) = self.found.standing["causes"]
        self.assertEqual(
            (cause["title"], cause["weight"]), ("A notice of maintenance answers in place of 3 pages", "blocks")
        )

    def test_opened_it_is_shown_and_its_fields_are_not_called_the_same(self):
        self.round(SITE | dict.fromkeys(PATHS[:3], NOTICE))
        found = rows.pages(self.found)
        opened = pair_view.pair(self.found, page_rows.row(self.found, found[0].rank))
        self.assertIn("a notice of maintenance", opened["right"]["recognised"])
        self.assertEqual({one["verdict"] for one in opened["fields"]} - {"not there"}, {"not compared"})
        kept = pair_view.pair(self.found, page_rows.row(self.found, found[3].rank))
        self.assertEqual({one["verdict"] for one in kept["fields"]} - {"not there"}, {"same"})

    def test_what_is_not_found_but_answers_200_is_lost(self):
        counts = self.round(soft({path: SITE[path] for path in SITE if path not in PATHS[:2]}))
        self.assertEqual(counts[:2], [("lost", path) for path in PATHS[:2]])
        self.assertNotIn("new", [fate for fate, _ in counts])

    def test_the_home_page_in_place_of_every_page(self):
        counts = self.round(lambda path: Answer(status=404) if path.endswith((".xml", ".txt")) else SITE["/"])
        self.assertEqual(counts, [*(("lost", path) for path in PATHS), ("kept", "/")])
        self.assertIn("home page", self.found.standing["causes"][0]["title"])
