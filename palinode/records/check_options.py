"""Options of checks: kept per move in revisions, of which the last holds."""

from typing import Any

from django.contrib.auth.models import User
from django.db.models import Max

from palinode.core import options
from palinode.core.checks import registry
from palinode.core.checks.check import Check
from palinode.records.models import CheckOptions, Move


def revisions(move: Move) -> dict[str, CheckOptions]:
    """Return the revisions that hold, by the names of their checks."""
    return {one.check_name: one for one in move.options.select_related("author").order_by("pk")}


def of(move: Move, check: Check) -> Any:
    """Return the options of a check in a move: its defaults, until a person set them."""
    held = move.options.filter(check_name=check.name).last()
    return read(check, held.values if held else {})


def read(check: Check, values: dict[str, Any]) -> Any:
    """Return options of a check that were kept; what a later version does not know any more is left out."""
    return None if check.options is None else options.kept(check.options, values)


def revise(move: Move, check: Check, values: dict[str, Any], author: User) -> CheckOptions:
    """Set options of a check. Raises OptionError."""
    assert check.options is not None
    kept = options.plain(options.read(check.options, values))
    return CheckOptions.objects.create(move=move, check_name=check.name, values=kept, author=author)


def last(move: Move) -> int:
    """Return the number of the last revision of any check; 0 without one."""
    return move.options.aggregate(last=Max("pk"))["last"] or 0


def with_options() -> list[Check]:
    """Return the checks that have options."""
    return [check for check in registry.CHECKS if check.options is not None]
