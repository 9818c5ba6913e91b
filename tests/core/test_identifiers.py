"""Identifiers of services that pages name, and what is none."""

import unittest

from palinode.core.leftovers import named_identifiers
from palinode.core.leftovers.identifiers import Nature, find
from palinode.core.leftovers.named_identifiers import Gathering


def found(text: str) -> list[tuple[str, str]]:
    return [(one.nature.name, one.value) for one in find(text)]


class IdentifiersTest(unittest.TestCase):
    def test_by_name(self):
        for text, nature, value in (
            ('<div data-sitekey="ab12-cd34">', "GUARD", "ab12-cd34"),
            ("<div data-site-key=ab12cd34>", "GUARD", "ab12cd34"),
            ("{apiKey: 'k9f8e7d6c5'}", "SERVICE", "k9f8e7d6c5"),
            ('{"api_key":"k9f8e7d6c5"}', "SERVICE", "k9f8e7d6c5"),
            ('data-options="{&quot;clientId&quot;:&quot;981-mill&quot;}"', "SIGN_IN", "981-mill"),
            ('<script src="https://charts.example/js?v=3&key=k9f8e7d6c5&x=1">', "SERVICE", "k9f8e7d6c5"),
            ('<script src="https://charts.example/js?v=3&amp;key=k9f8e7d6c5">', "SERVICE", "k9f8e7d6c5"),
            ('<script data-website-id="5c1e-77aa" src="/m.js">', "MEASUREMENT", "5c1e-77aa"),
            ("publishable-key = 'pub-4711-x'", "PAYMENT", "pub-4711-x"),
        ):
            with self.subTest(text):
                self.assertEqual(found(text), [(nature, value)])

    def test_by_shape(self):
        for text, nature in (
            (f"x=AIza{'b3' * 17}c", Nature.SERVICE),
            (f"6L{'d4' * 19}", Nature.GUARD),
            ("pk_live_4711abcd4711", Nature.PAYMENT),
            ("gtag('config', 'G-1A2B3C4D5E')", Nature.MEASUREMENT),
            ("UA-12345-1", Nature.MEASUREMENT),
        ):
            with self.subTest(text):
                self.assertEqual([one.nature for one in find(text)], [nature])
        # Named and shaped alike, it is told once.
        self.assertEqual(len(found("data-measurement-id='G-1A2B3C4D5E'")), 1)

    def test_what_is_none(self):
        for text in (
            "the site key of the mill", "siteId: undefined", "apiKey: process.env", "?key=value", "monkey=ab12cd34",
            "G-STRING-8", "XUA-12345-1", "class='app-id-list'", "clientid: true", "G-ABCDEFGH",
        ):  # fmt: skip
            with self.subTest(text):
                self.assertEqual(found(text), [])

    def test_what_each_page_makes_for_itself_is_left_out(self):
        gathering = Gathering()
        for number in range(300):
            gathering.add(f"http://new.example/{number}", find(f"data-client-id='c-{number}' data-site-key='k-4711'"))
        made = gathering.made()
        self.assertEqual([(one.value, one.answers, len(one.examples)) for one in made], [("k-4711", 300, 200)])
        self.assertEqual(named_identifiers.read(named_identifiers.plain(made)), made)
