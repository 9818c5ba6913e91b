"""The ledger: order, sections, counts and bands, on rows by hand."""

import unittest

import numpy as np

from palinode.core.address import section_of
from palinode.core.checks.pages.check import rows
from palinode.core.fates import Fate
from palinode.core.ledger import MOST_GROUPS, OTHERS, arrange
from tests.core.build import counts, html, ledger


class ArrangeTest(unittest.TestCase):
    def test_worst_first_then_segment_by_segment(self):
        paths = ["/b", "/a-b/1", "/a/2", "/", "/a", "/a/1?x=1", "/a/1"]
        fate = np.array([Fate.KEPT] * len(paths), np.int16)
        fate[0] = Fate.LOST
        found = arrange(fate, paths, np.full(len(paths), -1))
        by_address = ["/", "/a", "/a/1", "/a/1?x=1", "/a/2", "/a-b/1", "/b"]
        self.assertEqual([paths[row] for row in found.place.argsort()], by_address)
        self.assertEqual([paths[row] for row in found.order], ["/b", *by_address[:-1]])
        self.assertEqual(found.section_names, ["/", "/a", "/a-b", "/b"])
        self.assertEqual([found.section_names[code] for code in found.section], [section_of(path) for path in paths])

    def test_nothing(self):
        found = arrange(np.zeros(0, np.int16), [], np.zeros(0, np.int64))
        self.assertEqual((len(found.order), found.section_names, found.group_names), (0, [], []))

    def test_of_too_many_sections_the_smallest_stand_together_behind_the_others(self):
        large = [f"/section-{n:03}/{page}" for n in range(MOST_GROUPS - 1) for page in (1, 2)]
        alone = [f"/a-post-{n}" for n in range(30)]
        paths = alone + large
        fate = np.full(len(paths), Fate.KEPT, np.int16)
        fate[:3] = Fate.LOST
        found = arrange(fate, paths, np.full(len(paths), -1))
        self.assertEqual(len(found.section_names), MOST_GROUPS + 29)
        self.assertEqual((len(found.group_names), found.group_names[-1]), (MOST_GROUPS, OTHERS))
        self.assertEqual([found.group_names[at] for at in found.group[:30]], [OTHERS] * 30)
        by_place = [paths[row] for row in found.place.argsort()]
        self.assertEqual(by_place, sorted(large) + sorted(alone))
        self.assertEqual([paths[row] for row in found.order[:3]], sorted(paths[:3]))
        self.assertEqual(np.flatnonzero(np.diff(found.group[found.order[3:]]) < 0).tolist(), [], "each group is a run")

    def test_a_section_is_the_first_segment(self):
        for path, wanted in {
            "/": "/",
            "/?p=1": "/",
            "/a": "/a",
            "/a?x": "/a",
            "/a/b/c": "/a",
            "/%C3%A4/": "/%C3%A4",
        }.items():
            with self.subTest(path):
                self.assertEqual(section_of(path), wanted)


class LedgerTest(unittest.TestCase):
    def setUp(self):
        left = {path: html(path) for path in ("/", "/a/1", "/a/2", "/shop/x", "/shop/y", "/gone")}
        right = {path: html(path) for path in ("/", "/a/1", "/new/1")}
        right |= {"/a/2": html("other"), "/store/x": html("/shop/x"), "/store/y": html("/shop/y"), "/gone": (404, "")}
        self.ledger = ledger(left, right, "/shop -> /store")

    def test_counts_are_runs_of_the_rows(self):
        self.assertEqual(
            counts(self.ledger),
            [("lost", "/gone", 1), ("altered", "/a", 1), ("moved", "/shop", 2), ("new", "/new", 1),
             ("kept", "/", 1), ("kept", "/a", 1)],
        )  # fmt: skip
        self.assertEqual(sum(number for _, _, number in counts(self.ledger)), len(self.ledger.fate))
        self.assertEqual(self.ledger.count(Fate.MOVED), 2)

    def test_sections_by_address(self):
        self.assertEqual(rows(self.ledger).by_group, [("/", 1), ("/a", 2), ("/gone", 1), ("/new", 1), ("/shop", 2)])
        self.assertEqual(self.ledger.in_section("/a").sum(), 2)
        self.assertEqual(self.ledger.in_section("/nowhere").sum(), 0)

    def test_bands_lead_from_section_to_section(self):
        self.assertEqual(
            set(self.ledger.crossing),
            {("/gone", "", "lost", 1), ("/a", "/a", "altered", 1), ("/shop", "/store", "moved", 2),
             ("", "/new", "new", 1), ("/", "/", "kept", 1), ("/a", "/a", "kept", 1)},
        )  # fmt: skip
