"""Records of the evidence opened where they lie. Run in reading processes, without models: see work/readers.py."""

import hashlib
from dataclasses import dataclass

from palinode.core import encoding, page
from palinode.gather.warc import check, segment
from palinode.gather.warc.check import Checked
from palinode.gather.warc.segment import Recorded
from palinode.records.folder import Folder

_CHUNK = 1 << 20


@dataclass(frozen=True)
class At:
    """Where a record lies."""

    move: int
    name: str
    """Of the segment in the folder of the move."""
    offset: int


@dataclass(frozen=True)
class Stored:
    """Where an answer lies, and where its body does, which may have been stored with another."""

    record: At
    body: At


def opened(at: At) -> Recorded:
    """Return the response that begins there. Raises FileNotFoundError, and ValueError if none does."""
    with Folder(at.move).open(at.name) as file:
        return segment.response_at(file, at.offset)


def headers(at: At) -> dict[str, str]:
    """Return the fields of a response."""
    return opened(at).headers


def body(at: At) -> bytes:
    """Return the body of a response, codings undone."""
    return opened(at).body


def text(stored: Stored) -> tuple[str, int]:
    """Return the body of an answer as text, by what its header says of it, and how many bytes it has."""
    charset = page.charset(headers(stored.record).get("content-type", ""))
    data = body(stored.body)
    return encoding.decode(data, charset), len(data)


def checked(move: int, name: str) -> tuple[Checked, str]:
    """Return what a check of a segment finds, and its SHA-256."""
    digest = hashlib.sha256()
    with Folder(move).open(name) as file:
        while chunk := file.read(_CHUNK):
            digest.update(chunk)
        file.seek(0)
        return check.check(file), digest.hexdigest()
