"""The final and the temporary form of an address."""

import unittest

import numpy as np

from palinode.core import address as addresses
from palinode.core import rule as rules
from palinode.core.rule import RuleError
from palinode.core.temporary_address import Forms, TemporaryAddress, Translation

FORMS = Forms((TemporaryAddress("https://mill.example/", "https://stage.example/~mill/"),))


class FormsTest(unittest.TestCase):
    def test_there_and_back(self):
        for temporary, final in [
            ("https://stage.example/~mill/", "https://mill.example/"),
            ("https://stage.example/~mill/shop/rye?x=1", "https://mill.example/shop/rye?x=1"),
            ("http://stage.example/~mill/a", "http://mill.example/a"),
            ("https://www.stage.example/~mill/a", "https://www.mill.example/a"),
        ]:
            with self.subTest(temporary):
                self.assertEqual(FORMS.final_of(temporary), final)
                self.assertEqual(FORMS.temporary_of(final), temporary)

    def test_what_is_neither_stays(self):
        for text in (
            "https://stage.example/~miller/",
            "https://stage.example/",
            "https://else.example/~mill/a",
            "https://mill.example.else.example/",
        ):
            with self.subTest(text):
                self.assertEqual(FORMS.final_of(text), text)
        self.assertEqual(FORMS.final_of("https://stage.example/~mill"), "https://mill.example/", "the folder itself")

    def test_both_forms_are_one_identity(self):
        texts = ["https://stage.example/~mill/a", "https://mill.example/a", "https://else.example/a"]
        translation = Translation.of(FORMS, texts)
        temporary, final, other = addresses.idents(texts)
        both = np.array([temporary, final, other])
        self.assertEqual(translation.to_final(both).tolist(), [final, final, other])
        self.assertEqual(translation.to_temporary(both).tolist(), [temporary, temporary, other])
        self.assertEqual(translation.swapped(both).tolist(), [final, temporary, other])

    def test_a_further_host_has_its_own(self):
        rule = rules.read(
            "https://old.example/ -> https://mill.example/\nhttps://shop.old.example/ -> https://shop.mill.example/\n"
            "https://mill.example/ at https://stage.example/~mill\n"
            "https://shop.mill.example/ at https://stage.example/~mill/shop"
        )
        for final, temporary in (
            ("https://mill.example/a", "https://stage.example/~mill/a"),
            ("https://shop.mill.example/rye", "https://stage.example/~mill/shop/rye"),
            ("https://shop.mill.example/", "https://stage.example/~mill/shop/"),
        ):
            self.assertEqual((rule.reached(final), rule.forms.final_of(temporary)), (temporary, final))
        self.assertEqual(len(rule.forms.hosts()), 4)
        with self.assertRaisesRegex(RuleError, "stands for another address already"):
            rules.read(
                "https://a.example/ -> https://b.example/\nhttps://b.example/ at https://s.example/\n"
                "https://c.example/ at https://s.example/"
            )

    def test_nothing_in_temporary_form(self):
        translation = Translation.of(FORMS, [])
        self.assertEqual(translation.to_final(np.array([5])).tolist(), [5])

    def test_in_the_rule(self):
        rule = rules.read(
            "https://old.example/ -> https://mill.example/\nhttps://mill.example/ at https://stage.example/~mill"
        )
        self.assertEqual(rule.forms, FORMS)
        expected = rule.expect("https://old.example/shop").address
        self.assertEqual(expected, "https://mill.example/shop")
        self.assertEqual(rule.reached(expected), "https://stage.example/~mill/shop")
        for lines, said in [
            ("https://mill.example/ at https://mill.example/", "are the same"),
            ("https://mill.example/ at stage", "scheme is missing"),
            ("https://a.example/ at https://b.example/\nhttps://a.example/ at https://c.example/", "named already"),
        ]:
            with self.subTest(said), self.assertRaisesRegex(RuleError, said):
                rules.read(f"https://old.example/ -> https://mill.example/\n{lines}")
