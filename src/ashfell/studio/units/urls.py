"""Addresses of the unit pages, below a project."""

from django.urls import path

from ashfell.studio.units import views

urlpatterns = [
    path("new/", views.new, name="unit-new"),
    path("take-in/", views.take_in, name="unit-take-in"),
    path("<slug:key>/duplicate/", views.duplicate, name="unit-duplicate"),
    path("<slug:key>/", views.page, name="unit"),
    path("<slug:key>/edit/", views.edit, name="unit-edit"),
    path("<slug:key>/view.glb", views.view_glb, name="unit-view"),
    path("<slug:key>/elevation.svg", views.elevation, name="unit-elevation"),
    path("<slug:key>/document.json", views.document, name="unit-document"),
    path("<slug:key>/audit/", views.audit, name="unit-audit"),
    path("<slug:key>/<str:way>/", views.move, name="unit-move"),
]
