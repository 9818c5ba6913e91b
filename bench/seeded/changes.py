"""Kinds of change from one site to the other, and what a comparison should say of each."""

from collections.abc import Callable

from bench.seeded.page import Page, Writer


def _without_date(writer: Writer, page: Page) -> Page:
    """The date went out of its path; it redirects from there."""
    page.path = page.canonical = "/" + "/".join(page.path.split("/")[3:])
    return page


def _clean(writer: Writer, page: Page) -> Page:
    """It had a number for an address, and has its title in it now."""
    page.path = page.canonical = f"/journal/{page.title.lower().replace(' ', '-')}"
    return page


def _other_section(writer: Writer, page: Page) -> Page:
    """It stands in another section under its own name."""
    page.path = page.canonical = page.path.replace("/", "/archive-of-", 1)
    return page


def _other_name(writer: Writer, page: Page) -> Page:
    """Its name in the path is another; title and text are the same."""
    page.path = page.canonical = page.path.rpartition("/")[0] + "/" + writer.title().lower().replace(" ", "-")
    return page


def _rewritten(writer: Writer, page: Page) -> Page:
    """Path and title are others, its text is revised."""
    page = _other_name(writer, page)
    page.title = writer.title()
    page.paragraphs = [writer.revised(one, 0.08) for one in page.paragraphs] + [writer.text(30)]
    return page


def _by_number(writer: Writer, page: Page) -> Page:
    """Its path is a number now, and its title has a word more."""
    page.path = page.canonical = f"/article/{writer.draw.randrange(10**6)}"
    page.title += f" {writer.words[writer.draw.randrange(500)]}"
    return page


def _named_by_canonical(writer: Writer, page: Page) -> Page:
    """It stands elsewhere, but says that it is at its old path."""
    page.canonical = page.path
    page.path = f"/print/{writer.title().lower().replace(' ', '-')}"
    return page


def _redirected(writer: Writer, page: Page) -> Page:
    """It stands elsewhere, and the old path redirects there."""
    return _other_name(writer, page)


def _wrongly_redirected(writer: Writer, page: Page) -> Page:
    """It stands elsewhere, and the old path redirects to another page."""
    return _other_name(writer, page)


def _note(writer: Writer, page: Page) -> Page:
    """An aside in its content is another."""
    page.note = writer.text(20)
    return page


def _text(writer: Writer, page: Page) -> Page:
    """One word of its text is another."""
    words = page.paragraphs[0].split()
    words[writer.draw.randrange(len(words))] = "corrected"
    page.paragraphs[0] = " ".join(words)
    return page


def _cut_short(writer: Writer, page: Page) -> Page:
    """It ends in its last paragraph, or before it."""
    words = page.paragraphs[-1].split()
    page.paragraphs[-1:] = [] if len(page.paragraphs) > 1 else [" ".join(words[: len(words) // 2])]
    page.links, page.images, page.form, page.note, page.shared = [], [], "", "", False
    return page


def _retitled(writer: Writer, page: Page) -> Page:
    """Its title is another."""
    page.title = writer.title()
    return page


def _no_description(writer: Writer, page: Page) -> Page:
    """Its description is another."""
    page.description = "" if page.description else "Described anew."
    return page


def _image(writer: Writer, page: Page) -> Page:
    """An image came or went."""
    page.images = page.images[1:] if page.images else ["added-picture"]
    return page


def _link(writer: Writer, page: Page) -> Page:
    """A link leads elsewhere."""
    page.links = [*page.links[1:], "/journal/nowhere-at-all"]
    return page


def _shut(writer: Writer, page: Page) -> Page:
    """Search engines are asked to stay away."""
    page.robots = "noindex"
    return page


def _form(writer: Writer, page: Page) -> Page:
    """A form came or went."""
    page.form = "" if page.form else "newsletter"
    return page


def _characters(writer: Writer, page: Page) -> Page:
    """Its characters are damaged."""
    page.paragraphs[0] = page.paragraphs[0].replace("e", "Ã©") + " â€™"
    return page


def _marker(writer: Writer, page: Page) -> Page:
    """An extension's marker stands in its text."""
    page.paragraphs.insert(1, '[tide-table harbour="quillhaven"]')
    return page


def _date(writer: Writer, page: Page) -> Page:
    """Its date is written in figures."""
    page.iso = True
    return page


def _back(writer: Writer, page: Page) -> Page:
    """Its links lead to the old host."""
    page.links = page.links or ["/"]
    page.back = True
    return page


def _front(writer: Writer, page: Page) -> None:
    """The front page answers in its place."""
    return None


def _lost(writer: Writer, page: Page) -> None:
    """It is not at the destination."""
    return None


KINDS: dict[str, Callable[[Writer, Page], Page | None]] = {
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
FIXED: dict[str, Callable[[Writer, Page], Page]] = {
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
