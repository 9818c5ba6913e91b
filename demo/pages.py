"""What a page of a demo site is, and how the sites' one template shows it."""

from dataclasses import dataclass, field
from html import escape


@dataclass(frozen=True)
class Page:
    """A page: its path, title and the markup of its main content."""

    path: str
    title: str
    main: str
    description: str = ""
    media_type: str = "text/html; charset=utf-8"
    body: bytes = b""
    """Of a document that is not HTML."""
    kinds: tuple[str, ...] = field(default=("WebPage",))


@dataclass(frozen=True)
class Template:
    """Everything around the main content."""

    site: str
    origin: str
    menu: tuple[tuple[str, str], ...]
    footer: str
    generator: str
    noindex: bool = False


def show(page: Page, template: Template) -> bytes:
    """Return the whole document."""
    links = "".join(f'<li><a href="{path}">{escape(name)}</a></li>' for path, name in template.menu)
    title = page.title if page.path == "/" else f"{page.title} – {template.site}"
    robots = '<meta name="robots" content="noindex">' if template.noindex else ""
    kinds = ", ".join(f'{{"@type": "{kind}"}}' for kind in page.kinds)
    return f"""<!doctype html>
<html lang="en-GB">
<head>
<meta charset="utf-8">
<title>{escape(title)}</title>
<meta name="description" content="{escape(page.description)}">{robots}
<meta name="generator" content="{template.generator}">
<link rel="canonical" href="{template.origin}{page.path}">
<link rel="stylesheet" href="/style/mill.css">
<meta property="og:title" content="{escape(page.title)}">
<meta property="og:url" content="{template.origin}{page.path}">
<script type="application/ld+json">{{"@context": "https://schema.org", "@graph": [{kinds}]}}</script>
</head>
<body>
<header><p><a href="/">{escape(template.site)}</a></p><nav><ul>{links}</ul></nav></header>
<main>
<h1>{escape(page.title)}</h1>
{page.main}
</main>
<footer><p>{escape(template.footer)}</p></footer>
</body>
</html>
""".encode()


def paragraphs(*texts: str) -> str:
    """Return texts as paragraphs; they may hold markup."""
    return "\n".join(f"<p>{text}</p>" for text in texts)


def listing(entries: list[tuple[str, str]]) -> str:
    """Return a list of links."""
    return "<ul>" + "".join(f'<li><a href="{path}">{escape(name)}</a></li>' for path, name in entries) + "</ul>"
