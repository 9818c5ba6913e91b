"""Findings of a comparison: read a page at a time, accepted with a reason, weighed, exported."""

from dataclasses import asdict
from typing import Any

import numpy as np
import orjson
from django.db import transaction
from django.http import Http404, HttpResponse, StreamingHttpResponse
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.exceptions import ValidationError
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from palinode.api import access, request_body, streaming
from palinode.api.errors import Conflict
from palinode.api.parameters import number as whole
from palinode.api.serializers.check import ItemsSerializer
from palinode.api.serializers.finding import (
    STATES,
    WEIGHTS,
    AcceptedSerializer,
    AcceptSerializer,
    ExpectedSerializer,
    ExpectSerializer,
    FindingOnSectionsSerializer,
    FindingsPageSerializer,
    MendedSerializer,
    RevokedSerializer,
    RevokeSerializer,
    RuleLineSerializer,
    RuleTrialSerializer,
    WeighSerializer,
)
from palinode.api.views.checks import ENDINGS, TYPES, items_plain
from palinode.core.causes.cause_kind import Who
from palinode.core.checks import registry
from palinode.core.expected import Expectation, ExpectationError
from palinode.core.findings import State
from palinode.core.rule import RuleError
from palinode.core.to_do import FORMATS
from palinode.core.weight import Weight
from palinode.records import decisions, exports, findings
from palinode.records.findings import Choice
from palinode.records.judgements import JudgedFindings
from palinode.records.models import Comparison, Decision
from palinode.work.capturing import capture_job
from palinode.work.capturing.asking import AskingError
from palinode.work.capturing.recapture import AgainError
from palinode.work.deciding import cause_recheck, expected_differences, judgement, rule_trial

_LIST_TYPES = {
    "txt": "text/plain; charset=utf-8",
    "md": "text/markdown; charset=utf-8",
    "csv": "text/csv; charset=utf-8",
}
MOST_ROWS = 500
SAMPLES = 8
MOST_ACCEPTED = 50_000
"""Findings that one decision accepts at most."""


class FindingsView(APIView):
    """The findings of a comparison."""

    @extend_schema(
        operation_id="findings",
        parameters=[
            OpenApiParameter("state", enum=STATES, description="One state; all without it."),
            OpenApiParameter("weight", enum=WEIGHTS),
            OpenApiParameter("kind", description="One kind, by its word."),
            OpenApiParameter("cause", OpenApiTypes.INT, description="Number of a cause."),
            OpenApiParameter("decision", OpenApiTypes.INT, description="Those that one decision sets aside."),
            OpenApiParameter("follows", OpenApiTypes.INT, description="Those that only follow from one."),
            OpenApiParameter("unfold", OpenApiTypes.INT, description="Below this one, what only follows from it."),
            OpenApiParameter("find", description="Part of an address, or of what is said."),
            OpenApiParameter("check", description="Those of one check, by its name."),
            OpenApiParameter(
                "row", OpenApiTypes.INT, description="Those on one row of the check, or of pages, by its rank."
            ),
            OpenApiParameter("first", OpenApiTypes.INT, description="First finding, from 0, within the choice."),
            OpenApiParameter("rows", OpenApiTypes.INT, description=f"At most {MOST_ROWS}."),
        ],
        responses=FindingsPageSerializer,
    )
    def get(self, request: Request, pk: int) -> HttpResponse:
        """Return some findings of a choice, and how many others there would be."""
        comparison = access.comparison(request, pk)
        query = request.query_params
        choice = Choice(
            state=State[query["state"].upper()] if query.get("state") in STATES else None,
            weight=Weight[query["weight"].upper()] if query.get("weight") in WEIGHTS else None,
            kind=query["kind"] if query.get("kind") in registry.KINDS else None,
            cause=whole(query, "cause", 0, 32_000) if query.get("cause") else None,
            decision=whole(query, "decision", 0, 2**62) if query.get("decision") else None,
            follows=whole(query, "follows", 0, 10**9) if query.get("follows") else None,
            find=query.get("find", "").strip(),
            # A rank means nothing without the check whose rows it counts.
            check=query["check"] if query.get("check") in registry.BY_NAME else "pages" if query.get("row") else None,
            rows=(whole(query, "row", 0, 10**9),) if query.get("row") else None,
            with_shared=True,
        )
        first, most = whole(query, "first", 0, 10**9), whole(query, "rows", 200, MOST_ROWS)
        unfold = whole(query, "unfold", 0, 10**9) if query.get("unfold") else None
        total, rows = findings.page(comparison, choice, first, most, unfold)
        shown = {"total": total, "first": first, "rows": rows, **findings.by_kind(comparison, choice)}
        return HttpResponse(orjson.dumps(shown), content_type="application/json")


class FindingView(APIView):
    """One finding."""

    @extend_schema(operation_id="finding", responses=FindingOnSectionsSerializer)
    def get(self, request: Request, pk: int, number: int) -> HttpResponse:
        """Show it, with the sections of its pages."""
        judged = _judged(request, pk, number)
        shown = findings.shown(judged, np.array([number]))[0] | {"sections": findings.sections_of(judged, number)}
        return HttpResponse(orjson.dumps(shown), content_type="application/json")


class PagesOfFindingView(APIView):
    """The pages that show a finding."""

    @extend_schema(
        operation_id="pages_of_finding",
        parameters=[OpenApiParameter("first", OpenApiTypes.INT), OpenApiParameter("rows", OpenApiTypes.INT)],
        responses=ItemsSerializer,
    )
    def get(self, request: Request, pk: int, number: int) -> HttpResponse:
        """Return some of them, by section and address, and how many there are; none where they are not listed."""
        judged = _judged(request, pk, number)
        query = request.query_params
        first, most = whole(query, "first", 0, 10**9), whole(query, "rows", 200, MOST_ROWS)
        shown = items_plain(pk, findings.pages_of(judged, number, first, most), first)
        return HttpResponse(orjson.dumps(shown), content_type="application/json")


def _judged(request: Request, pk: int, number: int) -> JudgedFindings:
    judged = JudgedFindings(access.comparison(request, pk))
    if number >= len(judged.records):
        raise Http404
    return judged


class AcceptView(APIView):
    """Findings accepted in one go."""

    @extend_schema(operation_id="accept", request=AcceptSerializer, responses={201: AcceptedSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Accept open findings with one reason; they stay accepted as long as they look the same."""
        comparison = access.comparison(request, pk)
        data = request_body.read(AcceptSerializer, request)
        if data.get("ends_at") and data["ends_at"] <= timezone.now():
            raise ValidationError({"ends_at": "This moment is past already."})
        chosen = findings.acceptance(comparison, _choice(data), data.get("section", ""), MOST_ACCEPTED + 1)
        number = len(chosen.marks)
        if not number and "rows" in data:
            raise Conflict(
                "Nothing is open here but what many pages share. Accept that where it is listed as one finding."
            )
        if not number:
            raise Conflict("None of these findings is open there any more. Look at the latest comparison.")
        if number > MOST_ACCEPTED:
            raise ValidationError(f"These are more than {MOST_ACCEPTED:,} findings. Choose fewer, or retire a section.")
        with transaction.atomic():
            made = decisions.decide(
                comparison.move,
                str(Decision.Kind.ACCEPT),
                decisions.of_marks(chosen.marks, chosen.where),
                data["reason"],
                request.user,
                data.get("ends_at"),
            )
            _judge(comparison, made)
        return Response({"findings": number, "decision": made.pk}, status=201)


class RevokeView(APIView):
    """Findings that were accepted, open again."""

    @extend_schema(operation_id="revoke_acceptance", request=RevokeSerializer, responses={200: RevokedSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Revoke what accepts some findings, for these alone; the decision stays for all others."""
        comparison = access.comparison(request, pk)
        data = request_body.read(RevokeSerializer, request)
        if "numbers" not in data and "decision" not in data:
            raise ValidationError("Name the findings: by their numbers, or by the decision that accepted them.")
        choice = Choice(
            numbers=tuple(data["numbers"]) if "numbers" in data else None, decision=data.get("decision"), check=None
        )
        with transaction.atomic():
            chosen = findings.accepted_marks(comparison, choice)
            held = {one.pk: one for one in decisions.holding(comparison.move, "accept").filter(pk__in=chosen)}
            if chosen and not held:
                raise Conflict("These are set aside by what is expected. Revoke or narrow that, under Decisions.")
            if not chosen:
                raise Conflict("None of these findings is accepted any more. Look at the latest comparison.")
            made = [decisions.without(one, chosen[number], request.user) for number, one in held.items()]
            _judge(comparison, made[-1])
        return Response({"findings": sum(len(chosen[number]) for number in held)})


class ExpectView(APIView):
    """A difference that is meant."""

    @extend_schema(operation_id="expect", request=ExpectSerializer, responses={200: ExpectedSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Try what an expectation would set aside; with a reason, decide it."""
        comparison = access.comparison(request, pk)
        given = request_body.read(ExpectSerializer, request)
        try:
            expectation = Expectation.read(given)
        except ExpectationError as error:
            raise ValidationError({error.field: str(error)}) from None
        rows = expected_differences.tried(comparison, expectation)
        answer = {
            "findings": len(rows),
            "pages": len({row["left_address"] for row in rows}),
            "samples": rows[:SAMPLES],
            "decision": None,
        }
        if reason := given.get("reason", "").strip():
            with transaction.atomic():
                made = decisions.decide(
                    comparison.move, str(Decision.Kind.EXPECT), expectation.plain(), reason, request.user
                )
                _judge(comparison, made)
            answer |= {"decision": made.pk}
        return Response(answer)


class MendedView(APIView):
    """A cause that is said to be mended."""

    @extend_schema(operation_id="mended", request=MendedSerializer, responses={201: MendedSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Capture the pages of a cause's open findings again, or have their checks ask anew; a comparison follows."""
        comparison = access.comparison(request, pk)
        given = request_body.read(MendedSerializer, request)
        if given["cause"] not in {one["number"] for one in comparison.standing.get("causes", [])}:
            raise ValidationError({"cause": "There is no such cause in this comparison."})
        try:
            capture = cause_recheck.begin(comparison, given["cause"])
        except (AgainError, AskingError) as error:
            raise Conflict(str(error)) from None
        except capture_job.Busy:
            raise Conflict("The destination is being captured already. Wait for it, or stop it.") from None
        return Response({"cause": given["cause"], "capture": capture.pk}, status=201)


class RuleTrialView(APIView):
    """A line of the address rule, tried on a comparison."""

    @extend_schema(operation_id="try_line", request=RuleLineSerializer, responses=RuleTrialSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """Say how many pages it would plan, and how many it would lead wrong; nothing is kept."""
        comparison = access.comparison(request, pk)
        given = request_body.read(RuleLineSerializer, request)
        if comparison.state != Comparison.State.MADE:
            raise Conflict("The comparison is not made yet.")
        try:
            return Response(asdict(rule_trial.of_line(comparison, given["line"])))
        except RuleError as error:
            raise ValidationError({"line": error.message}) from None


class WeighView(APIView):
    """How much a kind of finding weighs in a move."""

    @extend_schema(operation_id="weigh", request=WeighSerializer, responses={204: None})
    def post(self, request: Request, pk: int) -> Response:
        """Give a kind of finding another weight in this move."""
        move = access.move(request, pk)
        data = request_body.read(WeighSerializer, request)
        scope = {"what": "weight", "kind": data["kind"], "weight": data["weight"]}
        with transaction.atomic():
            judgement.renew_latest(move, decisions.weigh(move, scope, data["reason"], request.user))
        return Response(status=204)


class FindingsExportView(APIView):
    """All findings of a comparison, as a file."""

    @extend_schema(
        operation_id="export_findings",
        parameters=[OpenApiParameter("as", enum=list(exports.FORMATS))],
        responses={(200, "text/csv"): OpenApiTypes.STR},
    )
    def get(self, request: Request, pk: int) -> StreamingHttpResponse:
        """Stream the findings as CSV (RFC 4180), JSON, or XML as build servers read test results."""
        comparison = access.comparison(request, pk)
        kind = request.query_params.get("as", "csv")
        kind = kind if kind in exports.FORMATS else "csv"
        return StreamingHttpResponse(
            streaming.later(exports.findings(comparison, kind)),
            content_type=TYPES[kind],
            headers={"Content-Disposition": f'attachment; filename="findings-{comparison.pk}.{ENDINGS[kind]}"'},
        )


class ToDoView(APIView):
    """What a comparison wants done, as a file for the person who can do it."""

    @extend_schema(
        operation_id="export_to_do",
        parameters=[
            OpenApiParameter("who", enum=[one.value for one in Who], description="Who can do it; all without."),
            OpenApiParameter("as", enum=list(FORMATS)),
        ],
        responses={(200, "text/plain"): OpenApiTypes.STR},
    )
    def get(self, request: Request, pk: int) -> StreamingHttpResponse:
        """Stream causes with their remedies and addresses as plain text, Markdown or CSV (RFC 4180)."""
        comparison = access.comparison(request, pk)
        asked, form = request.query_params.get("who", ""), request.query_params.get("as", "txt")
        if asked and asked not in list(Who):
            raise ValidationError({"who": f"Say one of: {', '.join(Who)}."})
        form = form if form in FORMATS else "txt"
        who = Who(asked) if asked else None
        name = f"to-do-{asked or 'all'}-{comparison.pk}.{form}"
        return StreamingHttpResponse(
            streaming.later(exports.to_do(comparison, form, who)),
            content_type=_LIST_TYPES[form],
            headers={"Content-Disposition": f'attachment; filename="{name}"'},
        )


def _judge(comparison: Comparison, decision: Decision | None) -> None:
    """Judge a comparison anew, and the last one of its move, which may be another."""
    latest = judgement.renew_latest(comparison.move, decision)
    if latest != comparison:
        judgement.renew(comparison, decision)


def _choice(data: dict[str, Any]) -> Choice:
    if data.get("numbers") is not None:
        return Choice(numbers=tuple(data["numbers"]))
    if "rows" in data:
        check = data.get("check", "pages")
        return Choice(check=check, rows=tuple(data["rows"]), with_shared=check == "pages")
    if not any(name in data for name in ("weight", "kind", "cause", "find")):
        raise ValidationError("Name the findings: by their numbers, a weight, a kind, a cause or a part of an address.")
    return Choice(
        weight=Weight[data["weight"].upper()] if "weight" in data else None,
        kind=data.get("kind"),
        cause=data.get("cause"),
        find=data.get("find", "").strip(),
    )
