"""Loads what site files hold, for the checks that read it; what an older version kept of one is read again."""

import logging
from collections.abc import Mapping, Sequence

import numpy as np

from palinode.core.checks.content import chosen_tables
from palinode.core.checks.content.check import CHECK as CONTENT
from palinode.core.dumps.contents import Table
from palinode.core.dumps.database import Database
from palinode.core.listings.listing import Listing
from palinode.core.platforms import packing
from palinode.core.platforms.items import SiteItems
from palinode.core.site_contents import SiteContents
from palinode.records import check_options, contents_files
from palinode.records.models import Capture, CaptureFile
from palinode.work import readers
from palinode.work.importing import containers, site_file_reading
from palinode.work.readers import Unreadable

log = logging.getLogger(__name__)


def items(held: Sequence[Capture]) -> tuple[SiteItems, ...] | None:
    """Return the items of each dump and export; None where no platform was recognised in any."""
    found = []
    for file, arrays in _there(held):
        installations = packing.installations(file.contents.get("platforms", ()), arrays)
        if installations or file.contents.get("numbers"):
            found.append(SiteItems(str(file.capture.kind), installations, file.contents.get("numbers", {})))
    return tuple(found) or None


def database(held: Sequence[Capture]) -> Database | None:
    """Return the database that a dump shows; of several dumps all of their tables.

    Rows are counted by the columns that people chose; a dump that was read before is read again for these.
    """
    chosen = check_options.of(held[0].move, CONTENT).tables if held else ()
    _count_by(held, chosen_tables.columns(chosen))
    files = _there(held)
    if not files:
        return None
    return Database(
        [Table.of(one) for file, _ in files for one in file.contents["tables"]],
        files[0][0].contents["server"],
        " ".join(file.ends_early for file, _ in files if file.ends_early),
        [one for file, arrays in files for one in packing.installations(file.contents["platforms"], arrays)],
    )


def listing(held: Sequence[Capture]) -> Listing | None:
    """Return the list of files of a side, the latest."""
    files = _there(held)
    return Listing.of(files[-1][1], files[-1][0].contents["unread"]) if files else None


def _count_by(held: Sequence[Capture], columns: frozenset[str]) -> None:
    """Have the rows of dumps counted by the values of columns; those that were not when they were read are read again.

    ``columns`` are names in small letters.
    """
    for capture in held:
        try:
            if not columns <= _grouping(capture.file):
                _read_again(capture, columns)
        except (FileNotFoundError, Unreadable, *site_file_reading.ERRORS):
            log.exception("the file of capture %s cannot be read again", capture.pk)


def _there(held: Sequence[Capture]) -> list[tuple[CaptureFile, Mapping[str, np.ndarray]]]:
    """Return the files of captures with their arrays; one that is gone, or damaged, is not looked at."""
    found = []
    for capture in held:
        try:
            found.append(_read(capture))
        except (FileNotFoundError, Unreadable, *site_file_reading.ERRORS):
            log.exception("the file of capture %s cannot be read again", capture.pk)
    return found


def _read(capture: Capture) -> tuple[CaptureFile, Mapping[str, np.ndarray]]:
    """Return the file of a capture, and its arrays; they are made anew where they lack, or of another version."""
    file = capture.file
    arrays = contents_files.read(file)
    return (file, arrays) if arrays is not None else _read_again(capture)


def _grouping(file: CaptureFile) -> frozenset[str]:
    """Return the columns by which the rows of a dump are counted."""
    return frozenset(file.contents.get("grouping", ()))


def _read_again(
    capture: Capture, columns: frozenset[str] = frozenset()
) -> tuple[CaptureFile, Mapping[str, np.ndarray]]:
    """Read the file of a capture again, its rows counted by some columns besides; return it, and its arrays."""
    file = capture.file
    grouping = _grouping(file) | columns
    *_, contents = readers.stream(
        None, containers.site_file, capture.move_id, file.stored, file.name, str(capture.kind), grouping
    )
    assert isinstance(contents, SiteContents), "it is the last step"
    file.contents = contents.kept()
    file.save(update_fields=["contents"])
    contents_files.keep(capture, contents.arrays)
    return file, contents.arrays
