"""What findings count for: accepted, set aside, weighed; which causes are left, and what changed."""

import unittest
from dataclasses import replace

import numpy as np

from palinode.core import judgement
from palinode.core.findings import State
from palinode.core.judgement import Accepted, Found, InPart, ShownOn, SomePages, marks
from palinode.core.standing import Basis
from palinode.core.weight import Weight

COUNTS = dict.fromkeys(("lost", "unknown", "altered", "moved", "new", "retired", "kept"), 3)
CAUSES = [
    {
        "kind": "pages_altered",
        "title": "Two pages read differently",
        "weight": "mend",
        "raised": False,
        "findings": 2,
        "rows": 9,
    },
    {
        "kind": "pages_lost",
        "title": "One page of /shop is gone",
        "weight": "blocks",
        "raised": True,
        "findings": 1,
        "rows": 1,
    },
]


class JudgementTest(unittest.TestCase):
    """Three findings of two causes, one that was cleared."""

    KEY, SEEN = np.array([1, 2, 3, 4]), np.array([10, 20, 30, 40])

    SHOWN = ShownOn(np.array([100, 101, 102]), np.array(["/shop", "/shop", "/people"], object), np.array([7, 8, 9]))
    """The pages of each finding."""

    def judged(
        self,
        accepted=(),
        aside=(0, 0, 0, 0),
        stage="",
        before=False,
        in_part=(),
        follows=(-1, -1, -1, -1),
        **weights,
    ):
        no = np.zeros(4, bool)
        last = np.array([False, False, False, True])
        found = Found(
            self.KEY, self.SEEN, np.array([0, 0, 1, 1]), ["title", "lost"], np.zeros(4, np.int64),
            np.array([5, 6, 6, -1]), last, np.array([True, False, True, False]), no, last, np.array([0, 0, 1, -1]),
            np.array(follows), before,
        )  # fmt: skip
        declared = {"title": Weight.MEND, "lost": Weight.MEND}
        given = judgement.weights_of(found.kinds, declared, weights)
        held = Accepted.of([(number, marks(np.array(keys), np.array(seen))) for number, keys, seen in accepted])
        return judgement.judge(
            found,
            given,
            replace(held, in_part=tuple(in_part)),
            np.array(aside),
            CAUSES,
            Basis(COUNTS),
            stage,
            lambda places: [self.SHOWN] * len(places),
        )

    def test_nothing_decided(self):
        made = self.judged()
        self.assertEqual(made.state.tolist(), [State.OPEN, State.OPEN, State.OPEN, State.CLEARED])
        self.assertEqual([(one.place, one.weight, one.findings, one.rows) for one in made.causes],
                         [(1, Weight.BLOCKS, 1, 1), (0, Weight.MEND, 2, 9)])  # fmt: skip
        self.assertEqual(made.standing["sentence"], "Not ready to switch. One page of /shop is gone.")

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

    def part(self, decision, key, where):
        return InPart(decision, marks(np.array([key]), np.array([10 * key])), where)

    def test_what_is_set_aside_on_some_pages_stays_open_on_the_others(self):
        shop, page, people = SomePages("/shop"), SomePages(pages=np.array([100])), SomePages("/people")
        made = self.judged(in_part=[self.part(7, 1, shop), self.part(8, 1, page), self.part(9, 2, people)])
        self.assertEqual(made.state.tolist()[:3], [State.OPEN] * 3)
        self.assertEqual(made.aside, {0: 2, 1: 1})
        made = self.judged(in_part=[self.part(7, 1, shop), self.part(8, 1, people)])
        self.assertEqual(
            (made.decision.tolist()[0], made.aside), (8, {}), "together they set it aside on all its pages"
        )
        made = self.judged([(3, [1], [10])], in_part=[self.part(7, 1, shop), self.part(8, 4, shop)])
        self.assertEqual((made.decision.tolist()[0], made.aside), (3, {}), "nor is anything said of what is cleared")

    def test_what_follows_does_not_count_and_is_set_aside_with_its_owner(self):
        made = self.judged(follows=(-1, 0, -1, -1))
        self.assertEqual(made.state.tolist()[:2], [State.OPEN] * 2)
        self.assertEqual([one.findings for one in made.causes], [1, 1])
        made = self.judged([(7, [1], [10])], follows=(-1, 0, -1, -1))
        self.assertEqual(made.decision.tolist()[:2], [7, 7])
        made = self.judged([(7, [2], [20])], follows=(-1, 0, -1, -1))
        self.assertEqual(made.decision.tolist()[:2], [0, 7], "it can be accepted by itself")
