"""The command line for scripts, on the same code as the views.

Exit status: 0 done, 1 done and differences block the switch, 2 could not be done.
"""

import argparse
import os
import sys
import tempfile
import time
import zipfile
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, BinaryIO

import django

CHECKOUT = Path(__file__).resolve().parent.parent.parent

if TYPE_CHECKING:
    from django.contrib.auth.models import User

    from palinode.records.models import Capture, Comparison, Move
    from palinode.work.again import Again


class Refused(Exception):
    """What was asked cannot be done; the message is for a person."""


def main() -> None:
    """Run one command."""
    options = _parser().parse_args()
    try:
        _set_up()
        sys.exit(options.run(options))
    except Refused as refused:
        print(f"palinode: {refused}", file=sys.stderr)
        sys.exit(2)
    except KeyboardInterrupt:
        print("\npalinode: interrupted; a capture that runs goes on in the background.", file=sys.stderr)
        sys.exit(2)


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="palinode", description=__doc__)
    commands = parser.add_subparsers(required=True, metavar="COMMAND")

    move = commands.add_parser("move", help="moves: add, list").add_subparsers(required=True, metavar="ACTION")
    add = move.add_parser("add", help="describe a move")
    add.add_argument("name")
    add.add_argument("source", help="address of the site as it was")
    add.add_argument("destination", help="address of the copy")
    add.add_argument("--connect-source", default="", metavar="HOST[:PORT]")
    add.add_argument("--connect-destination", default="", metavar="HOST[:PORT]")
    add.add_argument("--line", action="append", default=[], metavar="'OLD -> NEW'", help="a line of the address rule")
    add.add_argument("--user", help="whose move it is; the first account without it")
    add.set_defaults(run=_add)
    move.add_parser("list", help="list the moves").set_defaults(run=_list)

    capture = commands.add_parser("capture", help="capture one side and wait for its end")
    capture.add_argument("move", help="name or number")
    capture.add_argument("side", choices=["source", "destination"])
    capture.add_argument("--baseline", action="store_true", help="name it as the baseline")
    capture.add_argument("--reason", default="", help="why it is the baseline although it does not stand")
    capture.add_argument("--concurrency", type=int, default=8)
    capture.add_argument("--again", action="store_true", help="ask what changed since the latest capture of the side")
    capture.add_argument("--failed", action="store_true", help="ask only what had failed in the latest")
    capture.add_argument("--section", default="", metavar="PATH", help="ask only below a path; the rest is taken over")
    capture.set_defaults(run=_capture)

    bring = commands.add_parser("bring", help="bring addresses known from elsewhere: a list, a CSV, an access log")
    bring.add_argument("move", help="its name or number")
    bring.add_argument("side", choices=["source", "destination"])
    bring.add_argument("file")
    bring.add_argument("--column", default="", help="heading or number of the column of a CSV that holds the addresses")
    bring.set_defaults(run=_bring)

    brought = commands.add_parser("import", help="make a capture of a WARC file, a ZIP archive or a folder of pages")
    brought.add_argument("move", help="its name or number")
    brought.add_argument("side", choices=["source", "destination"])
    brought.add_argument("file", help="a file, or a folder of static pages")
    brought.set_defaults(run=_import)

    taken = commands.add_parser("archive", help="take a move away as one file, or bring one in")
    taken = taken.add_subparsers(required=True, metavar="ACTION")
    take = taken.add_parser("take", help="write the archive of a move")
    take.add_argument("move", help="its name or number")
    take.add_argument("file", help="where to write it")
    take.set_defaults(run=_take)
    back = taken.add_parser("bring", help="make a move of an archive")
    back.add_argument("file")
    back.add_argument("--user", help="whose move it is; the first account without it")
    back.set_defaults(run=_bring_archive)
    verify = commands.add_parser("verify", help="check the WARC files of a move against their digests")
    verify.add_argument("move", help="its name or number")
    verify.set_defaults(run=_verify)

    compare = commands.add_parser("compare", help="hold the latest round against the baseline")
    compare.add_argument("move", help="name or number")
    compare.set_defaults(run=_compare)

    export = commands.add_parser("export", help="write rows out").add_subparsers(required=True, metavar="WHAT")
    pages = export.add_parser("pages", help="all rows of the latest comparison, on standard output")
    pages.add_argument("move", help="name or number")
    pages.add_argument("--format", choices=["csv", "json"], default="csv")
    pages.set_defaults(run=_export)
    found = export.add_parser("findings", help="all findings of the latest comparison, on standard output")
    found.add_argument("move")
    found.add_argument("--format", choices=["csv", "json", "junit"], default="csv")
    found.set_defaults(run=_export_findings)
    return parser


def _set_up() -> None:
    """Find the installation that runs: as the environment says, else the one of bin/serve, else the demo's."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "palinode.project.settings")
    if "PALINODE_DATABASE" not in os.environ:
        given = os.environ.get("PALINODE_DATA")
        folders = [Path(given)] if given else [CHECKOUT / "var" / "serve", CHECKOUT / "var" / "demo"]
        data = next((folder for folder in folders if (folder / "database").exists()), None)
        if data is None:
            raise Refused("no installation is here. Start bin/serve or bin/demo first.")
        os.environ["PALINODE_DATA"] = str(data)
        os.environ["PALINODE_DATABASE"] = (data / "database").read_text()
    django.setup()
    from django.db import OperationalError, connection

    try:
        connection.ensure_connection()
    except OperationalError:
        raise Refused("the database does not answer. Is bin/serve or bin/demo running?") from None


def _move(named: str) -> "Move":
    from palinode.records.models import Move

    found = Move.objects.filter(pk=int(named)) if named.isdigit() else Move.objects.filter(name=named)
    if len(found) != 1:
        said = "there is no move" if not found else "there are several moves"
        raise Refused(f"{said} {named!r}. List them with: palinode move list")
    return found[0]


def _account(name: str | None) -> "User":
    from django.contrib.auth.models import User

    user = User.objects.filter(username=name).first() if name else User.objects.order_by("pk").first()
    if user is None:
        raise Refused("there is no such account. The first visit in the browser makes the owner's.")
    return user


def _take(options: argparse.Namespace) -> int:
    from palinode.work import archiving

    move = _move(options.move)
    try:
        with open(options.file, "wb") as file:
            for part in archiving.take(move):
                file.write(part)
    except OSError as error:
        raise Refused(str(error)) from None
    print(f"{move.name} is in {options.file}.")
    return 0


def _bring_archive(options: argparse.Namespace) -> int:
    from palinode.work import archiving

    try:
        with open(options.file, "rb") as file:
            move = archiving.bring(file, Path(options.file).name, _account(options.user))
    except (OSError, archiving.ArchiveRefused) as error:
        raise Refused(str(error)) from None
    print(f"Move {move.pk}: {move.name}.")
    return 0


def _verify(options: argparse.Namespace) -> int:
    from palinode.records.models import Segment
    from palinode.work import verifying

    move = _move(options.move)
    faulty = verifying.verify_all(move)
    kept = Segment.objects.filter(capture__move=move, let_go_at=None)
    for segment in kept.exclude(fault=""):
        print(f"{segment.name}: {segment.fault}")
    print(f"{kept.count() - faulty:,} of {kept.count():,} WARC files are as they were sealed.")
    return 1 if faulty else 0


def _add(options: argparse.Namespace) -> int:
    from palinode.core.address import AddressError
    from palinode.core.connect import ConnectError
    from palinode.core.rule import RuleError
    from palinode.work import describing

    user = _account(options.user)
    try:
        move = describing.describe(
            options.name,
            describing.typed_side(options.source, options.connect_source),
            describing.typed_side(options.destination, options.connect_destination),
            options.line,
            user,
        )
    except (AddressError, ConnectError, RuleError) as error:
        raise Refused(str(error)) from None
    print(f"Move {move.pk}: {move.name}, {move.get_kind_display()}.")
    return 0


def _list(options: argparse.Namespace) -> int:
    from palinode.records.models import Move

    for move in Move.objects.all():
        print(f"{move.pk:>5}  {move.name}  ({move.get_kind_display()}, {move.stage})")
    return 0


def _capture(options: argparse.Namespace) -> int:
    from palinode.work import capturing, describing
    from palinode.work.again import AgainError
    from palinode.work.policy import Policy, PolicyError

    move = _move(options.move)
    try:
        policy = Policy.read({"concurrency": options.concurrency})
        capture = capturing.begin(move, options.side, policy, _again(options, move))
    except AgainError as error:
        raise Refused(str(error)) from None
    except PolicyError as error:
        raise Refused(f"{error.option}: {error}") from None
    except capturing.Busy:
        raise Refused("this side is being captured already.") from None
    _wait(capture)
    print(f"{capture.pages:,} pages, {capture.asked:,} addresses asked, {capture.not_fetched:,} not fetched.")
    print(capture.judgement["sentence"])
    if not capture.pages:
        raise Refused("the capture holds no page.")
    if options.side == "source" and (options.baseline or move.baseline_id is None):
        try:
            describing.edit(
                move,
                {"baseline": capture.pk, "baseline_reason": options.reason},
                _owner(move),
            )
        except describing.BaselineError as error:
            raise Refused(f"{error} (--reason)") from None
        print("It is the baseline.")
    return 0


def _again(options: argparse.Namespace, move: "Move") -> "Again | None":
    from palinode.records.models import Capture
    from palinode.work import again

    what = "section" if options.section else "failed" if options.failed else "all" if options.again else ""
    if not what:
        return None
    latest = move.captures.filter(which=options.side, state=Capture.State.CLOSED).first()
    if latest is None:
        raise Refused("there is no closed capture of this side to go on from.")
    return again.read(move, options.side, latest.pk, what, options.section, "")


def _bring(options: argparse.Namespace) -> int:
    from palinode.core.documents.address_list import ColumnError
    from palinode.core.wording import number, sentence
    from palinode.work import bringing

    try:
        with open(options.file, "rb") as file:
            move = _move(options.move)
            outcome = bringing.bring(move, options.side, file, options.file, _owner(move), options.column)
    except (OSError, bringing.ListError, ColumnError) as error:
        raise Refused(str(error)) from None
    tally = outcome.tally
    told = number(tally.named.total(), "line that names", "lines that name")
    print(f"{sentence(number(outcome.new, 'new address', 'new addresses'))}, from {told} this side.")
    print(f"Left out: {tally.elsewhere:,} of other sites, {tally.failed:,} requests that got no page, "
          f"{tally.unread:,} lines without an address.")  # fmt: skip
    for example in tally.examples:
        print(f"  {example}")
    return 0


def _owner(move: "Move") -> "User":
    """Return whom the record names for what is done from the command line."""
    return move.memberships.filter(role="owner")[0].user


def _import(options: argparse.Namespace) -> int:
    from palinode.core.wording import number, sentence
    from palinode.records.models import Import
    from palinode.work import importing

    move, path = _move(options.move), Path(options.file)
    try:
        with _opened(path) as file:
            imported = importing.bring(move, options.side, file, path.name, _owner(move))
    except (OSError, importing.ImportRefused) as error:
        raise Refused(str(error)) from None
    while imported.state == Import.State.WAITING:
        time.sleep(0.3)
        imported.refresh_from_db()
    if imported.state == Import.State.FAILED:
        raise Refused(imported.said)
    capture = imported.capture
    assert capture is not None, "what is done has its capture"
    print(f"{sentence(imported.said)} {sentence(number(capture.pages, 'page'))}.")
    print(capture.judgement["sentence"])
    return 0


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


def _wait(capture: "Capture") -> None:
    shown = sys.stderr.isatty()
    while True:
        capture.refresh_from_db()
        if shown:
            share = capture.asked / max(1, capture.known)
            bar = "=" * round(30 * share)
            print(f"\r[{bar:<30}] {capture.asked:,} of {capture.known:,}", end="", file=sys.stderr, flush=True)
        if capture.state == capture.State.CLOSED:
            if shown:
                print(file=sys.stderr)
            return
        if capture.state == capture.State.PAUSED:
            raise Refused(f"the capture is paused: {capture.why}")
        time.sleep(0.3)


def _compare(options: argparse.Namespace) -> int:
    from palinode.records.models import Capture, Comparison
    from palinode.work import comparing

    move = _move(options.move)
    latest = move.captures.filter(which="destination", state=Capture.State.CLOSED).first()
    if move.baseline is None or latest is None:
        raise Refused("both sides must be captured first.")
    comparison = comparing.order(move, move.baseline, latest)
    while comparison.state == Comparison.State.WAITING:
        time.sleep(0.2)
        comparison.refresh_from_db()
    if comparison.state == Comparison.State.FAILED:
        raise Refused(comparison.why)
    standing = comparison.standing
    print(standing["sentence"])
    print(f"{standing['summary']} Not looked at: {', '.join(standing['not_looked_at'])}.")
    for cause in standing["causes"]:
        print(f"  {cause['weight']:<7} {cause['title']}. {cause['detail']}")
    return 1 if standing["blocks"] else 0


def _export(options: argparse.Namespace) -> int:
    from palinode.records import exports

    latest = _latest(options.move)
    return _write(exports.as_json(latest) if options.format == "json" else exports.as_csv(latest), latest)


def _export_findings(options: argparse.Namespace) -> int:
    from palinode.records import exports

    latest = _latest(options.move)
    return _write(exports.FINDINGS[options.format](latest), latest)


def _latest(name: str) -> "Comparison":
    from palinode.records import findings

    latest = findings.latest(_move(name))
    if latest is None:
        raise Refused("there is no comparison yet.")
    return latest


def _write(parts: Iterable[str], latest: "Comparison") -> int:
    for part in parts:
        sys.stdout.write(part)
    return 1 if latest.standing["blocks"] else 0


if __name__ == "__main__":
    main()
