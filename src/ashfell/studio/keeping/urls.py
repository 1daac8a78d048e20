"""Addresses of the bin and of health."""

from django.urls import path

from ashfell.studio.keeping import views

urlpatterns = [
    path("health", views.health, name="health"),
    path("counters", views.counted, name="counters"),
    path("licences/", views.licences, name="licences"),
    path("licences/bill.json", views.bill, name="bill"),
    path("licences/texts.txt", views.texts, name="licence-texts"),
    path("projects/<int:project>/bin/", views.page, name="bin"),
    path("projects/<int:project>/bin/put/", views.put, name="bin-put"),
    path("projects/<int:project>/bin/back/", views.back, name="bin-back"),
    path("projects/<int:project>/bin/gone/", views.gone, name="bin-gone"),
    path("projects/<int:project>/bin/whole/", views.put_project, name="project-bin"),
    path("bin/<int:binned>/back/", views.project_back, name="project-back"),
    path("bin/<int:binned>/gone/", views.project_gone, name="project-gone"),
]
