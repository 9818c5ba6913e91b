"""Background tasks, durable on Procrastinate: jobs are written with the rows that they serve."""

import gc
from collections.abc import Callable
from functools import wraps
from typing import ParamSpec

from django.db import connections
from procrastinate.contrib.django import app

from palinode.records.models import Capture, Comparison, Import, Move
from palinode.work import evidence_check, move_deletion, retention
from palinode.work import read_again as rereading
from palinode.work.capturing import capture_job, crawl_worker, shares
from palinode.work.comparing import comparison_job
from palinode.work.deciding import judgement
from palinode.work.importing import import_job

# A comparison has hundreds of thousands of texts alive for a moment. Looking for circles among them is rarer than
# Python would, not switched off: other jobs of the same process go on for hours.
gc.set_threshold(100_000, 20, 50)

P = ParamSpec("P")


def _gives_back(function: Callable[P, None]) -> Callable[P, None]:
    """Give the thread's database connection back after a task."""

    @wraps(function)
    def wrapped(*args: P.args, **kwargs: P.kwargs) -> None:
        try:
            function(*args, **kwargs)
        finally:
            connections.close_all()

    return wrapped


@app.task(name=shares.SHARE, queue="captures")
@_gives_back
def capture_share(capture_id: int) -> None:
    """Take a share in a capture."""
    crawl_worker.work_on(capture_id)


@app.task(name=comparison_job.COMPARE, queue="comparisons")
@_gives_back
def compare(comparison_id: int) -> None:
    """Make a comparison."""
    comparison_job.make(Comparison.objects.get(pk=comparison_id))


@app.task(name=import_job.IMPORT, queue="captures")
@_gives_back
def import_capture(import_id: int) -> None:
    """Make a capture of a file that a person imported."""
    import_job.read(Import.objects.select_related("move").get(pk=import_id))


@app.task(name=evidence_check.VERIFY, queue="captures")
@_gives_back
def verify(move_id: int) -> None:
    """Verify the evidence of a move."""
    evidence_check.verify_all(Move.objects.get(pk=move_id))


@app.task(name=move_deletion.FORGET, queue="upkeep")
@_gives_back
def forget(move_id: int) -> None:
    """Delete a move with all that belongs to it."""
    move_deletion.forget(move_id)


@app.periodic(cron="47 3 * * *")
@app.task(name="sweep", queue="upkeep", queueing_lock="sweep")
@_gives_back
def sweep(timestamp: int) -> None:
    """Delete files that no row names."""
    move_deletion.sweep()


@app.periodic(cron="17 3 * * *")
@app.task(name="let_go", queue="upkeep", queueing_lock="let_go")
@_gives_back
def let_go(timestamp: int) -> None:
    """Delete the files of old captures, where a move says so."""
    retention.let_go_everywhere()


@app.task(name="read_again", queue="captures")
@_gives_back
def read_again(capture_id: int) -> None:
    """Make the facts of a capture anew from its WARC files."""
    rereading.read_again(Capture.objects.select_related("move").get(pk=capture_id))


@app.periodic(cron="* * * * * */5")
@app.task(name="take_up", queue="upkeep", queueing_lock="take_up")
@_gives_back
def take_up(timestamp: int) -> None:
    """Offer again what nobody works on, since its worker died; judge anew where a decision ended."""
    capture_job.take_up()
    comparison_job.take_up()
    import_job.take_up()
    move_deletion.take_up()
    # Last: a comparison that cannot be judged must not keep the others from being offered.
    judgement.renew_due()
