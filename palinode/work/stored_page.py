"""A page as it was stored: its source, and the page itself made to stand alone, for a frame that runs nothing."""

from collections.abc import Iterable
from dataclasses import dataclass

from palinode.core import address as addresses
from palinode.core import page
from palinode.records.models import Answer, Capture
from palinode.work import evidence, readers, record_location
from palinode.work import standalone_page as alone_in
from palinode.work.evidence import NotStored
from palinode.work.readers import Unreadable
from palinode.work.record_location import At, Stored

POLICY = "sandbox; default-src 'none'; style-src 'unsafe-inline'; img-src data:; font-src data:; frame-ancestors 'self'"
"""What a stored page may do: nothing, and fetch nothing. Its own styles and images stand in it."""

MOST_SOURCE = 2_000_000
"""Characters of source that are shown."""
_MOST_FILE = 1_000_000
_MOST_FILES = 6_000_000
"""Bytes of styles and images that are put into a page."""
_LET_GO = "The files of this capture were let go of; what was read from them is kept."


@dataclass(frozen=True)
class Source:
    """The stored body of a page, as text."""

    text: str
    length: int
    """Bytes of the whole body."""
    cut: bool


def source(answer: Answer | None) -> Source:
    """Return the stored markup. Raises NotStored."""
    stored, media = _stored(answer)
    if not (media.startswith("text/") or page.is_html(media) or media.endswith(("json", "xml"))):
        raise NotStored(f"This is {media or 'no text'}, which has no source to read.")
    try:
        text, length = readers.ours().run(record_location.text, stored)
    except (FileNotFoundError, Unreadable, ValueError) as error:
        raise _not_stored(error) from None
    return Source(text[:MOST_SOURCE], length, len(text) > MOST_SOURCE)


def alone(answer: Answer | None, address: str) -> str:
    """Return the stored page with its stored styles and images in it, and without what would act. Raises NotStored."""
    stored, media = _stored(answer)
    assert answer is not None
    if not page.is_html(media):
        raise NotStored(f"This is {media or 'no page'}, which is not shown in a frame.")
    ours = readers.ours()
    try:
        styles, images = ours.run(alone_in.named, stored, address)
        files = _Files(answer.capture)
        found = files.of(styles, ("text/css",)) | files.of(images, ("image/",))
        return ours.run(alone_in.page, stored, address, found)
    except (FileNotFoundError, Unreadable, ValueError) as error:
        raise _not_stored(error) from None


def _stored(answer: Answer | None) -> tuple[Stored, str]:
    if answer is None or answer.body is None:
        raise NotStored("Nothing was stored for this side.")
    stored = evidence.stored(answer)
    if stored is None:
        raise NotStored(_LET_GO)
    return stored, answer.media_type or ""


def _not_stored(error: Exception) -> NotStored:
    return NotStored(f"This page {error}." if isinstance(error, Unreadable) else _LET_GO)


class _Files:
    """The stored files of a capture, as a page names them; no more than is good for a frame."""

    def __init__(self, capture: Capture) -> None:
        self._capture, self._left = capture, _MOST_FILES

    def of(self, named: Iterable[str], kinds: tuple[str, ...]) -> dict[str, tuple[str, At]]:
        """Return media type and place of files, but for what is not stored, of another kind or too large."""
        found: dict[str, tuple[str, At]] = {}
        idents = {addresses.ident(address): address for address in named}
        answers = Answer.objects.filter(capture=self._capture, ident__in=list(idents), status=200)
        for answer in answers.exclude(body=None).filter(length__lte=_MOST_FILE):
            media = answer.media_type or ""
            if not media.startswith(kinds) or answer.length > self._left:
                continue
            if at := evidence.body_at(self._capture.move_id, bytes(answer.body or b"")):
                self._left -= answer.length
                found[idents[answer.ident]] = (media, at)
        return found
