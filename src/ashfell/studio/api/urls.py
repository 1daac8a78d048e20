"""Addresses of the HTTP interface, and of the tokens for it."""

from django.urls import path

from ashfell.studio.api import views
from ashfell.studio.api.api import api

patterns, app, namespace = api.urls
for one in patterns:
    # A program signs in with its token, and not by a form.
    setattr(one.callback, "login_required", False)  # noqa: B010

urlpatterns = [
    path("tokens/", views.tokens, name="tokens"),
    path("tokens/make/", views.make, name="token-make"),
    path("tokens/<int:token>/withdraw/", views.withdraw, name="token-withdraw"),
    path("api/v1/", (patterns, app, namespace)),
]
