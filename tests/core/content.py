"""Two sides whose content is counted, and what the check of content makes of them."""

from dataclasses import replace

from demo.wordpress_dump import Post, WordPressDump
from palinode.core.checks.content.check import CHECK
from palinode.core.checks.looked import Looked, Side
from palinode.core.checks.outcome import Outcome
from palinode.core.rule import read
from tests.core.build import NEW, OLD
from tests.core.site_items import items

RULE = read(f"{OLD}/ -> {NEW}/")
POSTS = tuple(Post(number, f"Tide {number}", terms=(3,)) for number in range(1, 9))
SITE = WordPressDump(
    posts=(
        *POSTS,
        Post(20, "About", "page"),
        Post(21, "Mill wheel", "attachment", "inherit"),
        Post(22, "Not yet", status="draft"),
        Post(23, "Tide 1", "revision", "inherit", slug="1-revision-v1"),
    ),
    terms=((3, "category", "News", 8), (4, "post_tag", "Rye", 0)),
    comments=((1, 1, "1"), (2, 1, "1"), (3, 2, "spam")),
    accounts=((1, "miller", "administrator"), (2, "anna", "editor")),
)
MOVED = {"home": NEW, "siteurl": NEW}


def judged(left: WordPressDump | None, right: WordPressDump | None, pages=None, options=None, known=None) -> Outcome:
    """Return what the check makes of two dumps."""
    known = known or (None, None)
    sides = [
        Side((f"{host}/",), items=items(dump) if dump else None, known=one)
        for host, dump, one in ((OLD, left, known[0]), (NEW, right, known[1]))
    ]
    return CHECK.judge(Looked(*sides, RULE, "Palinode", pages=pages, options=options))


def rows(made: Outcome) -> dict[str, tuple[str, str, str, str]]:
    """Return verdict, numbers and note of each row, by its name."""
    told = made.rows
    words = [CHECK.verdicts[number].word for number in told.verdict.tolist()]
    return dict(zip(told.left_note, zip(words, told.left, told.right, told.right_note, strict=True), strict=True))


def listed(made: Outcome, name: str) -> list[tuple[str, ...]]:
    """Return the items of a row."""
    number = int(made.rows.numbers["items"][made.rows.left_note.index(name)])
    return [] if number < 0 else list(zip(*made.rows.items[number].columns, strict=True))


def kinds(made: Outcome) -> dict[str, str]:
    """Return what was found, by kind."""
    found = made.findings
    return {found.kind_of(place).word: found.detail[place] for place in range(len(found))}


def without(*numbers: int) -> WordPressDump:
    """Return the site without some posts."""
    return SITE.but(posts=[one for one in SITE.posts if one.number not in numbers])


def changed(number: int, **changes) -> WordPressDump:
    """Return the site with another post of a number."""
    return SITE.but(posts=[replace(one, **changes) if one.number == number else one for one in SITE.posts])
