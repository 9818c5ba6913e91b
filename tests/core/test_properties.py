"""What holds for any two sites: a site against itself, sides swapped, pages in another order, decisions undone."""

import random
import unittest

import numpy as np

from palinode.core.checks.pages import findings as page_findings
from palinode.core.fates import Fate
from palinode.core.judgement import Accepted, marks
from tests.core.build import Given, causes_of, ground, html, judged, ledger

SECTIONS = ("journal", "shop", "people", "")


def drawn(seed: int) -> tuple[dict[str, Given], dict[str, Given]]:
    """Return a site, and what some random hand made of it; each address of the one was asked for on the other."""
    draw = random.Random(seed)
    words = [f"w{n}" for n in range(60)]
    left: dict[str, Given] = {"/": html("Home")}
    for n in range(draw.randint(5, 40)):
        section = draw.choice(SECTIONS)
        left[f"/{section}/{n}" if section else f"/{n}"] = html(f"Page {n}", " ".join(draw.choices(words, k=30)))
    right = dict(left)
    for path, given in left.items():
        kind = draw.random()
        if kind < 0.1:
            right[path] = (404, "")
        elif kind < 0.2:
            right[path] = html("Another", f"{given[1][-80:-60]} {draw.choice(words)}")
        elif kind < 0.25:
            right[path] = (301, draw.choice(list(left)))
        elif kind < 0.3:
            right[path] = ("timed out three times", "")
        elif kind < 0.35:
            right[path] = html(path, head="<meta name=robots content=noindex>")
    for n in range(draw.randint(0, 4)):
        right[f"/fresh-{n}"] = html(f"Fresh {n}")
        left[f"/fresh-{n}"] = (404, "")
    return left, right


class PropertiesTest(unittest.TestCase):
    SEEDS = range(40)

    def test_a_capture_against_itself_has_kept_pages_and_nothing_else(self):
        for seed in self.SEEDS:
            left, _ = drawn(seed)
            found = ledger(left, left)
            self.assertEqual(set(found.fate.tolist()), {int(Fate.KEPT)})
            self.assertEqual(len(page_findings.find(found)), 0)
            self.assertEqual(causes_of(ground(left, left)), [])

    def test_sides_swapped_swap_lost_and_new(self):
        for seed in self.SEEDS:
            left, right = drawn(seed)
            only = {path: given for path, given in right.items() if given[0] in (200, 404)}
            left = {path: left[path] for path in only}

            def of(fate: Fate, one, other) -> set[str]:
                found = ledger(one, other)
                rows = np.flatnonzero(found.fate == fate).tolist()
                texts = found.left_address if fate == Fate.LOST else found.right_address
                return {texts[row].split(".example")[1] for row in rows}

            self.assertEqual(of(Fate.LOST, left, only), of(Fate.NEW, only, left), seed)

    def test_the_order_of_pages_changes_nothing(self):
        for seed in self.SEEDS:
            left, right = drawn(seed)
            keys, shuffled = list(left), random.Random(seed)
            shuffled.shuffle(keys)
            turned = {path: left[path] for path in keys}, dict(reversed(right.items()))
            one, other = ground(left, right), ground(*turned)
            self.assertEqual(one.ledger.left_address, other.ledger.left_address)
            self.assertEqual(one.ledger.detail, other.ledger.detail)
            self.assertEqual(one.findings.key.tolist(), other.findings.key.tolist())
            said = [[(c.kind, c.title, c.detail, c.number) for c in causes_of(on)] for on in (one, other)]
            self.assertEqual(*said)

    def test_every_finding_but_notes_of_moves_has_one_cause_and_no_two(self):
        for seed in self.SEEDS:
            on = ground(*drawn(seed))
            taken = np.sum([np.zeros(len(on.findings), int), *(cause.takes for cause in causes_of(on))], axis=0)
            self.assertLessEqual(taken.max(initial=0), 1)
            left_over = {on.findings.kinds[kind].word for kind in on.findings.kind[taken == 0].tolist()}
            self.assertLessEqual(left_over, {"unplanned"})

    def test_accepted_and_taken_back_leaves_everything_as_before(self):
        for seed in self.SEEDS:
            on = ground(*drawn(seed))
            everything = Accepted.of([(7, marks(on.findings.key, on.findings.seen))])
            before, accepted = judged(on), judged(on, everything)
            self.assertEqual(accepted.causes, ())
            self.assertEqual(set(accepted.decision.tolist()), {7} if len(on.findings) else set())
            self.assertEqual(judged(on).causes, before.causes)
            self.assertEqual(sum(one.findings for one in before.causes), sum(one.number for one in causes_of(on)))
