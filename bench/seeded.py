"""A seeded pair of sites: what changed from one to the other, and the truth about it, known as it is made."""

import random
from calendar import month_name
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from urllib.parse import quote

OLD, NEW = "http://tidemill.quillhaven.example", "http://quillhavenmill.example"

_SYLLABLES = [
    "ba",
    "ke",
    "lo",
    "mi",
    "nu",
    "ra",
    "se",
    "ti",
    "vo",
    "wa",
    "fe",
    "gri",
    "hol",
    "jun",
    "pra",
    "stel",
    "dor",
    "quin",
    "arl",
    "eth",
    "ond",
    "ush",
    "iver",
]
_SECTIONS = {"/journal": 0.4, "/shop": 0.25, "/recipes": 0.15, "/people": 0.1, "/visits": 0.1}


@dataclass
class Page:
    """One page, as both sides write it."""

    path: str
    title: str
    paragraphs: list[str]
    description: str = ""
    images: list[str] = field(default_factory=list)
    links: list[str] = field(default_factory=list)
    canonical: str = ""
    robots: str = ""
    form: str = ""
    language: str = "en"
    number: int = 0
    """The platform's own; 0 where its markup tells none."""
    date: tuple[int, int, int] = (1, 1, 2010)
    iso: bool = False
    """The date is written in figures."""
    back: bool = False
    """Its links lead to the old host."""
    note: str = ""
    """An aside inside its content."""
    shared: bool = False
    """A link shares it, with its own address inside another one."""
    secure: bool = False
    """Its links name their host by https, though the site is one of http."""
    listed: list[str] = field(default_factory=list)
    """Paths of the pages that it lists."""

    def html(self, host: str, footer: str, plain: bool = False) -> str:
        """Return its markup on a host; ``plain`` in a theme of boxes that say nothing, with a notice."""
        head = f"<title>{self.title} – Quillhaven Tide Mill</title>"
        if self.description:
            head += f'<meta name="description" content="{self.description}">'
        if self.canonical:
            head += f'<link rel="canonical" href="{host}{self.canonical}">'
        if self.robots:
            head += f'<meta name="robots" content="{self.robots}">'
        day, month, year = self.date
        date = f"{year}-{month:02}-{day:02}" if self.iso else f"{day} {month_name[month]} {year}"
        text = f"<p>Written on {date} by the miller.</p>" + "".join(f"<p>{one}</p>" for one in self.paragraphs)
        to = OLD if self.back else host.replace("http:", "https:") if self.secure else host
        text += "".join(f'<p><a href="{to}{link}">see also</a></p>' for link in self.links)
        text += "".join(f'<img src="{host}/media/{image}.jpg" alt="{image}">' for image in self.images)
        text += "".join(f'<div><a href="{host}{path}">{path.rpartition("/")[2]}</a></div>' for path in self.listed)
        if self.form:
            text += f'<form action="{host}/ask" method="post"><input name="{self.form}"></form>'
        if self.note:
            text += f"<aside><p>{self.note}</p></aside>"
        if self.shared:
            text += f'<p><a href="https://share.example/?u={quote(host + self.path, safe="")}">share</a></p>'
        if plain:
            return (
                f'<!doctype html><html lang="{self.language}"><head>{head}</head><body><div class="b1">'
                f'<div class="b2">The mill is closed in January.</div><div class="b3"><a href="{host}/">Home</a> '
                f'<a href="{host}/journal/">Journal</a> <a href="{host}/tickets">Tickets</a></div>'
                f'<div class="b4"><h1>{self.title}</h1>{text}</div><div class="b5">{footer}</div></div></body></html>'
            )
        body = f' class="page postid-{self.number}"' if self.number else ""
        return (
            f'<!doctype html><html lang="{self.language}"><head>{head}</head><body{body}>'
            f'<nav><a href="{host}/">Home</a> <a href="{host}/journal/">Journal</a></nav>'
            f"<main><h1>{self.title}</h1>{text}</main><footer>{footer}</footer></body></html>"
        )


@dataclass
class Collection:
    """Both sides, and what became of each source page."""

    left: dict[str, str]
    """Path to markup."""
    right: dict[str, str | tuple[int, str]]
    """Path to markup, or to a status and where it redirects to."""
    truth: dict[str, tuple[str, str]]
    """Left path to the kind of change and the right path; empty where it has none."""
    new: set[str]
    """Right paths of pages without a source."""
    images: dict[str, tuple[str, str]]
    """Path of an image to its contents on either side."""


class _Writer:
    def __init__(self, seed: int) -> None:
        self.draw = random.Random(seed)
        self.words = sorted({"".join(self.draw.choices(_SYLLABLES, k=self.draw.randint(1, 3))) for _ in range(6_000)})
        self.draw.shuffle(self.words)
        self.chance = [1 / (rank + 5) for rank in range(len(self.words))]

    def text(self, length: int) -> str:
        return " ".join(self.draw.choices(self.words, self.chance, k=length)) + "."

    def title(self) -> str:
        return " ".join(self.draw.choices(self.words, k=self.draw.randint(2, 5))).capitalize()

    def revised(self, text: str, share: float) -> str:
        words = text.split()
        return " ".join(self.draw.choice(self.words) if self.draw.random() < share else word for word in words)


def collection(pages: int = 3_000, seed: int = 5, theme: bool = False) -> Collection:
    """Make the two sites: two thirds unchanged, the others changed in one of KINDS each; with another ``theme``."""
    writer = _Writer(seed)
    draw = writer.draw
    left = _source(writer, pages)
    right: dict[str, Page | tuple[int, str]] = {}
    truth: dict[str, tuple[str, str]] = {}
    names = list(KINDS)
    settled = ["/"]
    """Right paths of pages that are unchanged."""
    twins: dict[str, Page] = {}
    for page in left:
        kind = _fixed(page) or (draw.choice(names) if draw.random() < 1 / 3 and page.path != "/" else "unchanged")
        copy = Page(**{**vars(page), "paragraphs": list(page.paragraphs), "images": list(page.images)})
        copy.links = list(page.links)
        if kind in ("unchanged", "list"):
            changed: Page | None = copy
        elif kind in FIXED:
            changed = FIXED[kind](writer, copy)
        else:
            changed = KINDS[kind](writer, copy)
        if changed is None:
            truth[page.path] = (kind, "")
            if kind == "front page":
                right[page.path] = _FRONT
            continue
        if kind.startswith("redirected"):
            right[page.path] = (301 if kind == "redirected" else 302, changed.path)
        if kind == "wrong redirect":
            right[page.path] = (301, draw.choice(settled))
        while changed.path in right:
            changed.path += "-2"
        right[changed.path] = changed
        truth[page.path] = (kind, changed.path)
        if kind == "unchanged":
            settled.append(changed.path)
            if draw.random() < 0.02 and page.path != "/":
                # The source has it under another address as well.
                twin = page.path + draw.choice(["?print=1", "/index.html", "/"])
                twins[twin] = page
                truth[twin] = ("twin", changed.path)
                if "?" not in page.path and draw.random() < 0.3:
                    # Two parameters, in either order.
                    for order in ("?size=large&colour=oak", "?colour=oak&size=large"):
                        twins[page.path + order] = page
                        truth[page.path + order] = ("twin", changed.path)
            elif draw.random() < 0.03 and page.links:
                page.secure = True
                truth[page.path] = ("twin scheme", changed.path)
    new = set()
    for number in range(pages // 30):
        page = _page(writer, f"/journal/fresh-{number}-{writer.words[number]}")
        right[page.path] = page
        new.add(page.path)
    footer = "© Quillhaven Tide Mill"
    moved = {path: to for path, (kind, to) in truth.items() if to and to != path}
    written: dict[str, str | tuple[int, str]] = {}
    for path, one in right.items():
        if isinstance(one, Page):
            # A destination's links lead to where its pages are now.
            one.links = [moved.get(link, link) for link in one.links]
            one.listed = [moved.get(link, link) for link in one.listed if truth[link][1]]
            if one.canonical:
                one.canonical = one.canonical if one.canonical != "=" else path
            written[path] = one.html(NEW, footer, theme)
        elif one == _FRONT:
            front = right["/"]
            assert isinstance(front, Page)
            written[path] = front.html(NEW, footer, theme)
        else:
            written[path] = one
    images = {f"/media/{image}.jpg": (image, image) for page in left for image in page.images}
    images |= {
        f"/media/{image}.jpg": ("", image.removeprefix("files-")) for one in right.values() if isinstance(one, Page)
        for image in one.images if image.startswith("files-")
    }  # fmt: skip
    both = {page.path: page.html(OLD, footer) for page in left}
    both |= {path: page.html(OLD, footer) for path, page in twins.items()}
    return Collection(both, written, truth, new, images)


_FRONT = (200, "/")
"""Where the destination answers with its front page."""


def _fixed(page: Page) -> str:
    """Return what becomes of all pages like this one; empty where it is drawn."""
    parts = page.path.split("/")
    if parts[1].isdigit():
        return "permalink" if len(parts) == 4 else "image page"
    if page.path.startswith("/?p="):
        return "clean path"
    return "list" if page.listed else ""


def _without_date(writer: _Writer, page: Page) -> Page:
    """The date went out of its path; it redirects from there."""
    page.path = page.canonical = "/" + "/".join(page.path.split("/")[3:])
    return page


def _clean(writer: _Writer, page: Page) -> Page:
    """It had a number for an address, and has its title in it now."""
    page.path = page.canonical = f"/journal/{page.title.lower().replace(' ', '-')}"
    return page


def _dated(writer: _Writer, number: int) -> Iterator[Page]:
    """Yield a post below its date, and some pages of its images, which say next to nothing."""
    draw = writer.draw
    title = writer.title()
    post = _page(
        writer, f"/{draw.randint(2014, 2019)}/{draw.randint(1, 12):02}/{title.lower().replace(' ', '-')}", title
    )
    yield post
    for _ in range(draw.randint(0, 2)):
        name = f"{writer.words[draw.randrange(600)]}-{draw.randrange(100)}"
        yield Page(f"{post.path}/{name}", name.replace("-", " "), [writer.text(3)], date=post.date)


def _source(writer: _Writer, pages: int) -> list[Page]:
    draw = writer.draw
    found: dict[str, Page] = {"/": Page("/", "Home", [writer.text(80)])}
    families = [[writer.text(60) for _ in range(3)] for _ in range(12)]
    while len(found) < pages:
        section = draw.choices(list(_SECTIONS), list(_SECTIONS.values()))[0]
        title = writer.title()
        page = _page(writer, f"{section}/{title.lower().replace(' ', '-')}", title)
        page.number = 1_000 + len(found) if draw.random() < 0.3 else 0
        if section == "/shop":
            # Goods of a kind share most of their text.
            page.paragraphs = [*draw.choice(families), writer.text(draw.randint(15, 60))]
        if section == "/people" and draw.random() < 0.5:
            page.paragraphs = [writer.text(draw.randint(4, 15))]
        found[page.path] = page
    for number in range(pages // 40):
        found |= {page.path: page for page in _dated(writer, number)}
        numbered = _page(writer, f"/?p={2_000 + number}")
        numbered.number = 2_000 + number
        found[numbered.path] = numbered
    posts = [path for path in found if path.startswith("/journal/")]
    for number in range(1, len(posts) // 10 + 1):
        path = f"/journal/page/{number}"
        found[path] = Page(path, f"Journal, page {number}", [], listed=posts[10 * number - 10 : 10 * number])
    every = list(found.values())
    for page in every:
        page.links = [draw.choice(every).path for _ in range(draw.randint(0, 4))]
    return every


def _page(writer: _Writer, path: str, title: str = "") -> Page:
    draw = writer.draw
    paragraphs = [writer.text(draw.randint(20, 90)) for _ in range(draw.randint(1, 6))]
    title = title or writer.title()
    page = Page(path, title, paragraphs, description=writer.text(12) if draw.random() < 0.7 else "", canonical=path)
    page.images = [f"{writer.words[draw.randrange(6_00)]}-{draw.randrange(10**6)}" for _ in range(draw.randint(0, 3))]
    page.form = "question" if draw.random() < 0.2 else ""
    page.note = writer.text(draw.randint(10, 30)) if draw.random() < 0.3 else ""
    page.shared = draw.random() < 0.3
    page.date = (draw.randint(1, 28), draw.randint(1, 12), draw.randint(2005, 2026))
    return page


def _other_section(writer: _Writer, page: Page) -> Page:
    """It stands in another section under its own name."""
    page.path = page.canonical = page.path.replace("/", "/archive-of-", 1)
    return page


def _other_name(writer: _Writer, page: Page) -> Page:
    """Its name in the path is another; title and text are the same."""
    page.path = page.canonical = page.path.rpartition("/")[0] + "/" + writer.title().lower().replace(" ", "-")
    return page


def _rewritten(writer: _Writer, page: Page) -> Page:
    """Path and title are others, its text is revised."""
    page = _other_name(writer, page)
    page.title = writer.title()
    page.paragraphs = [writer.revised(one, 0.08) for one in page.paragraphs] + [writer.text(30)]
    return page


def _by_number(writer: _Writer, page: Page) -> Page:
    """Its path is a number now, and its title has a word more."""
    page.path = page.canonical = f"/article/{writer.draw.randrange(10**6)}"
    page.title += f" {writer.words[writer.draw.randrange(500)]}"
    return page


def _named_by_canonical(writer: _Writer, page: Page) -> Page:
    """It stands elsewhere, but says that it is at its old path."""
    page.canonical = page.path
    page.path = f"/print/{writer.title().lower().replace(' ', '-')}"
    return page


def _redirected(writer: _Writer, page: Page) -> Page:
    """It stands elsewhere, and the old path redirects there."""
    return _other_name(writer, page)


def _wrongly_redirected(writer: _Writer, page: Page) -> Page:
    """It stands elsewhere, and the old path redirects to another page."""
    return _other_name(writer, page)


def _note(writer: _Writer, page: Page) -> Page:
    """An aside in its content is another."""
    page.note = writer.text(20)
    return page


def _text(writer: _Writer, page: Page) -> Page:
    """One word of its text is another."""
    words = page.paragraphs[0].split()
    words[writer.draw.randrange(len(words))] = "corrected"
    page.paragraphs[0] = " ".join(words)
    return page


def _cut_short(writer: _Writer, page: Page) -> Page:
    """It ends in its last paragraph, or before it."""
    words = page.paragraphs[-1].split()
    page.paragraphs[-1:] = [] if len(page.paragraphs) > 1 else [" ".join(words[: len(words) // 2])]
    page.links, page.images, page.form, page.note, page.shared = [], [], "", "", False
    return page


def _retitled(writer: _Writer, page: Page) -> Page:
    """Its title is another."""
    page.title = writer.title()
    return page


def _no_description(writer: _Writer, page: Page) -> Page:
    """Its description is another."""
    page.description = "" if page.description else "Described anew."
    return page


def _image(writer: _Writer, page: Page) -> Page:
    """An image came or went."""
    page.images = page.images[1:] if page.images else ["added-picture"]
    return page


def _link(writer: _Writer, page: Page) -> Page:
    """A link leads elsewhere."""
    page.links = [*page.links[1:], "/journal/nowhere-at-all"]
    return page


def _shut(writer: _Writer, page: Page) -> Page:
    """Search engines are asked to stay away."""
    page.robots = "noindex"
    return page


def _form(writer: _Writer, page: Page) -> Page:
    """A form came or went."""
    page.form = "" if page.form else "newsletter"
    return page


def _characters(writer: _Writer, page: Page) -> Page:
    """Its characters are damaged."""
    page.paragraphs[0] = page.paragraphs[0].replace("e", "Ã©") + " â€™"
    return page


def _marker(writer: _Writer, page: Page) -> Page:
    """An extension's marker stands in its text."""
    page.paragraphs.insert(1, '[tide-table harbour="quillhaven"]')
    return page


def _date(writer: _Writer, page: Page) -> Page:
    """Its date is written in figures."""
    page.iso = True
    return page


def _back(writer: _Writer, page: Page) -> Page:
    """Its links lead to the old host."""
    page.links = page.links or ["/"]
    page.back = True
    return page


def _front(writer: _Writer, page: Page) -> None:
    """The front page answers in its place."""
    return None


def _lost(writer: _Writer, page: Page) -> None:
    """It is not at the destination."""
    return None


KINDS: dict[str, Callable[[_Writer, Page], Page | None]] = {
    "lost": _lost,
    "front page": _front,
    "other section": _other_section,
    "other name": _other_name,
    "rewritten": _rewritten,
    "by number": _by_number,
    "canonical": _named_by_canonical,
    "redirected": _redirected,
    "redirected, 302": _redirected,
    "wrong redirect": _wrongly_redirected,
    "aside": _note,
    "text": _text,
    "cut short": _cut_short,
    "title": _retitled,
    "description": _no_description,
    "image": _image,
    "link": _link,
    "noindex": _shut,
    "form": _form,
    "characters": _characters,
    "marker": _marker,
    "date": _date,
    "leads back": _back,
}
"""Kind of change to what makes it."""
FIXED: dict[str, Callable[[_Writer, Page], Page]] = {
    "permalink": _without_date,
    "image page": _without_date,
    "clean path": _clean,
}
"""The same, of what becomes of all pages of a sort."""
LOST = frozenset({"lost", "front page"})
LISTS = frozenset({"list"})
"""They stay what they are, and say what their posts became."""
SAME = frozenset({"unchanged", "twin scheme"})
MOVED = frozenset(
    {
        *FIXED,
        "other section",
        "other name",
        "rewritten",
        "by number",
        "canonical",
        "redirected",
        "redirected, 302",
        "wrong redirect",
        "twin",
    }
)
ALTERED = frozenset(KINDS) - MOVED - LOST
CAUSES = {
    "lost": {"pages_lost"},
    "other section": {"redirects_missing"},
    "other name": {"redirects_missing"},
    "rewritten": {"redirects_missing"},
    "by number": {"redirects_missing"},
    "canonical": {"redirects_missing"},
    "redirected, 302": {"redirects_temporary"},
    "wrong redirect": {"redirects_wrong"},
    "twin": {"redirects_missing", "slash_policy"},
    "permalink": {"beginnings_changed"},
    "image page": {"beginnings_changed"},
    "clean path": {"redirects_missing"},
    "front page": {"all_to_home"},
    "noindex": {"shut_out"},
    "characters": {"characters_damaged"},
    "cut short": {"pages_cut"},
    "marker": {"markers_shown"},
    "date": {"dates_otherwise"},
    "leads back": {"leads_back"},
}
"""Kind of change to the cause of what it does to a page's first finding, of those that have one."""
