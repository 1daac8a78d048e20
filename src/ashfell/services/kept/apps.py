"""What is kept: projects, their records and revisions."""

from django.apps import AppConfig

from ashfell.core.base.registry import search_all
from ashfell.core.finish.images import image
from ashfell.core.solid.meshes import mesh


class KeptConfig(AppConfig):
    name = "ashfell.services.kept"
    label = "projects"

    def ready(self) -> None:
        """All kinds are there before threads begin to ask for them; textures may ask for the images that are kept."""
        from ashfell.services.kept.models import held, kept_bytes

        search_all()
        image.offer(held)
        mesh.offer(kept_bytes)
