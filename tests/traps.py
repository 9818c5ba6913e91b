"""A site of so many pages, beside ten traps that have no end; and one whose pages have but a number."""

import itertools
import random
from calendar import day_name, month_name
from collections.abc import Callable
from functools import cache

from tests.site import Answer
from tests.words import WORDS

COLOURS = ["red", "blue", "green", "white", "black", "brown"]
SIZES = ["small", "middle", "large", "huge", "tiny"]
CLOTHS = ["linen", "wool", "cotton", "hemp", "silk"]
PRICES = ["cheap", "dear", "free"]


def page(title: str, *links: str, text: str) -> Answer:
    """Return a page whose links do not show where they lead."""
    anchors = " ".join(f'<a href="{link}">on</a>' for link in links)
    return Answer(f"<!doctype html><title>{title}</title><main><h1>{title}</h1><p>{text}</p><p>{anchors}</p></main>")


@cache
def text(number: int) -> str:
    """Return what the page of a number says, and no other."""
    draw = random.Random(number)
    return " ".join(draw.choices(WORDS, k=60))


def numbered(pages: int) -> Callable[[str], Answer | None]:
    """Return a site whose pages are ``/?id=N``, each leading to the next two."""

    def find(path: str) -> Answer | None:
        if path == "/":
            return page("Home", "/?id=1", text="Welcome")
        number = path.removeprefix("/?id=")
        if not number.isdigit() or not 0 < int(number) <= pages:
            return None
        on = [f"/?id={n}" for n in (int(number) * 2, int(number) * 2 + 1) if n <= pages]
        return page(f"Number {number}", *on, text=text(int(number)))

    return find


class Traps:
    """The site: ``/p/N`` are its pages; ``find`` answers a path."""

    def __init__(self, pages: int) -> None:
        self.pages = pages
        self.session = itertools.count(1000)
        self.ways: dict[str, Callable[[str], Answer | None]] = {
            "/p/": self._page,
            "/cal?": self._calendar,
            "/days/": self._days,
            "/shop?": self._facets,
            "/wear/": self._wear,
            "/down": self._down,
            "/news/page/": self._list,
            "/tag/": self._tags,
            "/login?": lambda _: page("Log in", text="Give your name and your word to come in here"),
            "/go?": lambda path: Answer(status=302, headers={"Location": f"/go?n={next(self.session)}"}),
        }

    def find(self, path: str) -> Answer | None:
        """Return what a path answers."""
        if path == "/":
            return page(
                "Home", "/p/1", "/cal?m=1&y=2026", "/days/2026/1/1", "/shop?sort=up", "/wear/red", "/down",
                "/news/page/1", "/tag/tide", "/go?n=1", *(f"/p/{n}" for n in range(2, self.pages, 50)),
                text="Welcome",
            )  # fmt: skip
        return next((made(path) for start, made in self.ways.items() if path.startswith(start)), None)

    def _page(self, path: str) -> Answer | None:
        number = path.partition("?")[0].partition(";")[0].removeprefix("/p/")
        if not number.isdigit() or not 0 < int(number) <= self.pages:
            return None
        following = [n % self.pages + 1 for n in (int(number), int(number) * 7, int(number) * 3)]
        # A session's number in the path of some links, in the query of others.
        token = next(self.session)
        links = [f"/p/{following[0]};sid={token}", f"/p/{following[1]}?zanzibar={token}", f"/p/{following[2]}"]
        return page(f"Page {number}", *links, f"/login?return=/p/{number}", text=text(int(number)))

    def _calendar(self, path: str) -> Answer:
        month, year = (int(part.partition("=")[2]) for part in path.partition("?")[2].split("&"))
        on, back = month % 12 + 1, (month - 2) % 12 + 1
        links = [
            f"/cal?m={on}&y={year + month // 12}",
            f"/cal?m={back}&y={year - (month == 1)}",
            f"/cal?m=1&y={year + 1}",
        ]
        return page(f"{month_name[month]} {year}", *links, text=f"In {month_name[month]} {year} there is nothing on")

    def _days(self, path: str) -> Answer | None:
        year, month, *day = (int(part) for part in path.removeprefix("/days/").split("/"))
        if not 1 <= month <= 12:
            return None
        if not day:
            return page(
                f"{month_name[month]} {year}",
                *(f"/days/{year}/{month}/{n}" for n in range(1, 29)),
                f"/days/{year + 1}/{month}",
                text="Choose a day",
            )
        name = day_name[(year * 365 + month * 30 + day[0]) % 7]
        links = [
            f"/days/{year}/{month % 12 + 1}",
            f"/days/{year + 1}/{month}",
            f"/days/{year}/{month}/{day[0] % 28 + 1}",
        ]
        return page(f"{name}, {day[0]} {month_name[month]} {year}", *links, text="No events on this day.")

    def _facets(self, path: str) -> Answer:
        chosen = dict(part.partition("=")[::2] for part in path.partition("?")[2].split("&"))
        more = [
            ("colour", COLOURS),
            ("size", SIZES),
            ("cloth", CLOTHS),
            ("price", PRICES),
            ("page", map(str, range(9))),
        ]
        links = [
            "/shop?" + "&".join(f"{name}={value}" for name, value in (chosen | {one: value}).items())
            for one, values in more
            for value in values
        ]
        return page("Shop", *links, text=self._teasers(str(sorted(chosen.values()))))

    def _wear(self, path: str) -> Answer:
        chosen = path.removeprefix("/wear/").split("/")
        links = [f"{path}/{value}" for value in (*COLOURS, *SIZES, *CLOTHS, *PRICES) if value not in chosen]
        return page("Clothes to wear", *links, text=self._teasers(path))

    def _teasers(self, chosen: str) -> str:
        draw = random.Random(chosen)
        return "".join(f"<p>{text(-n - 1)[:120]}</p>" for n in draw.sample(range(60), 12))

    def _down(self, path: str) -> Answer:
        return page("Further down", f"{path}/down", f"{path}/stairs", text="Mind the step")

    def _list(self, path: str) -> Answer | None:
        number = path.removeprefix("/news/page/")
        news = [text(-100 - n)[:40] for n in range(int(number) * 5, int(number) * 5 + 5) if n < 30]
        return page(
            "News", f"/news/page/{int(number) + 1}", text=" ".join(f"<p>{one}</p>" for one in news) or "No more."
        )

    def _tags(self, path: str) -> Answer:
        chosen = path.removeprefix("/tag/").split("+")
        links = [f"{path}+{word}" for word in WORDS[:20] if word not in chosen]
        return page("Tagged " + " and ".join(chosen), *links, text=self._teasers(path))
