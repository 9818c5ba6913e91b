"""Who may see what: a move, and all that belongs to it, is seen by its members alone.

For everybody else it is not there: 404, not 403.
"""

from django.http import Http404
from rest_framework.exceptions import PermissionDenied
from rest_framework.request import Request

from palinode.records import outcomes
from palinode.records.models import Capture, CheckOutcome, Comparison, Membership, Move


def moves(request: Request) -> "list[Move]":
    """Return the moves of the person who asks."""
    return list(Move.objects.filter(memberships__user=request.user).prefetch_related("sides__further"))


def move(request: Request, pk: int) -> Move:
    """Return a move, or raise Http404."""
    found = Move.objects.filter(memberships__user=request.user, pk=pk).prefetch_related("sides__further").first()
    if found is None:
        raise Http404
    return found


def own_move(request: Request, pk: int) -> Move:
    """Return a move of which the person is an owner; PermissionDenied for a mere member."""
    found = move(request, pk)
    if not found.memberships.filter(user=request.user, role=Membership.Role.OWNER).exists():
        raise PermissionDenied("Only an owner of the move may do this.")
    return found


def capture(request: Request, pk: int) -> Capture:
    """Return a capture, or raise Http404."""
    found = Capture.objects.filter(move__memberships__user=request.user, pk=pk).select_related("move").first()
    if found is None:
        raise Http404
    return found


def comparison(request: Request, pk: int) -> Comparison:
    """Return a comparison, or raise Http404."""
    found = Comparison.objects.filter(move__memberships__user=request.user, pk=pk).first()
    if found is None:
        raise Http404
    return found


def outcome(request: Request, pk: int, check: str) -> CheckOutcome:
    """Return what a check made in a comparison, which is all that a page of its rows needs; or raise Http404."""
    found = outcomes.seen_by(request.user.pk, pk, check)
    if found is None:
        raise Http404
    return found
