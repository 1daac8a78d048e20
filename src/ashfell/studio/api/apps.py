"""The HTTP interface, and the tokens that let programs in."""

from django.apps import AppConfig


class ApiConfig(AppConfig):
    name = "ashfell.studio.api"
    label = "api"
