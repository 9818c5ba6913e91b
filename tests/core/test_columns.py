"""Columns: identities found, rows put in order, references joined, edges cut and summed."""

import random
import unittest

import numpy as np

from palinode.core import columns, edges
from palinode.core.fields import COMPARED_PLACES, Place
from tests.core.build import side

LOW, HIGH = -(2**63), 2**63 - 1


class FindTest(unittest.TestCase):
    def check(self, ordered: list[int], wanted: list[int]) -> None:
        found = columns.find(np.array(ordered, np.int64), np.array(wanted, np.int64)).tolist()
        self.assertEqual(found, [ordered.index(one) if one in ordered else -1 for one in wanted])

    def test_agrees_with_looking_at_each(self):
        chance = random.Random(7)
        for size in (0, 1, 2, 3, 17, 400):
            held = sorted({chance.randint(LOW, HIGH) for _ in range(size)})
            beside = [one + chance.choice((-1, 1)) for one in held if LOW < one < HIGH]
            with self.subTest(size):
                self.check(held, chance.sample(held, len(held)) + beside)
                self.check(held, [*held[: size // 20], 0])

    def test_ends_of_the_range_and_values_that_crowd(self):
        crowd = sorted([LOW, LOW + 1, -1, 0, 1, 2, 3, 4, 5, 6, 7, HIGH - 1, HIGH])
        self.check(crowd, crowd)
        self.check(crowd, [LOW + 2, -2, 8, HIGH - 2] * 5)
        self.check(crowd[1:-1], [LOW, HIGH])

    def test_of_a_side(self):
        one, _ = side("http://old.example", {"/b": (200, ""), "/a": (200, ""), "/c": "timed out"})
        wanted = np.array([one.ident[2], 12345, one.ident[0]])
        self.assertEqual(one.find(wanted).tolist(), [2, -1, 0])
        self.assertEqual(one.find(np.zeros(0, np.int64)).tolist(), [])


class OrderTest(unittest.TestCase):
    def test_references_lead_to_rows_or_elsewhere(self):
        references = columns.References(np.array([50, 10, 40]), 5)
        for some in ([40, 99], [], [50, 7, 99]):
            references.add(np.array(some, np.int64))
        rows, elsewhere = references.made()
        self.assertEqual(elsewhere.tolist(), [7, 99])
        self.assertEqual(rows.tolist(), [2, 3 + 1, 0, 3 + 0, 3 + 1])

    def test_details_of_some_pages(self):
        answers = {
            "/a": (200, '<title>A</title><main><a href="/x">x</a><img src="/i.png">'),
            "/b": (200, "<title>B</title><main>two words"),
            "/c": (200, '<title>C</title><main><a href="/y">y</a>'),
        }
        one, details = side("http://old.example", answers)
        some = details.of(one.ident[[2, 0]])
        self.assertEqual((some.title, some.text[0]), (["C", "A"], "http://old.example/c"))
        self.assertEqual((some.links.tolist(), some.images.tolist()), ([1, 1], [0, 1]))
        self.assertEqual(some.offsets.tolist(), [0, 1, 3])
        with self.assertRaises(KeyError):
            details.of(np.array([1]))


class EdgesTest(unittest.TestCase):
    def test_compared_ones_stand_first_and_keep_their_order(self):
        other = COMPARED_PLACES
        found = edges.arranged([9, 8, 7, 6], [other, Place.LINK, other, Place.IMAGE])
        self.assertEqual((found.targets.tolist(), found.compared), ([8, 6, 9, 7], 2))
        self.assertEqual(found.count(Place.IMAGE), 1)
        self.assertEqual(edges.arranged([], []).sum, 0)

    def test_a_sum_does_not_depend_on_order_but_on_place_and_number(self):
        link, image = int(Place.LINK), int(Place.IMAGE)
        one = edges.arranged([5, 6], [link, image])
        self.assertEqual(one.sum, edges.arranged([6, 5], [image, link]).sum)
        for other in (
            edges.arranged([5, 6], [image, link]),
            edges.arranged([5], [link]),
            edges.arranged([5, 6, 6], [link, image, image]),
            edges.arranged([6, 6], [link, image]),
        ):
            self.assertNotEqual(one.sum, other.sum)

    def test_sums_and_slices_of_many_pages(self):
        pages = [([1, 2], [0, 1]), ([], []), ([2, 1, 1], [1, 0, 0])]
        targets = np.array([t for one, _ in pages for t in one], np.int64)
        places = np.array([p for _, some in pages for p in some], np.uint8)
        offsets = columns.offsets(np.array([len(one) for one, _ in pages]))
        found = edges.sums(targets, places, offsets).tolist()
        self.assertEqual(found, [edges.arranged(*one).sum for one in pages])
        of_one_place = edges.sums(targets, places, offsets, only=1).tolist()
        self.assertEqual((of_one_place[1], of_one_place[0]), (0, of_one_place[2]))
        cut = edges.slices(targets, places, offsets, np.array([2, 1, 0]))
        self.assertEqual([one.tolist() for one in cut], [[2, 1, 1, 1, 2], [1, 0, 0, 0, 1], [0, 3, 3, 5]])


class ReferrersTest(unittest.TestCase):
    def test_each_page_once_for_each_answer_in_whatever_portions_they_come(self):
        draw = np.random.default_rng(1)
        ident = np.unique(draw.integers(-(2**62), 2**62, 200))
        pages = np.sort(draw.choice(len(ident), 90, replace=False))
        sizes = draw.integers(0, 30, 90)
        ends = np.concatenate([[0], np.cumsum(sizes)])
        # Some lead to what is no answer.
        targets = draw.choice(np.concatenate([ident, draw.integers(-(2**62), 2**62, 40)]), ends[-1])
        told = [
            [page for page, a, b in zip(pages.tolist(), ends[:-1], ends[1:], strict=True) if one in targets[a:b]]
            for one in ident.tolist()
        ]
        for together in (1, 13, 90):
            found = columns.Referrers(ident)
            for take in (found.count, found.put):
                for at in range(0, 90, together):
                    last = min(90, at + together)
                    take(pages[at:last], targets[ends[at] : ends[last]], sizes[at:last])
            by = [found.by[a:b].tolist() for a, b in zip(found.offsets[:-1], found.offsets[1:], strict=True)]
            self.assertEqual(by, told)
        self.assertEqual(
            (columns.Referrers(ident).by.tolist(), columns.Referrers(ident[:0]).offsets.tolist()), ([], [0])
        )
