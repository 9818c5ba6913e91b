"""Site files that a person imported, each as a capture that keeps it as it is."""

from django.utils import timezone

from palinode.core import address as addresses
from palinode.core.discovery import Discovery
from palinode.core.platforms import packing, permalinks
from palinode.core.site_contents import SiteContents
from palinode.core.wording import number
from palinode.records import address_lists, capture_sets, captures, contents_files, disk
from palinode.records.models import Capture, CaptureFile, Import, Move
from palinode.work import readers, scopes
from palinode.work.comparing import comparison_job
from palinode.work.importing import containers
from palinode.work.importing.import_progress import ImportProgress

_MEGABYTE = 1_000_000


def read(imported: Import, progress: ImportProgress) -> tuple[str, SiteContents]:
    """Return what the file of an import is, in words, and what it holds.

    Raises what reading it may end with (site_file_reading.ERRORS), Unreadable, DiskFull and ImportRefused.
    """
    what, contents = "", None
    for step in readers.stream(
        None, containers.site_file, imported.move_id, imported.stored, imported.name, str(imported.kind)
    ):
        disk.mind()
        progress.mind()
        match step:
            case str():
                what = step
            case SiteContents():
                contents = step
            case _:
                progress.read = step // _MEGABYTE
    assert contents is not None, "it is the last step"
    return what, contents


def keep(imported: Import, what: str, contents: SiteContents) -> tuple[Capture, str]:
    """Make a closed capture of what was read, and put it into the set it belongs to; return it, and what came of it.

    Needs a transaction.
    """
    server = contents.plain.get("server")
    what = f"{what} Its server was {server}." if server else what
    if other := _other_site(imported, contents):
        what = f"{what} Its site is {other}, which is no host of the {imported.which}."
    capture = Capture.objects.create(
        move=imported.move,
        which=imported.which,
        kind=imported.kind,
        state=Capture.State.CLOSED,
        complete=not contents.ends_early,
        limits=[contents.ends_early] if contents.ends_early else [],
        ended_at=timezone.now(),
    )
    CaptureFile.objects.create(
        capture=capture,
        name=imported.name,
        stored=imported.stored,
        bytes=imported.bytes,
        sha256=imported.sha256,
        what=what,
        summary=contents.summary,
        ends_early=contents.ends_early,
        contents=contents.kept(),
    )
    contents_files.keep(capture, contents.arrays)
    new = _seed(imported, contents)
    if head := _head(imported.move, imported.which):
        capture_sets.add(head, capture)
        comparison_job.order_latest(imported.move)
    known = f"{number(new, 'address', 'addresses')} by it, which the next capture asks." if new else ""
    return capture, " ".join(part for part in (what, contents.summary, contents.ends_early, known) if part)


def _other_site(imported: Import, contents: SiteContents) -> str:
    """Return the address that a file says its site has, if that is none of its side; empty otherwise."""
    bases = scopes.of_side(imported.move, imported.which).bases
    hosts = {addresses.bare_host(addresses.split(base).host) for base in bases}
    for one in contents.plain.get("platforms", ()):
        home = addresses.normal(one["settings"].get("home", ""))
        if home and addresses.bare_host(addresses.split(home).host) not in hosts:
            return home
    return ""


def _seed(imported: Import, contents: SiteContents) -> int:
    """Make known what addresses a site has by its own database; return how many were not known to its side."""
    bases = scopes.of_side(imported.move, imported.which).bases
    found = {
        address
        for one in packing.installations(contents.plain.get("platforms", ()), contents.arrays)
        for address in permalinks.addresses_of(one, bases)
    }
    known = int(Discovery.DATABASE)
    return address_lists.add(imported.move, imported.which, ((addresses.ident(one), one, known, 0, 0) for one in found))


def _head(move: Move, which: str) -> Capture | None:
    """Return the capture of pages to whose set an import of now belongs: the baseline, or the latest round."""
    return move.baseline if which == "source" and move.baseline else captures.latest(move, which)
