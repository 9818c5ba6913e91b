"""A page of the seeded sites, and the writer who draws its words."""

import random
from calendar import month_name
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


class Writer:
    """Draws words, texts and titles from a seed."""

    def __init__(self, seed: int) -> None:
        self.draw = random.Random(seed)
        self.words = sorted({"".join(self.draw.choices(_SYLLABLES, k=self.draw.randint(1, 3))) for _ in range(6_000)})
        self.draw.shuffle(self.words)
        self.chance = [1 / (rank + 5) for rank in range(len(self.words))]

    def text(self, length: int) -> str:
        """Return a paragraph of that many words."""
        return " ".join(self.draw.choices(self.words, self.chance, k=length)) + "."

    def title(self) -> str:
        """Return a title of two to five words."""
        return " ".join(self.draw.choices(self.words, k=self.draw.randint(2, 5))).capitalize()

    def revised(self, text: str, share: float) -> str:
        """Return a text in which a share of the words is another."""
        words = text.split()
        return " ".join(self.draw.choice(self.words) if self.draw.random() < share else word for word in words)


def drawn_page(writer: Writer, path: str, title: str = "") -> Page:
    """Draw a page of the journal, the shop or another section."""
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
