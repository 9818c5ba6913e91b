"""JSON-LD in markup: types, and the addresses of pages and pictures that it names."""

import re

import orjson

PAGES = frozenset({"url", "@id", "mainentityofpage", "item", "discussionurl", "relatedlink"})
FILES = frozenset({"image", "logo", "thumbnailurl", "contenturl", "photo"})
_DEEPEST = 30
_MOST = 2_000
_TYPE = re.compile(r'"@type"\s*:\s*"([^"]{1,80})"')


def read(text: str) -> tuple[list[str], list[str], list[str]]:
    """Return the types, the addresses of pages, and those of files; of what is no JSON the types alone."""
    types = _TYPE.findall(text)
    pages: list[str] = []
    files: list[str] = []
    try:
        waiting: list[tuple[object, str, int]] = [(orjson.loads(text), "", 0)]
    except (orjson.JSONDecodeError, ValueError):
        return types, [], []
    while waiting and len(pages) + len(files) < _MOST:
        given, key, depth = waiting.pop()
        if isinstance(given, dict):
            if depth < _DEEPEST:
                waiting += [(value, str(name).lower(), depth + 1) for name, value in reversed(given.items())]
                if key in FILES and isinstance(given.get("url"), str):
                    files.append(given["url"])
        elif isinstance(given, list):
            if depth < _DEEPEST:
                waiting += [(value, key, depth + 1) for value in reversed(given)]
        elif isinstance(given, str) and given.startswith(("http://", "https://", "/")):
            if key in PAGES:
                pages.append(given)
            elif key in FILES:
                files.append(given)
    return types, pages, files
