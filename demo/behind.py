"""What stands behind the mill's two sites: the database, an export of it, the files on the disk."""

import calendar
import hashlib
import random
from collections import Counter
from collections.abc import Iterator
from html import escape

from demo import mill
from demo.content import journal, recipes
from demo.faults import Faults
from demo.pages import Page
from demo.wordpress_dump import Post, WordPressDump

_CATEGORIES = ("Tides", "Repairs", "Harbour", "Wildlife")
_FIRST_CATEGORY, _FIRST_PAGE, _FIRST_FILE, _FIRST_DRAFT, _FIRST_REVISION = 11, 1_001, 2_001, 3_001, 4_001
_STOPPED_AFTER = 1_900
"""Rows of the order lines after which the import of the new host stopped."""
_PEOPLE = (
    ("hester", "administrator"),
    ("tobias", "editor"),
    ("agnes", "author"),
    ("owen", "author"),
    ("miriam", "editor"),
)
_CUSTOMERS = 73
_EXTENSIONS = (
    "harbour-events/harbour-events.php",
    "seabook/seabook.php",
    "tide-clock/tide-clock.php",
    "wares/wares.php",
)


def dump(new: bool, faults: Faults) -> bytes:
    """Return the dump of the old or the new site's database, as the faults that are set left it."""
    made = _database(new)
    if new and "term" in faults:
        made = _without_harbour(made)
    if new and "sample" in faults:
        made = made.but(
            posts=[*made.posts, Post(9_001, "Hello world", text="This is your first post.", date="2026-11-20 09:00:00")]
        )
    if new and "events" in faults:
        made = made.but(options=made.options | {"active_plugins": _texts(*_EXTENSIONS[1:])})
    if new and "leftovers" in faults:
        made = _carelessly_replaced(made)
    if new and "orders" in faults:
        columns, lines = made.more["wp_wares_lines"]
        # The tables stand in the order of their names.
        made = made.but(
            more={"wp_wares_lines": (columns, lines[:_STOPPED_AFTER])},
        )
    return made.sql()


def files(new: bool, faults: Faults) -> bytes:
    """Return the files of the old or the new host, as sha256sum lists them."""
    found = {
        "index.php": b"<?php require 'wp-blog-header.php';",
        "style/mill.css": b"body {}",
        "wp-config.php": b"<?php // new" if new else b"<?php // old",
        **{f"images/{slug}.svg": slug.encode() for slug, *_ in journal.TOPICS},
        **{f"images/{slug}.svg": slug.encode() for slug, *_ in recipes.FLOURS},
        **{page.path.removeprefix("/"): page.body for page in mill.site(new=False).values() if page.body},
    }
    if new and "tides" in faults:
        found = {path: data for path, data in found.items() if not ("tide-tables/2010" <= path < "tide-tables/2017")}
    if new and "style" in faults:
        found = {path: data for path, data in found.items() if not path.startswith("style/")}
    lines = (f"{hashlib.sha256(data).hexdigest()}  ./{path}\n" for path, data in sorted(found.items()))
    return "".join(lines).encode()


def export() -> bytes:
    """Return the export of the old site (WXR)."""
    made = _database(new=False)
    return "".join(_export(made)).encode()


def _database(new: bool) -> WordPressDump:
    site = mill.site(new)
    origin = f"http://{mill.NEW if new else mill.OLD}"
    posts, counters = _journal(site, mill.template(new).origin)
    draw = random.Random("comments")
    comments = [
        (number, draw.choice(posts).number, draw.choices(("1", "0", "spam"), (8, 1, 3))[0]) for number in range(1, 241)
    ]
    approved = Counter(post for _, post, status in comments if status == "1")
    posts = [one.but(comments=approved[one.number]) for one in posts]
    customers = [(100 + number, f"guest-{number}", "customer") for number in range(_CUSTOMERS)]
    return WordPressDump(
        posts=[*posts, *_pages(site, "/store" if new else "/shop"), *_files(site), *_drafts(), *_revisions()],
        terms=[
            (1, "category", "Uncategorised", 0),
            *(
                (_FIRST_CATEGORY + number, "category", name, counters[number])
                for number, name in enumerate(_CATEGORIES)
            ),
        ],
        comments=comments,
        accounts=[*((number, name, role) for number, (name, role) in enumerate(_PEOPLE, 1)), *customers],
        options={
            "home": origin,
            "siteurl": origin,
            "blogname": "Quillhaven Tide Mill",
            "template": "millrace",
            "stylesheet": "millrace",
            "permalink_structure": "/journal/%year%/%postname%",
            "show_on_front": "page",
            "page_on_front": str(_FIRST_PAGE),
            "active_plugins": _texts(*_EXTENSIONS),
            "tide_clock": _texts(f"{origin}/tide-tables", "en"),
            "booking_mail": _texts(f"{origin}/visit", "Thank you for booking a walk"),
        },
        more=_wares(),
        first_home=f"http://{mill.OLD}",
    )


def _journal(site: dict[str, Page], origin: str) -> tuple[list[Post], list[int]]:
    """Return the posts of the journal, and how many of them each category has."""
    posts, counters = [], [0] * len(_CATEGORIES)
    for year in journal.YEARS:
        for topic, (slug, *_) in enumerate(journal.TOPICS):
            page = site[f"/journal/{year}/{slug}"]
            category = topic % len(_CATEGORIES)
            counters[category] += 1
            posts.append(
                Post(
                    len(posts) + 1,
                    page.title,
                    slug=slug,
                    text=page.main.replace('href="/', f'href="{origin}/'),
                    author=topic % len(_PEOPLE) + 1,
                    date=f"{year}-{topic + 1:02}-{topic * 2 + 3:02} 09:30:00",
                    terms=(_FIRST_CATEGORY + category,),
                )
            )
    return posts, counters


def _pages(site: dict[str, Page], shop: str) -> list[Post]:
    """Return the pages, each below the one whose path its own begins with."""
    paths = [path for path, page in site.items() if not page.body and not path.startswith("/journal")]
    numbers = {path: _FIRST_PAGE + place for place, path in enumerate(paths)}
    return [
        Post(
            number,
            site[path].title,
            "page",
            slug=path.rpartition("/")[2] or "home",
            text=site[path].main,
            parent=numbers.get(path.rpartition("/")[0], 0) if path.count("/") > 1 else 0,
            date="2015-01-05 10:00:00",
        )
        for path, number in numbers.items()
    ]


def _files(site: dict[str, Page]) -> list[Post]:
    papers = [page for page in site.values() if page.body]
    return [
        Post(
            _FIRST_FILE + number,
            page.title,
            "attachment",
            "inherit",
            slug=page.title.lower().replace(" ", "-").replace(",", ""),
            date=f"{page.path.split('/')[2]}-01-02 08:00:00",
            file=page.path.removeprefix("/tide-tables/"),
        )
        for number, page in enumerate(papers)
    ]


def _drafts() -> list[Post]:
    return [
        Post(_FIRST_DRAFT + number, f"Notes for {month}", status="draft", date=f"2024-{number + 1:02}-01 20:00:00")
        for number, month in enumerate(calendar.month_name[1:])
    ]


def _revisions() -> list[Post]:
    return [
        Post(
            _FIRST_REVISION + number,
            "Visit the mill",
            "revision",
            "inherit",
            slug=f"{_FIRST_PAGE + 1}-revision-v1",
            parent=_FIRST_PAGE + 1,
        )
        for number in range(86)
    ]


def _wares() -> dict[str, tuple[str, list[tuple[int | str, ...]]]]:
    """Return the tables of the shop's extension."""
    draw = random.Random("wares")
    orders = [(number, 100 + draw.randrange(_CUSTOMERS), f"{draw.randint(4, 60)}.50") for number in range(1, 882)]
    lines = [
        (number, draw.randint(1, 881), draw.choice(recipes.FLOURS)[0], draw.randint(1, 4)) for number in range(1, 3_025)
    ]
    return {
        "wp_wares_lines": (
            "id bigint(20) NOT NULL AUTO_INCREMENT, order_id bigint(20), sku varchar(40), bags int(11)",
            lines,
        ),
        "wp_wares_orders": ("id bigint(20) NOT NULL AUTO_INCREMENT, user_id bigint(20), total varchar(20)", orders),
        "wp_wares_stock": (
            "sku varchar(40), bags int(11)",
            [(slug, draw.randint(0, 90)) for slug, *_ in recipes.FLOURS],
        ),
        "wp_wares_visits_log": ("id bigint(20), path varchar(255)", [(number, "/shop") for number in range(1, 401)]),
    }


def _without_harbour(made: WordPressDump) -> WordPressDump:
    """Return a database in which one category was dropped, and its posts are under the one by default."""
    harbour = _FIRST_CATEGORY + _CATEGORIES.index("Harbour")
    moved = [one.but(terms=(1,)) if harbour in one.terms else one for one in made.posts]
    gone = sum(harbour in one.terms for one in made.posts)
    terms = [(1, "category", "Uncategorised", gone), *(one for one in made.terms[1:] if one[0] != harbour)]
    return made.but(posts=moved, terms=terms)


def _carelessly_replaced(made: WordPressDump) -> WordPressDump:
    """Return a database in which old addresses stayed, and one was replaced without counting again."""
    old, new = f"http://{mill.OLD}", f"http://{mill.NEW}"
    posts = [one.but(text=one.text.replace(new, old)) if one.date.startswith("2018") else one for one in made.posts]
    left = {
        "tide_clock": _texts(f"{old}/tide-tables", "en"),
        "booking_mail": _texts(f"{old}/visit", "Thank you for booking a walk").replace(old, new),
    }
    return made.but(posts=posts, options=made.options | left)


def _texts(*texts: str) -> str:
    """Return texts as PHP serializes a list of them."""
    entries = "".join(f'i:{number};s:{len(text.encode())}:"{text}";' for number, text in enumerate(texts))
    return f"a:{len(texts)}:{{{entries}}}"


def _export(made: WordPressDump) -> Iterator[str]:
    yield (
        '<?xml version="1.0" encoding="UTF-8" ?>\n<rss version="2.0" xmlns:content="http://purl.org/rss/1.0/modules/content/" '
        'xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:wp="http://wordpress.org/export/1.2/">\n<channel>\n'
        f"<title>{made.options['blogname']}</title>\n<wp:base_blog_url>{made.options['home']}</wp:base_blog_url>\n"
    )
    for number, name, _ in made.accounts:
        yield f"<wp:author><wp:author_id>{number}</wp:author_id><wp:author_login>{name}</wp:author_login></wp:author>\n"
    for number, _, name, _ in made.terms:
        yield (
            f"<wp:category><wp:term_id>{number}</wp:term_id><wp:category_nicename>{name.lower()}</wp:category_nicename>"
            f"<wp:cat_name>{name}</wp:cat_name></wp:category>\n"
        )
    for one in made.posts:
        if one.kind != "revision":
            yield (
                f"<item><title>{escape(one.title)}</title><content:encoded>{escape(one.text)}</content:encoded>"
                f"<wp:post_id>{one.number}</wp:post_id><wp:post_date>{one.date}</wp:post_date><wp:post_name>{one.name}"
                f"</wp:post_name><wp:status>{one.status}</wp:status><wp:post_type>{one.kind}</wp:post_type></item>\n"
            )
    yield "</channel></rss>\n"
