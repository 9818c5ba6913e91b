"""Web application manifests (W3C): where the application starts, its icons and screenshots."""

import orjson

MEDIA = frozenset({"application/manifest+json", "application/json"})
"""Media types that a manifest may have."""
_LONGEST = 1_000_000


def is_one(media: str, body: bytes) -> bool:
    """Whether a body is a manifest: by its type, or as JSON that says where an application starts, and its name."""
    if media == "application/manifest+json":
        return True
    return (
        body[:1_000].lstrip().startswith(b"{") and len(body) < _LONGEST and b'"start_url"' in body and b'name"' in body
    )


def read(body: bytes) -> tuple[list[str], list[str]]:
    """Return the pages and the files that a manifest names, as written; what cannot be read names nothing."""
    try:
        given = orjson.loads(body)
    except orjson.JSONDecodeError:
        return [], []
    if not isinstance(given, dict):
        return [], []
    shortcuts = [one for one in _list(given.get("shortcuts")) if isinstance(one, dict)]
    pages = [given.get("start_url"), *(one.get("url") for one in shortcuts)]
    pictures = [*_list(given.get("icons")), *_list(given.get("screenshots"))]
    pictures += [icon for one in shortcuts for icon in _list(one.get("icons"))]
    files = [one.get("src") for one in pictures if isinstance(one, dict)]
    return [page for page in pages if isinstance(page, str)], [file for file in files if isinstance(file, str)]


def _list(given: object) -> list[object]:
    return given if isinstance(given, list) else []
