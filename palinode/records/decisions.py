"""Decisions as they hold now: neither superseded, withdrawn nor past their end."""

from django.db import transaction
from django.db.models import Q, QuerySet
from django.utils import timezone

from palinode.core import address as addresses
from palinode.core.compare import Retired
from palinode.records.models import Decision, Move


def holding(move: Move, kind: str | None = None) -> QuerySet[Decision]:
    """Return the decisions of a move that hold now."""
    found = move.decisions.filter(superseded_by=None, withdrawn=False).filter(
        Q(ends_at=None) | Q(ends_at__gt=timezone.now())
    )
    return found.filter(kind=kind) if kind else found


def decide(
    move: Move, kind: str, scope: dict[str, str], reason: str, author: object, ends_at: object = None
) -> Decision:
    """Record a decision; one of the same kind and scope that holds is superseded."""
    with transaction.atomic():
        Move.objects.select_for_update().get(pk=move.pk)
        before = holding(move, kind).filter(scope=scope).last()
        return Decision.objects.create(
            move=move, kind=kind, scope=scope, reason=reason, author=author, ends_at=ends_at, supersedes=before
        )


def withdraw(decision: Decision, author: object, reason: str = "") -> Decision:
    """Take a decision back; it stays on record."""
    return Decision.objects.create(
        move=decision.move,
        kind=decision.kind,
        scope=decision.scope,
        reason=reason,
        author=author,
        supersedes=decision,
        withdrawn=True,
    )


def overrides(move: Move, which: str) -> set[str]:
    """Return what is overridden on a side: ``certificate``, ``robots``."""
    return {one.scope["what"] for one in holding(move, "override") if one.scope.get("side") == which}


def retired(move: Move) -> Retired:
    """Return what is retired in a move."""
    scopes = list(holding(move, "retire").values_list("scope", flat=True))
    return Retired(
        frozenset(addresses.ident(scope["address"]) for scope in scopes if "address" in scope),
        frozenset(scope["section"] for scope in scopes if "section" in scope),
    )
