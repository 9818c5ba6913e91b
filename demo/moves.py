"""Makes the demo's account and its two moves, captures both sides, compares them."""

import io
import os
import sys
import time
from datetime import UTC, datetime
from pathlib import Path

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "palinode.project.settings")
django.setup()

from django.contrib.auth.models import User  # noqa: E402

from demo import access_log, behind, marrow, mill  # noqa: E402
from demo.faults import Faults  # noqa: E402
from palinode.records.models import Capture, Comparison, Import, Move  # noqa: E402
from palinode.work import move_setup  # noqa: E402
from palinode.work.capturing import asking, capture_job  # noqa: E402
from palinode.work.capturing.policy import Policy  # noqa: E402
from palinode.work.importing import address_lists, import_job  # noqa: E402

NAME, PASSWORD = "miller", "tide-and-stone"


def main() -> None:
    """Make what is not there yet."""
    user = User.objects.filter(username=NAME).first() or User.objects.create_superuser(NAME, password=PASSWORD)
    port = int(os.environ["PALINODE_DEMO_PORT"])
    if Move.objects.filter(memberships__user=user).exists():
        return
    mill_move = _move(
        user, "Quillhaven Tide Mill", f"http://{mill.OLD}/", f"http://{mill.NEW}/", port, ["/shop -> /store"]
    )
    marrow_move = _move(user, "Marrow Lane", f"http://{marrow.HOST}/", f"http://{marrow.HOST}/", port + 2, [])
    # A restore is reached by connect-to lines here; its kind is what a person says it is.
    Move.objects.filter(pk=marrow_move.pk).update(kind=Move.Kind.RESTORE)
    log = "".join(access_log.lines(mill.site(new=False), datetime.now(UTC)))
    address_lists.import_list(mill_move, "source", io.BytesIO(log.encode()), "access.log", user)
    for move in (mill_move, marrow_move):
        _play(move)
    _look_behind(mill_move, user, Faults(Path(os.environ["PALINODE_DATA"]) / "faults.json"))
    _check_now(mill_move)


def _move(user: User, name: str, source: str, destination: str, port: int, lines: list[str]) -> Move:
    sides = [
        move_setup.typed_side(base, f"127.0.0.1:{port + number}") for number, base in enumerate((source, destination))
    ]
    return move_setup.describe(name, *sides, lines, user)


def _play(move: Move) -> None:
    baseline = _capture(move, "source")
    move.baseline = baseline
    move.save(update_fields=["baseline"])
    _capture(move, "destination")
    _compared(move)


def _compared(move: Move) -> None:
    """Wait for the comparison that was ordered last."""
    for _ in range(600):
        latest = move.comparisons.first()
        if latest and latest.state == Comparison.State.MADE:
            print(f"{move.name}: {latest.standing['sentence']}")
            return
        if latest and latest.state == Comparison.State.FAILED:
            sys.exit(f"{move.name} could not be compared: {latest.why}")
        time.sleep(0.2)
    sys.exit(f"{move.name} was not compared in two minutes; see worker-1.log in the data folder.")


def _look_behind(move: Move, user: User, faults: Faults) -> None:
    """Import the dumps of both sides, an export, and the lists of their files; wait for the comparison with them."""
    files = (
        ("source", "tidemill.sql", behind.dump(False, faults)),
        ("source", "tidemill-export.xml", behind.export()),
        ("source", "tidemill-files.txt", behind.files(False, faults)),
        ("destination", "quillhavenmill.sql", behind.dump(True, faults)),
        ("destination", "quillhavenmill-files.txt", behind.files(True, faults)),
    )
    ordered = [import_job.order(move, which, io.BytesIO(data), name, user) for which, name, data in files]
    for one in ordered:
        print(f"{move.name}: importing {one.name} ...", flush=True)
        for _ in range(600):
            one.refresh_from_db()
            if one.state != Import.State.WAITING:
                break
            time.sleep(0.1)
        if one.state != Import.State.DONE:
            sys.exit(f"{one.name} could not be imported: {one.said}")
    _compared(move)


def _check_now(move: Move) -> None:
    """Ask both sides what the checks want to know; wait for the comparison with it."""
    print(f"{move.name}: asking what the checks want to know ...", flush=True)
    for capture in asking.order(move):
        _closed(capture)
    _compared(move)


def _capture(move: Move, which: str) -> Capture:
    capture = capture_job.begin(move, which, Policy())
    print(f"{move.name}: capturing the {which} ...", flush=True)
    return _closed(capture)


def _closed(capture: Capture) -> Capture:
    for _ in range(1200):
        capture.refresh_from_db()
        if capture.state == Capture.State.CLOSED:
            return capture
        if capture.state == Capture.State.PAUSED:
            sys.exit(f"The capture is paused: {capture.why}")
        time.sleep(0.1)
    sys.exit(f"{capture.move.name}: a capture did not end in two minutes; see worker-1.log in the data folder.")


if __name__ == "__main__":
    main()
