from django.apps import AppConfig


class ProjectConfig(AppConfig):
    """Settings, server, command line."""

    name = "palinode.project"
    label = "project"
