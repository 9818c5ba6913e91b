"""Commands for comparisons: make one, write its rows and findings out."""

import argparse
import sys
import time
from collections.abc import Iterable
from typing import TYPE_CHECKING

from palinode.project.commands.captures import wait_for
from palinode.project.commands.installation import Refused, move_named

if TYPE_CHECKING:
    from palinode.records.models import Comparison


def add_to(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """Add these commands to those of the command line."""
    compare = commands.add_parser("compare", help="hold the latest round against the baseline")
    compare.add_argument("move", help="name or number")
    compare.set_defaults(run=_compare)

    ask = commands.add_parser("ask", help="ask anew what checks want of both sides, then compare")
    ask.add_argument("move", help="name or number")
    ask.set_defaults(run=_ask)

    export = commands.add_parser("export", help="write all rows of a check, or all findings, to standard output")
    export.add_argument("what", metavar="CHECK", help=f"{', '.join(_checks())}, or findings")
    export.add_argument("move", help="name or number; its latest comparison is taken")
    export.add_argument("--side", choices=["source", "destination"], default="source", help="of answers")
    export.add_argument("--format", choices=["csv", "json", "junit"], default="csv")
    export.set_defaults(run=_export)
    _add_to_do(commands)


def _add_to_do(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    from palinode.core.causes.cause_kind import Who
    from palinode.core.to_do import FORMATS

    to_do = commands.add_parser("to-do", help="write what is to be done, for the person who can do it")
    to_do.add_argument("move", help="name or number; its latest comparison is taken")
    to_do.add_argument("--for", dest="who", choices=[one.value for one in Who], help="everybody without it")
    to_do.add_argument("--format", choices=FORMATS, default="txt")
    to_do.set_defaults(run=_to_do)


def _to_do(options: argparse.Namespace) -> int:
    from palinode.core.causes.cause_kind import Who
    from palinode.records import exports

    latest = _latest(options.move)
    return _write(exports.to_do(latest, options.format, Who(options.who) if options.who else None), latest)


def _checks() -> list[str]:
    from palinode.core.checks import registry

    return list(registry.BY_NAME)


def _ask(options: argparse.Namespace) -> int:
    from palinode.work.capturing import asking

    move = move_named(options.move)
    try:
        begun = asking.order(move)
    except asking.AskingError as error:
        raise Refused(str(error)) from None
    for capture in begun:
        wait_for(capture)
        print(f"{capture.get_which_display()}: {capture.asked:,} asked, {capture.not_fetched:,} not fetched.")
    return _compare(options)


def _compare(options: argparse.Namespace) -> int:
    from palinode.records import captures
    from palinode.records.models import Comparison
    from palinode.work.comparing import comparison_job

    move = move_named(options.move)
    latest = captures.latest(move, "destination")
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
    from palinode.records import exports, outcomes

    if options.what not in [*_checks(), "findings"]:
        raise Refused(f"there is no check “{options.what}”. Say one of: {', '.join([*_checks(), 'findings'])}.")
    if options.what == "answers":
        return _export_answers(options)
    latest = _latest(options.move)
    if options.what == "findings":
        return _write(exports.findings(latest, options.format), latest)
    outcome = outcomes.of(latest, options.what)
    if outcome is None:
        raise Refused(f"{options.what} was not looked at in the latest comparison.")
    return _write(exports.rows(outcome, options.format), latest)


def _export_answers(options: argparse.Namespace) -> int:
    from palinode.records import captures, exports

    latest = captures.latest(move_named(options.move), options.side)
    if latest is None:
        raise Refused("there is no closed capture of this side yet.")
    if options.format == "junit":
        raise Refused("answers are exported as csv or json.")
    for part in exports.answers(latest, options.format):
        sys.stdout.write(part)
    return 0


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
