"""Addresses of the unit pages, below a project."""

from django.urls import path

from ashfell.studio.units import catalogue, hardware, library, views

urlpatterns = [
    path("", library.library, name="units"),
    path("new/", views.new, name="unit-new"),
    path("start/", library.start, name="unit-start"),
    path("start/<slug:chosen>.svg", library.start_drawing, name="unit-start-drawing"),
    path("catalogue/", catalogue.catalogue, name="catalogue"),
    path("catalogue/<slug:item>/", catalogue.item, name="catalogue-item"),
    path("catalogue/<slug:item>/<int:version>.svg", catalogue.drawing, name="catalogue-drawing"),
    path("catalogue/<slug:item>/take/", catalogue.take, name="catalogue-take"),
    path("catalogue/<slug:item>/out/", catalogue.take_out, name="catalogue-out"),
    path("catalogue/<slug:item>/back/", catalogue.put_back, name="catalogue-back"),
    path("compare/", library.compare, name="unit-compare"),
    path("everywhere/", views.everywhere, name="unit-finish-everywhere"),
    path("everywhere/undo/", views.undo_everywhere, name="unit-undo-everywhere"),
    path("take-in/", views.take_in, name="unit-take-in"),
    path("<slug:key>/duplicate/", views.duplicate, name="unit-duplicate"),
    path("<slug:key>/", views.page, name="unit"),
    path("<slug:key>/edit/", views.edit, name="unit-edit"),
    path("<slug:key>/mend/", views.mend, name="unit-mend"),
    path("<slug:key>/view.glb", views.view_glb, name="unit-view"),
    path("<slug:key>/elevation.svg", views.elevation, name="unit-elevation"),
    path("<slug:key>/document.json", views.document, name="unit-document"),
    path("<slug:key>/audit/", views.audit, name="unit-audit"),
    path("<slug:key>/measure/", views.measure, name="unit-measure"),
    path("<slug:key>/publish/", catalogue.publish, name="unit-publish"),
    path("<slug:key>/hardware/", hardware.hardware, name="unit-hardware"),
    path("<slug:key>/hardware/publish/", hardware.publish, name="unit-hardware-publish"),
    path("<slug:key>/update/", catalogue.update, name="unit-update"),
    path("<slug:key>/drawing/<int:revision>.svg", library.thumbnail, name="unit-thumbnail"),
    path("<slug:key>/history/", library.history, name="unit-history"),
    path("<slug:key>/sizes/", library.sizes, name="unit-sizes"),
    path("<slug:key>/outline/", library.outline_from_file, name="unit-path"),
    path("<slug:key>/underlay/", views.underlay, name="unit-underlay"),
    path("<slug:key>/<str:way>/", views.move, name="unit-move"),
]
