"""Serialized values of PHP that hold addresses: whether they are sound, and written anew with their lengths right.

``s:23:"http://tidemill.example";`` says how many bytes its text has. A replacement that does not count again leaves a
value that PHP reads as nothing.
"""

import re
from collections.abc import Callable

from palinode.core import php_values
from palinode.core.php_values import PhpValueError

_LOOKS = re.compile(rb'(?:a:\d+:\{|[OC]:\d+:"|s:\d+:")', re.DOTALL)
_TEXT = re.compile(rb's:(\d+):"')
_NAME = re.compile(rb'[OCE]:(\d+):"')


def looks(data: bytes) -> bool:
    """Whether a value looks like a serialized array, object or text, sound or not."""
    return _LOOKS.match(data) is not None and data.rstrip().endswith((b"}", b";"))


def damage(data: bytes) -> str:
    """Return what is wrong with a serialized value, in words; empty for a sound one."""
    try:
        php_values.read_bytes(data.strip())
    except PhpValueError as error:
        return str(error)
    except RecursionError:
        return ""
    return ""


def rewritten(data: bytes, change: Callable[[bytes], bytes]) -> bytes:
    """Return a sound serialized value with its texts changed, those of values within texts as well.

    Keys, names of classes and what objects write themselves stay. Raises PhpValueError for a damaged one.
    """
    php_values.read_bytes(data)
    pieces: list[bytes] = []
    at = kept = 0
    # Whether the next text is a key, for each array or object in which we are.
    keys: list[bool] = []
    while at < len(data):
        kind = data[at : at + 1]
        if kind == b"s" and (text := _TEXT.match(data, at)):
            begin, end = text.end(), text.end() + int(text[1])
            if not (keys and keys[-1]):
                inner = data[begin:end]
                new = rewritten(inner, change) if looks(inner) and not damage(inner) else change(inner)
                if new != inner:
                    pieces += [data[kept:at], b's:%d:"%s";' % (len(new), new)]
                    kept = end + 2
            at = end + 2
            _next(keys)
        elif name := _NAME.match(data, at):
            at = _behind_name(data, at, name, keys)
        elif kind == b"a":
            at = data.index(b"{", at) + 1
            keys.append(True)
        elif kind == b"}":
            keys.pop()
            at += 1
            _next(keys)
        else:
            at = data.index(b";", at) + 1
            _next(keys)
    return b"".join([*pieces, data[kept:]])


def _next(keys: list[bool]) -> None:
    """Note that a key or a value ended."""
    if keys:
        keys[-1] = not keys[-1]


def _behind_name(data: bytes, at: int, name: re.Match[bytes], keys: list[bool]) -> int:
    """Return the place behind the name of a class; behind all of an enumeration, and of what writes itself."""
    end = name.end() + int(name[1]) + 1
    kind = data[at : at + 1]
    if kind == b"E":
        _next(keys)
        return end + 1
    size, begin = data[end + 1 : data.index(b":", end + 1)], data.index(b"{", end) + 1
    if kind == b"O":
        keys.append(True)
        return begin
    _next(keys)
    return begin + int(size) + 1
