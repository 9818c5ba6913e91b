from django.apps import AppConfig


class ApiConfig(AppConfig):
    """Serializers, views, routes."""

    name = "palinode.api"
    label = "api"

    def ready(self) -> None:
        """Let drf-spectacular know what it cannot find by itself."""
        from palinode.api import openapi  # noqa: F401
