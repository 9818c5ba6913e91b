"""How often pages are visited, whatever form of its address a log has."""

import unittest

import numpy as np

from palinode.core import address as addresses
from palinode.core.visits import NONE, Visits


class VisitsTest(unittest.TestCase):
    def test_scheme_and_www_are_one(self):
        texts = ["http://mill.example/a?x", "https://www.mill.example/a?x", "http://mill.example/b"]
        told = Visits.told(texts, np.array([2, 3, 4]), np.array([20260105, 20260601, 20260701]))
        asked = ["https://mill.example/a?x", "http://www.mill.example/b", "http://mill.example/c", "http://b.example/b"]
        number, last = told.of(addresses.idents(asked))
        self.assertEqual((number.tolist(), last.tolist()), ([5, 4, 0, 0], [20260601, 20260701, -1, -1]))

    def test_without_logs_nothing_is_known(self):
        self.assertIs(Visits.told([], np.zeros(0), np.zeros(0)), NONE)
        number, last = NONE.of(addresses.idents(["http://mill.example/"]))
        self.assertEqual((number.tolist(), last.tolist(), NONE.digest), ([-1], [-1], ""))

    def test_the_digest_tells_what_was_known(self):
        one, other = (Visits.told(["http://mill.example/"], np.array([n]), np.array([20260101])) for n in (1, 2))
        self.assertNotEqual(one.digest, other.digest)
