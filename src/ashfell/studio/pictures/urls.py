"""Addresses of the pictures, below a project."""

from django.urls import path

from ashfell.studio.pictures import views

urlpatterns = [
    path("", views.page, name="pictures"),
    path("start/", views.start, name="picture-start"),
    path("list/", views.gallery, name="gallery"),
    path("<int:picture>/picture.png", views.image, name="picture-image"),
    path("<int:picture>/cancel/", views.cancel, name="picture-cancel"),
]
