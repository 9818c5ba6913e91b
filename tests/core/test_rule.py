"""The address rule: the test vectors of docs/address-rule.md, and its properties."""

import itertools
import re
import unittest
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

from palinode.core import rule as rules
from palinode.core.rule import RuleError

DOCUMENT = Path(__file__).resolve().parent.parent.parent / "docs" / "address-rule.md"
OLD, NEW = "https://tidemill.quillhaven.example", "https://quillhavenmill.example"
BASE = f"{OLD}/ -> {NEW}/"
SEGMENT = st.text("abcdefgh-%7E.", min_size=1, max_size=6).filter(
    lambda text: text not in (".", "..") and "%" not in text
)
PATH = st.lists(SEGMENT, max_size=4).map(lambda parts: "/" + "/".join(parts))


def vectors() -> list[tuple[str, str, str]]:
    """Return rule, source and expected address of each vector in the document."""
    found = []
    for block in re.findall(r"```rule\n(.*?)```\n+```vectors\n(.*?)```", DOCUMENT.read_text(), re.DOTALL):
        for line in block[1].strip().splitlines():
            source, expected = line.split(" => ")
            found.append((block[0], source.strip(), expected.strip()))
    return found


class RuleTest(unittest.TestCase):
    def test_vectors_of_the_document(self):
        self.assertGreater(len(vectors()), 25)
        for text, source, expected in vectors():
            with self.subTest(rule=text, source=source):
                self.assertEqual(rules.read(text).expect(source).address, expected)
                self.assertEqual(rules.read(text).expect_many([source]), [expected])

    def test_says_which_line_decided_and_what_else_was_done(self):
        rule = rules.read(f"{BASE}\n/shop/ -> /store/\n/search -> /find ; query drop")
        shop = rule.expect("http://www.tidemill.quillhaven.example/shop/?sort=new")
        self.assertEqual(shop, rules.Expected(f"{NEW}/store/?sort=new", 2, ("query kept", "www folded")))
        self.assertEqual(rule.expect(f"{OLD}/search?q=1").notes, ("query dropped",))
        self.assertEqual(
            rule.expect("https://other.example/a"),
            rules.Expected("https://other.example/a", None, ("outside the rule",)),
        )

    def test_faults_name_their_line(self):
        for text, line, said in [
            ("", 1, "empty"),
            ("/a -> /b", 1, "first line needs whole addresses"),
            (f"{BASE}\nnonsense", 2, "OLD -> NEW"),
            (f"{BASE}\n/a -> ", 2, "OLD -> NEW"),
            (f"{BASE}\n/a -> /b\n/a/ -> /c", 3, "line 2 has the same left side"),
            (f"{BASE}\nslash sometimes", 2, "slash sometimes is not known"),
            (f"{BASE}\n/a -> /b ; query burn", 2, "query burn"),
            (f"{BASE}\nftp://x.example/ -> /b", 2, "not an address of a website"),
        ]:
            with self.subTest(text), self.assertRaisesRegex(RuleError, said) as caught:
                rules.read(text)
            self.assertEqual(caught.exception.line, line)

    def test_the_order_of_lines_does_not_matter(self):
        lines = ["/shop -> /store", "/shop/old -> /archive", "only /shop/old/map -> /map", "/shop?id=3 -> /store/rye"]
        asked = [f"{OLD}/shop", f"{OLD}/shop/old/x", f"{OLD}/shop/old/map", f"{OLD}/shop?id=3", f"{OLD}/shop?id=4"]
        wanted = rules.read("\n".join([BASE, *lines])).expect_many(asked)
        self.assertEqual(wanted[1:4], [f"{NEW}/archive/x", f"{NEW}/map", f"{NEW}/store/rye"])
        for order in itertools.permutations(lines):
            self.assertEqual(rules.read("\n".join([BASE, *order])).expect_many(asked), wanted)

    @given(PATH)
    def test_applying_it_to_what_it_gave_changes_nothing(self, path):
        rule = rules.read(f"{BASE}\n/shop -> /store")
        expected = rule.expect(OLD + path).address
        self.assertEqual(rule.expect(expected).address, expected)

    @given(
        st.lists(PATH, max_size=8),
        st.sampled_from(["", "\nslash add", "\n/a?x=1 -> /b", "\nonly /a/b -> /c", "\n/a/b -> /q"]),
    )
    def test_many_are_expected_as_one_is(self, paths, more):
        rule = rules.read(BASE + more)
        asked = [OLD + path + query for path in paths for query in ("", "?x=1")]
        self.assertEqual(rule.expect_many(asked), [rule.expect(one).address for one in asked])

    @given(PATH, PATH)
    def test_a_prefix_ends_at_a_segment(self, prefix, rest):
        rule = rules.read(f"{BASE}\n/mill{prefix} -> /wheel")
        joined = f"{OLD}/mill{prefix.rstrip('/')}x{rest}"
        self.assertEqual(rule.expect(joined).line, 1)

    def test_derived_from_two_bases(self):
        self.assertEqual(
            rules.derive("http://a.example/old", "https://b.example/"), "http://a.example/old/ -> https://b.example/"
        )
