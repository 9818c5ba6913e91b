"""To-do lists: what a comparison wants done, for each person who can do it, as plain text, Markdown or a table."""

import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from palinode.core import address
from palinode.core.causes.cause_kind import Who
from palinode.core.weight import Weight
from palinode.core.wording import number

COLUMNS = ("who", "weight", "cause", "remedy", "source_url", "destination_url", "detail")
FORMATS = ("txt", "md", "csv")
_WEIGHTS = {Weight.BLOCKS: "Blocks", Weight.MEND: "Mend soon", Weight.NOTE: "Note"}
_MARKS = re.compile(r"([\\`*_\[\]<>|#~])")
"""What Markdown would take for markup."""


@dataclass(frozen=True)
class TaskAddress:
    """One address where something is to be done."""

    source: str
    """Address at the source; empty for none."""
    destination: str
    detail: str


@dataclass(frozen=True)
class Task:
    """One cause that somebody can mend."""

    who: Who
    weight: Weight
    title: str
    remedy: str
    instead: str
    addresses: Iterable[TaskAddress]
    """In the order in which they are told; read once."""


def text(heading: str, tasks: Iterable[Task]) -> Iterator[str]:
    """Yield a list as plain text, a task at a time."""
    yield f"{heading}\n{'=' * len(heading)}\n"
    at = 0
    for at, task in enumerate(tasks, 1):
        yield f"\n{at}. {_WEIGHTS[task.weight]}: {task.title}\n   {task.remedy}\n"
        if task.instead:
            yield f"   Or something else: {task.instead}\n"
        yield from (f"   - {_place(place)}\n" for place in task.addresses)
    if not at:
        yield "\nNothing to do.\n"


def markdown(heading: str, tasks: Iterable[Task]) -> Iterator[str]:
    """Yield a list as Markdown (CommonMark), a task at a time; each address can be ticked off where that is known."""
    yield f"# {_escaped(heading)}\n"
    at = 0
    for at, task in enumerate(tasks, 1):
        yield f"\n## {at}. {_escaped(task.title)}\n\n**{_WEIGHTS[task.weight]}.** {_escaped(task.remedy)}\n\n"
        if task.instead:
            yield f"*Or something else:* {_escaped(task.instead)}\n\n"
        yield from (f"- [ ] {_escaped(_place(place))}\n" for place in task.addresses)
    if not at:
        yield "\nNothing to do.\n"


def rows(tasks: Iterable[Task]) -> Iterator[tuple[str, ...]]:
    """Yield a row for each address, in the order of COLUMNS."""
    for task in tasks:
        head = (task.who.label, _WEIGHTS[task.weight], task.title, task.remedy)
        yield from ((*head, place.source, place.destination, place.detail) for place in task.addresses)


def heading(move: str, who: Who | None, tasks: int) -> str:
    """Return what stands above a list."""
    whose = f" for {'whoever runs DNS' if who is Who.DNS else f'the {who.value}'}" if who else ""
    return f"{move}: {number(tasks, 'thing')} to do{whose}"


def _place(place: TaskAddress) -> str:
    named = place.destination or place.source
    if place.source and place.destination and address.path(place.source) != address.path(place.destination):
        named = f"{place.source} → {place.destination}"
    return f"{named}: {place.detail}" if place.detail else named


def _escaped(written: str) -> str:
    return _MARKS.sub(r"\\\1", " ".join(written.split()))
