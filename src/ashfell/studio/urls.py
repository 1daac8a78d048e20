"""Every address of the application."""

from django.contrib.auth.views import LoginView, LogoutView
from django.urls import include, path

urlpatterns = [
    path("sign-in/", LoginView.as_view(template_name="sign_in.html", redirect_authenticated_user=True), name="sign-in"),
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
