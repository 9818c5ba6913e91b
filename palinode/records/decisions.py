"""Decisions as they hold now: neither superseded, withdrawn nor past their end."""

import hashlib
from typing import Any

from django.db import transaction
from django.db.models import Q, QuerySet, TextField
from django.db.models.fields.json import KT
from django.db.models.functions import Cast, Concat
from django.utils import timezone

from palinode.core import address as addresses
from palinode.core.compare import Retired
from palinode.core.expected import Expectation
from palinode.core.pairing.by_hand import ByHand
from palinode.core.weight import Weight
from palinode.records.models import Decision, Move

_CONTRARY = {"pair": "part", "part": "pair"}


def holding(move: Move, kind: str | None = None) -> QuerySet[Decision]:
    """Return the decisions of a move that hold now."""
    found = move.decisions.filter(superseded_by=None, withdrawn=False).filter(
        Q(ends_at=None) | Q(ends_at__gt=timezone.now())
    )
    return found.filter(kind=kind) if kind else found


def decide(
    move: Move, kind: str, scope: dict[str, Any], reason: str, author: object, ends_at: object = None
) -> Decision:
    """Record a decision; one of the same kind and scope that holds is superseded."""
    with transaction.atomic():
        Move.objects.select_for_update().get(pk=move.pk)
        before = holding(move, kind).filter(scope=scope).last()
        if kind in _CONTRARY:
            # Of two pages a person says one thing or the other.
            for other in holding(move, _CONTRARY[kind]).filter(scope=scope):
                withdraw(other, author, reason)
        return Decision.objects.create(
            move=move, kind=kind, scope=scope, reason=reason, author=author, ends_at=ends_at, supersedes=before
        )


def weigh(move: Move, scope: dict[str, str], reason: str, author: object) -> Decision:
    """Give a kind of finding a weight; what was decided of that kind before is superseded."""
    with transaction.atomic():
        Move.objects.select_for_update().get(pk=move.pk)
        before = holding(move, "override").filter(scope__what="weight", scope__kind=scope["kind"]).last()
        return Decision.objects.create(
            move=move, kind="override", scope=scope, reason=reason, author=author, supersedes=before
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


def by_hand(move: Move) -> ByHand:
    """Return the pairs that persons confirmed or parted in a move."""
    said = {
        kind: [(addresses.ident(one["left"]), addresses.ident(one["right"])) for one in scopes]
        for kind in ("pair", "part")
        for scopes in [holding(move, kind).values_list("scope", flat=True)]
    }
    return ByHand(dict(said["pair"]), frozenset(said["part"]))


def of_pairs(move: Move) -> str:
    """Return a digest of what decides about pairs and fates, whatever the order in which it was decided."""
    # The server's own text of a JSON object has its members in an order of their own.
    told = Concat("kind", Cast("scope", TextField()), output_field=TextField())
    texts = holding(move).filter(kind__in=("pair", "part", "retire")).annotate(told=told).order_by("told")
    found = texts.values_list("told", flat=True)
    return hashlib.sha256("\n".join(found).encode()).hexdigest()


def accepted(move: Move) -> dict[int, int]:
    """Return the findings that are accepted in a move: key to what each looked like."""
    return {
        key: seen
        for scope in holding(move, "accept").values_list("scope", flat=True)
        for key, seen in scope.get("findings", [])
    }


def expected(move: Move) -> list[Expectation]:
    """Return the expected differences of a move, the first first."""
    return [Expectation.read(scope, pk) for pk, scope in holding(move, "expect").values_list("pk", "scope")]


def weights(move: Move) -> dict[str, Weight]:
    """Return the weights that persons gave to kinds of findings in a move, by their words."""
    scopes = holding(move, "override").filter(scope__what="weight").values_list("scope", flat=True)
    return {scope["kind"]: Weight[scope["weight"].upper()] for scope in scopes}


def retired(move: Move) -> Retired:
    """Return what is retired in a move."""
    found = holding(move, "retire").annotate(address=KT("scope__address"), section=KT("scope__section"))
    said = list(found.order_by().values_list("address", "section"))
    return Retired(
        frozenset(addresses.idents([address for address, _ in said if address]).tolist()),
        frozenset(section for _, section in said if section),
    )
