"""Anchors of pages, and the links that lead there."""

import unittest

from palinode.core import address as addresses
from palinode.core import fragments
from palinode.core.checks.links.check import CHECK
from palinode.core.checks.looked import Looked, Side
from palinode.core.fragments import Fragments, Gathering
from palinode.core.resolver import Resolver
from palinode.core.rule import read
from tests.core.build import NEW, OLD, Given, html, ledger
from tests.core.links import links

PAGE = f"{OLD}/visit"


def found(text: str, address: str = PAGE) -> fragments.PageFragments:
    return fragments.read(text, address, Resolver())


def of(host: str, answers: dict[str, Given]) -> Fragments:
    """Return the fragments of a side, as they are kept."""
    gathering, resolver = Gathering(), Resolver()
    for path, (status, body) in answers.items():
        if status == 200:
            gathering.add(addresses.ident(host + path), fragments.read(body, host + path, resolver))
    return Fragments.of(gathering.made().arrays())


class ReadTest(unittest.TestCase):
    def test_links_to_anchors(self):
        for written, target, fragment in (
            ('<a href="/a#x">', f"{OLD}/a", "x"),
            ("<a class='b' href='a#x'>", f"{OLD}/a", "x"),
            ('<a\nhref = "#x y">', PAGE, "x y"),
            ('<A HREF="http://other.example/#&#xe4;">', "http://other.example/", "ä"),
            ('<base href="/in/"><a href="a#x">', f"{OLD}/in/a", "x"),
            ('<base href="/in/"><a href="#x">', f"{OLD}/in/", "x"),
            ('<a href="?p=1#x">', f"{PAGE}?p=1", "x"),
        ):
            with self.subTest(written):
                self.assertEqual(found(written).links, [(addresses.ident(target), fragment)])

    def test_what_leads_to_no_anchor(self):
        for written in ('<a href="/a">', '<a href="/a#">', '<a href="#top">', '<a href="/a#!x">', '<a href="/a#/x">', '<a href="#:~:text=x">',
                        '<a href="#a=1">', '<link href="/a#x">', '<use href="#icon">', "see #x", '<a data-href="/a#x">'):  # fmt: skip
            with self.subTest(written):
                self.assertEqual(found(written).links, [])

    def test_anchors(self):
        told = found('<h2 id="a">x</h2><a name=\'b\'></a><p id=c><p data-id="d" class="id=e"><p ID = "&auml;">').anchors
        self.assertEqual(told, ["a", "b", "c", "ä"])


class CheckTest(unittest.TestCase):
    def judged(self, left: dict[str, Given], right: dict[str, Given]):
        sides = [
            Side((f"{host}/",), links=links(host, answers), fragments=of(host, answers))
            for host, answers in ((OLD, left), (NEW, right))
        ]
        made = CHECK.judge(Looked(*sides, read(f"{OLD}/ -> {NEW}/"), "Palinode", pages=ledger(left, right)))
        words = [CHECK.verdicts[at].word for at in made.rows.verdict.tolist()]
        rows = zip(made.rows.right, words, made.rows.left_note, made.rows.right_note, strict=True)
        kinds = [made.findings.kind_of(at).word for at in range(len(made.findings))]
        return {right: rest for right, *rest in rows if "#" in right}, kinds

    def test_gone_never_there_and_there(self):
        home = html("Home", '<a href="/visit#winter">w</a> <a href="/visit#summer">s</a> <a href="/visit#s%C3%BC">u</a> <a href="/new#x">n</a> <a href="/no#x">n</a>')  # fmt: skip
        left = {"/": home, "/visit": html("Visit", '<h2 id="winter">Winter</h2><h2 id="sü">S</h2>')}
        right = {"/": home, "/visit": html("Visit", '<h2 id="sü">S</h2>'), "/new": html("New", "New.")}
        told, kinds = self.judged(left, right)
        self.assertEqual(
            told,
            {
                "/visit#winter": ["broken", "the anchor is there", "the page answers, the anchor is gone"],
                "/visit#summer": ["before", "no such anchor", "no such anchor before, too"],
                "/new#x": ["unknown", "", "no such anchor in what was answered; a script may make it"],
            },
        )
        self.assertEqual(kinds, ["link_anchor_gone"])
        self.assertEqual(
            self.judged(left, left), ({"/visit#summer": ["before", "no such anchor", "no such anchor before, too"]}, [])
        )

    def test_nothing_at_all(self):
        self.assertEqual(self.judged({"/": html("Home", "x")}, {"/": html("Home", "x")}), ({}, []))
        self.assertIsNone(of(OLD, {}).has(1, "x"))
