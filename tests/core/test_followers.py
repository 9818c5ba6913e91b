"""What only follows from another finding names it, does not count by itself, and is set aside with it."""

import unittest

from palinode.core import causes
from palinode.core.checks.files import FILE_MISSING
from palinode.core.findings import Finding
from palinode.core.judgement import Accepted, marks
from tests.core.build import OLD, Given, ground, judged

ITEMS = {f"/journal/{name}": f"On {name}" for name in ("wheels", "stones", "gates")}


def page(title: str, *parts: str) -> Given:
    return 200, f"<title>{title} - The mill</title><main>{''.join(parts)}</main>"


def listed(*names: str, more: str = "") -> Given:
    """Return a list page that names some items."""
    items = [f"<li><a href={name}>{ITEMS[name]}</a></li>" for name in names]
    return page("Journal", "<p>tides and flour</p>", f"<ul>{''.join(items)}</ul>", more)


def site(list_page: Given) -> dict[str, Given]:
    return {"/journal": list_page} | {name: page(title, f"<p>{title}</p>") for name, title in ITEMS.items()}


def told(on):
    """Return the details of findings that follow, each with that of the one that it follows from."""
    assert on.follows is not None
    found = on.findings
    return sorted(
        (found.detail[at], f"{found.kind_of(owner).word} {found.left[owner].removeprefix(OLD)}")
        for at, owner in enumerate(on.follows.tolist())
        if owner >= 0
    )


LOST = "lost /journal/stones"


class FollowersTest(unittest.TestCase):
    def lost(self, before: Given, after: Given):
        return ground(site(before), site(after) | {"/journal/stones": (404, "")})

    def test_a_list_that_no_longer_names_a_lost_page(self):
        on = self.lost(listed(*ITEMS), listed("/journal/wheels", "/journal/gates"))
        self.assertEqual(told(on), [("link to /journal/stones is missing", LOST), ("“On stones” is gone", LOST)])

    def test_a_link_by_other_words_than_the_title_of_its_page(self):
        left, right = (
            page("Journal", f"<ul><li>{link}</li><li>x</li></ul>")
            for link in ("<a href=/journal/stones>The old pair</a>", "")
        )
        self.assertEqual(
            told(self.lost(left, right)),
            [("link to /journal/stones is missing", LOST), ("“The old pair” is gone", LOST)],
        )

    def test_a_page_that_names_it_less_often(self):
        link = "<p><a href=/journal/stones>stones</a> here</p>"
        twice, once = page("Journal", link, link.replace("here", "there")), page("Journal", link)
        self.assertIn(("link to /journal/stones stands there fewer times", LOST), told(self.lost(twice, once)))

    def test_a_count_that_is_one_lower(self):
        before = listed(*ITEMS, more="<p>3 entries since 1999</p>")
        on = self.lost(before, listed("/journal/wheels", "/journal/gates", more="<p>2 entries since 1999</p>"))
        self.assertIn(("“3 entries since 1999” became “2 entries since 1999”", LOST), told(on))
        on = self.lost(before, listed("/journal/wheels", "/journal/gates", more="<p>1 entries since 1999</p>"))
        self.assertEqual(len(told(on)), 2, "two lower is something else")

    def test_a_link_that_skips_it(self):
        left = site(listed(*ITEMS))
        left["/journal/wheels"] = page("On wheels", "<p>x</p><a href=/journal/stones>next</a>")
        right = left | {"/journal/wheels": page("On wheels", "<p>x</p><a href=/journal/gates>next</a>")}
        on = ground(left, right | {"/journal/stones": (404, "")})
        self.assertEqual(told(on), [("link to /journal/stones leads to /journal/gates", LOST)])

    def test_a_link_that_leads_back_to_the_old_host_counts(self):
        left = site(listed(*ITEMS))
        back = listed(*ITEMS)[1].replace("href=/journal/stones", f"href={OLD}/journal/stones")
        on = ground(left, left | {"/journal": (200, back), "/journal/stones": (404, "")})
        self.assertEqual(told(on), [])

    def test_a_link_that_is_gone_though_its_page_is_there_counts(self):
        on = ground(site(listed(*ITEMS)), site(listed("/journal/wheels", "/journal/gates")))
        self.assertEqual(told(on), [])
        self.assertEqual(len(on.findings), 2)

    def test_a_menu_that_no_longer_names_a_lost_page(self):
        left = {"/": page("Home", "<nav><a href=/journal/stones>Stones</a></nav>")} | site(listed(*ITEMS))
        menu = Finding(
            next(kind for kind in self.lost(listed(*ITEMS), listed(*ITEMS)).findings.kinds if kind.word == "template_link"),
            "link /journal/stones", 4, "", "", "link to /journal/stones is gone",
        )  # fmt: skip
        on = ground(left, left | {"/journal/stones": (404, "")}, shared=[menu])
        self.assertEqual(told(on), [("link to /journal/stones is gone", LOST)])

    def test_a_page_number_that_fell_away_at_the_end(self):
        numbered = {f"/journal/page/{n}": page(f"Page {n}", f"<p>list {n}</p>") for n in (2, 3)}
        left = site(listed(*ITEMS)) | numbered
        gone = {"/journal/stones": (404, ""), "/journal/page/3": (404, "")}
        self.assertEqual(told(ground(left, left | gone)), [("not found", LOST)])
        middle = {"/journal/stones": (404, ""), "/journal/page/2": (404, "")}
        self.assertEqual(told(ground(left, left | middle)), [], "one from the middle is no end")
        self.assertEqual(told(ground(left, left | {"/journal/page/3": (404, "")})), [], "nothing that it held is lost")

    def test_one_fault_of_one_subject_that_two_checks_see(self):
        image = "<img src=/img/wheel.png>"
        left, right = {"/": page("Home", image, "<p>x</p>")}, {"/": page("Home", "<p>x</p>")}
        missing = Finding(FILE_MISSING, "", 1, f"{OLD}/img/wheel.png", "", "not found", about=f"{OLD}/img/wheel.png")
        self.assertEqual(told(ground(left, right, shared=[missing])), [("not found", "images /")])

    def test_followers_have_no_cause_of_their_own_and_go_with_their_owner(self):
        on = self.lost(listed(*ITEMS), listed("/journal/wheels", "/journal/gates"))
        self.assertEqual([(one.kind, one.number) for one in causes.find(on)], [("pages_lost", 1)])
        self.assertEqual(judged(on).standing["since"], {})
        self.assertEqual([one.findings for one in judged(on).causes], [1])
        place = [on.findings.kind_of(at).word for at in range(3)].index("lost")
        mark = marks(on.findings.key, on.findings.seen)[place : place + 1]
        found = judged(on, Accepted.of([(7, mark)]))
        self.assertEqual(found.decision.tolist(), [7, 7, 7])
        self.assertEqual(found.causes, ())


class ListsTest(unittest.TestCase):
    """What lists say otherwise once a page of theirs is lost."""

    def site(self, gone: int | None = None) -> dict[str, Given]:
        """Return twenty notes, four to a page of their list, and a folder of those of a month."""
        notes = [n for n in range(20) if n != gone]
        made: dict[str, Given] = {"/": page("Home", "<p>Welcome to all of you</p>")}
        made |= {f"/2031/04/note-{n}": page(f"Note {n}", f"<p>What was noted on day {n}</p>") for n in notes}
        entry = "<h2><a href=/2031/04/note-{0}>Note {0}</a></h2><p>What was noted on day {0}</p>"
        for at in range(5):
            some = "".join(entry.format(n) for n in notes[at * 4 : at * 4 + 4])
            made["/notes/" if at == 0 else f"/notes/page/{at + 1}/"] = page("Notes", some)
        made["/2031/04/"] = page("April", "".join(entry.format(n) for n in notes), "<p>That is all for April</p>")
        return made

    def test_entries_that_moved_up_and_the_month_follow(self):
        right = self.site(gone=6) | {"/2031/04/note-6": (404, "")}
        on = ground(self.site(), right)
        (lost,) = [at for at in range(len(on.findings)) if on.findings.kind_of(at).word == "lost"]
        free = [on.findings.detail[at] for at in range(len(on.findings)) if at != lost and on.follows[at] < 0]
        self.assertEqual(free, [])

    def test_another_change_of_the_month_counts(self):
        right = self.site(gone=6) | {"/2031/04/note-6": (404, "")}
        right["/2031/04/"] = (200, right["/2031/04/"][1].replace("That is all for April", "There was more in April"))
        on = ground(self.site(), right)
        free = [on.findings.detail[at] for at in range(len(on.findings)) if on.follows[at] < 0]
        self.assertIn("“That is all for April” became “There was more in April”", free)

    def test_pages_of_the_list_before_the_lost_one_count(self):
        right = self.site(gone=18) | {"/2031/04/note-18": (404, "")}
        right["/notes/page/2/"] = page("Notes", "<p>Something else altogether stands here now</p>")
        on = ground(self.site(), right)
        free = {on.findings.left[at].removeprefix(OLD) for at in range(len(on.findings)) if on.follows[at] < 0}
        self.assertIn("/notes/page/2/", free)
