"""The command that captures a side and waits for its end."""

import argparse
import sys
import time
from typing import TYPE_CHECKING

from palinode.project.commands.installation import Refused, move_named, owner

if TYPE_CHECKING:
    from palinode.records.models import Capture, Move
    from palinode.work.capturing.recapture import Again


def add_to(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """Add these commands to those of the command line."""
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


def _capture(options: argparse.Namespace) -> int:
    from palinode.core.options import OptionError
    from palinode.work import move_setup
    from palinode.work.capturing import capture_job
    from palinode.work.capturing.policy import Policy
    from palinode.work.capturing.recapture import AgainError

    move = move_named(options.move)
    try:
        policy = Policy.read({"concurrency": options.concurrency})
        capture = capture_job.begin(move, options.side, policy, _again(options, move))
    except AgainError as error:
        raise Refused(str(error)) from None
    except OptionError as error:
        raise Refused(f"{error.option}: {error}") from None
    except capture_job.Busy:
        raise Refused("this side is being captured already.") from None
    wait_for(capture)
    print(f"{capture.pages:,} pages, {capture.asked:,} addresses asked, {capture.not_fetched:,} not fetched.")
    print(capture.judgement["sentence"])
    if not capture.pages:
        raise Refused("the capture holds no page.")
    if options.side == "source" and (options.baseline or move.baseline_id is None):
        try:
            move_setup.edit(
                move,
                {"baseline": capture.pk, "baseline_reason": options.reason},
                owner(move),
            )
        except move_setup.BaselineError as error:
            raise Refused(f"{error} (--reason)") from None
        print("It is the baseline.")
    return 0


def _again(options: argparse.Namespace, move: "Move") -> "Again | None":
    from palinode.records import captures
    from palinode.work.capturing import recapture

    what = "section" if options.section else "failed" if options.failed else "all" if options.again else ""
    if not what:
        return None
    latest = captures.latest(move, options.side)
    if latest is None:
        raise Refused("there is no closed capture of this side to go on from.")
    return recapture.read(move, options.side, latest.pk, what, options.section, "")


def wait_for(capture: "Capture") -> None:
    """Wait until a capture is closed. Raises Refused if it is paused."""
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
