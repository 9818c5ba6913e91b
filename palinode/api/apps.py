from django.apps import AppConfig


class ApiConfig(AppConfig):
    """Serializers, views, routes."""

    name = "palinode.api"
    label = "api"
