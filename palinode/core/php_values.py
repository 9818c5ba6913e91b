"""Values as PHP's serialize() writes them, read."""

from typing import Any

_DEEPEST = 40
_MOST = 100_000
"""Entries of an array."""


class PhpValueError(ValueError):
    """A text is no serialised value, or a damaged one: a length in it that does not fit, say."""


def read(text: str) -> Any:
    """Return the value of a text, whose lengths count bytes in UTF-8. Raises PhpValueError."""
    return read_bytes(text.encode("utf-8", "surrogatepass"))


def read_bytes(data: bytes) -> Any:
    """Return the value: None, bool, int, float, str, or a dict for an array or an object. Raises PhpValueError.

    A reference to another part of it, and an object that writes itself, are None.
    """
    value, end = _value(data, 0, 0)
    if end != len(data):
        raise PhpValueError(f"there is more behind its end, at byte {end:,}")
    return value


def _value(data: bytes, at: int, depth: int) -> tuple[Any, int]:
    if depth > _DEEPEST:
        raise PhpValueError("it is nested too deeply")
    kind = data[at : at + 2]
    if kind == b"N;":
        return None, at + 2
    if kind in (b"i:", b"d:", b"b:"):
        end = _find(data, b";", at)
        number = data[at + 2 : end]
        try:
            return (float(number) if kind == b"d:" else int(number) if kind == b"i:" else number == b"1"), end + 1
        except ValueError:
            raise PhpValueError(f"a number is none, at byte {at:,}") from None
    if kind in (b"R:", b"r:"):
        end = _find(data, b";", at)
        if not data[at + 2 : end].isdigit():
            raise PhpValueError(f"a reference is none, at byte {at:,}")
        return None, end + 1
    if kind in (b"C:", b"E:"):
        return _itself(data, at, kind)
    if kind == b"s:":
        size, begin = _length(data, at + 2)
        end = begin + 1 + size
        if data[begin : begin + 1] != b'"' or data[end : end + 2] != b'";':
            raise PhpValueError(f"the length of a text does not fit, at byte {at:,}")
        return data[begin + 1 : end].decode("utf-8", "replace"), end + 2
    if kind in (b"a:", b"O:"):
        size, begin = _length(data, at + 2)
        if kind == b"O:":
            # The name of its class, then the number of its members.
            size, begin = _length(data, begin + size + 3)
        return _array(data, begin, size, depth)
    raise PhpValueError(f"no value begins like this, at byte {at:,}")


def _array(data: bytes, at: int, size: int, depth: int) -> tuple[dict[Any, Any], int]:
    if data[at : at + 1] != b"{" or size > _MOST:
        raise PhpValueError(f"an array does not begin as one does, at byte {at:,}")
    at += 1
    found = {}
    for _ in range(size):
        key, at = _value(data, at, depth + 1)
        if not isinstance(key, int | str):
            raise PhpValueError(f"a key is neither a number nor a text, before byte {at:,}")
        found[key], at = _value(data, at, depth + 1)
    if data[at : at + 1] != b"}":
        raise PhpValueError(f"an array has more entries than it says, at byte {at:,}")
    return found, at + 1


def _itself(data: bytes, at: int, kind: bytes) -> tuple[Any, int]:
    """Return an enumeration's case, or None for an object that writes itself, and the place behind it."""
    size, begin = _length(data, at + 2)
    end = begin + 1 + size
    if data[begin : begin + 1] != b'"' or data[end : end + 1] != b'"':
        raise PhpValueError(f"the length of a name does not fit, at byte {at:,}")
    if kind == b"E:":
        if data[end + 1 : end + 2] != b";":
            raise PhpValueError(f"the length of a name does not fit, at byte {at:,}")
        return data[begin + 1 : end].decode("utf-8", "replace"), end + 2
    size, begin = _length(data, end + 2)
    end = begin + 1 + size
    if data[begin : begin + 1] != b"{" or data[end : end + 1] != b"}":
        raise PhpValueError(f"the length of an object does not fit, at byte {at:,}")
    return None, end + 1


def _length(data: bytes, at: int) -> tuple[int, int]:
    """Return a length and the place behind its colon."""
    end = _find(data, b":", at)
    if not data[at:end].isdigit() or end - at > len(str(_MOST)) * 2:
        raise PhpValueError(f"a length is none, at byte {at:,}")
    return int(data[at:end]), end + 1


def _find(data: bytes, sign: bytes, at: int) -> int:
    end = data.find(sign, at)
    if end < 0:
        raise PhpValueError(f"it ends too early, at byte {at:,}")
    return end
