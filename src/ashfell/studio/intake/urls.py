"""Addresses of files that are brought."""

from django.urls import path

from ashfell.studio.intake import views

urlpatterns = [
    path("", views.start, name="intake-start"),
    path("new/", views.new, name="intake-new"),
    path("<int:intake>/", views.page, name="intake"),
    path("<int:intake>/again/", views.again, name="intake-again"),
    path("<int:intake>/keep/", views.keep, name="intake-keep"),
    path("<int:intake>/leave/", views.leave, name="intake-leave"),
]
