"""Pages of pictures, their queue and the worker that traces them."""

from django.apps import AppConfig


class PicturePagesConfig(AppConfig):
    name = "ashfell.studio.pictures"
    label = "gallery"
