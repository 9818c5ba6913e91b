"""A page as it was stored: its source, and the page itself made to stand alone, for a frame that runs nothing."""

import base64
from collections.abc import Iterable
from dataclasses import dataclass

from selectolax.lexbor import LexborHTMLParser, LexborNode

from palinode.core import address as addresses
from palinode.core import encoding, page
from palinode.records.models import Answer, Capture
from palinode.work import evidence

POLICY = "sandbox; default-src 'none'; style-src 'unsafe-inline'; img-src data:; font-src data:; frame-ancestors 'self'"
"""What a stored page may do: nothing, and fetch nothing. Its own styles and images stand in it."""

MOST_SOURCE = 2_000_000
"""Characters of source that are shown."""
_MOST_FILE = 1_000_000
_MOST_FILES = 6_000_000
"""Bytes of styles and images that are put into a page."""
_ACTIVE = "script, iframe, frame, object, embed, base, meta[http-equiv], link:not([rel~=stylesheet]), template"


@dataclass(frozen=True)
class Source:
    """The stored body of a page, as text."""

    text: str
    length: int
    """Bytes of the whole body."""
    cut: bool


class NotStored(ValueError):
    """Nothing of it is stored, or not any more; the message is for a person."""


def source(answer: Answer | None) -> Source:
    """Return the stored markup. Raises NotStored."""
    body, media = _body(answer)
    if not (media.startswith("text/") or page.is_html(media) or media.endswith(("json", "xml"))):
        raise NotStored(f"This is {media or 'no text'}, which has no source to read.")
    text = encoding.decode(body)
    return Source(text[:MOST_SOURCE], len(body), len(text) > MOST_SOURCE)


def alone(answer: Answer | None, address: str) -> str:
    """Return the stored page with its stored styles and images in it, and without what would act. Raises NotStored."""
    body, media = _body(answer)
    assert answer is not None
    if not page.is_html(media):
        raise NotStored(f"This is {media or 'no page'}, which is not shown in a frame.")
    tree = LexborHTMLParser(encoding.decode(body))
    base = tree.css_first("base[href]")
    named = addresses.normal((base.attributes["href"] or "").strip(), address) if base else None
    files = _Files(answer.capture, named or address)
    for node in tree.css(_ACTIVE):
        node.decompose()
    for node in tree.css("link[rel~=stylesheet]"):
        _put_style(tree, node, files)
    for node in tree.css("img, source"):
        _put_image(node, files)
    return tree.html or ""


def _body(answer: Answer | None) -> tuple[bytes, str]:
    if answer is None or answer.body is None:
        raise NotStored("Nothing was stored for this side.")
    try:
        return evidence.body(answer.capture.move_id, bytes(answer.body)), answer.media_type or ""
    except (ValueError, FileNotFoundError):
        raise NotStored("The files of this capture were let go of; what was read from them is kept.") from None


def _put_style(tree: LexborHTMLParser, node: LexborNode, files: "_Files") -> None:
    found = files.of(node.attributes.get("href"), ("text/css",))
    if found is None:
        node.decompose()
        return
    style = tree.create_node("style")
    # A style sheet cannot end the element that holds it.
    style.insert_child(found[0].decode("utf-8", "replace").replace("</", "<\\/"))
    node.replace_with(style)


def _put_image(node: LexborNode, files: "_Files") -> None:
    for name in ("srcset", "sizes", "loading"):
        if name in node.attributes:
            del node.attrs[name]
    found = files.of(node.attributes.get("src"), ("image/",))
    if found:
        node.attrs["src"] = f"data:{found[1]};base64,{base64.b64encode(found[0]).decode()}"


class _Files:
    """The stored files of a capture, as a page names them; no more than is good for a frame."""

    def __init__(self, capture: Capture, base: str) -> None:
        self._capture, self._base, self._left = capture, base, _MOST_FILES

    def of(self, written: str | None, kinds: Iterable[str]) -> tuple[bytes, str] | None:
        """Return a file and its media type, None if it is not stored, of another kind or too large."""
        address = addresses.normal(written or "", self._base) if written else None
        if address is None:
            return None
        answer = Answer.objects.filter(capture=self._capture, ident=addresses.ident(address), status=200).first()
        media = (answer.media_type or "") if answer else ""
        if answer is None or answer.body is None or not media.startswith(tuple(kinds)):
            return None
        if answer.length > min(_MOST_FILE, self._left):
            return None
        try:
            body = evidence.body(self._capture.move_id, bytes(answer.body))
        except (ValueError, FileNotFoundError):
            return None
        self._left -= len(body)
        return body, media
