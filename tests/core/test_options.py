"""Options: described by their dataclass, read from what a person typed."""

import unittest
from dataclasses import dataclass

from palinode.core import options
from palinode.core.options import OptionError, option


@dataclass(frozen=True)
class Milling:
    grains: tuple[str, ...] = option(("rye", "oat"), "Grains", "One a line.")
    share: float = option(0.5, "Share", least=0, most=1)
    stones: int = option(2, "Stones", least=1, most=8)
    wet: bool = option(False, "Wet")
    note: str = option("", "Note")


class OptionsTest(unittest.TestCase):
    def test_what_is_not_given_has_its_default(self):
        self.assertEqual(options.read(Milling, {}), Milling())
        made = options.read(Milling, {"grains": [" rye ", "", "spelt", "rye"], "share": 1, "wet": True, "note": " a "})
        self.assertEqual(made, Milling(("rye", "spelt"), 1.0, 2, True, "a"))
        self.assertIsInstance(made.share, float)
        self.assertEqual(options.read(Milling, options.plain(made)), made)

    def test_each_is_described(self):
        found = [(one.name, one.label, one.kind, one.default) for one in options.described(Milling)]
        self.assertEqual(found[0], ("grains", "Grains", "lines", ["rye", "oat"]))
        self.assertEqual([kind for _, _, kind, _ in found], ["lines", "number", "number", "truth", "text"])

    def test_what_is_none_is_refused_with_its_name(self):
        for given, name, said in [
            ({"flour": 1}, "flour", "no such option"),
            ({"share": 2}, "share", "from 0 to 1"),
            ({"share": True}, "share", "from 0 to 1"),
            ({"stones": "two"}, "stones", "from 1 to 8"),
            ({"wet": 1}, "wet", "yes or no"),
            ({"note": ["a"]}, "note", "Give a text"),
            ({"note": "a" * 1_001}, "note", "1,001 characters"),
            ({"grains": "rye"}, "grains", "Give lines"),
            ({"grains": [1]}, "grains", "Give lines"),
            ({"grains": ["a"] * 1_001}, "grains", "1,001 lines"),
        ]:
            with self.subTest(given), self.assertRaisesRegex(OptionError, said) as raised:
                options.read(Milling, given)
            self.assertEqual(raised.exception.option, name)
