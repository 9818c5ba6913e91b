"""Findings: which there are, what makes one the same from comparison to comparison, its weight and state."""

import unittest

import numpy as np

from palinode.core import findings
from palinode.core.checks.pages import findings as page_findings
from palinode.core.checks.pages import kinds
from palinode.core.fields import Field
from palinode.core.findings import Before, ShownBefore
from palinode.core.weight import Weight
from tests.core.build import causes_of, html, ledger

PAGES = {f"/{name}": html(name, f"{name} text of the mill") for name in ("a", "b", "c", "d")} | {"/": html("Home")}


def told(left, right, lines=""):
    """Return (kind, path) of the findings."""
    held = ledger(left, right, lines)
    found = page_findings.find(held)
    return [
        (found.kinds[kind].word, (held.left_address[row] or held.right_address[row]).split(".example")[1])
        for kind, row in zip(found.kind.tolist(), found.row.tolist(), strict=True)
    ]


class KindsTest(unittest.TestCase):
    def test_every_kind_is_in_the_table_and_every_field_has_a_kind(self):
        self.assertEqual(len({kind.word for kind in kinds.ALL}), len(kinds.ALL))
        self.assertEqual(set(kinds.OF_FIELD), set(Field))
        self.assertLessEqual(set(kinds.OF_FIELD.values()), set(kinds.ALL))

    def test_a_page_against_itself_has_none(self):
        self.assertEqual(told(PAGES, PAGES), [])

    def test_what_is_wrong_with_pages(self):
        right = dict(PAGES) | {
            "/a": (404, ""),
            "/b": html("b", "b text of the mill", head="<meta name=robots content=noindex>"),
            "/c": html("Other", "c text of the mill"),
            "/n": html("N"),
        }
        self.assertEqual(told(PAGES, right), [("lost", "/a"), ("noindex", "/b"), ("title", "/c"), ("new", "/n")])

    def test_redirects_of_moved_pages(self):
        left = {f"/shop/{n}": html(n) for n in ("good", "none", "passing")} | {"/t": html("T", "text of t")}
        right = {f"/store/{n}": html(n) for n in ("good", "none", "passing")} | {"/u": html("T", "text of t")}
        right |= {
            "/shop/good": (301, "/store/good"),
            "/shop/none": (404, ""),
            "/shop/passing": (302, "/store/passing"),
            "/t": (301, "/u"),
        }
        self.assertEqual(
            told(left, right, "/shop -> /store"),
            [("redirect_missing", "/shop/none"), ("redirect_temporary", "/shop/passing"), ("unplanned", "/t")],
        )

    def test_swapping_sides_swaps_lost_and_new(self):
        right = {path: given for path, given in PAGES.items() if path != "/a"} | {"/n": html("N")}
        lost = [path for kind, path in told(PAGES, right) if kind == "lost"]
        new = [path for kind, path in told(right, PAGES) if kind == "new"]
        self.assertEqual((lost, new), ([], ["/a"]))  # never asked, so that nothing is said of it
        asked = right | {"/a": (404, "")}
        self.assertEqual([path for kind, path in told(PAGES, asked) if kind == "lost"], ["/a"])

    def test_a_weight_that_a_person_gave(self):
        right = dict(PAGES) | {"/a": (404, ""), "/c": html("Other", "c text of the mill")}
        held = page_findings.find(ledger(PAGES, right))
        for weights, expected in (
            ({"title": Weight.BLOCKS}, [Weight.BLOCKS, Weight.BLOCKS]),
            ({"lost": Weight.NOTE}, [Weight.NOTE, Weight.MEND]),
        ):
            self.assertEqual(findings.joined([held], weights).weight.tolist(), expected)


class SameTest(unittest.TestCase):
    def found(self, right, left=PAGES):
        return page_findings.find(ledger(left, dict(left) | right))

    def test_the_key_stays_and_the_looks_change(self):
        one = self.found({"/c": html("Other", "c text of the mill")})
        two = self.found({"/c": html("Another", "c text of the mill"), "/a": (404, "")})
        self.assertIn(one.key[0], two.key)
        at = two.key.tolist().index(one.key[0])
        self.assertNotEqual(one.seen[0], two.seen[at])
        again = self.found({"/c": html("Other", "c text of the mill"), "/b": html("x", "b text of the mill")})
        self.assertEqual(one.seen[0], again.seen[again.key.tolist().index(one.key[0])])

    def test_kinds_and_pages_have_keys_of_their_own(self):
        found = self.found(
            {path: html("x", "y", head="<meta name=description content=z>") for path in ("/a", "/b", "/c")}
        )
        self.assertEqual(len(set(found.key.tolist())), len(found))

    def test_the_order_of_pages_changes_nothing(self):
        right = {"/c": html("Other", "c"), "/a": (404, ""), "/b": html("b", "less")}
        one = self.found(right)
        turned = dict(reversed(PAGES.items()))
        two = page_findings.find(ledger(turned, turned | right))
        self.assertEqual((one.key.tolist(), one.seen.tolist()), (two.key.tolist(), two.seen.tolist()))


class HistoryTest(unittest.TestCase):
    KEY = np.array([1, 2, 3])

    def before(self, key, cleared, since=None, page=None):
        n = len(key)
        told = np.array(key), np.array(page or key), np.array(cleared, bool), np.array(since or [1] * n)
        return Before(*told, check=["pages"] * n, looked=frozenset({"pages"}))

    def history(self, before=None, number=1, looked=(True, True, True)):
        return findings.history(self.KEY, np.array(looked), before or Before.nothing(), number)

    def test_the_first_comparison_has_nothing_new(self):
        found = self.history()
        self.assertEqual((found.fresh.any(), found.first_look.any(), found.since.tolist()), (False, False, [1, 1, 1]))

    def test_new_since_and_returned(self):
        before = self.before([2, 3], [False, True], [1, 2])
        found = self.history(before, number=4)
        self.assertEqual(found.since.tolist(), [4, 1, 2])
        self.assertEqual(found.fresh.tolist(), [True, False, False])
        self.assertEqual(found.returned.tolist(), [False, False, True])

    def test_where_nobody_looked_before_nothing_is_new(self):
        found = self.history(self.before([2, 3], [False, False]), looked=(False, False, True))
        self.assertEqual(found.first_look.tolist(), [True, False, False])
        self.assertFalse(found.fresh.any())

    def left_over(self, before, pages, looked=("pages",)):
        """Return what became of what is missing, as letters: gone, unseen, dropped, or there."""
        at = findings.missing(self.KEY, before)
        shown = ShownBefore(at, [np.array(one, np.int64) for one in pages])
        found = findings.left_over(before, shown, set(looked), np.array([50, 51]), np.array([60, 61]))
        words = zip("gud", (found.gone, found.unseen, found.dropped), strict=True)
        told = [[word if one else "" for one in column.tolist()] for word, column in words]
        return ["".join(one) for one in zip(*told, strict=True)]

    def test_what_is_gone_and_what_could_not_be_seen(self):
        before = self.before([3, 4, 5, 6], [False, False, False, True], page=[3, 40, 50, 50])
        self.assertEqual(self.left_over(before, [[40], [50], [50]]), ["", "g", "u", "g"])

    def test_of_pages_that_share_one_half_must_be_looked_at(self):
        before = self.before([4, 5], [False, False])
        self.assertEqual(self.left_over(before, [[50, 41, 42], [50, 51, 42]]), ["g", "u"])

    def test_what_a_check_found_that_was_not_looked_at_is_carried_over(self):
        self.assertEqual(self.left_over(self.before([4], [False]), [[]], looked=("robots",)), ["u"])

    def test_what_a_decision_took_out_is_judged_no_longer(self):
        before = self.before([4, 5], [False, False])
        self.assertEqual(self.left_over(before, [[60, 61], [60, 42]]), ["d", "g"])


class CausesTest(unittest.TestCase):
    def test_each_finding_belongs_to_one_cause_and_all_have_one(self):
        right = dict(PAGES) | {"/a": (404, ""), "/b": html("x", "y"), "/n": html("N")}
        held = ledger(PAGES, right)
        taken = np.sum([cause.takes for cause in causes_of(held)], axis=0)
        self.assertTrue((taken == 1).all())

    def test_a_section_that_moved_is_one_cause_with_the_line_for_the_rule(self):
        names = ("rye", "oats", "wheat", "malt")
        left = {"/": html("Home")} | {f"/shop/{n}": html(n, f"{n} flour") for n in names}
        right = {"/": html("Home")} | {f"/store/{n}": html(n, f"{n} flour") for n in names}
        right |= {f"/shop/{n}": (301, f"/store/{n}") for n in names}
        (cause,) = causes_of(ledger(left, right))
        self.assertEqual((cause.kind, cause.pages, cause.title), ("section_moved", 4, "/shop became /store"))
        self.assertIn("/shop -> /store", cause.remedy)
        self.assertEqual(cause.line, "/shop -> /store")
        planned = causes_of(ledger(left, right, "/shop -> /store"))
        self.assertEqual(planned, [])

    def test_pages_that_went_to_different_places_are_no_section(self):
        left = {f"/shop/{n}": html(str(n), f"{n} flour") for n in range(4)}
        right = {f"/x{n}/{n}-": html(str(n), f"{n} flour") for n in range(4)}
        right |= {f"/shop/{n}": (301, f"/x{n}/{n}-") for n in range(4)}
        self.assertEqual({cause.kind for cause in causes_of(ledger(left, right))}, set())


class YearsTest(unittest.TestCase):
    PAGES = {"/": html("Home")} | {
        f"/log/{year}/{n}": html(f"{year} {n}") for year in range(2010, 2016) for n in range(3)
    }

    def found(self, lost):
        right = {path: (404, "") if lost(path) else given for path, given in self.PAGES.items()}
        return [(cause.kind, cause.title, cause.pages) for cause in causes_of(ledger(self.PAGES, right))]

    def test_the_early_or_the_late_years(self):
        self.assertEqual(
            self.found(lambda path: path[5:9] in ("2010", "2011")),
            [("years_missing", "/log before 2012 is not at the destination", 6)],
        )
        self.assertEqual(
            self.found(lambda path: path[5:9] == "2015"),
            [("years_missing", "/log after 2014 is not at the destination", 3)],
        )

    def test_years_in_the_middle_half_a_year_or_all_are_another_matter(self):
        self.assertEqual(self.found(lambda path: "/2012/" in path)[0][0], "folder_lost")
        self.assertEqual(self.found(lambda path: path in ("/log/2010/0", "/log/2010/1"))[0][0], "pages_lost")
        self.assertEqual(self.found(lambda path: path.startswith("/log/"))[0][0], "inner_pages")


class PolicyTest(unittest.TestCase):
    def test_slashes_capitals_and_the_whole_site_in_a_folder(self):
        names = ("Rye", "Oats", "Wheat", "Malt")
        left = {"/": html("Home")} | {f"/{n}": html(n, f"{n} is milled") for n in names}
        for change, kind in (
            (lambda path: path + "/", "slash_policy"),
            (str.lower, "letter_case"),
            (lambda path: "/site" + path, "site_in_folder"),
        ):
            right = {"/": html("Home")} | {path: (301, change(path)) for path in left if path != "/"}
            right |= {change(path): given for path, given in left.items() if path != "/"}
            self.assertEqual([(one.kind, one.pages) for one in causes_of(ledger(left, right))], [(kind, 4)])

    def test_two_pages_are_no_policy(self):
        left = {"/": html("Home"), "/Rye": html("Rye"), "/Oats": html("Oats")}
        right = {
            "/": html("Home"),
            "/Rye": (301, "/rye"),
            "/Oats": (301, "/oats"),
            "/rye": left["/Rye"],
            "/oats": left["/Oats"],
        }
        self.assertEqual(causes_of(ledger(left, right)), [])
