"""The leftovers of one answer: its header fields and its body, whatever kind of document that is."""

import codecs
import zlib
from collections import Counter
from collections.abc import Iterator
from typing import NamedTuple

from palinode.core import encoding, page
from palinode.core.leftovers import places, search
from palinode.core.leftovers.places import Place, Use
from palinode.core.leftovers.search import Occurrence
from palinode.core.leftovers.wanted import Wanted

_MOST = 2_000
"""Different leftovers of one answer that are kept."""
_LONGEST = 500
"""Characters of one that are kept."""
_STREAM, _STREAM_END = b"stream", b"endstream"
_MOST_UNPACKED = 20_000_000
_WIDE = (codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)
_LEFT_OUT = frozenset({"date", "etag", "content-length", "last-modified"})
_NAMES = {
    "text/css": Place("style sheet", Use.LOADED),
    "application/json": Place("JSON file", Use.SAID),
    "application/manifest+json": Place("manifest", Use.SAID),
    "text/plain": Place("text file", Use.SAID),
    "application/pdf": Place("link in a document", Use.LINKED),
}
_SCRIPTS = ("javascript", "ecmascript")


class Leftover(NamedTuple):
    """What one answer says in one place, however often."""

    place: Place
    written: str
    sample: str
    """With what stands around it, the first time."""
    in_base64: bool
    times: int


def read(headers: list[tuple[str, str]], body: bytes, wanted: Wanted) -> list[Leftover]:
    """Return the leftovers of an answer: its header fields as sent, and its body, codings undone."""
    counted: Counter[tuple[Place, str, bool]] = Counter()
    samples: dict[tuple[Place, str, bool], str] = {}
    for place, text, one in _found(headers, body, wanted):
        key = (place, one.written[:_LONGEST], one.in_base64)
        if key not in counted and len(counted) >= _MOST:
            continue
        counted[key] += 1
        if key not in samples:
            samples[key] = search.around(text, one)
    return [Leftover(place, written, samples[place, written, coded], coded, times)
            for (place, written, coded), times in counted.items()]  # fmt: skip


def _found(headers: list[tuple[str, str]], body: bytes, wanted: Wanted) -> Iterator[tuple[Place, str, Occurrence]]:
    media = ""
    charset = ""
    for name, value in headers:
        if name.lower() == "content-type":
            media, charset = page.media_type(value), page.charset(value) or ""
        if name.lower() not in _LEFT_OUT and wanted.may_be_in(value.encode("utf-8", "replace")):
            for one in search.find(value, wanted):
                yield places.of_header(name), value, one
    if media == "application/pdf":
        body = _unpacked(body)
    wide = body.startswith(_WIDE)
    if not wide and not wanted.may_be_in(body):
        return
    text = encoding.decode(body, charset)
    if wide and not wanted.may_be_in(text.encode("utf-8", "replace")):
        return
    found = list(search.find(text, wanted))
    at = [one.start for one in found]
    for place, one in zip(_places(media, text, at), found, strict=True):
        yield place, text, one


def _places(media: str, text: str, at: list[int]) -> Iterator[Place]:
    if page.is_html(media):
        return places.of_html(text, at)
    if media.endswith(("/xml", "+xml")):
        return places.of_xml(text, at)
    place = _NAMES.get(media) or Place("script file" if any(one in media for one in _SCRIPTS) else "file", Use.LOADED)
    return iter([place] * len(at))


def _unpacked(body: bytes) -> bytes:
    """Return a PDF with what its streams hold, where they are packed by Flate (ISO 32000-1, section 7.4.4)."""
    pieces, left, end = [body], _MOST_UNPACKED, 0
    while left > 0 and (begin := body.find(_STREAM, end)) >= 0:
        begin += len(_STREAM)
        end = body.find(_STREAM_END, begin)
        if end < 0:
            break
        try:
            piece = zlib.decompressobj().decompress(body[begin:end].lstrip(b"\r\n"), left)
        except zlib.error:
            piece = b""
        pieces.append(piece)
        left -= len(piece)
        end += len(_STREAM_END)
    return b"\n".join(pieces)
