"""The page that hands over: files written by the worker."""

from django.apps import AppConfig


class HandoverPagesConfig(AppConfig):
    name = "ashfell.studio.handover"
    label = "handover"
