"""Which address WordPress gives what its database holds, by the permalink structure that was set."""

import re
from collections import defaultdict

import numpy as np

from palinode.core.platforms.items import Installation, Items
from palinode.core.platforms.permalinks import Permalinks
from palinode.core.platforms.platform import Field

_TAG = re.compile(r"%(\w+)%")
_DATE = re.compile(r"(\d{4})-(\d\d)-(\d\d) (\d\d):(\d\d):(\d\d)")
_SHOWN_TYPES = ("post", "page", "attachment")
"""Types whose addresses follow from the database; those of others are set in code."""
_BASES = {"category": ("category_base", "category"), "post_tag": ("tag_base", "tag")}
"""Taxonomy to the setting that names its folder, and what it is called without one."""
_DEEPEST = 50


def permalinks(one: Installation) -> Permalinks:
    """Return the addresses of published posts, pages and attachments, of terms and authors, and of the months."""
    if "permalink_structure" not in one.settings:
        return Permalinks({})
    posts, terms, _, accounts = one.items
    structure = one.settings.get("permalink_structure", "")
    site = _Site(one, structure)
    of_posts = site.of_posts()
    used = {author for author, path in zip(posts.column(Field.AUTHOR), of_posts, strict=True) if path is not None}
    identities, slugs = accounts.column(Field.IDENTITY), accounts.column(Field.SLUG)
    authors: list[str | None] = [
        (f"{site.front}author/{slug}{site.slash}" if structure else f"?author={ident}")
        if ident in used and slug
        else None
        for ident, slug in zip(identities, slugs, strict=True)
    ]
    return Permalinks(
        {posts.table.name: of_posts, terms.table.name: site.of_terms(), accounts.table.name: authors}, site.months()
    )


class _Site:
    """What the addresses of one installation are made of."""

    def __init__(self, one: Installation, structure: str) -> None:
        self.settings = one.settings
        self.posts, self.terms, *_ = one.items
        self.accounts = one.items[3]
        self.structure = structure.lstrip("/")
        self.slash = "/" if structure.endswith("/") else ""
        self.front = self.structure.partition("%")[0]
        """What stands before the addresses of posts, and of lists."""
        self.number = {ident: at for at, ident in enumerate(self.posts.column(Field.IDENTITY))}
        self.kind, self.slug = self.posts.column(Field.TYPE), self.posts.column(Field.SLUG)
        self.status, self.parent = self.posts.column(Field.STATUS), self.posts.column(Field.PARENT)
        self.date, self.author = self.posts.column(Field.DATE), self.posts.column(Field.AUTHOR)
        self.names = dict(zip(self.accounts.column(Field.IDENTITY), self.accounts.column(Field.SLUG), strict=True))
        self.terms_of = _terms_of(one)
        self.term_paths = _paths(self.terms)

    def of_posts(self) -> list[str | None]:
        return [self._of_post(at, ident) for ident, at in self.number.items()] if self._are_told_apart() else []

    def _are_told_apart(self) -> bool:
        return len(self.number) == self.posts.count

    def _of_post(self, at: int, ident: str, depth: int = 0) -> str | None:
        kind = self.kind[at]
        if kind not in _SHOWN_TYPES or not self._is_shown(at):
            return None
        if (
            kind == "page"
            and self.settings.get("show_on_front") == "page"
            and ident == self.settings.get("page_on_front")
        ):
            return ""
        if not self.structure:
            return f"?{({'post': 'p', 'page': 'page_id', 'attachment': 'attachment_id'})[kind]}={ident}"
        if kind == "page":
            return self._of_page(at)
        if kind == "attachment":
            parent = self.number.get(self.parent[at])
            above = self._of_post(parent, self.parent[at], depth + 1) if parent is not None and depth < 2 else ""
            if parent is not None and above is None:
                return None
            return f"{above.rstrip('/') + '/' if above else ''}{self.slug[at]}{self.slash}"
        return _TAG.sub(lambda tag: self._of_tag(tag[1], at, ident), self.structure)

    def _is_shown(self, at: int) -> bool:
        return self.status[at] == "publish" or (self.kind[at] == "attachment" and self.status[at] == "inherit")

    def _of_page(self, at: int) -> str | None:
        path = [self.slug[at]]
        for _ in range(_DEEPEST):
            above = self.number.get(self.parent[at])
            if above is None:
                return "/".join(reversed(path)) + self.slash
            path.append(self.slug[above])
            at = above
        return None

    def _of_tag(self, tag: str, at: int, ident: str) -> str:
        if tag in ("year", "monthnum", "day", "hour", "minute", "second"):
            date = _DATE.match(self.date[at])
            places = ("year", "monthnum", "day", "hour", "minute", "second")
            return date[places.index(tag) + 1] if date else ""
        if tag == "category":
            chosen = self.terms_of.get(ident) or [self.settings.get("default_category", "")]
            return self.term_paths.get(chosen[0], "uncategorized")
        if tag == "author":
            return self.names.get(self.author[at], "")
        return {"postname": self.slug[at], "post_id": ident}.get(tag, "")

    def of_terms(self) -> list[str | None]:
        kinds, keys = self.terms.column(Field.TYPE), self.terms.column(Field.KEY)
        found: list[str | None] = []
        for kind, key in zip(kinds, keys, strict=True):
            path = self.term_paths.get(key)
            if kind not in _BASES or not path:
                found.append(None)
                continue
            setting, base = _BASES[kind]
            if not self.structure:
                found.append(f"?cat={key}" if kind == "category" else f"?tag={path}")
                continue
            given = self.settings.get(setting, "").strip("/")
            # A folder that a person named stands alone; the one by default stands behind the front.
            found.append(f"{given or self.front + base}/{path}{self.slash}")
        return found

    def months(self) -> list[str]:
        """Return the lists of each month and year in which a post was published."""
        found = dict[str, None]()
        for kind, status, date in zip(self.kind, self.status, self.date, strict=True):
            if kind == "post" and status == "publish" and (said := _DATE.match(date)):
                year, month = said[1], said[2]
                if self.structure:
                    found |= {f"{self.front}{year}{self.slash}": None, f"{self.front}{year}/{month}{self.slash}": None}
                else:
                    found |= {f"?m={year}": None, f"?m={year}{month}": None}
        return list(found)


def _terms_of(one: Installation) -> dict[str, list[str]]:
    """Return the categories of each post, by their keys, the oldest first."""
    terms = one.items[1]
    columns = (terms.column(what) for what in (Field.IDENTITY, Field.TYPE, Field.KEY))
    categories = {int(ident): key for ident, kind, key in zip(*columns, strict=True) if kind == "category"}
    found: dict[str, list[str]] = defaultdict(list)
    for links in one.links:
        wanted = np.isin(links.to, list(categories))
        for post, term in zip(links.of[wanted].tolist(), links.to[wanted].tolist(), strict=True):
            found[str(post)].append(categories[term])
    return {post: sorted(keys, key=int) for post, keys in found.items()}


def _paths(terms: Items) -> dict[str, str]:
    """Return the path of each term by its key: its slug below those of its parents."""
    keys, slugs, parents = (terms.column(one) for one in (Field.KEY, Field.SLUG, Field.PARENT))
    said = {key: (slug, parent) for key, slug, parent in zip(keys, slugs, parents, strict=True)}
    found = {}
    for key in said:
        path, at = list[str](), key
        while at in said and len(path) < _DEEPEST:
            path.append(said[at][0])
            at = said[at][1]
        found[key] = "/".join(reversed(path))
    return found
