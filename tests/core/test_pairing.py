"""Pairs by what pages say: each evidence alone, nearly, and in company; certainty, assignment, hands."""

import random
import unittest

import numpy as np

from palinode.core import address as addresses
from palinode.core import compare, pairing
from palinode.core.fates import FoundBy, Redirect
from palinode.core.markup import identifier
from palinode.core.pairing import (
    assignment,
    certainty,
    identifiers,
    links,
    media,
    names,
    numbered,
    parts,
    sections,
    segments,
    shingles,
    texts,
)
from palinode.core.pairing import titles as title_evidence
from palinode.core.pairing.by_hand import ByHand
from palinode.core.pairing.candidates import MOST_ALIKE
from tests.core.build import NEW, OLD, pages, side

DRAW = random.Random(4)
WORDS = [f"word{number}" for number in range(800)]


def words(number: int) -> str:
    return " ".join(DRAW.choices(WORDS, k=number))


def html(title: str = "", text: str = "", head: str = "", body: str = "", more: str = "") -> str:
    return (
        f"<html lang=en><head><title>{title}</title>{head}</head><body {body}>"
        f"<main><h1>{title}</h1><p>{text}</p>{more}</main></body></html>"
    )


def found(left: dict[str, str], right: dict[str, str], **more) -> dict[str, str]:
    """Return left path to right path of the pairs found."""
    one, other = pages(left), pages(right, NEW)
    made = pairing.find(one, other, **more)
    paths = [dict(zip(side.ident.tolist(), side.path, strict=True)) for side in (one, other)]
    return {paths[0][a]: paths[1][b] for a, b in zip(made.left.tolist(), made.right.tolist(), strict=True)}


def said(evidence, left: dict[str, str], right: dict[str, str]) -> dict[tuple[str, str], float]:
    one, other = pages(left), pages(right, NEW)
    got = evidence.find(one, other)
    return {
        (one.path[a], other.path[b]): round(strength, 2)
        for a, b, strength in zip(got.left.tolist(), got.right.tolist(), got.strength.tolist(), strict=True)
    }


class PagesTest(unittest.TestCase):
    def test_some_of_them_and_others_after_them(self):
        texts_of = {"/a": "the mill by the tide", "/b": "rye and oat", "/c": "a wheel of elm and oak"}
        given = {path: html(path, text) for path, text in texts_of.items()}
        whole = pages(given)
        one, other = pages({path: given[path] for path in ("/a", "/b")}), pages({"/c": given["/c"]})
        both = one.and_more(other)
        for name in ("path", "title", "heading", "names", "identifier", "media"):
            self.assertEqual(getattr(both, name), getattr(whole, name), name)
        self.assertEqual(both.shingles.values.tolist(), whole.shingles.values.tolist())
        self.assertEqual(both.shingles.offsets.tolist(), whole.shingles.offsets.tolist())
        some = both.of(other.ident)
        self.assertEqual((some.path, some.shingles.values.tolist()), (["/c"], other.shingles.values.tolist()))
        self.assertEqual(len(both.of(np.array([7]))), 0)


class PartsTest(unittest.TestCase):
    def held(self, some: dict[str, str], others: dict[str, str]) -> dict[str, str]:
        one, other = pages(some), pages(others, NEW)
        paths = dict(zip(one.ident.tolist(), one.path, strict=True))
        return {paths[ident]: path for ident, path in parts.held(one, other).items()}

    def test_pages_that_were_merged_into_one(self):
        first, second, third = words(120), words(90), words(80)
        left = {"/a": html("A", first), "/b": html("B", second), "/c": html("C", words(70))}
        right = {"/all": html("All", f"{first} {second} {third}"), "/other": html("Other", words(200))}
        self.assertEqual(self.held(left, right), {"/a": "/all", "/b": "/all"})

    def test_near_misses(self):
        text = words(120)
        self.assertEqual(self.held({"/a": html("A", text)}, {"/b": html("B", text[: len(text) // 3])}), {})
        self.assertEqual(
            self.held({"/a": html("A", "but a few words")}, {"/b": html("B", f"but a few words {text}")}), {}
        )
        common = {f"/{n}": html(str(n), f"{text} {words(60)}") for n in range(12)}
        self.assertEqual(self.held({"/a": html("A", text)}, common), {}, "what many pages say tells nothing")
        half = " ".join(text.split()[:50])
        self.assertEqual(
            self.held({"/a": html("A", f"{half} {words(70)}")}, {"/b": html("B", f"{half} {words(200)}")}), {}
        )


class LinkedTest(unittest.TestCase):
    """Pages that lead to the one, and now to the other."""

    def found(self, left: list[set[int]], right: list[set[int]], apart=frozenset()) -> list[tuple[int, int, float]]:
        def flat(some: list[set[int]]):
            ends = np.concatenate([np.zeros(1, np.int64), np.cumsum([len(one) for one in some])])
            return np.array([one for page in some for one in sorted(page)], np.int64), ends

        # Pages 11 and 12 were expected at 101 and 102, and are not there; 201 and 202 are new.
        made = links.find(
            np.array([102, 101]), np.array([12, 11]), np.array([202, 201]), flat(left), flat(right), apart
        )
        return list(zip(made.left.tolist(), made.right.tolist(), made.certainty.tolist(), strict=True))

    def test_more_pages_make_it_more_certain(self):
        self.assertEqual(self.found([{101, 5}], [{201, 5}]), [(11, 201, 0.75)])
        self.assertEqual(self.found([{101, 5}] * 2 + [{7}], [{201, 5}] * 2 + [{8}]), [(11, 201, 0.9)])

    def test_what_pages_do_not_agree_on_is_no_pair(self):
        self.assertEqual(self.found([{101}, {101}], [{201}, {202}]), [])
        self.assertEqual(self.found([{101}, {102}], [{201}, {201}]), [])
        self.assertEqual(self.found([{101, 102}], [{201, 202}]), [], "which is which?")
        self.assertEqual(self.found([{101}], [{9}]), [], "not a page without a partner")
        self.assertEqual(self.found([{101}], [{201}], frozenset({(11, 201)})), [], "a person said no")

    def test_both_of_two_pairs(self):
        self.assertEqual(sorted(self.found([{101}, {102}], [{201}, {202}])), [(11, 201, 0.75), (12, 202, 0.75)])


class NamesTest(unittest.TestCase):
    def test_canonical_names_the_other(self):
        left = {"/a": html("A"), "/b": html("B")}
        right = {"/x": html("X", head=f'<link rel=canonical href="{NEW}/a">'), "/y": html("Y")}
        self.assertEqual(said(names, left, right), {("/a", "/x"): 1.0})

    def test_both_name_a_third_address(self):
        same = '<link rel=canonical href="/proper">'
        self.assertEqual(said(names, {"/a": html(head=same)}, {"/z": html(head=same)}), {("/a", "/z"): 1.0})

    def test_alternate_in_its_own_language_counts_and_in_another_does_not(self):
        own = f'<link rel=alternate hreflang=en href="{NEW}/a">'
        self.assertEqual(said(names, {"/a": html()}, {"/x": html(head=own)}), {("/a", "/x"): 1.0})
        other = f'<link rel=alternate hreflang=de href="{NEW}/a">'
        self.assertEqual(said(names, {"/a": html()}, {"/x": html(head=other)}), {})

    def test_an_address_that_many_name_tells_less_and_that_a_crowd_names_nothing(self):
        same = '<link rel=canonical href="/a">'
        self.assertEqual(
            said(names, {"/a": html()}, {f"/{n}": html(head=same) for n in range(4)}),
            {("/a", f"/{n}"): 0.25 for n in range(4)},
        )
        crowd = {f"/{n}": html(head=same) for n in range(MOST_ALIKE + 1)}
        self.assertEqual(said(names, {"/a": html()}, crowd), {})


class IdentifiersTest(unittest.TestCase):
    def test_what_markup_tells(self):
        for written, expected in [
            ("single postid-44 logged-in", "post 44"),
            ("page page-id-7", "post 7"),
            ("html page-node-12 sidebar", "node 12"),
            ("category category-recipes category-3", "term 3"),
            ("postid-44x", ""),
            ("page columns-2", ""),
            ("", ""),
        ]:
            with self.subTest(written):
                self.assertEqual(identifier.of_classes(written), expected)
        for written, expected in [
            ("/?p=12", "post 12"),
            ("https://mill.example/?page_id=9&x=1", "post 9"),
            ("/node/5", "node 5"),
            ("/?p=twelve", ""),
            ("/node/5/edit", ""),
            ("http://[", ""),
        ]:
            with self.subTest(written):
                self.assertEqual(identifier.of_address(written), expected)

    def test_same_number_and_another(self):
        left = {"/a": html(body="class=postid-1"), "/b": html(body="class=postid-2")}
        right = {"/x": html(body="class=postid-2"), "/y": html(body="class=postid-3"), "/z": html()}
        self.assertEqual(said(identifiers, left, right), {("/b", "/x"): 1.0})

    def test_a_number_given_anew_does_not_pair_pages_of_other_text(self):
        left = {"/a": html("Rye", words(60), body="class=postid-1")}
        right = {"/x": html("Prices", words(60), body="class=postid-1")}
        self.assertEqual(found(left, right), {})


class SegmentsTest(unittest.TestCase):
    def test_the_end_of_the_path_with_and_without_ending(self):
        left = {"/shop/rye-flour.html": html(), "/shop/oats": html()}
        right = {"/store/rye-flour/": html(), "/store/oat": html()}
        self.assertEqual(set(said(segments, left, right)), {("/shop/rye-flour.html", "/store/rye-flour/")})

    def test_numbers_and_customary_names_say_little_or_nothing(self):
        self.assertEqual(said(segments, {"/a/index.html": html()}, {"/b/index.html": html()}), {})
        self.assertLess(said(segments, {"/a/12": html()}, {"/b/12": html()})["/a/12", "/b/12"], 0.4)

    def test_several_words_say_more_than_one(self):
        paths = ("rye", "rye-flour", "how-we-mill-rye")
        strength = said(segments, {f"/a/{one}": html() for one in paths}, {f"/b/{one}-2": html() for one in paths})
        self.assertEqual(strength, {}, "another end")
        strength = said(
            segments, {f"/{one}/{one}": html() for one in paths}, {f"/x-{one}/{one}": html() for one in paths}
        )
        one, two, more = (strength[f"/{path}/{path}", f"/x-{path}/{path}"] for path in paths)
        self.assertLess(one, two)
        self.assertLess(two, more)

    def test_like_sections_come_before_others(self):
        left = {f"/shop/{name}": html() for name in ("rye", "oats", "wheat")}
        right = {f"/store/{name}": html() for name in ("rye", "oats", "wheat")} | {"/recipes/rye": html()}
        strength = said(segments, left, right)
        self.assertGreater(strength["/shop/rye", "/store/rye"], 2 * strength["/shop/rye", "/recipes/rye"])


class TitlesTest(unittest.TestCase):
    def test_without_the_name_of_the_site(self):
        left = {f"/{n}": html(f"{n} – Old Mill") for n in ("Rye", "Oats", "Wheat")}
        right = {f"/x{n}": html(f"{n} | The New Mill") for n in ("Rye", "Oats", "Barley")}
        self.assertEqual(set(said(title_evidence, left, right)), {("/Rye", "/xRye"), ("/Oats", "/xOats")})

    def test_a_heading_says_a_little_less_than_a_title(self):
        left = {"/a": "<title>One</title><main><h1>Grinding</h1>"}
        right = {"/b": "<title>Two</title><main><h1>grinding</h1>"}
        self.assertEqual(said(title_evidence, left, right), {("/a", "/b"): 0.9})

    def test_nearly_the_same_title_is_none(self):
        self.assertEqual(said(title_evidence, {"/a": html("Rye 2015")}, {"/b": html("Rye 2016")}), {})


class MediaTest(unittest.TestCase):
    def test_the_same_images_elsewhere(self):
        left = pages(
            {"/a": html(more="<img src=/old/1.jpg><img src=/old/2.jpg>")}, images={"/old/1.jpg": 7, "/old/2.jpg": 8}
        )
        right = pages({"/b": html(more="<img src=/new/x.jpg>")}, NEW, images={"/new/x.jpg": 7})
        got = media.find(left, right)
        self.assertEqual(got.strength.tolist(), [0.5])
        other = pages({"/b": html(more="<img src=/new/x.jpg>")}, NEW, images={"/new/x.jpg": 9})
        self.assertEqual(len(media.find(left, other).left), 0)


class TextsTest(unittest.TestCase):
    def test_a_revised_text_is_found_and_another_is_not(self):
        text = words(200).split()
        revised = [word if number % 15 else "other" for number, word in enumerate(text)]
        left = {"/a": html("One", " ".join(text)), "/b": html("Two", words(200))}
        right = {"/x": html("Three", " ".join(revised)), "/y": html("Four", words(200))}
        self.assertEqual(found(left, right), {"/a": "/x"})

    def test_candidates_agree_with_counting_every_two(self):
        base = [words(120).split() for _ in range(30)]
        left = shingles.of([" ".join(one) for one in base])
        right = shingles.of([" ".join(one[:100] + words(20).split()) for one in base])
        rows, others = texts.candidates(left, right)
        self.assertEqual(
            {row for row, other in zip(rows.tolist(), others.tolist(), strict=True) if row == other}, set(range(30))
        )
        self.assertLess(len(rows), 60, "texts that share nothing are no candidates")

    def test_short_texts_are_candidates_and_shorter_ones_have_no_shingles(self):
        one = shingles.of(["the mill grinds rye on monday", "too short", ""])
        rows, others = texts.candidates(one, shingles.of(["the mill grinds rye on monday"]))
        self.assertEqual((rows.tolist(), others.tolist()), ([0], [0]))
        self.assertEqual(one.sizes.tolist(), [4, 0, 0])

    def test_long_texts_keep_the_same_part(self):
        text = " ".join(f"{word}{number}" for number, word in enumerate(WORDS * 6))
        one, other = shingles.of([text]), shingles.of([text + " and one more line of it"])
        self.assertEqual(one.sizes[0], shingles.MOST)
        told = shingles.weights(one, other)
        self.assertGreater(shingles.overlap(one, other, told, np.array([[0, 0]]))[0], 0.98)

    def test_what_many_texts_share_tells_less(self):
        shared = words(100)
        one = shingles.of([f"{shared} {words(20)}" for _ in range(10)])
        own = shingles.of([f"{shared} {words(20)}"])
        told = shingles.weights(one, own)
        self.assertLess(shingles.overlap(one, own, told, np.array([[0, 0]]))[0], 0.35)


class CertaintyTest(unittest.TestCase):
    def test_more_evidence_is_more_certain(self):
        text = words(80)
        for left, right, least in [
            (html("Rye"), html("Rye"), 0.7),
            (html("Rye", text), html("Rye", text), 0.98),
        ]:
            made = pairing.find(pages({"/a/rye": left}), pages({"/b/rye": right}, NEW))
            self.assertGreater(made.certainty[0], least)

    def test_twins_are_left_alone(self):
        text = words(60)
        twins = {f"/{n}": html("Same", text) for n in range(2)}
        self.assertEqual(found(twins, {f"/x{n}": html("Same", text) for n in range(2)}), {})

    def test_of_near_twins_the_nearer_text_is_the_page(self):
        one = words(150).split()
        other = [*one[:70], "coarse", *one[71:140], "sacks", *one[141:]]
        left = {"/a": html("Flour", " ".join(one)), "/b": html("Flour", " ".join(other))}
        right = {"/x": html("Flour", " ".join(one[:-9])), "/y": html("Flour", " ".join(other[:-9]))}
        made = pairing.find(pages(left), pages(right, NEW))
        self.assertEqual(found(left, right), {"/a": "/x", "/b": "/y"})
        self.assertGreater(made.certainty.min(), 0.9)

    def test_a_page_written_anew_is_known_by_a_name_of_several_words_alone(self):
        for name, pairs in (("spring-neaps-and-a-slow-wheel", 1), ("rye", 0)):
            left = {f"/journal/{name}": html("The wheel", words(80)), "/about": html("About", words(80))}
            right = {f"/news/{name}": html("Low water", words(80)), "/people": html("We", words(80))}
            self.assertEqual(len(found(left, right)), pairs, name)

    def test_a_page_whose_partner_is_certain_takes_no_odds_from_others(self):
        family = words(60)
        left = {f"/shop/{n}": html(f"Flour {n}", f"{family} {words(12)}") for n in range(6)}
        right = {path.replace("/shop/", "/goods/no-"): markup for path, markup in left.items()}
        self.assertEqual(found(left, right), {path: path.replace("/shop/", "/goods/no-") for path in left})

    def test_texts_with_nothing_in_common_speak_against(self):
        sizes, overlap = np.array([40.0]), np.array([0.0])
        one = np.array([0])
        alone = certainty.weigh({}, one, one, overlap, sizes)
        self.assertEqual(alone.certainty[0], 0)
        self.assertLess(certainty.text_says(np.array([0.04]), sizes)[0], 0.1)
        self.assertGreater(certainty.text_says(np.array([0.6]), sizes)[0], 0.9)


class WholeTest(unittest.TestCase):
    def test_parted_pages_are_never_paired_again(self):
        left, right = {"/a/rye": html("Rye", words(50))}, {}
        right["/b/rye"] = left["/a/rye"]
        self.assertEqual(found(left, right), {"/a/rye": "/b/rye"})
        apart = frozenset({(addresses.ident(f"{OLD}/a/rye"), addresses.ident(f"{NEW}/b/rye"))})
        self.assertEqual(found(left, right, parted=apart), {})

    def test_the_order_of_pages_changes_nothing(self):
        left = {f"/a/{n}": html(f"Title {n}", words(40)) for n in range(12)}
        right = {f"/b/{n * 7}": markup for n, markup in enumerate(left.values())}
        expected = found(left, right)
        self.assertEqual(len(expected), 12)
        for seed in range(3):
            one, other = list(left.items()), list(right.items())
            random.Random(seed).shuffle(one)
            random.Random(seed + 9).shuffle(other)
            self.assertEqual(found(dict(one), dict(other)), expected)

    def test_nothing_with_nothing(self):
        self.assertEqual(found({}, {}), {})
        self.assertEqual(found({"/a": html("A")}, {}), {})

    def test_one_to_one_takes_what_is_likeliest_together(self):
        left, right = np.array([0, 0, 1]), np.array([0, 1, 0])
        chosen = assignment.one_to_one(left, right, np.array([0.9, 0.8, 0.85]))
        self.assertEqual(chosen.tolist(), [False, True, True])
        self.assertEqual(assignment.one_to_one(left[:0], right[:0], np.zeros(0)).tolist(), [])

    def test_a_group_too_large_is_taken_most_certain_first(self):
        before, assignment._LARGEST = assignment._LARGEST, 1
        self.addCleanup(setattr, assignment, "_LARGEST", before)
        chosen = assignment.one_to_one(np.array([0, 0, 1]), np.array([0, 1, 0]), np.array([0.9, 0.8, 0.85]))
        self.assertEqual(chosen.tolist(), [True, False, False])


class SectionsTest(unittest.TestCase):
    def test_a_section_that_went_elsewhere(self):
        names = ("rye", "oats", "wheat", "malt")
        paths = ["/", *(f"/shop/{name}" for name in names), "/about"]
        moves = sections.learn([(f"/shop/{name}", f"/store/{name}") for name in names[:3]], paths)
        self.assertEqual([(one.left, one.right, one.pages, one.of) for one in moves], [("/shop", "/store", 3, 4)])
        self.assertEqual(moves[0].line, "/shop -> /store")

    def test_two_of_many_are_no_section_and_other_names_neither(self):
        paths = [f"/shop/{n}" for n in range(20)]
        self.assertEqual(sections.learn([("/shop/1", "/store/1"), ("/shop/2", "/store/2")], paths), [])
        self.assertEqual(sections.learn([(f"/shop/{n}", f"/x/{n}") for n in range(4)], paths), [])
        self.assertEqual(sections.learn([("/a", "/b"), ("/c", "/d"), ("/e", "/f")], ["/a", "/c", "/e"]), [])


class HandsTest(unittest.TestCase):
    def paired(self, said: ByHand):
        left = {"/": (200, html("Home")), "/a": (200, html("A")), "/b": (200, html("B"))}
        right = {"/": (200, html("Home")), "/a": (200, html("A")), "/b": (404, ""), "/x": (200, html("X"))}
        one, other = side(OLD, left)[0], side(NEW, right)[0]
        made = compare.pair(one, other, said)
        partner = np.append(other.ident, 0)[made.pairs.partner]
        texts = {addresses.ident(NEW + path): path for path in right} | {0: ""}
        return made, dict(zip(made.paths, [texts[ident] for ident in partner.tolist()], strict=True))

    def ident(self, host: str, path: str) -> int:
        return addresses.ident(host + path)

    def test_a_pair_made_by_hand_holds_before_the_rule(self):
        made, partners = self.paired(ByHand({self.ident(OLD, "/b"): self.ident(NEW, "/x")}))
        self.assertEqual(partners, {"/": "/", "/a": "/a", "/b": "/x"})
        row = made.paths.index("/b")
        self.assertEqual((made.pairs.found_by[row], made.pairs.certainty[row]), (FoundBy.HAND, 1.0))
        self.assertEqual(made.pairs.redirect[row], Redirect.MISSING)

    def test_who_loses_a_partner_has_none(self):
        _, partners = self.paired(ByHand({self.ident(OLD, "/b"): self.ident(NEW, "/a")}))
        self.assertEqual(partners, {"/": "/", "/a": "", "/b": "/a"})

    def test_parted_pages(self):
        made, partners = self.paired(ByHand({}, frozenset({(self.ident(OLD, "/a"), self.ident(NEW, "/a"))})))
        self.assertEqual(partners["/a"], "")
        self.assertIn(self.ident(NEW, "/a"), made.alone_right.tolist())

    def test_a_page_that_is_not_there_changes_nothing(self):
        _, partners = self.paired(ByHand({self.ident(OLD, "/b"): 12345, 999: self.ident(NEW, "/a")}))
        self.assertEqual(partners, {"/": "/", "/a": "/a", "/b": ""})


class NumberedTest(unittest.TestCase):
    def test_names_of_lists(self):
        for path, name in [("/journal/page/2/", "journal"), ("/news?paged=3", "news"), ("/a/b/page/7", "b"), ("/page/4", ""),
                           ("/journal/", None), ("/page", None), ("/shop/12", None)]:  # fmt: skip
            self.assertEqual(numbered.name(path), name, path)

    def test_a_page_of_one_list_is_none_of_another(self):
        text = "<main><h1>List</h1>{}</main>"
        left = pages({"/journal/page/2": f"<title>Page 2</title>{text.format('<p>flour and rye</p>')}"})
        right = pages({"/recipes/page/2": f"<title>Page 2</title>{text.format('<p>bread and oats</p>')}"}, NEW)
        self.assertEqual(len(pairing.find(left, right)), 0)

    def test_a_list_that_stands_elsewhere_is_the_same_list(self):
        body = (
            "<title>Page 2</title><main><h1>List</h1>"
            + "".join(f"<p>entry {n} about the mill and its wheel number {n}</p>" for n in range(20))
            + "</main>"
        )
        found = pairing.find(pages({"/journal/page/2": body}), pages({"/blog/page/2": body}, NEW))
        self.assertEqual(len(found), 1)
