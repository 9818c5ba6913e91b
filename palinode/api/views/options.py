"""Options of checks: shown, tried on a comparison without storing anything, saved as a revision."""

from typing import Any

from django.db import transaction
from django.http import Http404
from drf_spectacular.utils import extend_schema
from rest_framework.exceptions import ValidationError
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from palinode.api import access, request_body
from palinode.api.errors import Conflict
from palinode.api.serializers.options import DraftSerializer, NewOptionsSerializer, OptionsSerializer
from palinode.api.throttling import Drafts
from palinode.api.views import checks
from palinode.core import options
from palinode.core import rule as rules
from palinode.core.checks import registry
from palinode.core.checks.check import Check
from palinode.core.options import OptionError
from palinode.records import check_options, outcome_rows
from palinode.records.models import CheckOptions, Comparison
from palinode.work.comparing import check_run, comparison_job, page_pairs

MOST_ROWS = 50


class OptionsOfChecksView(APIView):
    """The options of all checks of a move."""

    @extend_schema(operation_id="check_options", responses=OptionsSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """List the checks that have options, with what holds and who set it."""
        move = access.move(request, pk)
        held = check_options.revisions(move)
        return Response([_plain(check, held.get(check.name)) for check in check_options.with_options()])


class OptionsOfCheckView(APIView):
    """The options of a check."""

    @extend_schema(operation_id="set_check_options", request=NewOptionsSerializer, responses=OptionsSerializer)
    def put(self, request: Request, pk: int, check: str) -> Response:
        """Set them as a new revision; what is not given has its default. A comparison follows."""
        move = access.move(request, pk)
        found = _check(check)
        try:
            with transaction.atomic():
                revision = check_options.revise(move, found, _given(request), request.user)
                comparison_job.order_latest(move)
        except OptionError as error:
            raise ValidationError({f"values.{error.option}": str(error)}) from None
        return Response(_plain(found, revision))


class DraftView(APIView):
    """A check judged with other options."""

    throttle_classes = [Drafts]

    @extend_schema(operation_id="draft", request=NewOptionsSerializer, responses=DraftSerializer)
    def post(self, request: Request, pk: int, check: str) -> Response:
        """Say what a comparison would show with these options; nothing of it is stored."""
        comparison = access.comparison(request, pk)
        found = _check(check)
        if comparison.state != Comparison.State.MADE or comparison.left.which == comparison.right.which:
            raise Conflict("Options are tried on a comparison of both sides that is made.")
        assert found.options is not None
        try:
            tried = options.read(found.options, _given(request))
        except OptionError as error:
            raise ValidationError({f"values.{error.option}": str(error)}) from None
        compared = page_pairs.find(comparison, rules.read(comparison.rule))
        made = check_run.draft(compared, found, tried)
        if made is None:
            raise Conflict("What this check needs was not captured.")
        counts = dict.fromkeys((one.word for one in found.verdicts), 0)
        for verdict, _, number in made.rows.counts:
            counts[found.verdicts[verdict].word] += number
        shown = outcome_rows.drawn(found, made.rows, MOST_ROWS)
        return Response(
            {
                "verdicts": checks.verdicts_plain(found, counts),
                "findings": len(made.findings),
                "rows": [checks.row_plain(row, numbers) for row, numbers in shown],
            }
        )


def _check(name: str) -> Check:
    check = registry.BY_NAME.get(name)
    if check is None or check.options is None:
        raise Http404
    return check


def _given(request: Request) -> dict[str, Any]:
    given = request_body.read(NewOptionsSerializer, request)
    return dict(given["values"])


def _plain(check: Check, revision: CheckOptions | None) -> dict[str, Any]:
    assert check.options is not None
    holding = options.plain(check_options.read(check, revision.values if revision else {}))
    return {
        "check": check.name,
        "title": check.title,
        "view": check.view,
        "options": [
            {
                "name": one.name,
                "label": one.label,
                "help": one.help,
                "kind": one.kind,
                "value": holding[one.name],
                "default": one.default,
            }
            for one in options.described(check.options)
        ],
        "author": revision.author.username if revision else "",
        "made_at": revision.made_at if revision else None,
    }
