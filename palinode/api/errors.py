"""Errors for people: ``{"message": …, "fields": {field: message}}``."""

import math
from typing import Any

from rest_framework.exceptions import APIException, Throttled, ValidationError
from rest_framework.response import Response
from rest_framework.views import exception_handler

from palinode.core.wording import number


class Conflict(APIException):
    """What was asked cannot be done in the present state."""

    status_code = 409
    default_detail = "This cannot be done now."


def handle(error: Exception, context: dict[str, Any]) -> Response | None:
    """Turn an exception of a view into a response."""
    response = exception_handler(error, context)
    if response is None:
        return None
    if isinstance(error, ValidationError):
        fields = _flat(error.detail)
        whole = fields.pop("non_field_errors", "")
        response.data = {"message": whole or "Something typed is not right; see beside the fields.", "fields": fields}
    elif isinstance(error, Throttled):
        seconds = math.ceil(error.wait or 1)
        response.data = {"message": f"Too many attempts. Try again in {number(seconds, 'second')}.", "fields": {}}
    else:
        detail = getattr(error, "detail", None)
        response.data = {"message": str(detail) if detail else "Not found.", "fields": {}}
    return response


def _flat(detail: Any, prefix: str = "") -> dict[str, str]:
    if isinstance(detail, dict):
        found: dict[str, str] = {}
        for name, inner in detail.items():
            found |= _flat(inner, f"{prefix}.{name}" if prefix else str(name))
        return found
    if isinstance(detail, list) and any(isinstance(one, dict) for one in detail):
        return _flat(dict(enumerate(detail)), prefix)
    if isinstance(detail, list):
        return {prefix or "non_field_errors": " ".join(str(one) for one in detail)}
    return {prefix or "non_field_errors": str(detail)}
