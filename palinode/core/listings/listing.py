"""A list of files: read from what sha256sum, find or ls print."""

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from enum import Enum

import numpy as np

PIECE = 1 << 20
LONGEST = 1 << 16
"""Bytes of a line; a longer one is an error that is said."""
UNKNOWN = -1
_DIGEST = re.compile(
    rb"^(?P<escaped>\\?)(?P<digest>[0-9a-fA-F]{128}|[0-9a-fA-F]{96}|[0-9a-fA-F]{64}|[0-9a-fA-F]{40}|[0-9a-fA-F]{32})"
    rb" [ *](?P<path>.+)$"
)
_FOUND = re.compile(rb"^(?P<size>\d+)[ \t]+(?P<time>\d{9,}(?:\.\d+)?)[ \t]+(?P<path>.+)$")
_LONG = re.compile(
    rb"^(?P<kind>[-a-z])[-rwxsStT]{9}[.+@]?\s+\d+\s+\S+\s+\S+\s+(?P<size>\d+(?:,\s*\d+)?)\s+"
    rb"(?:\w{3}\s+\d+\s+[\d:]+|\d{4}-\d\d-\d\d\s+[\d:.]+(?:\s+[-+]\d{4})?)\s(?P<path>.+)$"
)
_FOLDER = re.compile(rb"^(?P<folder>.*):$")
_TOTAL = re.compile(rb"^total \S+$")
_ESCAPES = {b"\\\\": b"\\", b"\\n": b"\n", b"\\r": b"\r"}
_ESCAPED = re.compile(rb"\\[\\nr]")
_LOOKED_AT = 40
"""Lines by which a list is recognised."""


class Form(Enum):
    """Which program wrote a list."""

    DIGESTS = "sha256sum or the like"
    FOUND = "find -printf"
    LONG = "ls -lR"


class ListingError(ValueError):
    """A list cannot be read; the message is for a person, and names the line."""


@dataclass(frozen=True)
class Listing:
    """The n files of a list, in order of their paths, each once."""

    paths: list[str]
    """From the folder that the list begins in, without ``./``."""
    size: np.ndarray
    """int64 (n,): bytes; UNKNOWN where the list does not say."""
    digest: np.ndarray
    """int64 (n,): the first eight bytes of the digest; 0 where the list has none."""
    unread: int = 0
    """Lines that say nothing of a file that could be understood."""

    def __len__(self) -> int:
        """Return the number of files."""
        return len(self.paths)


def recognise(beginning: bytes) -> Form | None:
    """Return which program wrote a list that begins like this; None if it is none."""
    lines = [line.rstrip(b"\r") for line in beginning.split(b"\n")[:_LOOKED_AT]][: -1 if b"\n" in beginning else None]
    lines = [line for line in lines if line]
    if not lines:
        return None
    if all(_DIGEST.match(line) for line in lines):
        return Form.DIGESTS
    if all(_FOUND.match(line) for line in lines):
        return Form.FOUND
    long = [line for line in lines if _LONG.match(line) or _TOTAL.match(line) or _FOLDER.match(line)]
    return Form.LONG if len(long) == len(lines) and any(map(_LONG.match, lines)) else None


def read(reads: Callable[[int], bytes], form: Form) -> Listing:
    """Read a list; ``reads`` returns so many further bytes or fewer. Of a file that is named twice the last line holds.

    Raises ListingError.
    """
    found: dict[bytes, tuple[int, int]] = {}
    unread = 0
    folder = b""
    for line in _lines(reads):
        if form is Form.LONG:
            if not line or _TOTAL.match(line):
                continue
            if told := _LONG.match(line):
                if told["kind"] == b"-":
                    found[folder + told["path"]] = int(told["size"]), 0
                continue
            if head := _FOLDER.match(line):
                folder = _path(head["folder"] + b"/")
                continue
        elif told := (_DIGEST if form is Form.DIGESTS else _FOUND).match(line):
            if form is Form.FOUND:
                found[_path(told["path"])] = int(told["size"]), 0
            else:
                path = told["path"]
                if told["escaped"]:
                    path = _ESCAPED.sub(lambda one: _ESCAPES[one[0]], path)
                found[_path(path)] = (
                    UNKNOWN,
                    int.from_bytes(bytes.fromhex(told["digest"][:16].decode()), "big", signed=True),
                )
            continue
        unread += bool(line)
    return made(found, unread)


def made(found: dict[bytes, tuple[int, int]], unread: int = 0) -> Listing:
    """Return a listing of files, each with its size and digest, or what stands for those that are not known."""
    paths = sorted(found)
    told = np.array([found[one] for one in paths], np.int64).reshape(-1, 2)
    return Listing([one.decode("utf-8", "surrogateescape") for one in paths], told[:, 0], told[:, 1], unread)


def _lines(reads: Callable[[int], bytes]) -> Iterator[bytes]:
    rest, number = b"", 0
    while piece := reads(PIECE):
        *lines, rest = (rest + piece).split(b"\n")
        for line in lines:
            yield line[:-1] if line.endswith(b"\r") else line
        number += len(lines)
        if len(rest) > LONGEST:
            raise ListingError(f"Line {number + 1:,} is longer than {LONGEST:,} bytes, which no path is.")
    if rest:
        yield rest


def _path(written: bytes) -> bytes:
    return written[2:] if written.startswith(b"./") else written
