"""Addresses of the projects and of a project's site."""

from django.urls import path

from ashfell.studio.projects import fit, schedule, views

urlpatterns = [
    path("", views.projects, name="projects"),
    path("keys/", views.keys, name="keys"),
    path("projects/new/", views.new, name="project-new"),
    path("projects/<int:project>/", views.page, name="project"),
    path("projects/<int:project>/lengths/", views.lengths, name="project-lengths"),
    path("projects/<int:project>/edit/", views.edit, name="site-edit"),
    path("projects/<int:project>/site.glb", views.site_glb, name="site-view"),
    path("projects/<int:project>/audit/", views.audit, name="site-audit"),
    path("projects/<int:project>/measure/", views.measure, name="site-measure"),
    path("projects/<int:project>/underlay/", views.underlay, name="site-underlay"),
    path("projects/<int:project>/fit/", fit.bench, name="fit"),
    path("projects/<int:project>/schedule/in/", schedule.take_in, name="schedule-in"),
    path("projects/<int:project>/schedule.csv", schedule.hand_over, {"kind": "csv"}, name="schedule-csv"),
    path("projects/<int:project>/schedule.xlsx", schedule.hand_over, {"kind": "xlsx"}, name="schedule-xlsx"),
    path("projects/<int:project>/site/<str:way>/", views.move, name="site-move"),
]
