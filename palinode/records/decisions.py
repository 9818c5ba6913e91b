"""Decisions as they hold now: neither superseded, withdrawn nor past their end."""

import hashlib
from base64 import b64decode, b64encode
from collections.abc import Mapping
from datetime import datetime
from typing import Any, cast

import numpy as np
from django.db import transaction
from django.db.models import Min, Q, QuerySet, TextField
from django.db.models.fields.json import KT
from django.db.models.functions import Cast, Concat
from django.utils import timezone

from palinode.core import address as addresses
from palinode.core.compare import Retired
from palinode.core.expected import Expectation
from palinode.core.judgement import Accepted, InPart, SomePages
from palinode.core.pairing.by_hand import ByHand
from palinode.core.weight import Weight
from palinode.records.models import Decision, Move

_CONTRARY = {"pair": "part", "part": "pair"}
SETTING_ASIDE = ("accept", "expect")
"""Kinds of decisions that set findings aside."""


def is_of_judgement(decision: Decision) -> bool:
    """Whether a decision changes what findings count for, and not the comparison itself."""
    return decision.kind in SETTING_ASIDE or decision.scope.get("what") == "weight"


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


def of_marks(marks: np.ndarray, where: SomePages | None = None) -> dict[str, str]:
    """Return the scope of a decision that accepts findings with these marks (int64, core/judgement.py).

    ``where`` says on which pages alone.
    """
    scope = {"marks": _packed(np.unique(marks))}
    if where is not None:
        scope |= {"section": where.section} if where.section else {"pages": _packed(np.unique(where.pages))}
    return scope


def marks(scope: Mapping[str, Any]) -> np.ndarray:
    """Return the marks (int64, ascending) of the findings that a decision accepts; none if it accepts none.

    Raises ValueError for a scope that was not made by :func:`of_marks`.
    """
    return _unpacked(scope.get("marks", ""))


def where(scope: Mapping[str, Any]) -> SomePages | None:
    """Return on which pages alone a decision accepts findings; None for all. Raises ValueError as :func:`marks`."""
    if section := scope.get("section"):
        return SomePages(section)
    return SomePages(pages=_unpacked(scope["pages"])) if "pages" in scope else None


def _packed(numbers: np.ndarray) -> str:
    return b64encode(numbers.astype("<i8").tobytes()).decode()


def _unpacked(text: str) -> np.ndarray:
    return np.frombuffer(b64decode(text, validate=True), "<i8").astype(np.int64)


def accepted(move: Move) -> Accepted:
    """Return the findings that are accepted in a move."""
    held = list(holding(move, "accept").order_by("pk").values_list("pk", "scope"))
    told = [(pk, marks(scope), where(scope)) for pk, scope in held]
    return Accepted.of(
        [(pk, some) for pk, some, pages in told if pages is None],
        [InPart(pk, some, pages) for pk, some, pages in told if pages is not None],
    )


def without(decision: Decision, some: np.ndarray, author: object, reason: str = "") -> Decision | None:
    """Let a decision accept some findings (marks) no more; None if it accepted none of them.

    What is left is a decision of its own, with the reason and end of the one that it supersedes.
    """
    before = marks(decision.scope)
    left = np.setdiff1d(before, some)
    if len(left) == len(before):
        return None
    if not len(left):
        return withdraw(decision, author, reason)
    return Decision.objects.create(
        move=decision.move,
        kind=decision.kind,
        scope=of_marks(left, where(decision.scope)),
        reason=decision.reason,
        author=decision.author,
        revoker=author,
        ends_at=decision.ends_at,
        supersedes=decision,
    )


def expected(move: Move) -> list[Expectation]:
    """Return the expected differences of a move, the first first."""
    found = holding(move, "expect").order_by("pk").values_list("pk", "scope")
    return [Expectation.read(scope, pk) for pk, scope in found]


def next_end(move: Move) -> datetime | None:
    """Return when the first of the decisions ends that set findings aside now; None if none ends."""
    found = holding(move).filter(kind__in=SETTING_ASIDE).aggregate(first=Min("ends_at"))["first"]
    return cast("datetime | None", found)


def last_of(move: Move, author: object) -> Decision | None:
    """Return the last decision of a person about a move that holds and can be undone; None if there is none."""
    # What is overridden of a side, and which capture is the baseline, is changed in the description.
    theirs = Q(author=author, revoker=None) | Q(revoker=author)
    found = holding(move).filter(theirs).filter(~Q(kind="override") | Q(scope__what="weight"))
    return found.order_by("-pk").first()


def undo(decision: Decision, author: object) -> Decision:
    """Take a decision back as if it had not been made: what it superseded holds again. Needs a transaction."""
    revoked = withdraw(decision, author)
    before = decision.supersedes
    if before is None or before.withdrawn:
        return revoked
    return Decision.objects.create(
        move=before.move,
        kind=before.kind,
        scope=before.scope,
        reason=before.reason,
        author=before.author,
        revoker=before.revoker,
        ends_at=before.ends_at,
        supersedes=revoked,
    )


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
