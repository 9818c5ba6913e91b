from django.apps import AppConfig


class RecordsConfig(AppConfig):
    """What is kept."""

    name = "palinode.records"
    label = "records"
    default_auto_field = "django.db.models.BigAutoField"
