"""What a request gives, checked as its serializer says."""

from typing import Any

from rest_framework.request import Request
from rest_framework.serializers import Serializer


def read(form: type[Serializer[Any]], request: Request, partial: bool = False) -> dict[str, Any]:
    """Return what a request gives; of an edit, ``partial``, whatever it names. Raises ValidationError."""
    given = form(data=request.data, partial=partial)
    given.is_valid(raise_exception=True)
    return dict(given.validated_data)
