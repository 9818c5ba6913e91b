"""Offers work to the workers: jobs written in the same transaction as the rows that they serve."""

from collections.abc import Callable, Iterable
from datetime import datetime, timedelta

from django.conf import settings
from django.utils import timezone
from procrastinate.contrib.django import app
from procrastinate.contrib.django.django_connector import DjangoConnector
from procrastinate.contrib.django.models import ProcrastinateJob, ProcrastinateWorker
from procrastinate.manager import JobManager
from procrastinate.tasks import configure_task


def offer(task: str, **arguments: int) -> None:
    """Write a job for a task; it is seen when the transaction commits.

    A worker's own connector writes through a connection of its own, outside the transaction: another worker could
    then begin before there is anything to work on. So jobs are written through Django's, wherever they come from.
    """
    manager = JobManager(DjangoConnector())
    configure_task(name=task, job_manager=manager, queue=app.tasks[task].queue).defer(**arguments)


def is_offered(task: str, **arguments: int) -> bool:
    """Whether a job waits, or was begun so lately that what it does may not be seen yet."""
    jobs = ProcrastinateJob.objects.filter(task_name=task, args=arguments)
    lately = timezone.now() - timedelta(seconds=settings.PALINODE_LEASE_SECONDS)
    begun = jobs.filter(status="doing", procrastinateevent__type="started", procrastinateevent__at__gt=lately)
    return jobs.filter(status="todo").exists() or begun.exists()


def workers() -> int:
    """Return how many workers run, by their heartbeats; 1 where none does yet."""
    lately = timezone.now() - timedelta(seconds=3 * settings.PALINODE_LEASE_SECONDS)
    return max(1, ProcrastinateWorker.objects.filter(last_heartbeat__gt=lately).count())


def late(leases: int = 1) -> datetime:
    """Return the moment before which a row that its worker keeps alive would have been touched by now."""
    return timezone.now() - leases * timedelta(seconds=settings.PALINODE_LEASE_SECONDS)


def take_up(
    task: str, argument: str, numbers: Iterable[int], seen: Callable[[int], None] = lambda number: None, times: int = 1
) -> None:
    """Offer a task again for rows that nobody works on, unless a job for one waits or was begun lately.

    ``seen`` is told of each before it is offered, ``times`` is how many jobs one gets.
    """
    for number in list(numbers):
        if not is_offered(task, **{argument: number}):
            seen(number)
            for _ in range(times):
                offer(task, **{argument: number})
