"""Commands for comparisons: make one, write its rows and findings out."""

import argparse
import sys
import time
from collections.abc import Iterable
from typing import TYPE_CHECKING

from palinode.project.commands.installation import Refused, move_named

if TYPE_CHECKING:
    from palinode.records.models import Comparison


def add_to(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """Add these commands to those of the command line."""
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


def _compare(options: argparse.Namespace) -> int:
    from palinode.records.models import Capture, Comparison
    from palinode.work.comparing import comparison_job

    move = move_named(options.move)
    latest = move.captures.filter(which="destination", state=Capture.State.CLOSED).first()
    if move.baseline is None or latest is None:
        raise Refused("both sides must be captured first.")
    comparison = comparison_job.order(move, move.baseline, latest)
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


def _latest(named: str) -> "Comparison":
    from palinode.records import findings

    latest = findings.latest(move_named(named))
    if latest is None:
        raise Refused("there is no comparison yet.")
    return latest


def _write(parts: Iterable[str], latest: "Comparison") -> int:
    for part in parts:
        sys.stdout.write(part)
    return 1 if latest.standing["blocks"] else 0
