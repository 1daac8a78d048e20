"""What is kept: projects, their records and revisions."""

from django.apps import AppConfig

from ashfell.core.base.registry import search_all


class KeptConfig(AppConfig):
    name = "ashfell.services.kept"
    label = "projects"

    def ready(self) -> None:
        """All kinds are there before threads begin to ask for them."""
        search_all()
