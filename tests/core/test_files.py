"""The check of files, and how files are summed up."""

import unittest

import numpy as np

from palinode.core import address as addresses
from palinode.core import file_groups
from palinode.core.answers import FileAnswers
from palinode.core.checks.files import CHECK, VERDICTS
from palinode.core.checks.looked import Looked, Side
from palinode.core.file_family import family, shown_type
from palinode.core.rule import read
from tests.core.build import NEW, OLD, html, ledger

IMAGE = "image/png"


def answers(host: str, given: dict, pages=(), asking=None, by=None) -> FileAnswers:
    """Return answers from path to (status, type, body) or (status, target)."""
    rows = sorted((addresses.ident(host + path), host + path, one) for path, one in given.items())
    target = [addresses.ident(host + one[1]) if 300 <= one[0] < 400 else 0 for _, _, one in rows]
    body = ["" if 300 <= one[0] < 400 or len(one) < 3 else one[2] for _, _, one in rows]
    return FileAnswers(
        ident=np.array([ident for ident, _, _ in rows], np.int64),
        text=[text for _, text, _ in rows],
        status=np.array([one[0] for _, _, one in rows], np.int16),
        reason=["timed out" if one[0] == -1 else "" for _, _, one in rows],
        media_type=[one[1] if one[0] == 200 else "" for _, _, one in rows],
        length=np.array([len(one) for one in body], np.int64),
        body=np.array([hash(one) >> 2 if one else 0 for one in body], np.int64),
        target=np.array(target, np.int64),
        asking=np.array([(asking or {}).get(text[len(host) :], 0) for _, text, _ in rows], np.int32),
        asked_by=lambda place: addresses.idents(
            [host + path for path in (by or {}).get(rows[place][1][len(host) :], ())]
        ),
        pages=np.sort(np.array([addresses.ident(host + path) for path in pages], np.int64)),
    )


def png(text: str):
    return (200, IMAGE, text)


class FilesTest(unittest.TestCase):
    LEFT = {f"/u/2016/{n}.png": png(f"old {n}") for n in range(3)} | {
        f"/u/2017/{n}.png": png(f"new {n}") for n in range(3)
    }
    LEFT |= {"/t/mill.css": (200, "text/css", "a{}"), "/t/mill.js": (200, "text/javascript", "x()")}

    def judged(self, right, left=None, pages=(), asking=None, lines=f"{OLD} -> {NEW}"):
        sides = (
            Side((f"{OLD}/",), files=answers(OLD, left or self.LEFT)),
            Side((f"{NEW}/",), files=answers(NEW, right, pages, asking)),
        )
        return CHECK.judge(Looked(*sides, read(lines), "Palinode"))

    def told(self, *args, **more):
        rows = self.judged(*args, **more).rows
        columns = (rows.verdict.tolist(), rows.left_note, rows.left, rows.right, rows.right_note)
        return [(VERDICTS[verdict].word, *rest) for verdict, *rest in zip(*columns, strict=True)]

    def findings(self, *args, **more):
        found = self.judged(*args, **more).findings
        return [
            (found.kind_of(at).word, found.left[at].removeprefix(OLD), int(found.pages[at])) for at in range(len(found))
        ]

    def test_the_same_files_are_counted_by_their_first_folder(self):
        self.assertEqual(self.told(self.LEFT), [("same", "/u/", "6", "6", ""), ("same", "/t/", "2", "2", "")])
        self.assertEqual(self.findings(self.LEFT), [])

    def test_a_folder_that_is_gone_is_one_row_and_what_pages_ask_for_is_told_by_itself(self):
        right = dict(self.LEFT) | {f"/u/2016/{n}.png": (404, "") for n in range(3)}
        self.assertEqual(self.told(right)[0], ("lost", "/u/2016/", "3", "0", "all 3: not found"))
        self.assertEqual(self.findings(right), [("files_gone", "/u/2016/0.png", 1)])
        asked = self.findings(right, asking={"/u/2016/1.png": 7})
        self.assertEqual(asked, [("file_missing", "/u/2016/1.png", 7), ("files_gone", "/u/2016/0.png", 1)])

    def test_what_is_not_there_whatever_answers(self):
        for given, said in (
            ((403, ""), "answers 403"),
            ((301, "/"), "redirects to the home page"),
            ((410, ""), "not found"),
            ((503, ""), "answers 503"),
        ):
            with self.subTest(said):
                found = self.told(dict(self.LEFT) | {"/t/mill.js": given}, pages=["/"])
                self.assertEqual(
                    found[0][:2] + found[0][4:], ("lost", "/t/", f"1 of 2: {said}".replace("1 of 2: ", ""))
                )

    def test_a_page_or_another_kind_in_its_place_is_something_else(self):
        right = dict(self.LEFT) | {"/t/mill.js": (200, "text/css", "b{}")}
        self.assertEqual(self.told(right)[0], ("replaced", "/t/", "1", "0", "script became style"))
        del right["/t/mill.js"]
        self.assertEqual(self.told(right, pages=["/t/mill.js"])[0][4], "a page answers in its place")
        self.assertEqual(self.findings(right, pages=["/t/mill.js"])[0][0], "files_replaced")

    def test_other_bytes_are_altered_and_no_finding(self):
        right = dict(self.LEFT) | {"/t/mill.css": (200, "text/css", "a{color:red}"), "/u/2016/0.png": png("old 9")}
        self.assertEqual(
            [one for one in self.told(right) if one[0] == "altered"],
            [
                ("altered", "/t/", "1", "1", "3 bytes became 12"),
                ("altered", "/u/2016/", "1", "1", "as long, other bytes"),
            ],
        )
        self.assertEqual(self.findings(right), [])

    def test_files_elsewhere_are_moved_with_their_folder(self):
        moved = {path.replace("/u/", "/site/u/"): one for path, one in self.LEFT.items() if path.startswith("/u/")}
        right = {path: (404, "") for path in self.LEFT if path.startswith("/u/")} | moved
        right |= {path: one for path, one in self.LEFT.items() if path.startswith("/t/")}
        self.assertEqual(
            [one for one in self.told(right) if one[0] == "moved"],
            [("moved", "/u/2016/", "3", "3", "in /site/u/2016/"), ("moved", "/u/2017/", "3", "3", "in /site/u/2017/")],
        )
        self.assertEqual({kind for kind, _, _ in self.findings(right)}, {"files_moved"})
        case = dict(self.LEFT) | {"/t/mill.css": (404, ""), "/t/Mill.CSS": (200, "text/css", "a{}")}
        self.assertEqual(self.told(case)[0][:2], ("moved", "/t/"))

    def test_by_a_redirect(self):
        right = dict(self.LEFT) | {
            "/t/mill.css": (301, "/assets/mill.css"),
            "/assets/mill.css": (200, "text/css", "a{}"),
        }
        self.assertEqual(self.told(right)[0], ("moved", "/t/", "1", "1", "in /assets/, where redirects lead"))
        loop = dict(self.LEFT) | {"/t/mill.css": (301, "/t/mill.css")}
        self.assertEqual(self.told(loop)[0][:2], ("lost", "/t/"))

    def test_what_was_not_asked_or_not_fetched_is_not_judged(self):
        right = {path: one for path, one in self.LEFT.items() if path != "/t/mill.css"} | {"/t/mill.js": (-1, "")}
        self.assertEqual(self.told(right)[0], ("unknown", "/t/", "2", "0", "2 of 2: never asked, and others"))
        self.assertEqual(self.findings(right), [])

    def test_new_files_and_items(self):
        made = self.judged(dict(self.LEFT) | {"/extra/new.png": png("n"), "/u/2016/0.png": (404, "")})
        words = [VERDICTS[verdict].word for verdict in made.rows.verdict.tolist()]
        self.assertEqual(words[:2], ["lost", "new"])
        lost, new = made.rows.items
        self.assertEqual(lost.columns[0], [f"{OLD}/u/2016/0.png"])
        self.assertEqual(new.columns[1], [f"{NEW}/extra/new.png"])

    def test_accepting_some_does_not_accept_more(self):
        one = self.judged(dict(self.LEFT) | {"/u/2016/0.png": (404, "")}).findings
        two = self.judged(dict(self.LEFT) | {"/u/2016/0.png": (404, ""), "/u/2016/1.png": (404, "")}).findings
        self.assertEqual(one.key.tolist(), two.key.tolist())
        self.assertNotEqual(one.seen.tolist(), two.seen.tolist())


class GroupsTest(unittest.TestCase):
    def names(self, paths, chosen):
        return [(one.name, len(one.members), one.of) for one in file_groups.groups(paths, chosen)]

    def test_the_topmost_folder_that_is_whole(self):
        paths = ["/u/a/1.png", "/u/a/2.png", "/u/b/3.png", "/t/x.css"]
        self.assertEqual(self.names(paths, [0, 1, 2]), [("/u/", 3, 3)])
        self.assertEqual(self.names(paths, [0, 1]), [("/u/a/", 2, 2)])
        self.assertEqual(self.names(paths, [0, 1, 2, 3]), [("/", 4, 4)])

    def test_a_kind_of_file_or_a_year_that_is_whole(self):
        paths = [f"/{folder}/{n}.{end}" for folder in "abc" for n in range(2) for end in ("webp", "jpg")]
        webp = [at for at, path in enumerate(paths) if path.endswith("webp")]
        self.assertEqual(self.names(paths, webp), [("*.webp", 6, 6)])
        paths = [f"/u/{year}/{month}/{n}.jpg" for year in (2015, 2016) for month in ("01", "02") for n in range(2)]
        self.assertEqual(self.names(paths, [0, 1, 2, 3]), [("/u/2015/", 4, 4)])
        paths = [f"/{folder}/2015/{name}.jpg" for folder in ("u",) for name in "abc"] + ["/u/2015", "/u/2015/k.png"]
        self.assertEqual(self.names(paths, [0, 1, 2]), [("*.jpg", 3, 3)])

    def test_what_is_left_is_told_folder_by_folder(self):
        paths = [f"/a/{n}.png" for n in range(5)] + [f"/b/{n}.png" for n in range(5)]
        self.assertEqual(self.names(paths, [0, 1, 5]), [("/a/", 2, 5), ("/b/", 1, 5)])
        self.assertEqual(self.names(paths, []), [])

    def test_every_chosen_file_is_in_one_group(self):
        paths = [f"/{n % 3}/{n % 5}/{n}.{'png' if n % 2 else 'css'}" for n in range(60)]
        chosen = [n for n in range(60) if n % 7 in (0, 3)]
        members = [at for one in file_groups.groups(paths, chosen) for at in one.members]
        self.assertEqual(sorted(members), chosen)

    def test_a_path_without_end_is_told_by_its_topmost_folders(self):
        paths = ["/a" * 6_000 + "/x.png", "/b/y.png"]
        self.assertEqual(len(file_groups.folders(paths[0])), 30)
        self.assertEqual(sum(len(one.members) for one in file_groups.groups(paths, [0])), 1)

    def test_a_missing_file_lists_the_pages_that_ask_for_it(self):
        pages = {path: html(path) for path in ("/b", "/a", "/c")}
        held = ledger(pages, pages)
        right = {"/img.png": (404,)}
        sides = (
            Side((f"{OLD}/",), files=answers(OLD, {"/img.png": png("x")})),
            Side((f"{NEW}/",), files=answers(NEW, right, pages, {"/img.png": 3}, {"/img.png": ("/c", "/a", "/none")})),
        )
        found = CHECK.judge(Looked(*sides, read(f"{OLD} -> {NEW}"), "Palinode", held)).findings
        (missing,) = found.single.values()
        self.assertEqual([addresses.path(held.left_address[row]) for row in missing.on.tolist()], ["/a", "/c"])
        self.assertEqual(missing.pages, 2, "those that are no rows of pages do not count")

    def test_families(self):
        for media, address, expected in (
            ("image/png", "/a", "image"),
            ("", "/a.WOFF2?v=1", "font"),
            ("application/octet-stream", "/a.zip", "archive"),
            ("text/css; charset=utf-8", "/a", "style"),
            ("text/html", "/a.png", "page"),
            ("", "/a", ""),
        ):
            self.assertEqual(family(media, f"http://a.example{address}"), expected)

    def test_a_page_under_the_type_of_a_picture_shows_what_it_is(self):
        for media, address, body, expected in (
            ("image/png", "/a", b"\xef\xbb\xbf\n<!-- -->\n <!DOCTYPE html><p>Away", "text/html"),
            ("text/css", "/a.css", b"<html lang=en>", "text/html"),
            ("application/octet-stream", "/a.zip", b"<HTML>", "text/html"),
            ("application/octet-stream", "/a", b"<html>", "application/octet-stream"),
            ("image/svg+xml", "/a.svg", b'<?xml version="1.0"?><!DOCTYPE svg><svg/>', "image/svg+xml"),
            ("text/javascript", "/a.js", b"<!-- old browsers\nx()", "text/javascript"),
            ("application/json", "/a.json", b"<html>", "text/html"),
            ("image/png", "/a.png", b"<!--" * 500_000, "image/png"),
            ("image/png", "/a.png", b"", "image/png"),
        ):
            with self.subTest(media=media, body=body[:20]):
                self.assertEqual(shown_type(media, f"http://a.example{address}", body), expected)
