"""What questions carry in their query."""

from collections.abc import Mapping

from rest_framework.exceptions import ValidationError


def number(query: Mapping[str, str], name: str, default: int, most: int) -> int:
    """Return a whole number of a query, at most ``most``.

    Raises ValidationError for what is none.
    """
    text = query.get(name, "")
    if not text:
        return default
    if not text.isascii() or not text.isdigit():
        raise ValidationError({name: "Give a whole number."})
    return min(int(text[:20]), most)
