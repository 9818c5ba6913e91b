"""What a file is for: told by its media type (RFC 9110 section 8.3), or else by the ending of its name."""

import re

from palinode.core import address as addresses

STYLES = frozenset({"css", "js", "mjs"})
"""Endings of what every page of a template needs."""
_BY_ENDING = {
    "image": {"png", "jpg", "jpeg", "gif", "webp", "avif", "svg", "ico", "bmp"},
    "font": {"woff", "woff2", "ttf", "otf", "eot"},
    "style": {"css"},
    "script": {"js", "mjs"},
    "sound": {"mp3", "ogg", "wav", "m4a", "flac"},
    "film": {"mp4", "webm", "m4v", "mov"},
    "archive": {"zip", "gz", "tar", "7z"},
}
_FAMILY = {ending: family for family, endings in _BY_ENDING.items() for ending in endings}
ENDINGS = frozenset(_FAMILY) | {
    "pdf", "doc", "docx", "odt", "rtf", "xls", "xlsx", "ods", "csv", "ppt", "pptx", "odp", "epub", "txt", "xml", "json",
    "rss", "ics", "vcf", "map", "webmanifest", "swf", "rar", "bz2", "xz", "iso", "exe", "dmg", "apk", "jar",
}  # fmt: skip
"""Endings of what is no page by its name, where nothing else says what it is."""
_BY_TYPE = {
    "image": "image", "font": "font", "audio": "sound", "video": "film",
    "text/css": "style", "text/javascript": "script", "application/javascript": "script",
    "application/x-javascript": "script", "application/ecmascript": "script",
    "application/font-woff": "font", "application/font-woff2": "font", "application/x-font-ttf": "font",
    "application/vnd.ms-fontobject": "font", "application/zip": "archive", "application/gzip": "archive",
    "application/x-gzip": "archive", "application/x-tar": "archive", "text/html": "page",
}  # fmt: skip

_HTML = re.compile(
    rb"(?:\xef\xbb\xbf)?\s*+(?:<!--(?:(?!-->).)*+-->\s*+){0,20}<(?:!doctype\s+html|html|head|body)[\s>]", re.I | re.S
)
"""How a document of HTML begins (after MIME Sniffing, section 7.1); nothing else that has a family begins so."""
_BEGINNING = 2_000
"""Bytes in which that is looked for."""


def ending(address: str) -> str:
    """Return the ending of a file's name, in small letters."""
    return addresses.path(address).partition("?")[0].rpartition("/")[2].rpartition(".")[2].lower()


def family(media_type: str, address: str) -> str:
    """Return what a file is for; a type that says nothing gives way to the name, and what neither tells is empty."""
    kind = media_type.partition(";")[0].strip().lower()
    told = _BY_TYPE.get(kind) or _BY_TYPE.get(kind.partition("/")[0])
    if told:
        return told
    if kind in ("", "application/octet-stream", "text/plain", "binary/octet-stream"):
        return _FAMILY.get(ending(address), "")
    return kind


def shown_type(media_type: str, address: str, body: bytes) -> str:
    """Return the media type that a file shows: HTML in place of a picture, a style sheet or the like.

    A server names the type by the name's ending, whatever stands in the file; a saved notice stays a notice.
    """
    if family(media_type, address) and _HTML.match(body[:_BEGINNING]):
        return "text/html"
    return media_type
