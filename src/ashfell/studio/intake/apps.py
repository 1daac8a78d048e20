"""Files that are brought: read by the worker, shown, and kept when that is asked for."""

from django.apps import AppConfig


class IntakeConfig(AppConfig):
    name = "ashfell.studio.intake"
    label = "intake"
