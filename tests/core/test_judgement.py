"""What findings count for: accepted, set aside, weighed; which causes are left, and what changed."""

import unittest

import numpy as np

from palinode.core import judgement
from palinode.core.findings import State
from palinode.core.judgement import Accepted, Found, marks
from palinode.core.standing import Basis
from palinode.core.weight import Weight

COUNTS = dict.fromkeys(("lost", "unknown", "altered", "moved", "new", "retired", "kept"), 3)
CAUSES = [
    {"weight": "mend", "raised": False, "findings": 2, "rows": 9},
    {"weight": "blocks", "raised": True, "findings": 1, "rows": 1},
]


class JudgementTest(unittest.TestCase):
    """Three findings of two causes, one that was cleared."""

    KEY, SEEN = np.array([1, 2, 3, 4]), np.array([10, 20, 30, 40])

    def judged(self, accepted=(), aside=(0, 0, 0, 0), stage="", before=False, **weights):
        no = np.zeros(4, bool)
        last = np.array([False, False, False, True])
        found = Found(
            self.KEY, self.SEEN, np.array([0, 0, 1, 1]), ["title", "lost"], np.zeros(4, np.int64),
            np.array([5, 6, 6, -1]), last, np.array([True, False, True, False]), no, last, np.array([0, 0, 1, -1]), before,
        )  # fmt: skip
        declared = {"title": Weight.MEND, "lost": Weight.MEND}
        given = judgement.weights_of(found.kinds, declared, weights)
        held = Accepted.of([(number, marks(np.array(keys), np.array(seen))) for number, keys, seen in accepted])
        return judgement.judge(found, given, held, np.array(aside), CAUSES, Basis(COUNTS), stage)

    def test_nothing_decided(self):
        made = self.judged()
        self.assertEqual(made.state.tolist(), [State.OPEN, State.OPEN, State.OPEN, State.CLEARED])
        self.assertEqual([(one.place, one.weight, one.findings, one.rows) for one in made.causes],
                         [(1, Weight.BLOCKS, 1, 1), (0, Weight.MEND, 2, 9)])  # fmt: skip
        self.assertEqual(made.standing["sentence"], "Not ready to switch. One cause holds one page back.")

    def test_accepted_as_long_as_it_looks_the_same(self):
        made = self.judged([(7, [1, 2], [10, 21]), (8, [3], [30])])
        self.assertEqual(made.state.tolist(), [State.ACCEPTED, State.OPEN, State.ACCEPTED, State.CLEARED])
        self.assertEqual(made.decision.tolist(), [7, 0, 8, 0])
        # Of the first cause one finding is left, on one row; of the second none.
        self.assertEqual([(one.place, one.findings, one.rows) for one in made.causes], [(0, 1, 1)])
        self.assertFalse(made.standing["blocks"])

    def test_of_two_decisions_the_later_one_is_named(self):
        self.assertEqual(self.judged([(7, [1], [10]), (9, [1, 2], [10, 20])]).decision.tolist(), [9, 9, 0, 0])

    def test_what_an_expectation_sets_aside_is_accepted_by_it(self):
        made = self.judged([(9, [2], [20])], aside=(0, 4, 0, 4))
        self.assertEqual(made.state.tolist(), [State.OPEN, State.ACCEPTED, State.OPEN, State.CLEARED])
        self.assertEqual(made.decision.tolist(), [0, 4, 0, 0], "what is cleared is set aside by nothing")

    def test_weights_that_a_person_gave_hold_for_causes_too(self):
        made = self.judged(title=Weight.BLOCKS, lost=Weight.NOTE)
        self.assertEqual(made.weight.tolist(), [0, 0, 2, 2])
        self.assertEqual(
            {one.place: one.weight for one in made.causes}, {0: Weight.BLOCKS, 1: Weight.BLOCKS}, "one is raised"
        )

    def test_what_changed_counts_what_is_open(self):
        self.assertEqual(self.judged().standing["since"], {}, "there is nothing before")
        self.assertEqual(self.judged(before=True).standing["since"], {"fresh": 2, "returned": 0, "cleared": 1})
        accepted = self.judged([(7, [1], [10])], before=True)
        self.assertEqual(accepted.standing["since"], {"fresh": 1, "returned": 0, "cleared": 1})
