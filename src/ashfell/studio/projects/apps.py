"""Pages of projects and their sites."""

from django.apps import AppConfig


class ProjectPagesConfig(AppConfig):
    name = "ashfell.studio.projects"
    label = "project_pages"
