"""Addresses of the finishes, below a project."""

from django.urls import path

from ashfell.studio.finishes import views

urlpatterns = [
    path("", views.page, name="finishes"),
    path("<slug:key>/swatch.png", views.swatch_png, name="swatch"),
    path("<slug:key>/copy/", views.copy, name="finish-copy"),
    path("<slug:key>/", views.edit, name="finish"),
]
