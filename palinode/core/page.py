"""What an answer is: a page, a file, a redirect, or none of these."""

import hashlib

REDIRECTS = frozenset({301, 302, 303, 307, 308})
"""Status codes that send on to ``Location`` (RFC 9110 section 15.4)."""

NOT_MODIFIED = 304
"""The status code that says: what you have still holds (RFC 9110 section 15.4.5)."""

PERMANENT = frozenset({301, 308})

TOO_MANY, UNAVAILABLE = 429, 503
"""Status codes of a host that asks to be left alone for a while (RFC 6585 section 4, RFC 9110 section 15.6.4)."""

PASSING = frozenset({TOO_MANY, 502, UNAVAILABLE, 504})
"""Status codes that say nothing of the page: ask again later."""

CLOSED = frozenset({401, 403, 407, 451})
"""Status codes of a door: what stands behind it was not seen."""

HTML = frozenset({"text/html", "application/xhtml+xml"})
"""Media types that are read as HTML."""

_DOCUMENTS = (
    "application/pdf",
    "application/msword",
    "application/rtf",
    "application/epub+zip",
    "application/vnd.openxmlformats-officedocument",
    "application/vnd.oasis.opendocument",
    "application/vnd.ms-",
)
_TEXT_FILES = frozenset({"text/css", "text/javascript", "text/xml", "text/ecmascript", "text/vtt"})


def body_digest(body: bytes) -> bytes:
    """Return the SHA-256 of a body, after transfer and content coding are undone: what a body is known by."""
    return hashlib.sha256(body).digest()


def media_type(content_type: str) -> str:
    """Return the media type of a Content-Type field, in lower case, without parameters."""
    return content_type.partition(";")[0].strip().lower()


def charset(content_type: str) -> str:
    """Return the ``charset`` parameter of a Content-Type field, or an empty string."""
    for parameter in content_type.split(";")[1:]:
        name, _, value = parameter.partition("=")
        if name.strip().lower() == "charset":
            return value.strip().strip("\"'")
    return ""


def is_html(media: str) -> bool:
    """Whether a body of this media type is read as HTML."""
    return media in HTML


def is_page(status: int | None, media: str) -> bool:
    """Whether an answer is a page: 200 with HTML or a document. Images, styles, scripts are files."""
    if status != 200:
        return False
    if media in HTML or media.startswith(_DOCUMENTS):
        return True
    return media.startswith("text/") and media not in _TEXT_FILES
