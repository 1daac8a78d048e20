"""Every address of the application."""

from django.contrib.auth.views import LogoutView
from django.urls import include, path

from ashfell.studio.people.account import SignIn

urlpatterns = [
    path("sign-in/", SignIn.as_view(), name="sign-in"),
    path("sign-out/", LogoutView.as_view(), name="sign-out"),
    path("", include("ashfell.studio.projects.urls")),
    path("", include("ashfell.studio.people.urls")),
    path("", include("ashfell.studio.keeping.urls")),
    path("", include("ashfell.studio.api.urls")),
    path("projects/<int:project>/units/", include("ashfell.studio.units.urls")),
    path("projects/<int:project>/finishes/", include("ashfell.studio.finishes.urls")),
    path("take-in/", include("ashfell.studio.intake.urls")),
    path("projects/<int:project>/hand-over/", include("ashfell.studio.handover.urls")),
    path("projects/<int:project>/pictures/", include("ashfell.studio.pictures.urls")),
]
handler500 = "ashfell.studio.keeping.telling.fault"
