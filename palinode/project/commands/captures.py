"""The command that captures a side and waits for its end."""

import argparse
import sys
import time
from typing import TYPE_CHECKING

from palinode.core import options
from palinode.core.options import OptionError
from palinode.project.commands.installation import Refused, move_named, owner
from palinode.work.capturing.policy import Policy

if TYPE_CHECKING:
    from palinode.records.models import Capture, Move
    from palinode.work.capturing.recapture import Again


_QUIET = 10.0
"""Seconds between two lines of progress where nobody looks at a terminal."""


def add_to(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """Add these commands to those of the command line."""
    capture = commands.add_parser("capture", help="capture one side and wait for its end")
    capture.add_argument("move", help="name or number")
    capture.add_argument("side", choices=["source", "destination"])
    add_baseline_to(capture)
    capture.add_argument("--again", action="store_true", help="ask what changed since the latest capture of the side")
    capture.add_argument("--failed", action="store_true", help="ask only what had failed in the latest")
    capture.add_argument("--section", default="", metavar="PATH", help="ask only below a path; the rest is taken over")
    policy = capture.add_argument_group("how fast, how far")
    for one in options.described(Policy):
        policy.add_argument(
            f"--{one.name.replace('_', '-')}",
            dest=f"policy_{one.name}",
            type=type(one.default),
            metavar="N" if one.kind == "number" else "TEXT",
            help=f"{one.label} ({one.default}). {one.help}".replace("%", "%%").replace("()", "").strip(),
        )
    capture.set_defaults(run=_capture)


def _capture(given: argparse.Namespace) -> int:
    from palinode.work.capturing import capture_job
    from palinode.work.capturing.recapture import AgainError

    move = move_named(given.move)
    typed = {one.name: getattr(given, f"policy_{one.name}") for one in options.described(Policy)}
    try:
        policy = Policy.read({name: value for name, value in typed.items() if value is not None})
        capture = capture_job.begin(move, given.side, policy, _again(given, move))
    except AgainError as error:
        raise Refused(str(error)) from None
    except OptionError as error:
        raise Refused(f"--{error.option.replace('_', '-')}: {error}") from None
    except capture_job.Busy:
        raise Refused("this side is being captured already.") from None
    wait_for(capture)
    print(f"{capture.pages:,} pages, {capture.asked:,} addresses asked, {capture.not_fetched:,} not fetched.")
    close(move, capture, given.baseline, given.reason)
    return 0


def close(move: "Move", capture: "Capture", baseline: bool, reason: str) -> None:
    """Say how good a closed capture is, and name it as the baseline if that is asked for or there is none."""
    from palinode.work import move_setup

    print(capture.judgement["sentence"])
    if not capture.pages:
        raise Refused("the capture holds no page.")
    if capture.which == "source" and (baseline or move.baseline_id is None):
        try:
            move_setup.edit(move, {"baseline": capture.pk, "baseline_reason": reason}, owner(move))
        except move_setup.BaselineError as error:
            raise Refused(f"{error} (--reason)") from None
        print("It is the baseline.")


def add_baseline_to(command: argparse.ArgumentParser) -> None:
    """Add what :func:`close` needs to a command that makes captures."""
    command.add_argument("--baseline", action="store_true", help="name it as the baseline")
    command.add_argument("--reason", default="", help="why it is the baseline although it does not stand")


def _again(given: argparse.Namespace, move: "Move") -> "Again | None":
    from palinode.records import captures
    from palinode.work.capturing import recapture

    what = "section" if given.section else "failed" if given.failed else "all" if given.again else ""
    if not what:
        return None
    latest = captures.latest(move, given.side)
    if latest is None:
        raise Refused("there is no closed capture of this side to go on from.")
    return recapture.read(move, given.side, latest.pk, what, given.section, "")


def wait_for(capture: "Capture") -> None:
    """Wait until a capture is closed. Raises Refused if it is paused."""
    shown = sys.stderr.isatty()
    said, quiet = 0, time.monotonic()
    while True:
        capture.refresh_from_db()
        asked = capture.asked + sum(one.progress.get("asked", 0) for one in capture.shares.filter(ended_at=None))
        if shown:
            bar = "=" * round(30 * min(1.0, asked / max(1, capture.known)))
            print(f"\r[{bar:<30}] {asked:,} of {capture.known:,} addresses", end="", file=sys.stderr, flush=True)
        elif asked > said and time.monotonic() - quiet > _QUIET:
            print(f"{asked:,} of {capture.known:,} addresses", file=sys.stderr, flush=True)
            said, quiet = asked, time.monotonic()
        if capture.state == capture.State.CLOSED:
            if shown:
                print(file=sys.stderr)
            return
        if capture.state == capture.State.PAUSED:
            raise Refused(f"the capture is paused: {capture.why}")
        time.sleep(0.3)
