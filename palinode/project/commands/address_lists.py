"""Commands that import: lists of addresses, and files that become captures."""

import argparse
import tempfile
import time
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, BinaryIO

from palinode.project.commands.accounts import asked
from palinode.project.commands.captures import add_baseline_to, close
from palinode.project.commands.installation import Refused, move_named, owner

if TYPE_CHECKING:
    from palinode.records.models import Capture, Import


def add_to(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """Add these commands to those of the command line."""
    addresses = commands.add_parser(
        "addresses", help="import addresses known from elsewhere: a list, a CSV, an access log"
    )
    addresses.add_argument("move", help="its name or number")
    addresses.add_argument("side", choices=["source", "destination"])
    addresses.add_argument("file")
    addresses.add_argument(
        "--column", default="", help="heading or number of the column of a CSV that holds the addresses"
    )
    addresses.add_argument("--host", default="", help="of a log: the host that wrote it, if not the main one")
    addresses.set_defaults(run=_addresses)

    capture = commands.add_parser(
        "import", help="make a capture of a WARC file, pages, a dump, an export or a list of files"
    )
    capture.add_argument("move", help="its name or number")
    capture.add_argument("side", choices=["source", "destination"])
    capture.add_argument("file", help="a file, or a folder of static pages")
    capture.add_argument(
        "--listing", action="store_true", help="of a ZIP or tar of the site's folder, list the files alone"
    )
    add_baseline_to(capture)
    capture.set_defaults(run=_import)

    api = commands.add_parser("api", help="ask the public API of a side, and make a capture of what it shows")
    api.add_argument("move", help="its name or number")
    api.add_argument("side", choices=["source", "destination"])
    api.add_argument("--user", default="", help="an account of WordPress; its application password is asked for")
    api.set_defaults(run=_api)

    database = commands.add_parser("database", help="read the live database of a side, and make a capture of it")
    database.add_argument("move", help="its name or number")
    database.add_argument("side", choices=["source", "destination"])
    database.add_argument("--server", choices=["mariadb", "postgresql"], default="mariadb", help="mariadb is MySQL too")
    database.add_argument("--host", required=True)
    database.add_argument("--port", type=int, default=0, help="3306 or 5432, where none is given")
    database.add_argument("--database", required=True)
    database.add_argument("--user", required=True, help="an account that may read; its password is asked for")
    database.add_argument("--certified", action="store_true", help="only over TLS, with a certificate that is valid")
    database.set_defaults(run=_database)

    numbers = commands.add_parser("numbers", help="keep numbers counted by hand as a capture: 'Orders 1,284'")
    numbers.add_argument("move", help="its name or number")
    numbers.add_argument("side", choices=["source", "destination"])
    numbers.add_argument("lines", metavar="LINE", nargs="+", help="what is counted, and how many there are")
    numbers.set_defaults(run=_numbers)


def _addresses(options: argparse.Namespace) -> int:
    from palinode.core.documents.address_list import ColumnError
    from palinode.core.wording import number, sentence
    from palinode.gather.lists import ListError
    from palinode.work.importing import address_lists

    try:
        with open(options.file, "rb") as file:
            move = move_named(options.move)
            outcome = address_lists.import_list(
                move, options.side, file, options.file, owner(move), options.column, options.host, float("inf")
            )
    except (OSError, ListError, ColumnError, address_lists.HostError) as error:
        raise Refused(str(error)) from None
    tally = outcome.tally
    told = number(tally.named.total(), "line that names", "lines that name")
    print(f"{sentence(number(outcome.new, 'new address', 'new addresses'))}, from {told} this side.")
    print(f"Left out: {tally.elsewhere:,} of other sites, {tally.failed:,} requests that got no page, "
          f"{tally.unread:,} lines without an address.")  # fmt: skip
    if tally.visits:
        print(f"{sentence(number(tally.visits, 'visit'))} counted.")
    for example in tally.examples:
        print(f"  {example}")
    return 0


def _import(options: argparse.Namespace) -> int:
    from palinode.core.wording import number, sentence
    from palinode.records.models import Import
    from palinode.work.importing import import_job

    move, path = move_named(options.move), Path(options.file)
    try:
        with _opened(path) as file:
            imported = import_job.order(move, options.side, file, path.name, owner(move), options.listing)
    except (OSError, import_job.ImportRefused) as error:
        raise Refused(str(error)) from None
    capture = _waited_for(imported)
    if imported.kind in Import.SITE_FILES:
        print(imported.said)
        return 0 if capture.complete else 1
    print(f"{sentence(imported.said)} {sentence(number(capture.pages, 'page'))}.")
    close(move, capture, options.baseline, options.reason)
    return 0


def _api(options: argparse.Namespace) -> int:
    from palinode.work.importing import import_job

    move = move_named(options.move)
    try:
        password = asked("Application password") if options.user else ""
        imported = import_job.order_api(move, options.side, owner(move), options.user, password)
    except import_job.ImportRefused as error:
        raise Refused(str(error)) from None
    _waited_for(imported)
    print(imported.said)
    return 0


def _database(options: argparse.Namespace) -> int:
    from palinode.gather.databases.account import PORTS, Account, Server
    from palinode.work.importing import import_job

    move, server = move_named(options.move), Server(options.server)
    port, password = options.port or PORTS[server], asked("Password")
    account = Account(server, options.host, port, options.database, options.user, password, options.certified)
    try:
        imported = import_job.order_database(move, options.side, owner(move), account)
    except import_job.ImportRefused as error:
        raise Refused(str(error)) from None
    capture = _waited_for(imported)
    print(imported.said)
    return 0 if capture.complete else 1


def _numbers(options: argparse.Namespace) -> int:
    from palinode.work.importing import import_job

    move = move_named(options.move)
    try:
        imported = import_job.keep_numbers(move, options.side, "\n".join(options.lines), owner(move))
    except import_job.ImportRefused as error:
        raise Refused(str(error)) from None
    _waited_for(imported)
    print(imported.said)
    return 0


def _waited_for(imported: "Import") -> "Capture":
    """Return the capture of an import, when a worker has made it. Raises Refused where it failed."""
    while imported.state == imported.State.WAITING:
        time.sleep(0.3)
        imported.refresh_from_db()
    if imported.state == imported.State.FAILED:
        raise Refused(imported.said)
    assert imported.capture is not None, "what is done has its capture"
    return imported.capture


@contextmanager
def _opened(path: Path) -> Iterator[BinaryIO]:
    """Open a file; a folder is packed into an archive first."""
    if not path.is_dir():
        with path.open("rb") as file:
            yield file
        return
    with tempfile.TemporaryFile() as packed:
        with zipfile.ZipFile(packed, "w", zipfile.ZIP_STORED, strict_timestamps=False) as archive:
            for one in sorted(path.rglob("*")):
                if one.is_file() and not one.is_symlink():
                    archive.write(one, one.relative_to(path))
        packed.seek(0)
        yield packed
