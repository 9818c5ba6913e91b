"""The check of files on disk: only what differs is a row, folder by folder, with the files that a database row names."""

import unittest

from demo.wordpress_dump import Post, WordPressDump
from palinode.core import causes, findings
from palinode.core.causes.cause import Ground
from palinode.core.checks.disk_files.check import CHECK, DiskFilesOptions
from palinode.core.checks.looked import Looked, Side
from palinode.core.checks.outcome import Outcome
from palinode.core.checks.pages import findings as page_findings
from palinode.core.listings import listing
from palinode.core.listings.listing import Listing
from palinode.core.rule import read
from tests.core.build import NEW, OLD, html, ledger
from tests.core.site_items import items

UPLOADS = "wp-content/uploads"
FILES = {
    **{f"{UPLOADS}/2021/wheel-{n}.jpg": 100 + n for n in range(6)},
    **{f"{UPLOADS}/2022/tide-{n}.jpg": 200 + n for n in range(6)},
    "index.php": 400,
    "wp-content/cache/page.html": 9,
    "error_log": 1,
}


def held(files: dict[str, int], unread: int = 0) -> Listing:
    """Return a list with sizes."""
    return listing.made({path.encode(): (size, 0) for path, size in files.items()}, unread)


def judged(right: dict[str, int], left: dict[str, int] | None = None, **more) -> Outcome:
    """Return what the check makes of two lists."""
    dump, options = more.get("dump"), more.get("options")
    sides = (
        Side((f"{OLD}/",), listing=held(FILES if left is None else left)),
        Side((f"{NEW}/",), listing=held(right, more.get("unread", 0)), items=items(dump) if dump else None),
    )
    return CHECK.judge(Looked(*sides, read(f"{OLD}/ -> {NEW}/"), "Palinode", pages=more.get("pages"), options=options))


def rows(made: Outcome) -> list[tuple[str, str, str, str, str]]:
    """Return verdict, name, numbers and note of each row but the two last ones, which sum up the others."""
    told = made.rows
    words = [CHECK.verdicts[number].word for number in told.verdict.tolist()]
    found = zip(words, told.left_note, told.left, told.right, told.right_note, strict=True)
    return [one for one in found if one[0] not in ("same", "set_aside")]


def kinds(made: Outcome) -> list[tuple[str, str]]:
    found = made.findings
    return [(found.kind_of(place).word, found.detail[place]) for place in range(len(found))]


def without(*endings: str) -> dict[str, int]:
    return {path: size for path, size in FILES.items() if not path.endswith(endings)}


class DiskFilesTest(unittest.TestCase):
    def test_the_same_files(self):
        made = judged(FILES)
        self.assertEqual((rows(made), kinds(made), made.unseen), ([], [], ()))
        self.assertEqual((made.rows.left, made.rows.right_note), (["15"], ["15 files, compared by their sizes"]))

    def test_a_folder_and_single_files_missing(self):
        made = judged(
            {path: size for path, size in FILES.items() if "/2021/" not in path and not path.endswith("tide-3.jpg")}
        )
        self.assertEqual(
            rows(made),
            [
                ("missing", f"{UPLOADS}/2021/", "6", "0", "all 6 missing"),
                ("missing", f"{UPLOADS}/2022/", "1", "0", "1 missing"),
            ],
        )
        self.assertEqual([kind for kind, _ in kinds(made)], ["disk_missing", "disk_missing"])
        number = int(made.rows.numbers["items"][0])
        self.assertEqual(made.rows.items[number].columns[0][0], f"{UPLOADS}/2021/wheel-0.jpg")
        self.assertEqual(made.rows.items[number].columns[2][0], "100 B")

    def test_empty_different_and_other_letters(self):
        right = without("tide-0.jpg") | {
            f"{UPLOADS}/2022/tide-1.jpg": 0, "index.php": 401, f"{UPLOADS}/2022/Tide-0.JPG": 200, "hello.php": 7,
        }  # fmt: skip
        made = judged(right)
        self.assertEqual(
            [one[:2] for one in rows(made)],
            [
                ("empty", f"{UPLOADS}/2022/"),
                ("different", "the folder of the site"),
                ("letters", f"{UPLOADS}/2022/"),
                ("more", "the folder of the site"),
            ],
        )
        self.assertEqual({kind for kind, _ in kinds(made)}, {"disk_empty", "disk_different", "disk_letters"})

    def test_a_folder_that_stands_one_deeper(self):
        right = {path.replace("/2022/", "/2022/2022/"): size for path, size in FILES.items()}
        made = judged(right)
        self.assertEqual(rows(made), [("moved", f"{UPLOADS}/", "6", "6", f"now in {UPLOADS}/2022/")])
        self.assertEqual(kinds(made)[0][0], "disk_moved")

    def test_what_is_left_out(self):
        made = judged({path: size for path, size in FILES.items() if "cache" not in path and path != "error_log"})
        self.assertEqual(rows(made), [])
        self.assertEqual(made.rows.right_note[-1], "by the options of this check")
        made = judged(without("index.php"), options=DiskFilesOptions(("*.php",)))
        self.assertEqual(rows(made), [])

    def test_files_that_the_database_names(self):
        posts = (
            Post(1, "Tide"),
            Post(2, "Wheel", "attachment", "inherit", parent=1, file="2021/wheel-0.jpg"),
            Post(3, "Never there", "attachment", "inherit", file="2019/never.jpg"),
        )
        pages = {"/2020/03/tide/": html("Tide")}
        made = judged(without("wheel-0.jpg"), dump=WordPressDump(posts=posts), pages=ledger(pages, pages))
        named = [one for one in rows(made) if one[0] == "named"]
        self.assertEqual(named, [("named", "Files that the database names", "1", "0",
                                  f"2 not on disk: {UPLOADS}/2021/wheel-0.jpg, and others")])  # fmt: skip
        number = int(made.rows.numbers["items"][made.rows.left_note.index("Files that the database names")])
        self.assertEqual(
            list(zip(*made.rows.items[number].columns, strict=True)),
            [
                (f"{UPLOADS}/2021/wheel-0.jpg", "", "named by “Wheel”", "/2020/03/tide/"),
                ("", "", "named by “Never there”, not at the source either", ""),
            ],
        )

    def test_documents_whose_files_were_not_copied(self):
        left = FILES | {f"tides/{year}.html": year for year in range(2010, 2016)}
        paths = {f"/tides/{year}.html": html(str(year), f"Tides of {year}") for year in range(2010, 2016)}
        gone = {path: (404, "") for path in paths if "/2010" in path or "/2011" in path}
        pages = ledger(paths, paths | gone)
        made = judged({path: size for path, size in left.items() if f"/{path}" not in gone}, left=left, pages=pages)
        found = findings.joined([page_findings.find(pages), made.findings])
        (one,) = causes.find(Ground(pages, found, checks=("pages", "disk"), outcomes={"disk": made}))
        self.assertEqual((one.kind, one.pages, one.number), ("files_not_copied", 2, 3))
        self.assertEqual(one.title, "2 documents are lost: their files were not copied")
        self.assertEqual(one.detail, "Missing on disk: tides/.")

    def test_lines_that_could_not_be_read(self):
        self.assertEqual(
            judged(FILES, unread=3).unseen,
            ("3 lines of the list of files of the destination, which say nothing of a file",),
        )
