"""A line of the address rule, tried on pages that were found."""

import unittest

from palinode.core import rule as rules
from palinode.core import rule_trial
from palinode.core.rule import RuleError
from palinode.core.rule_trial import RuleTrial

OLD, NEW = "http://old.example", "http://new.example"
BASE = f"{OLD}/ -> {NEW}/"


def tried(line: str, pages: dict[str, str]) -> RuleTrial:
    """Return what a line does to pages: source path to the path of the partner, empty for none."""
    partners = [NEW + to if to else "" for to in pages.values()]
    left = [OLD + path for path in pages]
    return rule_trial.of(rules.read(BASE), rules.read(f"{BASE}\n{line}"), left, partners)


class RuleTrialTest(unittest.TestCase):
    def test_what_it_plans_and_what_it_leads_wrong(self):
        pages = {
            "/2017/03/neaps": "/neaps",
            "/2018/11/springs": "/springs",
            "/2018/11/rye": "/bread/rye",
            "/2018/12/gone": "",
            "/2018/12/kept": "/2018/12/kept",
            "/2018/12/": "/2018/12/",
            "/about": "/about",
        }
        self.assertEqual(
            tried("/<number>/<number>/ -> /", pages),
            RuleTrial(planned=2, wrong=1, open=2, examples=(f"{OLD}/2018/12/kept",)),
        )
        self.assertEqual(tried("/elsewhere -> /there", pages), RuleTrial())

    def test_lines_with_numbers_that_cannot_be(self):
        for line, said in (
            ("/a -> /<number>/b", "more <number> than the left"),
            ("/a-<number>/ -> /b", "a whole segment"),
            ("only /<number>/a -> /b", "takes one alone"),
            ("/<number>/?p=1 -> /b", "takes one alone"),
        ):
            with self.subTest(line), self.assertRaisesRegex(RuleError, said):
                rules.read(f"{BASE}\n{line}")

    def test_many_are_expected_like_one(self):
        rule = rules.read(f"{BASE}\n/<number>/<number>/ -> /n-<number>/x\n/2017 -> /then")
        paths = ("/2017/03/a", "/2017/a", "/2017/03", "/1/2/3/4", "/x/1/2/3", "/%32017/03/a")
        texts = [OLD + path for path in paths]
        self.assertEqual(rule.expect_many(texts), [rule.expect(text).address for text in texts])
        self.assertEqual(
            [one.removeprefix(NEW) for one in rule.expect_many(texts)],
            ["/n-2017/x/a", "/then/a", "/then/03", "/n-1/x/3/4", "/x/1/2/3", "/n-2017/x/a"],
        )
