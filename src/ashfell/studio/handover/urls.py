"""Addresses of what is handed over, below a project."""

from django.urls import path

from ashfell.studio.handover import views

urlpatterns = [
    path("", views.page, name="handover"),
    path("start/", views.start, name="handover-start"),
    path("list/", views.listed, name="handover-list"),
    path("<int:handover>/file/", views.file, name="handover-file"),
    path("<int:handover>/cancel/", views.cancel, name="handover-cancel"),
]
