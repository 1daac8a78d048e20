"""People: what they may do in a project, invitations, one's own account."""

from django.apps import AppConfig


class PeopleConfig(AppConfig):
    name = "ashfell.studio.people"
    label = "people"
