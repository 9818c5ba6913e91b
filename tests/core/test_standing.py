"""Causes and the sentence."""

import unittest
from types import SimpleNamespace

from palinode.core.causes.cause import Ground
from palinode.core.checks.pages import findings as page_findings
from palinode.core.weight import Weight
from tests.core import build
from tests.core.build import causes_of, html, ledger


def judged(left, right, lines="", **more):
    """Return the standing of two sides, with the causes in the order of the judgement."""
    held = ledger(left, right, lines)
    ground = Ground(held, page_findings.find(held))
    causes, made = causes_of(ground), build.judged(ground, **more)
    return SimpleNamespace(**made.standing, causes=[causes[one.place] for one in made.causes], judged=made)


PAGES = {"/": html("Home")} | {f"/{s}/{n}": html(f"{s}{n}") for s in ("journal", "shop") for n in range(5)}


class StandingTest(unittest.TestCase):
    def kinds(self, found):
        return [cause.kind for cause in found.causes]

    def test_all_well_is_never_called_ready(self):
        found = judged(PAGES, PAGES)
        self.assertEqual(found.sentence, "Every page is where it is expected. Nothing seen blocks the switch.")
        self.assertFalse(found.blocks)
        self.assertIn("DNS and mail records", found.not_looked_at)
        self.assertNotIn("ready", found.sentence.lower())

    def test_nothing_judged(self):
        self.assertEqual(
            judged(PAGES, {}).sentence, "Nothing can be said yet. No page of the baseline could be judged."
        )
        self.assertEqual(
            judged({}, PAGES).sentence, "Nothing can be said yet. No page of the baseline could be judged."
        )

    def test_inner_pages_not_found_while_the_home_page_works(self):
        found = judged(PAGES, {path: given if path == "/" else (404, "") for path, given in PAGES.items()})
        self.assertEqual(self.kinds(found), ["inner_pages"])
        self.assertEqual(found.sentence, "Not ready to switch. The home page works, the pages below it are not found.")

    def test_a_section_lost_is_one_cause_and_other_pages_another(self):
        right = {
            path: (404, "") if path.startswith("/shop") or path == "/journal/1" else given
            for path, given in PAGES.items()
        }
        found = judged(PAGES, right)
        self.assertEqual(self.kinds(found), ["section_lost", "pages_lost"])
        self.assertEqual([cause.number for cause in found.causes], [5, 1])
        self.assertEqual(found.causes[0].show, {"verdict": "lost", "group": "/shop"})
        self.assertEqual(
            found.sentence,
            "Not ready to switch. /shop is not at the destination; /journal/1 is not at the destination.",
        )

    def test_the_sentence_names_what_must_be_done_in_the_order_in_which_to_do_it(self):
        many = PAGES | {f"/people/{n}": html(f"people{n}") for n in range(12)} | {"/visit/1": html("visit1")}
        noindex = "<meta name=robots content=noindex>"
        right = {
            path: (404, "") if path.startswith("/shop") or path in ("/visit/1", "/people/1") else
            html(given[1].split("title>")[1][:-2], head=noindex)
            for path, given in many.items()
        }  # fmt: skip
        found = judged(many, right)
        self.assertEqual(self.kinds(found), ["shut_out", "section_lost", "pages_lost", "pages_lost"])
        self.assertEqual(
            found.sentence,
            "Not ready to switch. Search engines are shut out of the whole site; /shop is not at the destination; "
            "/people/1 is not at the destination; and one more cause.",
        )

    def test_search_engines_shut_out(self):
        right = {
            path: html(given[1].split("title>")[1][:-2], head="<meta name=robots content=noindex>")
            for path, given in PAGES.items()
        }
        found = judged(PAGES, right)
        self.assertEqual(found.causes[0].kind, "shut_out")
        self.assertEqual((found.causes[0].weight, found.causes[0].number), (Weight.BLOCKS, 1))
        self.assertEqual(found.causes[0].pages, 11, "one finding with its pages")
        one = dict(PAGES) | {"/shop/1": html("shop1", head="<meta name=robots content=noindex>")}
        self.assertEqual(
            [cause.weight for cause in judged(PAGES, one).causes if cause.kind == "shut_out"], [Weight.MEND]
        )

    def test_everything_redirected_home(self):
        right = {path: given if path == "/" else (302, "/") for path, given in PAGES.items()}
        found = judged(PAGES, right)
        self.assertEqual(self.kinds(found), ["all_to_home"])

    def test_redirects_missing_and_not_permanent(self):
        right = {path.replace("/shop", "/store"): given for path, given in PAGES.items()}
        right |= {"/shop/0": (404, ""), "/shop/1": (302, "/store/1"), "/shop/2": (301, "/store/2")}
        found = judged(PAGES, right, "/shop -> /store")
        self.assertEqual(self.kinds(found), ["redirects_missing", "redirects_temporary"])
        self.assertFalse(found.blocks)
        self.assertEqual(found.sentence, "Nothing seen blocks the switch. Two things to mend.")

    def test_not_judged_is_said(self):
        right = dict(PAGES) | {"/shop/1": ("timed out three times", "")}
        self.assertEqual(
            judged(PAGES, right).sentence, "Nothing seen blocks the switch, but one page could not be judged."
        )

    def test_new_pages_are_a_note(self):
        found = judged(PAGES, PAGES | {"/hello-world": html("Hello")})
        self.assertEqual([(c.kind, c.weight) for c in found.causes], [("pages_new", Weight.NOTE)])
        self.assertEqual(found.causes[0].plain()["title"], "One page exists only at the destination")

    def test_counts_add_up(self):
        found = judged(PAGES, {path: given for path, given in PAGES.items() if path != "/shop/1"} | {"/n": html("N")})
        self.assertEqual(found.summary, "10 kept, 1 not judged, 1 new.")

    def test_what_it_leads_to_follows_from_the_stage(self):
        right = dict(PAGES) | {"/shop/1": (404, "")}
        self.assertTrue(judged(PAGES, right, stage="watch").sentence.startswith("Not ready to sign off."))
        self.assertTrue(judged(PAGES, right, stage="switch").sentence.startswith("Not ready to switch."))
        self.assertIn("keeps you from signing off", judged(PAGES, PAGES, stage="sign-off").sentence)
