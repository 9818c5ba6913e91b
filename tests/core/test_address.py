"""URL handling: cases of the WHATWG standard, and what a person types."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from palinode.core import address as addresses
from palinode.core.address import AddressError

NORMAL = [
    ("HTTP://Mill.Example", "http://mill.example/"),
    ("http://mill.example:80/", "http://mill.example/"),
    ("https://mill.example:443/a", "https://mill.example/a"),
    ("https://mill.example:8443/a", "https://mill.example:8443/a"),
    ("http://mill.example/a/../b/./c", "http://mill.example/b/c"),
    ("http://mill.example/a/%2e%2e/b", "http://mill.example/b"),
    ("http://mill.example/a#part", "http://mill.example/a"),
    ("http://mill.example/?", "http://mill.example/?"),
    ("http://mill.example/a b", "http://mill.example/a%20b"),
    ("http://mill.example/ä", "http://mill.example/%C3%A4"),
    ("http://mill.example/%c3%a4", "http://mill.example/%c3%a4"),
    ("http://mill.example/~x", "http://mill.example/~x"),
    ("http://mill.example\\a\\b", "http://mill.example/a/b"),
    ("http:mill.example/a", "http://mill.example/a"),
    ("  http://mill.example/a\t", "http://mill.example/a"),
    ("http://mill.example/a\nb", "http://mill.example/ab"),
    ("http://mühle.example/", "http://xn--mhle-0ra.example/"),
    ("http://0x7f.1/", "http://127.0.0.1/"),
    ("http://[2001:DB8::1]/", "http://[2001:db8::1]/"),
    ("http://mill.example/a?b=c d", "http://mill.example/a?b=c%20d"),
    ("http://mill.example//a//b", "http://mill.example//a//b"),
]
JOINED = [
    ("x", "http://mill.example/a/x"),
    ("/x", "http://mill.example/x"),
    ("../x", "http://mill.example/x"),
    ("?q=1", "http://mill.example/a/b?q=1"),
    ("#frag", "http://mill.example/a/b"),
    ("//other.example/x", "http://other.example/x"),
    ("https:x", "https://x/"),
    ("", "http://mill.example/a/b"),
]


class PlaceTest(unittest.TestCase):
    def test_places_and_sections_of_a_side_of_several_hosts(self):
        home = "http://mill.example/"
        for address, place, section in (
            ("http://mill.example/", "/", "/"),
            ("https://www.mill.example/a/b?x", "/a/b?x", "/a"),
            ("http://mill.example/?p=1", "/?p=1", "/"),
            ("http://shop.mill.example/", "shop.mill.example/", "shop.mill.example/"),
            ("http://www.shop.mill.example/rye/1?x", "shop.mill.example/rye/1?x", "shop.mill.example/rye"),
            ("http://mill.example:8080/a", "mill.example:8080/a", "mill.example:8080/a"),
        ):
            with self.subTest(address):
                self.assertEqual(addresses.places([address], home), [place])
                self.assertEqual(addresses.section(address, home), section)


class AddressTest(unittest.TestCase):
    def test_normal_form(self):
        for written, expected in NORMAL:
            with self.subTest(written):
                self.assertEqual(addresses.normal(written), expected)

    def test_joined_to_a_base(self):
        for written, expected in JOINED:
            with self.subTest(written):
                self.assertEqual(addresses.normal(written, "http://mill.example/a/b"), expected)

    def test_what_is_no_address(self):
        for written in (
            "mailto:a@mill.example",
            "javascript:1",
            "data:,x",
            "http://",
            "http://a b/",
            "http://x:99999/",
        ):
            with self.subTest(written):
                self.assertIsNone(addresses.normal(written))
        self.assertIsNone(addresses.normal("http://mill.example/" + "a" * addresses.MAX_LENGTH))

    def test_messages_for_what_is_typed(self):
        for written, said in [
            ("", "Type the address"),
            ("mill.example", "The scheme is missing. Is it https://mill.example ?"),
            ("localhost:8080/a", "The scheme is missing"),
            ("http://mill .example", "no blanks"),
            ("ftp://mill.example/", "ftp: is not an address of a website"),
            ("http://me:pw@mill.example/", "user name and password"),
            ("http:///a", "host name"),
            ("http://mill.example:99999/", "not a valid address"),
        ]:
            with self.subTest(written), self.assertRaisesRegex(AddressError, said):
                addresses.typed(written)
        self.assertEqual(addresses.typed(" http://Mühle.example "), "http://xn--mhle-0ra.example/")

    def test_identity_is_the_first_eight_bytes_of_blake2b(self):
        self.assertEqual(addresses.ident("http://mill.example/"), 4557169831244056775)
        many = [f"http://mill.example/{number}" for number in range(50)]
        self.assertEqual(addresses.idents(many).tolist(), [addresses.ident(one) for one in many])
        self.assertEqual(addresses.idents([]).tolist(), [])

    def test_section(self):
        for written, expected in [
            ("http://mill.example/", "/"),
            ("http://mill.example/?p=1", "/"),
            ("http://mill.example/journal", "/journal"),
            ("http://mill.example/journal?x=/y", "/journal"),
            ("http://mill.example/journal/2019/x", "/journal"),
        ]:
            self.assertEqual(addresses.section(written), expected)

    @given(st.text(max_size=60))
    def test_normal_form_is_stable_and_splits_into_itself(self, path):
        address = addresses.normal("http://mill.example/" + path)
        if address is not None:
            self.assertEqual(addresses.normal(address), address)
            self.assertEqual(addresses.split(address).text, address)
