"""Keeping: the bin, backups, what is told about requests and health."""

from django.apps import AppConfig


class KeepingConfig(AppConfig):
    name = "ashfell.studio.keeping"
    label = "keeping"
