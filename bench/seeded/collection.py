"""The two sites: what stands at the source, what became of it at the destination, and the truth about it."""

from collections.abc import Iterator
from dataclasses import dataclass

from bench.seeded.changes import FIXED, KINDS
from bench.seeded.page import NEW, OLD, Page, Writer, drawn_page

_SECTIONS = {"/journal": 0.4, "/shop": 0.25, "/recipes": 0.15, "/people": 0.1, "/visits": 0.1}


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


def collection(pages: int = 3_000, seed: int = 5, theme: bool = False) -> Collection:
    """Make the two sites: two thirds unchanged, the others changed in one of KINDS each; with another ``theme``."""
    writer = Writer(seed)
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
        page = drawn_page(writer, f"/journal/fresh-{number}-{writer.words[number]}")
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


def _dated(writer: Writer, number: int) -> Iterator[Page]:
    """Yield a post below its date, and some pages of its images, which say next to nothing."""
    draw = writer.draw
    title = writer.title()
    post = drawn_page(
        writer, f"/{draw.randint(2014, 2019)}/{draw.randint(1, 12):02}/{title.lower().replace(' ', '-')}", title
    )
    yield post
    for _ in range(draw.randint(0, 2)):
        name = f"{writer.words[draw.randrange(600)]}-{draw.randrange(100)}"
        yield Page(f"{post.path}/{name}", name.replace("-", " "), [writer.text(3)], date=post.date)


def _source(writer: Writer, pages: int) -> list[Page]:
    draw = writer.draw
    found: dict[str, Page] = {"/": Page("/", "Home", [writer.text(80)])}
    families = [[writer.text(60) for _ in range(3)] for _ in range(12)]
    while len(found) < pages:
        section = draw.choices(list(_SECTIONS), list(_SECTIONS.values()))[0]
        title = writer.title()
        page = drawn_page(writer, f"{section}/{title.lower().replace(' ', '-')}", title)
        page.number = 1_000 + len(found) if draw.random() < 0.3 else 0
        if section == "/shop":
            # Goods of a kind share most of their text.
            page.paragraphs = [*draw.choice(families), writer.text(draw.randint(15, 60))]
        if section == "/people" and draw.random() < 0.5:
            page.paragraphs = [writer.text(draw.randint(4, 15))]
        found[page.path] = page
    for number in range(pages // 40):
        found |= {page.path: page for page in _dated(writer, number)}
        numbered = drawn_page(writer, f"/?p={2_000 + number}")
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
