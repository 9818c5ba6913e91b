"""A stored page made to stand alone, for a frame that runs nothing. Run in reading processes: see work/readers.py."""

import base64
from collections.abc import Mapping

from selectolax.lexbor import LexborHTMLParser, LexborNode

from palinode.core import address as addresses
from palinode.core import markup
from palinode.core.facts import MARKUP_LIMIT
from palinode.work import record_location
from palinode.work.record_location import At, Stored

_ACTIVE = "script, iframe, frame, object, embed, base, meta[http-equiv], link:not([rel~=stylesheet]), template"
_STYLE, _IMAGE = "link[rel~=stylesheet]", "img, source"
_MOST_NAMED = 2_000
"""Files that a page may name."""

Files = Mapping[str, tuple[str, At]]
"""Address to media type and place."""


def named(stored: Stored, address: str) -> tuple[list[str], list[str]]:
    """Return the addresses of the style sheets and of the images that a page names."""
    tree, base = _parsed(stored, address)
    styles = [addresses.normal(node.attributes.get("href") or "", base) for node in tree.css(_STYLE)[:_MOST_NAMED]]
    images = [addresses.normal(node.attributes.get("src") or "", base) for node in tree.css(_IMAGE)[:_MOST_NAMED]]
    return [one for one in styles if one], [one for one in images if one]


def page(stored: Stored, address: str, files: Files) -> str:
    """Return the page with these of its styles and images in it, and without what would act."""
    tree, base = _parsed(stored, address)
    for node in tree.css(_ACTIVE):
        node.decompose()
    for node in tree.css(_STYLE):
        _put_style(tree, node, files.get(addresses.normal(node.attributes.get("href") or "", base) or ""))
    for node in tree.css(_IMAGE):
        _put_image(node, files.get(addresses.normal(node.attributes.get("src") or "", base) or ""))
    return tree.html or ""


def _parsed(stored: Stored, address: str) -> tuple[LexborHTMLParser, str]:
    """Return the parsed page, and what its references are resolved against."""
    text, _ = record_location.text(stored)
    tree, _ = markup.parse(text[:MARKUP_LIMIT])
    base = tree.css_first("base[href]")
    named = addresses.normal((base.attributes["href"] or "").strip(), address) if base else None
    return tree, named or address


def _put_style(tree: LexborHTMLParser, node: LexborNode, file: tuple[str, At] | None) -> None:
    if file is None:
        node.decompose()
        return
    style = tree.create_node("style")
    text, _ = record_location.text(Stored(file[1], file[1]))
    # A style sheet cannot end the element that holds it.
    style.insert_child(text.replace("</", "<\\/"))
    node.replace_with(style)


def _put_image(node: LexborNode, file: tuple[str, At] | None) -> None:
    for name in ("srcset", "sizes", "loading"):
        if name in node.attributes:
            del node.attrs[name]
    if file:
        media, at = file
        node.attrs["src"] = f"data:{media};base64,{base64.b64encode(record_location.body(at)).decode()}"
