from django.apps import AppConfig


class WorkConfig(AppConfig):
    """Background tasks: gather, then core, then records."""

    name = "palinode.work"
    label = "work"
