"""Addresses of the finishes, below a project."""

from django.urls import path

from ashfell.studio.finishes import views

urlpatterns = [
    path("", views.page, name="finishes"),
    path("take-in/", views.take_in, name="finish-take-in"),
    path("<slug:key>/swatch.png", views.swatch_png, name="swatch"),
    path("<slug:key>/<str:shown>.png", views.preview_png, name="finish-preview"),
    path("<slug:key>/copy/", views.copy, name="finish-copy"),
    path("<slug:key>/edit/", views.edit, name="finish-edit"),
    path("<slug:key>/move/<str:way>/", views.move, name="finish-move"),
    path("<slug:key>/image/", views.image, name="finish-image"),
    path("<slug:key>/replace/", views.replace, name="finish-replace"),
    path("<slug:key>/file/", views.document, name="finish-file"),
    path("<slug:key>/", views.finish, name="finish"),
]
