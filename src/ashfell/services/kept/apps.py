"""What is kept: projects, their records and revisions."""

from django.apps import AppConfig


class KeptConfig(AppConfig):
    name = "ashfell.services.kept"
    label = "projects"
